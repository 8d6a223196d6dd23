import fc from 'fast-check';
import { expect, test } from 'vitest';
import { createLight, createPlane, type Light } from '../src/image/plane';
import { pictureReadings } from '../src/read/pictureReadings';
import type { Reading } from '../src/read/readings';

const [W, H] = [150, 100];
/** A room of one tone with a window, in working light. */
function room(tone: readonly [number, number, number], view: number, burnt = 0): { picture: Light; glass: ReturnType<typeof createPlane> } {
  const picture = createLight(W, H);
  const glass = createPlane(W, H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const inside = x > 100 && x < 130 && y > 30 && y < 60;
    glass.data[i] = inside ? 1 : 0;
    const rgb = inside ? [view, view, view] : i < burnt * W * H ? [9, 9, 9] : tone.map((v) => v * (1 + 0.02 * Math.sin(x * 0.7 + y)));
    [picture.r[i], picture.g[i], picture.b[i]] = rgb;
  }
  return { picture, glass };
}
const of = (readings: readonly Reading[], kind: Reading['kind']): Reading | undefined => readings.find((r) => r.kind === kind);

test('a picture as it should be is good, whatever its size', () => {
  fc.assert(fc.property(fc.integer({ min: 1, max: 12 }), (scale) => {
    const { picture, glass } = room([0.4, 0.4, 0.4], 0.5);
    expect(pictureReadings(picture, glass, true, scale).map(({ kind, state }) => [kind, state])).toEqual([['clipped', 'good'], ['cast', 'good'], ['view', 'good']]);
  }), { numRuns: 5 });
});

test('each fault is told, with what to do about it', () => {
  const burnt = pictureReadings(room([0.4, 0.4, 0.4], 0.5, 0.1).picture, room([0.4, 0.4, 0.4], 0.5).glass, true, 4);
  expect(of(burnt, 'clipped')).toMatchObject({ state: 'bad', text: expect.stringContaining('highlights') });
  expect(of(burnt, 'clipped')!.value).toBeCloseTo(10, 0);
  // It lies at the top, in pixels of the reference.
  expect(of(burnt, 'clipped')!.where![1]).toBeLessThan(0.1 * 4 * H);
  const cast = (tone: readonly [number, number, number]): Reading => of(pictureReadings(room(tone, 0.5).picture, room(tone, 0.5).glass, true, 1), 'cast')!;
  expect(cast([0.42, 0.4, 0.3])).toMatchObject({ state: expect.not.stringMatching('good'), text: expect.stringContaining('cooler temperature') });
  expect(cast([0.36, 0.4, 0.52])).toMatchObject({ state: expect.not.stringMatching('good'), text: expect.stringContaining('warmer temperature') });
  const view = (brightness: number, hasView: boolean): Reading => of(pictureReadings(room([0.4, 0.4, 0.4], brightness).picture, room([0.4, 0.4, 0.4], brightness).glass, hasView, 1), 'view')!;
  expect(view(0.1, true)).toMatchObject({ state: 'check', text: expect.stringContaining('raise the exposure') });
  expect(view(3, true)).toMatchObject({ state: 'check', text: expect.stringContaining('lower the exposure') });
  expect(view(0.5, false)).toMatchObject({ state: 'bad', text: expect.stringContaining('shorter exposure') });
  // Without glass there is no view to speak of.
  expect(of(pictureReadings(room([0.4, 0.4, 0.4], 0.5).picture, createPlane(W, H), true, 1), 'view')).toBeUndefined();
});
