import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { SeenView } from '../src/graph/viewMasks';
import { createLight, createPlane, mapPlane, type Light, type Plane } from '../src/image/plane';
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
const one = (mask: Plane): SeenView[] => [{ name: 'View', mask }];
const readingsOf = ({ picture, glass }: ReturnType<typeof room>, hasView: boolean, scale = 1): Reading[] => pictureReadings(picture, glass, hasView ? one(glass) : [], scale);
const of = (readings: readonly Reading[], kind: Reading['kind']): Reading | undefined => readings.find((r) => r.kind === kind);

test('a picture as it should be is good, whatever its size', () => {
  fc.assert(fc.property(fc.integer({ min: 1, max: 12 }), (scale) => {
    const { picture, glass } = room([0.4, 0.4, 0.4], 0.5);
    expect(pictureReadings(picture, glass, one(glass), scale).map(({ kind, state }) => [kind, state])).toEqual([['clipped', 'good'], ['cast', 'good'], ['view', 'good']]);
  }), { numRuns: 5 });
});

test('each fault is told, with what to do about it', () => {
  const burnt = readingsOf(room([0.4, 0.4, 0.4], 0.5, 0.1), true, 4);
  expect(of(burnt, 'clipped')).toMatchObject({ state: 'bad', text: expect.stringContaining('highlights') });
  expect(of(burnt, 'clipped')!.value).toBeCloseTo(10, 0);
  // It lies at the top, in pixels of the reference.
  expect(of(burnt, 'clipped')!.where![1]).toBeLessThan(0.1 * 4 * H);
  const cast = (tone: readonly [number, number, number]): Reading => of(readingsOf(room(tone, 0.5), true), 'cast')!;
  expect(cast([0.42, 0.4, 0.3])).toMatchObject({ state: expect.not.stringMatching('good'), text: expect.stringContaining('cooler temperature') });
  expect(cast([0.36, 0.4, 0.52])).toMatchObject({ state: expect.not.stringMatching('good'), text: expect.stringContaining('warmer temperature') });
  const view = (brightness: number, hasView: boolean): Reading => of(readingsOf(room([0.4, 0.4, 0.4], brightness), hasView), 'view')!;
  expect(view(0.1, true)).toMatchObject({ state: 'check', text: expect.stringContaining('raise the exposure') });
  expect(view(3, true)).toMatchObject({ state: 'check', text: expect.stringContaining('lower the exposure') });
  expect(view(0.5, false)).toMatchObject({ state: 'bad', text: expect.stringContaining('shorter exposure') });
  // Without glass there is no view to speak of.
  expect(of(pictureReadings(room([0.4, 0.4, 0.4], 0.5).picture, createPlane(W, H), one(createPlane(W, H)), 1), 'view')).toBeUndefined();
});

test('of several windows the one that is furthest off is told, by name', () => {
  const { picture, glass } = room([0.4, 0.4, 0.4], 0.5);
  const upper = mapPlane(glass, (v, i) => (Math.floor(i / W) < 45 ? v : 0));
  const lower = mapPlane(glass, (v, i) => v - upper.data[i]);
  for (const channel of [picture.r, picture.g, picture.b]) for (let i = 0; i < channel.length; i++) if (lower.data[i] > 0) channel[i] = 0.05;
  const views = [{ name: 'View, upper', mask: upper }, { name: 'View, lower', mask: lower }];
  const told = of(pictureReadings(picture, glass, views, 1), 'view')!;
  expect(told).toMatchObject({ state: 'check', text: expect.stringContaining('“View, lower”') });
  expect(told.value).toBeCloseTo(-3, 1);
});
