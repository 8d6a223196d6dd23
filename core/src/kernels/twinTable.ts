import type { Kernels } from './kernels';
import { BLOCK, DECODE_STEPS, ENCODE_STEPS } from './tableLayout';

/** The plain twin of `kernels/assembly/table.ts`. */
export function twinTable(f32: Float32Array): Pick<Kernels, 'tableRow'> {
  /** A list of values, linear between them. */
  const read = (at: number, k: number, last: number, step = 1): number => {
    const whole = Math.min(last - 1, Math.floor(k));
    return f32[at + step * whole] + (k - whole) * (f32[at + step * (whole + 1)] - f32[at + step * whole]);
  };
  const dot = (at: number, [r, g, b]: readonly number[]): number => f32[at] * r + f32[at + 1] * g + f32[at + 2] * b;
  const encode = (block: number, v: number): number => {
    if (v < 2 ** -12) return v * 4096 * f32[block + BLOCK.encode];
    const octave = Math.floor(Math.log2(v));
    return read(block + BLOCK.encode, ENCODE_STEPS * (octave + 12 + v / 2 ** octave - 1), ENCODE_STEPS * 16);
  };
  const decode = (block: number, e: number): number => read(block + BLOCK.decode, DECODE_STEPS * Math.min(1, Math.max(0, e)), DECODE_STEPS);
  /** Colour of a lattice between its corners: along the edges from the origin, the largest part first. */
  const inLattice = (values: number, size: number, place: readonly number[]): number[] => {
    const low = place.map((v) => Math.min(size - 2, Math.floor(v)));
    const steps = [3, 3 * size, 3 * size * size];
    const order = [0, 1, 2].map((c) => ({ part: place[c] - low[c], step: steps[c] })).sort((a, b) => b.part - a.part);
    let at = values + low.reduce((sum, k, c) => sum + k * steps[c], 0);
    const out = [0, 1, 2].map((c) => f32[at + c]);
    for (const { part, step } of order) {
      for (let c = 0; c < 3; c++) out[c] += part * (f32[at + step + c] - f32[at + c]);
      at += step;
    }
    return out;
  };
  return {
    tableRow(light, plane, n, mask, block, strength) {
      const at = block >> 2;
      const [size, curves, top, encoded] = f32.subarray(at + BLOCK.size, at + BLOCK.size + 4);
      const [from, scale] = [f32.subarray(at + BLOCK.from), f32.subarray(at + BLOCK.scale)];
      for (let i = 0; i < n; i++) {
        const share = f32[(mask >> 2) + i] * strength;
        if (!(share > 0)) continue;
        const lit = [0, 1, 2].map((c) => f32[((light + plane * c) >> 2) + i]);
        const own = [0, 3, 6].map((row) => dot(at + BLOCK.into + row, lit));
        const values = own.map((v) => Math.min(top, Math.max(0, v))).map((v) => (encoded ? encode(at, v) : v));
        const place = values.map((e, c) => Math.min(size - 1, Math.max(0, (e - from[c]) * scale[c])));
        const to = curves ? place.map((k, c) => read(at + BLOCK.values + c, k, size - 1, 3)) : inLattice(at + BLOCK.values, size, place);
        const change = to.map((value, c) => {
          const e = from[c] + place[c] / scale[c];
          const [is, wished] = encoded ? [decode(at, e), decode(at, value)] : [e, value];
          return wished - is + (own[c] > top ? (own[c] - top) * (wished / top - 1) : 0);
        });
        for (let c = 0; c < 3; c++) f32[((light + plane * c) >> 2) + i] += share * dot(at + BLOCK.back + 3 * c, change);
      }
    },
  };
}
