import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { createPlane, mapPlane, type Plane } from '../src/image/plane';
import type { Appearance } from '../src/window/appearance';
import { backlitBefore } from '../src/window/backlitBefore';
import type { PaneQuad } from '../src/window/fitPane';

const [WIDTH, HEIGHT] = [120, 80];
const PANES: readonly PaneQuad[] = [[[10, 10], [55, 10], [55, 70], [10, 70]], [[60, 10], [110, 10], [110, 70], [60, 70]]];

interface Scene { readonly leaves: readonly (readonly [number, number])[]; readonly lifted: number; readonly darkest: number; readonly seed: number }
/** A view whose tones go down to `darkest`, before it leaves a pixel wide that give off `of` its darkest by themselves, which flashes lift. */
function scene({ leaves, lifted, darkest, seed }: Scene, of: number): { looks: Appearance; crisp: Plane; isLeaf: (i: number) => boolean } {
  const isLeaf = (i: number): boolean => {
    const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
    return leaves.some(([at, lean]) => y > 40 && Math.abs(x - at - lean * (70 - y)) < 1);
  };
  const view = mapPlane(createPlane(WIDTH, HEIGHT), (_, i) => darkest * (1 + 3 * Math.abs(Math.sin(0.13 * i + seed) * Math.cos(0.07 * i))));
  const crisp = mapPlane(view, (v, i) => (isLeaf(i) ? of * darkest : v));
  return { looks: { radiance: view, outside: mapPlane(view, (_, i) => (isLeaf(i) ? 1 - lifted : 0.95)), likely: view }, crisp, isLeaf };
}

const scenes = fc.record({
  leaves: fc.array(fc.tuple(fc.integer({ min: 16, max: 48 }), fc.double({ min: -0.1, max: 0.1, noNaN: true })), { minLength: 1, maxLength: 4 }),
  lifted: fc.double({ min: 0.3, max: 1, noNaN: true }), darkest: fc.double({ min: 0.05, max: 2, noNaN: true }), seed: fc.double({ min: 0, max: 6, noNaN: true }),
});

describe('dark things before panes', () => {
  test('are found to the pixel, however thin', () => {
    fc.assert(fc.property(scenes, (drawn) => {
      const { looks, crisp, isLeaf } = scene(drawn, 0.3);
      const found = backlitBefore(PANES, looks, crisp);
      for (let i = 0; i < found.data.length; i++) {
        const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
        if (x > 10 && x < 55 && y > 10 && y < 70) expect(found.data[i]).toBe(isLeaf(i) ? 1 : 0);
        else if (y < 9 || y > 71) expect(found.data[i]).toBe(0);
      }
    }), { numRuns: 30 });
  });
  test('are none where no flash lifts them, nor where they are about as bright as the darkest of the view, nor where nothing tells what is view', () => {
    fc.assert(fc.property(scenes, (drawn) => {
      const none = ({ looks, crisp }: ReturnType<typeof scene>): void => expect(backlitBefore(PANES, looks, crisp).data.every((v) => v === 0)).toBe(true);
      none(scene({ ...drawn, lifted: 0.1 }, 0.3));
      none(scene(drawn, 0.95));
      const { looks, crisp } = scene(drawn, 0.3);
      none({ looks: { ...looks, outside: mapPlane(looks.outside, () => NaN) }, crisp, isLeaf: () => false });
    }), { numRuns: 20 });
  });
});
