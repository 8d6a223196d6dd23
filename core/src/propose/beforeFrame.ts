import type { FrameId } from '@zaddle/document';
import { boxBlur } from '../image/boxBlur';
import { mapPlane, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import { logLuminanceOf } from '../mix/guideTones';

/** Guide pixels about something within which the view beside it is looked at. */
const BESIDE = 8;
/** Variance of log2 luminance that grain has anyway. */
const NOISE = 0.02;

/** Mean and variance of a plane where a mask is not 0. */
function spread({ data }: Plane, mask: Plane): { readonly mean: number; readonly variance: number } {
  let [n, sum, squares] = [0, 0, 0];
  for (let i = 0; i < data.length; i++) {
    if (mask.data[i] === 0) continue;
    n++;
    sum += data[i];
    squares += data[i] * data[i];
  }
  const mean = sum / Math.max(1, n);
  return { mean, variance: Math.max(0, squares / Math.max(1, n) - mean * mean) };
}

/**
 * The frame whose luminance tells what stands before a pane from the view beside it (Fisher's criterion, 1936): often not the
 * one that shows the view best, since there the two may be as bright as each other.
 * @param glass 1 where the view is seen. @param before 1 where something stands before it
 */
export function beforeFrame(guides: GuideSet, glass: Plane, before: Plane): FrameId | null {
  const view = mapPlane(boxBlur(before, BESIDE), (v, i) => (v > 0 && glass.data[i] > 0 ? 1 : 0));
  if (!view.data.some((v) => v > 0)) return null;
  let best: { readonly id: FrameId; readonly apart: number } | null = null;
  for (const [id, { light }] of guides.frames) {
    const log = logLuminanceOf(light);
    const [thing, outside] = [spread(log, before), spread(log, view)];
    const apart = (thing.mean - outside.mean) ** 2 / (thing.variance + outside.variance + NOISE);
    if (!best || apart > best.apart) best = { id, apart };
  }
  return best && best.id;
}
