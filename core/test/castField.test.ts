import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { castField, gainsAgainst } from '../src/colour/castField';
import { seesSky } from '../src/found/seesSky';
import { whitePaint } from '../src/colour/whitePaint';
import { bilinear, createLight, createPlane, type Light, type Plane } from '../src/image/plane';

const [W, H] = [240, 160];
type Paint = (x: number, y: number) => readonly [number, number, number];
/** Stops of red and of blue that light has at a place. */
type Cast = (x: number, y: number) => readonly [number, number];

/** A room of paint in light of mixed colours, with the noise of a frame. */
function roomOf(paint: Paint, cast: Cast, noise = 0.01): Light {
  const light = createLight(W, H);
  let seed = 7;
  const random = (): number => (seed = (seed * 48271) % 2147483647) / 2147483647 - 0.5;
  for (let y = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      const i = y * W + x;
      const [r, g, b] = paint(x / W, y / H);
      const [red, blue] = cast(x / W, y / H);
      const shade = 0.9 - 0.3 * Math.hypot(x / W - 0.4, y / H - 0.4);
      light.r[i] = shade * r * 2 ** red * (1 + noise * random());
      light.g[i] = shade * g * (1 + noise * random());
      light.b[i] = shade * b * 2 ** blue * (1 + noise * random());
    }
  }
  return light;
}
const at = (plane: Plane, x: number, y: number): number => bilinear(plane, x * plane.width - 0.5, y * plane.height - 0.5);
/** The light with its colour evened out. */
function evened(light: Light, share = 1): Light {
  const gains = gainsAgainst(castField(light, null), share);
  const out = createLight(W, H);
  (['r', 'g', 'b'] as const).forEach((c, k) => light[c].forEach((v, i) => (out[c][i] = v * (1 + at(gains[k], ((i % W) + 0.5) / W, (Math.floor(i / W) + 0.5) / H)))));
  return out;
}
/** Stops of red and of blue against green about a place. */
function chroma(light: Light, x: number, y: number): [number, number] {
  const sums = [0, 0, 0];
  for (let v = -3; v <= 3; v++) for (let u = -3; u <= 3; u++) [light.r, light.g, light.b].forEach((c, k) => (sums[k] += c[(Math.round(y * H) + v) * W + Math.round(x * W) + u]));
  return [Math.log2(sums[0] / sums[1]), Math.log2(sums[2] / sums[1])];
}
const apart = (a: readonly number[], b: readonly number[]): number => Math.hypot(a[0] - b[0], a[1] - b[1]);

/** A ceiling over a wall of warmer paint, with a door of strong colour. */
const WHITE = [0.8, 0.8, 0.78] as const;
const WARM = [0.75, 0.7, 0.6] as const;
const DOOR = [0.15, 0.3, 0.2] as const;
const walled: Paint = (x, y) => (y < 0.35 ? WHITE : x > 0.7 && x < 0.85 ? DOOR : WARM);
const lampToDay: Cast = (x) => [0.15 - 0.4 * x, -0.15 + 0.55 * x];

describe('colour of light over paint', () => {
  test('what lamps and daylight do to one paint is evened out', () => {
    const before = roomOf(walled, lampToDay);
    const after = evened(before);
    for (const y of [0.15, 0.7]) {
      expect(apart(chroma(before, 0.05, y), chroma(before, 0.95, y))).toBeGreaterThan(0.5);
      expect(apart(chroma(after, 0.05, y), chroma(after, 0.95, y))).toBeLessThan(0.17);
    }
  });
  test('two paints stay as far apart as they are', () => {
    const [white, warm] = [WHITE, WARM].map((p) => [Math.log2(p[0] / p[1]), Math.log2(p[2] / p[1])]);
    const after = evened(roomOf(walled, lampToDay));
    for (const x of [0.1, 0.5, 0.93]) {
      const [a, b] = [chroma(after, x, 0.2), chroma(after, x, 0.55)];
      expect(apart([a[0] - b[0], a[1] - b[1]], [white[0] - warm[0], white[1] - warm[1]])).toBeLessThan(0.14);
    }
  });
  test('paint in even light, and things of strong colour, stay', () => {
    const room = roomOf(walled, () => [0, 0]);
    const field = castField(room, null);
    for (const plane of [field.red, field.blue]) for (const v of plane.data) expect(Math.abs(v)).toBeLessThan(0.08);
    const lit = roomOf(walled, lampToDay);
    // A door between lit walls is lit as they are.
    const [red, blue] = lampToDay(0.775, 0.7);
    const own = [Math.log2(DOOR[0] / DOOR[1]), Math.log2(DOOR[2] / DOOR[1])];
    const middle = [0.5, 0.7].map((y) => { const after = chroma(evened(lit), 0.5, y); const paint = WARM; return [after[0] - Math.log2(paint[0] / paint[1]), after[1] - Math.log2(paint[2] / paint[1])]; })[1];
    const door = chroma(evened(lit), 0.775, 0.7);
    expect(apart([door[0] - middle[0], door[1] - middle[1]], own)).toBeLessThan(Math.hypot(red, blue) * 0.5 + 0.05);
  });
  test('a share evens out that share; a grey keeps its luminance', () => {
    const room = roomOf(walled, lampToDay);
    const span = (light: Light): number => apart(chroma(light, 0.05, 0.15), chroma(light, 0.95, 0.15));
    expect(span(evened(room, 0.5))).toBeCloseTo((span(room) + span(evened(room))) / 2, 1);
    const gains = gainsAgainst(castField(room, null), 1);
    for (let i = 0; i < gains[0].data.length; i++) expect(0.2627 * gains[0].data[i] + 0.678 * gains[1].data[i] + 0.0593 * gains[2].data[i]).toBeCloseTo(0, 5);
  });
  test('a room of wood has no light paint to go by: its boards stay', () => {
    const board: Paint = (_, y) => (Math.floor(y * 9) % 2 === 0 ? [0.5, 0.3, 0.16] : [0.42, 0.27, 0.17]);
    const field = castField(roomOf(board, () => [0, 0]), null);
    for (const plane of [field.red, field.blue]) for (const v of plane.data) expect(Math.abs(v)).toBeLessThan(0.03);
  });
  test('whatever it is given it is finite, and of nothing it is nothing', () => {
    fc.assert(fc.property(fc.array(fc.double({ min: 0, max: 4, noNaN: true }), { minLength: 12, maxLength: 12 }), (v) => {
      const room = createLight(40, 30);
      for (let i = 0; i < 1200; i++) [room.r, room.g, room.b].forEach((c, k) => (c[i] = v[((i >> 4) % 4) * 3 + k]));
      const field = castField(room, null);
      for (const plane of [field.red, field.blue]) for (const each of plane.data) expect(Number.isFinite(each)).toBe(true);
    }), { numRuns: 40 });
    for (const plane of Object.values(castField(createLight(30, 20), null)) as Plane[]) expect([...plane.data].every((value) => value === 0)).toBe(true);
  });
  test('only paint within a mask tells', () => {
    const left = createPlane(W, H, Float32Array.from({ length: W * H }, (_, i) => (i % W < W / 2 ? 1 : 0)));
    const field = castField(roomOf(walled, (x) => (x < 0.5 ? [0, 0] : [0.4 * x, -0.4 * x])), left);
    for (let k = 0; k < field.red.data.length; k++) expect(Math.abs(field.red.data[k])).toBeLessThan(0.05);
  });
});

describe('white where no flash tells', () => {
  const everywhere = createPlane(W, H, new Float32Array(W * H).fill(1));
  test('is the ceiling, not the warm walls, also where light is mixed', () => {
    const gains = whitePaint(roomOf(walled, (x) => [0.1 - 0.2 * x, -0.15 + 0.3 * x]), everywhere);
    const off = (p: readonly number[]): number => apart([Math.log2((p[0] * gains[0]) / p[1]), Math.log2((p[2] * gains[2]) / p[1])], [0, 0]);
    expect(off(WHITE)).toBeLessThan(0.1);
    expect(off(WARM)).toBeGreaterThan(0.1);
  });
  test('is the paint itself where there is one only', () => {
    const gains = whitePaint(roomOf(() => WHITE, () => [0.1, -0.1]), everywhere);
    expect(Math.log2(gains[0])).toBeCloseTo(-0.1 - Math.log2(WHITE[0] / WHITE[1]), 1);
    expect(Math.log2(gains[2])).toBeCloseTo(0.1 - Math.log2(WHITE[2] / WHITE[1]), 1);
  });
  test('nothing to go by changes nothing', () => expect(whitePaint(createLight(W, H), everywhere)).toEqual([1, 1, 1]));
});

describe('whether a picture is taken outside', () => {
  const nowhere = createPlane(W, H);
  const dusk: Paint = (x, y) => (y < 0.5 ? [0.25 + 0.4 * x, 0.35, 0.9 - 0.2 * x] : [0.2, 0.22, 0.15]);
  test('sky tells, rooms do not, however blue their paint is, and what is seen through glass does not count', () => {
    expect(seesSky(roomOf(dusk, () => [0, 0]), nowhere)).toBe(true);
    expect(seesSky(roomOf(dusk, () => [0, 0]), createPlane(W, H, new Float32Array(W * H).fill(1)))).toBe(false);
    expect(seesSky(roomOf(walled, lampToDay), nowhere)).toBe(false);
    expect(seesSky(roomOf(() => [0.45, 0.55, 0.75], () => [0, 0]), nowhere)).toBe(false);
  });
});
