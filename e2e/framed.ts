import type { MixDocument } from '@zaddle/document';

/** Where a pixel of the output lies in the reference. */
export function inReference({ geometry: g }: Pick<MixDocument, 'geometry'>, x: number, y: number): [number, number] {
  const w = g[6] * x + g[7] * y + g[8];
  return [(g[0] * x + g[1] * y + g[2]) / w, (g[3] * x + g[4] * y + g[5]) / w];
}

/** Where a pixel of the reference lies in the output: the way back, step by step. */
export function inOutput(mix: Pick<MixDocument, 'geometry'>, u: number, v: number): [number, number] {
  let [x, y] = [u, v];
  for (let k = 0; k < 40; k++) {
    const [p, q] = inReference(mix, x, y);
    [x, y] = [x + 0.8 * (u - p), y + 0.8 * (v - q)];
  }
  return [x, y];
}

/** Angle off plumb, degrees, of a line of the reference in the output. @param line its ends, x and y alternating */
export function angleOf(mix: Pick<MixDocument, 'geometry'>, [x0, y0, x1, y1]: readonly number[]): number {
  const [a, b] = [inOutput(mix, x0, y0), inOutput(mix, x1, y1)];
  return (Math.atan2(b[0] - a[0], b[1] - a[1]) * 180) / Math.PI;
}
