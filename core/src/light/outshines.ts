import type { FrameId } from '@zaddle/document';
import { LUMA } from '../image/plane';
import type { GuideSet } from '../mix/guides';

/** Of so many places one is looked at. */
const SAMPLED = 7;
/** Linear luminance from which on a place tells anything, and encoded value above which it is clipped. */
const DARK = 0.004;
const CLIPPED = 0.97;

/**
 * In what share of the picture a frame has at least twice the light that the room's own would have given it: a flash fired.
 * @param stops the frame's exposure against the reference @returns 0..1
 */
export function outshines({ frames, merge }: GuideSet, frame: FrameId, stops: number): number {
  const { light: { r, g, b }, top, cover } = frames.get(frame)!;
  const share = 2 * 2 ** stops;
  let [brighter, count] = [0, 0];
  for (let i = 0; i < r.length; i += SAMPLED) {
    count++;
    const y = LUMA[0] * r[i] + LUMA[1] * g[i] + LUMA[2] * b[i];
    if (y > DARK && top.data[i] < CLIPPED && cover.data[i] === 1 && y > share * (LUMA[0] * merge.r[i] + LUMA[1] * merge.g[i] + LUMA[2] * merge.b[i])) brighter++;
  }
  return brighter / Math.max(1, count);
}
