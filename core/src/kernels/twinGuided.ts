import type { Kernels } from './kernels';

/** Plain TypeScript of the kernels in kernels/assembly/guided.ts, which tests compare them with. */
export function twinGuided(buffer: ArrayBufferLike): Pick<Kernels, 'boxBlur' | 'multiply' | 'windowModel' | 'applyModel'> {
  const f32 = new Float32Array(buffer, 0, buffer.byteLength >> 2);
  return {
    boxBlur(src, w, h, radius, _across, _sums, out) {
      // A copy, since it may be done in place.
      const from = f32.slice(src >> 2, (src >> 2) + w * h);
      for (let y = 0; y < h; y++) {
        for (let x = 0; x < w; x++) {
          let [sum, count] = [0, 0];
          for (let v = Math.max(0, y - radius); v <= Math.min(h - 1, y + radius); v++) {
            for (let u = Math.max(0, x - radius); u <= Math.min(w - 1, x + radius); u++, count++) sum += from[v * w + u];
          }
          f32[(out >> 2) + y * w + x] = sum / count;
        }
      }
    },
    multiply(a, b, n, out) {
      for (let i = 0; i < n; i++) f32[(out >> 2) + i] = f32[(a >> 2) + i] * f32[(b >> 2) + i];
    },
    windowModel(mean, meanSquare, meanInput, meanProduct, epsilon, n, a, b) {
      for (let i = 0; i < n; i++) {
        const [m, p] = [f32[(mean >> 2) + i], f32[(meanInput >> 2) + i]];
        const slope = (f32[(meanProduct >> 2) + i] - m * p) / (Math.max(0, f32[(meanSquare >> 2) + i] - m * m) + epsilon);
        f32[(a >> 2) + i] = slope;
        f32[(b >> 2) + i] = p - slope * m;
      }
    },
    applyModel(a, b, guidance, n, out) {
      for (let i = 0; i < n; i++) f32[(out >> 2) + i] = f32[(a >> 2) + i] * f32[(guidance >> 2) + i] + f32[(b >> 2) + i];
    },
  };
}
