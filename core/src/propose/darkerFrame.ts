import type { FrameId } from '@zaddle/document';
import { boxBlur } from '../image/boxBlur';
import { mapPlane, quantile, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import { labelRegions } from '../window/labelRegions';
import { CLIPPED, comparable, DARK, type Exposures } from '../window/ownRadiance';

/** Encoded values between which the darkest frame of a merge hands over: light there can still be compared. */
const HANDS_OVER = 0.72;
/** Guide pixels around what is clipped where the two frames are compared. */
const AROUND = 6;
/** Places there from which on a comparison tells something. */
const ENOUGH = 40;
/** Stops by which light may differ where it hands over: a flash added more, or a lamp was off. */
const SAME_LIGHT = 0.7;
/** Light, as a share of that at which the other frame clips, below which a place shows something else; and share of a clipped part that may. */
const DARKER = 0.7;
const ELSE = 0.08;
/** Guide pixels of a part that may in any case: edges do not lie on each other to the last of them. */
const SMALL = 4;
/** Share of the picture that must be clipped to be worth a frame, and share of it that the frame must have. */
const WORTH_IT = 0.0005;
const HAS = 0.5;

/**
 * A frame that is no part of a merge but has what is clipped in all of it: lamps, patches of sun, what daylight falls on.
 * Where frames hand over from the longest exposure to the shortest (`bracketWeights`), one that is darker than all of them
 * is asked for nothing else, so a flash in it does no harm as long as it hardly reaches those places.
 * @param merge frames that are joined; @param others that may be asked; @param glass the view outside, 0..1, which has a frame of its own
 * @returns null where little is clipped, or no frame has it in the same light.
 */
export function darkerFrame(guides: GuideSet, exposures: Exposures, merge: readonly FrameId[], others: readonly FrameId[], glass: Plane): FrameId | null {
  const darkest = merge.reduce((least, id) => (exposures[id] < exposures[least] ? id : least));
  const last = guides.frames.get(darkest)!;
  const top = last.top.data;
  const clipped = mapPlane(last.top, (v, i) => (v > CLIPPED && last.cover.data[i] === 1 && glass.data[i] < 0.2 ? 1 : 0));
  const all = clipped.data.reduce((sum, v) => sum + v, 0);
  if (all < WORTH_IT * top.length) return null;
  const near = boxBlur(clipped, AROUND).data;
  const parts = labelRegions(clipped);
  const value = comparable(last).data;
  let best: { readonly id: FrameId; readonly worth: number } | null = null;
  for (const id of others) {
    if (exposures[id] >= exposures[darkest]) continue;
    const guide = guides.frames.get(id)!;
    const there = comparable(guide).data;
    const scale = 2 ** (exposures[darkest] - exposures[id]);
    const tells = (i: number): boolean => guide.cover.data[i] === 1 && guide.top.data[i] < CLIPPED;
    // What clips gives off that much at least: less is something that moved, or a camera that did.
    const isElse = (i: number): boolean => there[i] * scale < DARKER * value[i];
    if (parts.some(({ pixels }) => pixels.reduce((sum, i) => sum + (isElse(i) ? 1 : 0), 0) > Math.max(SMALL, ELSE * pixels.length))) continue;
    const ratios: number[] = [];
    let has = 0;
    for (let i = 0; i < top.length; i++) {
      if (!tells(i)) continue;
      if (clipped.data[i] === 1) has++;
      else if (near[i] > 0 && top[i] > HANDS_OVER && top[i] < CLIPPED && there[i] > DARK && glass.data[i] < 0.2) ratios.push(Math.log2((there[i] * scale) / value[i]));
    }
    const off = ratios.length < ENOUGH ? Infinity : Math.abs(quantile(ratios, 0.5));
    const worth = (has / all) * (1 - off);
    if (has >= HAS * all && off <= SAME_LIGHT && !(best && best.worth >= worth)) best = { id, worth };
  }
  return best && best.id;
}
