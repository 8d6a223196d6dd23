import fc from 'fast-check';
import { describe, test } from 'vitest';
import { linearToSrgb } from '../src/colour/transfer';
import { createLight, createPlane, mapPlane } from '../src/image/plane';
import type { GuideSet } from '../src/mix/guides';
import { labelRegions } from '../src/window/labelRegions';
import { mirroredBelow } from '../src/window/mirroredBelow';

const [W, H, LEFT, WIDE, SILL, ENDS] = [200, 140, 40, 120, 62, 118];
/** A window parted by bars, and under its sill something as wide, which fades into the floor or ends. */
function scene(panes: number, fades: boolean, narrower: number) {
  const isPane = (x: number, y: number): boolean => x >= LEFT && x < LEFT + WIDE && y >= 20 && y < SILL - 2 && (x - LEFT) % (WIDE / panes) >= 3 && Math.abs(y - 40) > 1;
  const isBelow = (x: number, y: number): boolean => x >= LEFT + narrower && x < LEFT + WIDE - narrower && y >= SILL + 2 && y < ENDS;
  const seen = mapPlane(createPlane(W, H), (_, i) => {
    const [x, y] = [i % W, Math.floor(i / W)];
    return isPane(x, y) ? 0.6 : isBelow(x, y) ? (fades ? 0.1 + (0.3 * (ENDS - y)) / (ENDS - SILL) : 0.4) : 0.1;
  });
  const light = { ...createLight(W, H), r: seen.data, g: seen.data, b: seen.data };
  const guides: GuideSet = { width: W, height: H, merge: light, frames: new Map([['a', { light, top: mapPlane(seen, linearToSrgb), cover: mapPlane(seen, () => 1) }]]) };
  const regions = labelRegions(mapPlane(seen, (_, i) => (isPane(i % W, Math.floor(i / W)) || isBelow(i % W, Math.floor(i / W)) ? 1 : 0)));
  const below = regions.find(({ top }) => top > SILL)!;
  return mirroredBelow(below, regions, guides, new Uint8Array(W * H).fill(1), mapPlane(seen, (v) => (v > 0.15 ? 1 : 0)));
}

describe('what lies right under a view', () => {
  const panes = fc.constantFrom(1, 2, 3, 4, 5, 6);
  test('is mirrored by a floor if it fades, whatever bars part the view', () => {
    fc.assert(fc.property(panes, (n) => scene(n, true, 0)));
  });
  test('is a pane itself if it ends, and something else if it is far narrower', () => {
    fc.assert(fc.property(panes, (n) => !scene(n, false, 0)));
    fc.assert(fc.property(panes, (n) => !scene(n, true, 35)));
  });
});
