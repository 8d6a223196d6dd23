import { createPlane, quantile, type Plane } from '../image/plane';
import type { Appearance } from './appearance';
import { pixelsOfPane, type PaneQuad } from './fitPane';
import { labelRegions } from './labelRegions';

/** What stands before a view with its back to it gives off so much by itself at most, as a share of the darkest parts of that view. */
const BACKLIT = 0.6;
const DARKEST = 0.05;
/** How much like outside the view surely looks that this is held against, and pixels of it from which its darkest are known. */
const SURELY_VIEW = 0.8;
const VIEW_KNOWN = 40;
/** So much of a thing some flash must tell of, if little: what is dark sends little of it back. */
const SOME_FLASH = 0.8;
const MOSTLY = 0.5;
/** Guide pixels of the smallest: leaves are thin. */
const LEAF = 5;

/**
 * Dark things before panes, thin ones too: plants on a sill, a bottle, a rim of a lamp. Against the day they are far darker than any of the view,
 * and flashes lift them a little. Frames that show the view show them with it, as dark as they stand there.
 * @param crisp from `crispRadiance`
 * @returns 0 or 1
 */
export function backlitBefore(panes: readonly PaneQuad[], { outside, radiance }: Appearance, crisp: Plane): Plane {
  const { width, height } = outside;
  const [dark, out] = [createPlane(width, height), createPlane(width, height)];
  // What all panes show: behind one alone there may be nothing but sky.
  const view: number[] = [];
  for (const quad of panes) pixelsOfPane(quad, width, height, (i) => { if (outside.data[i] > SURELY_VIEW) view.push(radiance.data[i]); });
  if (view.length < VIEW_KNOWN) return out;
  const most = BACKLIT * quantile(view, DARKEST);
  for (const quad of panes) pixelsOfPane(quad, width, height, (i) => (dark.data[i] = crisp.data[i] < most ? 1 : 0));
  for (const { pixels } of labelRegions(dark)) {
    const lit = pixels.reduce((sum, i) => sum + (outside.data[i] < SOME_FLASH ? 1 : 0), 0);
    if (pixels.length >= LEAF && lit > MOSTLY * pixels.length) for (const i of pixels) out.data[i] = 1;
  }
  return out;
}
