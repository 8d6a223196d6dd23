import { CHUNK, CODE_MAX, INVERTED, SEGMENT, type Kernels } from './kernels';
import { twinBlend } from './twinBlend';
import { twinLayer } from './twinLayer';
import { twinSelect } from './twinSelect';
import { twinGuided } from './twinGuided';
import { twinPyramid } from './twinPyramid';
import { twinBands } from './twinBands';
import { twinDenoise } from './twinDenoise';
import { twinSharpen } from './twinSharpen';
import { twinStroke } from './twinStroke';
import { twinTable } from './twinTable';
import { twinTrack } from './twinTrack';

const LUMA = [0.2627, 0.678, 0.0593] as const;

/** Positions between exactly mapped ones step in whole numbers of this part of a pixel. */
const FIXED = 2 ** 32;
const FAR = 2 ** 29;
const fixed = (position: number): number => Math.floor((position > -FAR ? Math.min(position, FAR) : -FAR) * FIXED);

/** What lies where in a display block (`finish/displayBlock`), in floats. */
const CURVE = 9;
const TO_PROFILE = 12;
const TRANSFER = 21;
const WIDE = 26;
const TABLE = 32;

const clampIndex = (i: number, size: number): number => (i < 0 ? 0 : i >= size ? size - 1 : i);

/**
 * The kernels in plain TypeScript, argument for argument: the readable statement of what the WebAssembly
 * does, and what tests and the bench compare it with.
 */
export function twinKernels(buffer: ArrayBufferLike): Kernels {
  const u8 = new Uint8Array(buffer);
  const u16 = new Uint16Array(buffer);
  const i16 = new Int16Array(buffer);
  const f32 = new Float32Array(buffer);
  const f64 = new Float64Array(buffer);

  const applied = (matrix: number, colour: readonly number[]): number[] => [0, 1, 2].map((c) => colour.reduce((sum, v, k) => sum + v * f32[matrix + c * 3 + k], 0));

  /** Light of pixel i as it is displayed (`finish/toneCurve`), in linear colours of the profile. */
  function displayed(light: number, plane: number, i: number, display: number): number[] {
    const block = display >> 2;
    const [knee, white, fullChroma] = f32.subarray(block + CURVE, block + CURVE + 3);
    const wide = f32[block + WIDE] !== 0;
    const s = applied(block, [0, 1, 2].map((c) => f32[((light + plane * c) >> 2) + i]));
    const y = Math.max(0, 0.2126 * s[0] + 0.7152 * s[1] + 0.0722 * s[2]);
    const w = (white - knee) / (1 - knee);
    const rolledOff = (v: number): number => {
      const t = Math.min(w, (v - knee) / (1 - knee));
      return v > knee ? knee + ((1 - knee) * t * (1 + t / (w * w))) / (1 + t) : wide ? v : Math.max(0, v);
    };
    const shown = rolledOff(y);
    const gain = shown / Math.max(1e-12, y);
    const excess = (Math.max(...s) * gain - shown) / Math.max(1e-4, 1 - shown);
    const beyond = (excess - fullChroma) / (1 - fullChroma);
    const chroma = excess > fullChroma ? (fullChroma + ((1 - fullChroma) * beyond) / (1 + beyond)) / excess : 1;
    const shades = s.map((v) => (shown + chroma * (v * gain - shown) + rolledOff(v)) / 2);
    return wide ? applied(block + TO_PROFILE, shades) : shades;
  }

  /** 0..1 by the profile's transfer function. */
  function transferred(value: number, display: number): number {
    const [power, scale, offset, slope, limit] = f32.subarray((display >> 2) + TRANSFER, (display >> 2) + TRANSFER + 5);
    const v = Math.min(1, Math.max(0, value));
    return v <= limit ? slope * v : scale * v ** power - offset;
  }

  function warp(sample: (column: number, row: number, c: number) => number, scale: number, offset: number, w: number, h: number, coords: number, n: number, phases: number, out: number, plane: number, cover: number): void {
    for (let i = 0; i < n; i++) {
      const at = (coords >> 3) + Math.floor(i / SEGMENT) * 2;
      const [x, y] = [at, at + 1].map((k) => fixed(f64[k]) + (i % SEGMENT) * Math.floor((fixed(f64[k + 2]) - fixed(f64[k])) / SEGMENT));
      const inside = x >= -FIXED / 2 && y >= -FIXED / 2 && x <= (w - 0.5) * FIXED && y <= (h - 0.5) * FIXED;
      f32[(cover >> 2) + i] = inside ? 1 : 0;
      const [qx, qy] = [x, y].map((v) => Math.floor((v * 128) / FIXED + 0.5));
      const wy = (phases >> 1) + (qy & 127) * 8;
      const wx = (phases >> 1) + (qx & 127) * 8 + 4;
      for (let c = 0; c < 3; c++) {
        let sum = 0;
        if (inside) {
          for (let k = 0; k < 4; k++) {
            const column = clampIndex((qx >> 7) - 1 + k, w);
            let vertical = 0;
            for (let j = 0; j < 4; j++) vertical += (sample(column, clampIndex((qy >> 7) - 1 + j, h), c) - offset) * i16[wy + j];
            sum += vertical * i16[wx + k];
          }
          sum = Math.floor((sum / (128 * 16384) + offset) * scale + 0.5);
        }
        u16[((out + plane * c) >> 1) + i] = Math.min(Math.max(sum, 0), CODE_MAX);
      }
    }
  }

  const encode = (value: number, table: number): number => {
    if (!(value >= 1 / 4096)) return u8[table];
    const octave = Math.floor(Math.log2(value));
    const index = (octave + 12) * 512 + Math.floor((value / 2 ** octave - 1) * 512);
    return u8[table + Math.min(index, 8191)];
  };

  return {
    memory: { buffer },
    ...twinBlend(f32),
    ...twinLayer(f32),
    ...twinSelect(f32),
    warpRow8(src, w, h, coords, n, phases, out, plane, cover) {
      warp((column, row, c) => u8[src + (row * w + column) * 3 + c], 16, 128, w, h, coords, n, phases, out, plane, cover);
    },
    warpRow16(src, w, h, coords, n, phases, out, plane, cover) {
      warp((column, row, c) => u16[(src >> 1) + (row * w + column) * 3 + c], CODE_MAX / 65535, 0, w, h, coords, n, phases, out, plane, cover);
    },
    lineariseRow(codes, codePlane, n, tables, matrix, out, outPlane) {
      for (let i = 0; i < n; i++) {
        const r = f32[(tables >> 2) + u16[(codes >> 1) + i]];
        const g = f32[(tables >> 2) + 4096 + u16[((codes + codePlane) >> 1) + i]];
        const b = f32[(tables >> 2) + 8192 + u16[((codes + codePlane * 2) >> 1) + i]];
        for (let c = 0; c < 3; c++) {
          const m = (matrix >> 2) + c * 3;
          f32[((out + outPlane * c) >> 2) + i] = r * f32[m] + g * f32[m + 1] + b * f32[m + 2];
        }
      }
    },
    joinRow(codes, codePlane, cover, n, weights, tables, matrix, gains, acc, accPlane, rest) {
      for (let i = 0; i < n; i++) {
        const code = [0, 1, 2].map((c) => u16[((codes + codePlane * c) >> 1) + i]);
        const w = f32[(weights >> 2) + Math.max(...code)] * f32[(cover >> 2) + i] * f32[(rest >> 2) + i];
        const [from, to] = [0, 1].map((k) => (gains ? f32[(gains >> 2) + Math.floor(i / SEGMENT) + k] : 1));
        const share = w * (from + (to - from) * ((i % SEGMENT) / SEGMENT));
        f32[(rest >> 2) + i] -= w;
        const [r, g, b] = code.map((v, c) => f32[(tables >> 2) + 4096 * c + v]);
        for (let c = 0; c < 3; c++) {
          const m = (matrix >> 2) + c * 3;
          f32[((acc + accPlane * c) >> 2) + i] += share * (r * f32[m] + g * f32[m + 1] + b * f32[m + 2]);
        }
        f32[((acc + accPlane * 3) >> 2) + i] += w;
      }
    },
    topRow(codes, codePlane, n, out) {
      for (let i = 0; i < n; i++) f32[(out >> 2) + i] = Math.max(u16[(codes >> 1) + i], u16[((codes + codePlane) >> 1) + i], u16[((codes + codePlane * 2) >> 1) + i]) / CODE_MAX;
    },
    normaliseRow(acc, accPlane, n, cover) {
      for (let i = 0; i < n; i++) {
        const w = f32[((acc + accPlane * 3) >> 2) + i];
        for (let c = 0; c < 3; c++) f32[((acc + accPlane * c) >> 2) + i] /= Math.max(w, 1e-12);
        f32[(cover >> 2) + i] = w > 1e-12 ? 1 : 0;
      }
    },
    subtractRow(light, plane, other, otherPlane, n, share) {
      for (let c = 0; c < 3; c++) {
        for (let i = 0; i < n; i++) {
          const at = ((light + plane * c) >> 2) + i;
          f32[at] = Math.max(0, f32[at] - share * f32[((other + otherPlane * c) >> 2) + i]);
        }
      }
    },
    mixRow(below, belowPlane, src, srcPlane, mask, n, brightness, colour) {
      for (let i = 0; i < n; i++) {
        const m = f32[(mask >> 2) + i];
        if (m === 0) continue;
        let yb = 0;
        let ys = 0;
        for (let c = 0; c < 3; c++) {
          const b = f32[((below + belowPlane * c) >> 2) + i];
          yb += LUMA[c] * b;
          ys += LUMA[c] * f32[((src + srcPlane * c) >> 2) + i];
        }
        yb = Math.max(1e-5, yb);
        ys = Math.max(1e-5, ys);
        const y = yb + m * brightness * (ys - yb);
        const tc = m * colour;
        for (let c = 0; c < 3; c++) {
          const at = ((below + belowPlane * c) >> 2) + i;
          const b = f32[at];
          const s = f32[((src + srcPlane * c) >> 2) + i];
          f32[at] = brightness === colour ? b + tc * (s - b) : y * (((1 - tc) * b) / yb + (tc * s) / ys);
        }
      }
    },
    foldRow(mask, area, n, how) {
      for (let i = 0; i < n; i++) {
        const m = f32[(mask >> 2) + i];
        const a = how & INVERTED ? 1 - f32[(area >> 2) + i] : f32[(area >> 2) + i];
        const join = how & 3;
        f32[(mask >> 2) + i] = join === 0 ? m + a - m * a : join === 1 ? m * (1 - a) : m * a;
      }
    },
    finishMaskRow(mask, cover, n, factor) {
      let any = 0;
      for (let i = 0; i < n; i++) {
        const m = f32[(mask >> 2) + i] * factor * f32[(cover >> 2) + i];
        f32[(mask >> 2) + i] = m < 1 / 255 ? 0 : m;
        if (m >= 1 / 255) any = 1;
      }
      return any;
    },
    chunksRow(values, n, least, flags) {
      let all = 0;
      for (let start = 0; start < n; start += CHUNK) {
        const any = f32.subarray((values >> 2) + start, (values >> 2) + Math.min(start + CHUNK, n)).some((v) => Math.abs(v) > Math.fround(least));
        u8[flags + start / CHUNK] = any ? 1 : 0;
        if (any) all = 1;
      }
      return all;
    },
    logLuminanceRow(light, plane, n, out) {
      for (let i = 0; i < n; i++) {
        const at = (light >> 2) + i;
        const y = LUMA[0] * f32[at] + LUMA[1] * f32[at + (plane >> 2)] + LUMA[2] * f32[at + (plane >> 1)];
        f32[(out >> 2) + i] = Math.log2(Math.max(1 / 4096, y));
      }
    },
    planeRow(planeAt, width, height, coords, n, out) {
      for (let i = 0; i < n; i++) {
        const at = (coords >> 3) + Math.floor(i / SEGMENT) * 2;
        const t = (i % SEGMENT) / SEGMENT;
        const cx = Math.min(Math.max(f64[at] + t * (f64[at + 2] - f64[at]), 0), width - 1);
        const cy = Math.min(Math.max(f64[at + 1] + t * (f64[at + 3] - f64[at + 1]), 0), height - 1);
        const ix = Math.min(Math.floor(cx), width - 2);
        const iy = Math.min(Math.floor(cy), height - 2);
        const p = (planeAt >> 2) + iy * width + ix;
        const upper = f32[p] + (cx - ix) * (f32[p + 1] - f32[p]);
        const lower = f32[p + width] + (cx - ix) * (f32[p + width + 1] - f32[p + width]);
        f32[(out >> 2) + i] = upper + (cy - iy) * (lower - upper);
      }
    },
    guidedRow(a, b, guidance, n, out) {
      for (let i = 0; i < n; i++) {
        const v = f32[(a >> 2) + i] * f32[(guidance >> 2) + i] + f32[(b >> 2) + i];
        f32[(out >> 2) + i] = Math.min(1, Math.max(0, v));
      }
    },
    gainRow(light, plane, logY, a, b, mask, n, globalA, globalB, saturation) {
      for (let i = 0; i < n; i++) {
        const m = f32[(mask >> 2) + i];
        const stops = (f32[(a >> 2) + i] + globalA) * f32[(logY >> 2) + i] + f32[(b >> 2) + i] + globalB;
        const gain = 2 ** Math.min(100, Math.max(-100, m * stops));
        const at = [0, 1, 2].map((c) => ((light + plane * c) >> 2) + i);
        const y = at.reduce((sum, p, c) => sum + LUMA[c] * f32[p] * gain, 0);
        for (const p of at) f32[p] = f32[p] * gain + m * (saturation - 1) * (f32[p] * gain - y);
      }
    },
    balanceRow(light, plane, mask, n, gr, gg, gb) {
      const gains = [gr, gg, gb];
      for (let c = 0; c < 3; c++) {
        for (let i = 0; i < n; i++) f32[((light + plane * c) >> 2) + i] *= 1 + f32[(mask >> 2) + i] * (gains[c] - 1);
      }
    },
    shadeRow(light, plane, n, gains) {
      for (let i = 0; i < n; i++) {
        const at = (gains >> 2) + (i >> 4);
        const gain = f32[at] + ((f32[at + 1] - f32[at]) * (i & 15)) / 16;
        for (let c = 0; c < 3; c++) f32[((light + plane * c) >> 2) + i] *= gain;
      }
    },
    encodeRow(light, plane, n, display, out) {
      const wide = f32[(display >> 2) + WIDE] !== 0;
      for (let i = 0; i < n; i++) displayed(light, plane, i, display).forEach((v, c) => (u8[out + i * 3 + c] = wide ? Math.round(255 * transferred(v, display)) : encode(Math.fround(v), display + 4 * TABLE)));
    },
    encodeDeepRow(light, plane, n, display, out) {
      for (let i = 0; i < n; i++) displayed(light, plane, i, display).forEach((v, c) => (u16[(out >> 1) + i * 3 + c] = Math.round(65535 * transferred(v, display))));
    },
    sumRows8(rows, stride, count, n, acc) {
      for (let i = 0; i < n; i++) {
        u16[(acc >> 1) + i] = 0;
        for (let k = 0; k < count; k++) u16[(acc >> 1) + i] += u8[rows + k * stride + i];
      }
    },
    addRow8(row, n, weight, acc) {
      for (let i = 0; i < n; i++) u16[(acc >> 1) + i] += weight * u8[row + i];
    },
    shrinkSums(acc, srcWidth, factor, weight, n, out) {
      for (let i = 0; i < n; i++) {
        const to = Math.min((i + 1) * factor, srcWidth);
        for (let c = 0; c < 3; c++) {
          let sum = 0;
          for (let k = Math.floor(i * factor); k < to; k++) sum += (Math.min(k + 1, to) - Math.max(k, i * factor)) * u16[(acc >> 1) + k * 3 + c];
          u8[out + i * 3 + c] = sum / (factor * weight) + 0.5;
        }
      }
    },
    greyRow8(rgb, n, red, green, blue, out) {
      for (let i = 0; i < n; i++) f32[(out >> 2) + i] = red * u8[rgb + i * 3] + green * u8[rgb + i * 3 + 1] + blue * u8[rgb + i * 3 + 2];
    },
    halveRow(upper, lower, n, out) {
      for (let i = 0; i < n; i++) f32[(out >> 2) + i] = (f32[(upper >> 2) + 2 * i] + f32[(upper >> 2) + 2 * i + 1] + f32[(lower >> 2) + 2 * i] + f32[(lower >> 2) + 2 * i + 1]) / 4;
    },
    ...twinBands(f32),
    ...twinDenoise(buffer),
    ...twinSharpen(buffer),
    ...twinStroke(buffer),
    ...twinTable(f32),
    ...twinGuided(buffer),
    ...twinPyramid(buffer),
    ...twinTrack(buffer),
  };
}
