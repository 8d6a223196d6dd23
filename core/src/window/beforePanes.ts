import { distanceFrom } from '../image/distance';
import { createPlane, mapPlane, quantile, type Plane } from '../image/plane';
import type { Appearance } from './appearance';
import { pixelsOfPane, withinPane, type PaneQuad } from './fitPane';
import { labelRegions, type Region } from './labelRegions';

/** Something that stands before a pane has at least so many guide pixels that look like inside, not only along the pane's rim. */
const BEFORE_PANE = 24;
const THICK = 1;
const INSIDE = 0.35;
/** What it gives off by itself at most, as a share of the pane it stands before, where one flash alone tells; and so much where that is enough to tell. */
const DIM = 0.6;
const DARK = 0.1;
/** Guide pixels under something within which its pane ends, and another, over a bar, would have begun. */
const UNDER = [3, 16] as const;

/**
 * What stands before panes: flashes light it as they do the room.
 * @param seen pixels that are known to be a view
 * @param oneFlash a single flash tells. What it lights is mirrored in panes, too: then it has to be darker than the view, and to stand on the sill, or to be nearly black
 * @returns 0 or 1
 */
export function beforePanes(panes: readonly PaneQuad[], seen: ReadonlySet<number>, { outside, radiance }: Appearance, oneFlash: boolean): Plane {
  const { width, height } = outside;
  const [lacking, before, level] = [createPlane(width, height), createPlane(width, height), createPlane(width, height)];
  for (const quad of panes) {
    const own: number[] = [];
    pixelsOfPane(quad, width, height, (i) => own.push(radiance.data[i]));
    const usual = quantile(own, 0.5);
    pixelsOfPane(quad, width, height, (i) => {
      level.data[i] = usual;
      lacking.data[i] = !seen.has(i) && outside.data[i] < INSIDE && (!oneFlash || radiance.data[i] < DIM * usual) ? 1 : 0;
    });
  }
  const depth = distanceFrom(mapPlane(lacking, (v) => 1 - v)).data;
  const isDark = ({ pixels }: Region): boolean => quantile(pixels.map((i) => radiance.data[i] / level.data[i]), 0.5) < DARK;
  const stands = ({ pixels, bottom }: Region): boolean => {
    const foot = pixels.filter((i) => Math.floor(i / width) === bottom);
    const x = foot[foot.length >> 1] % width;
    return UNDER.every((by) => !panes.some((pane) => withinPane(pane, x, bottom + by)));
  };
  for (const blob of labelRegions(lacking)) {
    if (blob.pixels.length < BEFORE_PANE || !blob.pixels.some((i) => depth[i] > THICK)) continue;
    if (oneFlash && !isDark(blob) && !stands(blob)) continue;
    for (const i of blob.pixels) before.data[i] = 1;
  }
  return before;
}
