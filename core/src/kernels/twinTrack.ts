import type { Kernels, Pointer } from './kernels';

const RADIUS = 7;
const SIDE = 2 * RADIUS + 1;
const AREA = SIDE * SIDE;
const STEPS = 12;

interface Grey {
  readonly data: Float32Array;
  readonly width: number;
  readonly height: number;
}

/** Reads a window about (x, y), bilinear, as zero-mean unit-norm values. @returns the share that is clipped, or null when it is flat, too much clipped or outside. */
function readWindow({ data, width: w, height: h }: Grey, x: number, y: number, out: Float32Array): number | null {
  const left = Math.floor(x) - RADIUS;
  const top = Math.floor(y) - RADIUS;
  if (left < 0 || top < 0 || left + SIDE >= w || top + SIDE >= h) return null;
  const fx = x - Math.floor(x);
  const fy = y - Math.floor(y);
  let sum = 0;
  let clipped = 0;
  for (let k = 0; k < AREA; k++) {
    const p = (top + Math.floor(k / SIDE)) * w + left + (k % SIDE);
    const v = (1 - fy) * ((1 - fx) * data[p] + fx * data[p + 1]) + fy * ((1 - fx) * data[p + w] + fx * data[p + w + 1]);
    if (v > 251 || v < 1.5) clipped++;
    out[k] = v;
    sum += v;
  }
  if (clipped > AREA * 0.4) return null;
  let norm = 0;
  for (let k = 0; k < AREA; k++) {
    out[k] -= sum / AREA;
    norm += out[k] * out[k];
  }
  if (norm < AREA * 0.8) return null;
  for (let k = 0; k < AREA; k++) out[k] /= Math.sqrt(norm);
  return clipped / AREA;
}

/** Derivative of a window along one axis (step 1 or SIDE between neighbours), 0 at its rim. */
const slope = (template: Float32Array, along: (k: number) => number, step: number): Float32Array =>
  template.map((_, k) => (along(k) === 0 || along(k) === SIDE - 1 ? 0 : (template[k + step] - template[k - step]) / 2));

const dot = (a: Float32Array, b: Float32Array): number => a.reduce((sum, v, k) => sum + v * b[k], 0);

/** One window of `from` at (x, y) into `to`: where it ends, how well it fits and how much is clipped, or null. Baker, Matthews, IJCV 2004. */
function follow(from: Grey, to: Grey, x: number, y: number, startX: number, startY: number, reach: number): [number, number, number, number] | null {
  const template = new Float32Array(AREA);
  const sample = new Float32Array(AREA);
  const before = readWindow(from, x, y, template);
  if (before === null) return null;
  const gx = slope(template, (k) => k % SIDE, 1);
  const gy = slope(template, (k) => Math.floor(k / SIDE), SIDE);
  const [xx, xy, yy] = [dot(gx, gx), dot(gx, gy), dot(gy, gy)];
  const determinant = xx * yy - xy * xy;
  if (determinant < 1e-5) return null;
  let [u, v] = [startX, startY];
  for (let step = 0; step < STEPS; step++) {
    if (readWindow(to, u, v, sample) === null) return null;
    const difference = sample.map((value, k) => value - template[k]);
    const [bx, by] = [dot(difference, gx), dot(difference, gy)];
    const dx = (yy * bx - xy * by) / determinant;
    const dy = (xx * by - xy * bx) / determinant;
    u -= Math.max(-2, Math.min(2, dx));
    v -= Math.max(-2, Math.min(2, dy));
    if (Math.abs(u - startX) > reach || Math.abs(v - startY) > reach) return null;
    if (dx * dx + dy * dy < 4e-4) break;
  }
  const after = readWindow(to, u, v, sample);
  return after === null ? null : [u, v, dot(sample, template), Math.max(before, after)];
}

/** The lining-up kernels in plain TypeScript; see `twinKernels`. */
export function twinTrack(buffer: ArrayBufferLike): Pick<Kernels, 'correlate' | 'trackPoints'> {
  const f32 = new Float32Array(buffer);
  const f64 = new Float64Array(buffer);
  const grey = (at: Pointer, width: number, height: number): Grey => ({ data: f32.subarray(at >> 2, (at >> 2) + width * height), width, height });
  return {
    correlate(a, aw, ah, b, bw, bh, dx, dy, sums) {
      const total = [0, 0, 0, 0];
      for (let y = Math.max(0, -dy); y < Math.min(ah, bh - dy); y++) {
        for (let x = Math.max(0, -dx); x < Math.min(aw, bw - dx); x++) {
          const v = f32[(a >> 2) + y * aw + x];
          const w = f32[(b >> 2) + (y + dy) * bw + x + dx];
          if (v === 0 || w === 0) continue;
          [v * w, v * v, w * w, 1].forEach((term, k) => (total[k] += term));
        }
      }
      f64.set(total, sums >> 3);
    },
    trackPoints(from, fw, fh, to, tw, th, points, n, out, _scratch, reach) {
      for (let i = 0; i < n; i++) {
        const [x, y, u, v] = f64.subarray((points >> 3) + 4 * i, (points >> 3) + 4 * i + 4);
        const end = follow(grey(from, fw, fh), grey(to, tw, th), x, y, u, v, reach);
        if (end) f64.set(end, (out >> 3) + 4 * i);
        else f64[(out >> 3) + 4 * i + 2] = -2;
      }
    },
  };
}
