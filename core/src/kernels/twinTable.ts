import type { Kernels } from './kernels';
import { BLOCK } from './tableLayout';

/** The plain twin of `kernels/assembly/table.ts`. */
export function twinTable(f32: Float32Array): Pick<Kernels, 'tableRow'> {
  const dot = (at: number, [r, g, b]: readonly number[]): number => f32[at] * r + f32[at + 1] * g + f32[at + 2] * b;
  /** The display curve with its knee and white, and sRGB's encoding; and back. */
  const encode = (v: number, knee: number, white: number): number => {
    const [span, w] = [1 - knee, (white - knee) / (1 - knee)];
    const t = (v - knee) / span;
    const shown = v <= knee ? v : knee + (span * t * (1 + t / w ** 2)) / (1 + t);
    return shown <= 0.0031308 ? 12.92 * shown : 1.055 * shown ** (1 / 2.4) - 0.055;
  };
  const decode = (e: number, knee: number, white: number): number => {
    const own = Math.min(1, Math.max(0, e));
    const shown = own <= 0.04045 ? own / 12.92 : ((own + 0.055) / 1.055) ** 2.4;
    if (shown <= knee) return shown;
    const [span, w] = [1 - knee, (white - knee) / (1 - knee)];
    const u = Math.min(1, (shown - knee) / span);
    return knee + (2 * span * u) / (Math.sqrt((1 - u) ** 2 + (4 * u) / w ** 2) + 1 - u);
  };
  /** A curve's value, linear between its entries. */
  const onCurve = (at: number, k: number, last: number): number => {
    const whole = Math.min(last - 1, Math.floor(k));
    return f32[at + 3 * whole] + (k - whole) * (f32[at + 3 * whole + 3] - f32[at + 3 * whole]);
  };
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
      const [size, curves, top, encoded, knee] = f32.subarray(at + BLOCK.size, at + BLOCK.size + 5);
      const [from, scale] = [f32.subarray(at + BLOCK.from), f32.subarray(at + BLOCK.scale)];
      for (let i = 0; i < n; i++) {
        const share = f32[(mask >> 2) + i] * strength;
        if (!(share > 0)) continue;
        const lit = [0, 1, 2].map((c) => f32[((light + plane * c) >> 2) + i]);
        const own = [0, 3, 6].map((row) => dot(at + BLOCK.into + row, lit));
        const values = own.map((v) => Math.min(top, Math.max(0, v))).map((v) => (encoded ? encode(v, knee, top) : v));
        const place = values.map((e, c) => Math.min(size - 1, Math.max(0, (e - from[c]) * scale[c])));
        const to = curves ? place.map((k, c) => onCurve(at + BLOCK.values + c, k, size - 1)) : inLattice(at + BLOCK.values, size, place);
        const change = to.map((value, c) => {
          const e = from[c] + place[c] / scale[c];
          const [is, wished] = encoded ? [decode(e, knee, top), decode(value, knee, top)] : [e, value];
          return wished - is + (own[c] > top ? (own[c] - top) * (wished / top - 1) : 0);
        });
        for (let c = 0; c < 3; c++) f32[((light + plane * c) >> 2) + i] += share * dot(at + BLOCK.back + 3 * c, change);
      }
    },
  };
}
