import { describe, expect, test } from 'vitest';
import { linearToSrgb } from '../src/colour/transfer';
import { createPlane, mapPlane, type Light, type Plane } from '../src/image/plane';
import type { Guide, GuideSet } from '../src/mix/guides';
import { hotSpot } from '../src/propose/hotSpot';

const [W, H] = [200, 120];
const plane = (f: (x: number, y: number) => number): Plane => createPlane(W, H, Float32Array.from({ length: W * H }, (_, i) => f(i % W, Math.floor(i / W))));
const lightOf = (of: Plane): Light => ({ width: W, height: H, r: of.data, g: of.data, b: of.data });
const near = (x: number, y: number, radius: number): boolean => Math.hypot(x - 60, y - 50) < radius;

describe('where a flash stood too near', () => {
  const guideOf = (of: Plane): Guide => ({ light: lightOf(of), top: mapPlane(of, (v) => linearToSrgb(Math.min(1, v))), cover: mapPlane(of, () => 1) });
  const flash = guideOf(plane((x, y) => Math.min(1, 0.3 + 2 * Math.exp(-((x - 60) ** 2 + (y - 50) ** 2) / 400))));
  const lit = mapPlane(flash.top, (v) => (v > 0.9 ? 0.1 : 0.9));
  const nothing = plane(() => 0);
  const asked = ({ ambient = plane(() => 0.2), others = [] as Plane[], glass = nothing, guide = flash, own = lit } = {}): ReturnType<typeof hotSpot> => {
    const guides: GuideSet = { width: W, height: H, frames: new Map([['flash', guide]]), merge: lightOf(ambient) };
    return hotSpot('hot', guides, guide, own, others, glass);
  };

  test('is outlined with all that clips', () => {
    const area = asked();
    if (area?.kind !== 'outline') throw new Error('There is no outline.');
    const places = area.rings.flat().map(({ at }) => [at[0] * W, at[1] * W]);
    // As far as the flash is near to clipping, and a little more.
    for (const [x, y] of places) {
      expect(near(x, y, 18)).toBe(false);
      expect(near(x, y, 45)).toBe(true);
    }
  });
  test('is none where another flash lights the place, the ambient does not tell of it, or it is a view', () => {
    expect(asked({ others: [plane(() => 0.6)] })).toBeNull();
    expect(asked({ others: [plane((x) => (x > 150 ? 0.6 : 0))] })).not.toBeNull();
    expect(asked({ ambient: plane(() => 0.001) })).toBeNull();
    expect(asked({ ambient: plane((x, y) => (near(x, y, 30) ? 1.2 : 0.2)) })).toBeNull();
    expect(asked({ glass: plane(() => 1) })).toBeNull();
  });
  test('is none where the frame as a whole is far too bright, or nothing clips', () => {
    const bright = guideOf(plane(() => 1));
    expect(asked({ guide: bright, own: nothing })).toBeNull();
    expect(asked({ guide: guideOf(plane(() => 0.4)), own: plane(() => 0.9) })).toBeNull();
  });
});
