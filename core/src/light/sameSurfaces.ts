import { luminance } from '../image/plane';
import type { Guide } from '../mix/guides';

/** Stops from which on two frames differ beyond exposure. */
const DIFFERS = 0.8;
/** Encoded values that can be compared. */
const DARK = 0.1;
const BRIGHT = 0.95;
/** Guide pixels across which structure is compared. */
const STEP = 2;

/**
 * Whether two frames show the same surfaces where they differ: the correlation of their gradients there. Another light leaves
 * edges and patterns where they are, since reflectance multiplies it; another thing in its place has its own.
 * @param stops exposure of the second frame against the first; @param least share of the picture that must differ for it to be told.
 * @returns -1..1, or NaN where they hardly differ.
 */
export function sameSurfaces(first: Guide, second: Guide, stops: number, least: number): number {
  const { width } = first.top;
  const usable = ({ top, cover }: Guide, i: number): boolean => cover.data[i] === 1 && top.data[i] > DARK && top.data[i] < BRIGHT;
  const [a, b] = [first, second].map(({ light }) => luminance(light).data.map((v) => Math.log2(Math.max(1e-4, v))));
  const differs = (i: number): boolean => Math.abs(b[i] - stops - a[i]) >= DIFFERS;
  let [ab, aa, bb, n] = [0, 0, 0, 0];
  for (let i = STEP * width; i < a.length - STEP * width; i++) {
    if (!usable(first, i) || !usable(second, i) || !differs(i)) continue;
    // Edges that lie a fraction of a pixel apart differ too, but not all about.
    if (!differs(i - STEP) || !differs(i + STEP) || !differs(i - STEP * width) || !differs(i + STEP * width)) continue;
    n++;
    for (const by of [STEP, STEP * width]) {
      const [da, db] = [a[i + by] - a[i - by], b[i + by] - b[i - by]];
      ab += da * db;
      aa += da * da;
      bb += db * db;
    }
  }
  return n > least * a.length ? ab / Math.max(1e-9, Math.sqrt(aa * bb)) : NaN;
}
