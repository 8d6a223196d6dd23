import { describe, expect, test } from 'vitest';
import { linearToSrgb } from '../src/colour/transfer';
import { createLight, createPlane, mapPlane, type Light, type Plane } from '../src/image/plane';
import { matteEdges } from '../src/mask/matteEdges';
import { mergeGuides, type Guide, type GuideSet } from '../src/mix/guides';
import { findGlass } from '../src/window/findGlass';
import { goesOn, rimOf, rimStep } from '../src/window/regionRim';
import { flashEvidence, outsideByAll } from '../src/window/flashEvidence';
import { ownRadiance } from '../src/window/ownRadiance';
import { seeded } from './kernelMemory';

const [W, H] = [300, 200];
const inWindow = (x: number, y: number): boolean => x >= 110 && x < 190 && y >= 50 && y < 120 && Math.abs(x - 150) > 2;
const inFrame = (x: number, y: number): boolean => x >= 104 && x < 196 && y >= 44 && y < 126 && !inWindow(x, y);
const inSun = (x: number, y: number): boolean => x > 40 && x < 90 && y > 150 && y < 185;
const inLamp = (x: number, y: number): boolean => Math.hypot(x - 250, y - 60) < 9;

/** A made-up room: what each place gives off by itself, and what a flash of power 1 adds there. */
function room(seed: number): { own: Plane; reflectance: Plane } {
  const next = seeded(seed);
  const own = createPlane(W, H);
  const reflectance = createPlane(W, H);
  for (let i = 0; i < own.data.length; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const paint = (Math.floor(x / 23) + Math.floor(y / 19)) % 3 === 0 ? 0.25 : 0.7;
    const view = y < 85 ? 3.2 + 0.4 * next() : 0.5 + 0.5 * next();
    reflectance.data[i] = inWindow(x, y) ? 0 : paint;
    own.data[i] = inWindow(x, y) ? view : inLamp(x, y) ? 2.5 : paint * (0.18 + (inSun(x, y) ? 2.6 : 0) + (inFrame(x, y) ? 0.2 : 0)) + 0.004 * next();
  }
  return { own, reflectance };
}

/** A frame of it on the guide: exposure, and flashes with a centre each; a flash may be mirrored in the pane. */
function shoot({ own, reflectance }: ReturnType<typeof room>, stops: number, flash?: { x: number; power: number; mirrored?: boolean }): { guide: Guide; stops: number } {
  const light: Light = createLight(W, H);
  const top = createPlane(W, H);
  for (let i = 0; i < own.data.length; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const fall = flash ? flash.power / (1 + ((x - flash.x) / 160) ** 2 + ((y - 90) / 220) ** 2) : 0;
    const glare = flash?.mirrored && inWindow(x, y) && Math.hypot(x - 130, y - 70) < 6 ? 0.9 : 0;
    const seen = Math.min(1, own.data[i] * 2 ** stops + fall * reflectance.data[i] + glare);
    const warm = inLamp(x, y) ? 1 : 0;
    light.g[i] = seen;
    light.r[i] = Math.min(1, seen * (1 + 0.5 * warm));
    light.b[i] = seen * (1 - 0.6 * warm);
    top.data[i] = linearToSrgb(Math.max(light.r[i], seen));
  }
  return { guide: { light, top, cover: mapPlane(top, () => 1) }, stops };
}

function glassOf(frames: Record<string, { guide: Guide; stops: number }>, ambient: readonly string[]): { glass: Plane; guides: GuideSet; stops: Record<string, number> } {
  const guides: GuideSet = { width: W, height: H, frames: new Map(Object.entries(frames).map(([id, f]) => [id, f.guide])), merge: mergeGuides(ambient.map((id) => frames[id])) };
  const stops = Object.fromEntries(Object.entries(frames).map(([id, f]) => [id, f.stops]));
  return { glass: findGlass(guides, stops, ownRadiance(guides, stops)).plane, guides, stops };
}
/** Share of the true window that is found, and what is found beside it as a share of it. */
function score(glass: Plane): { found: number; extra: number } {
  let [hit, extra, all] = [0, 0, 0];
  glass.data.forEach((v, i) => {
    const truth = inWindow(i % W, Math.floor(i / W));
    all += truth ? 1 : 0;
    if (v > 0.5 && truth) hit++;
    else if (v > 0.5) extra++;
  });
  return { found: hit / all, extra: extra / all };
}

describe('finding glass', () => {
  test('the view is found, dark parts and all; sunlight, lamps and bright joinery are not', () => {
    const r = room(1);
    const { glass } = glassOf({ a: shoot(r, 0), d: shoot(r, -3), f: shoot(r, -2, { x: 60, power: 0.5 }), g: shoot(r, -2, { x: 240, power: 0.5 }) }, ['a', 'd']);
    const { found, extra } = score(glass);
    expect(found).toBeGreaterThan(0.93);
    expect(extra).toBeLessThan(0.08);
  });
  test('what a glossy floor mirrors of the view right under it is none, however bright', () => {
    const r = room(12);
    const next = seeded(13);
    // Dark boards that begin under a narrow sill; what they mirror of the view fades with the angle, softly at its far end.
    for (let y = 122; y < H; y++) {
      for (let x = 0; x < W; x++) {
        const i = y * W + x;
        r.reflectance.data[i] = 0.1;
        const mirrored = inWindow(x, 240 - y) || (y > 190 && inWindow(x, 60)) ? Math.max(0, 1 - Math.max(0, y - 150) / 42) : 0;
        r.own.data[i] = 0.02 + mirrored * (1.1 + 0.08 * next());
      }
    }
    const { glass } = glassOf({ a: shoot(r, 0), d: shoot(r, -3), f: shoot(r, -2, { x: 60, power: 0.4 }), g: shoot(r, -2, { x: 240, power: 0.4 }) }, ['a', 'd']);
    const { found, extra } = score(glass);
    expect(found).toBeGreaterThan(0.9);
    expect(extra).toBeLessThan(0.08);
  });
  test('one flash alone, with the room that it lights mirrored in the glass, and a sky that no other frame shows: every pane whole, the bars not', () => {
    for (const seed of [21, 22, 23]) {
      const r = room(seed);
      const inBar = (y: number): boolean => y >= 83 && y < 88;
      for (let i = 0; i < r.own.data.length; i++) {
        const [x, y] = [i % W, Math.floor(i / W)];
        if (!inWindow(x, y)) continue;
        if (inBar(y)) [r.own.data[i], r.reflectance.data[i]] = [0.3, 0.7];
        // Trees on the right, and what the pane mirrors of the room about them.
        else if (x > 160 && y > 66) [r.own.data[i], r.reflectance.data[i]] = [0.5 * r.own.data[i], x + y > 240 ? 0.22 : 0];
      }
      const { glass } = glassOf({ a: shoot(r, 0), d: shoot(r, -1.3), f: shoot(r, -2.5, { x: 120, power: 0.5, mirrored: true }) }, ['a', 'd']);
      let [hit, all, extra] = [0, 0, 0];
      glass.data.forEach((v, i) => {
        const truth = inWindow(i % W, Math.floor(i / W)) && !inBar(Math.floor(i / W));
        if (truth) all++;
        if (v > 0.5 && truth) hit++;
        else if (v > 0.5) extra++;
      });
      expect(hit / all, `${seed}`).toBeGreaterThan(0.93);
      expect(extra / all, `${seed}`).toBeLessThan(0.1);
    }
  });
  test('a flash mirrored in the pane leaves no hole', () => {
    const r = room(2);
    const { glass } = glassOf({ a: shoot(r, 0), d: shoot(r, -3), f: shoot(r, -2, { x: 60, power: 0.5, mirrored: true }), g: shoot(r, -2, { x: 240, power: 0.5 }), h: shoot(r, -2, { x: 150, power: 0.6 }) }, ['a', 'd']);
    expect(glass.data[70 * W + 130]).toBe(1);
    expect(score(glass).found).toBeGreaterThan(0.93);
  });
  test('nor is a small white lamp that was off when the flash fired', () => {
    const bulb = (i: number): boolean => Math.abs((i % W) - 230) < 4 && Math.abs(Math.floor(i / W) - 40) < 4;
    const [lit, off] = [room(5), room(5)];
    for (let i = 0; i < lit.own.data.length; i++) {
      if (!bulb(i)) continue;
      [lit.own.data[i], off.own.data[i]] = [6, 2.2];
      lit.reflectance.data[i] = off.reflectance.data[i] = 0;
    }
    const { glass } = glassOf({ a: shoot(lit, 0), f: shoot(off, -2, { x: 60, power: 0.5 }), g: shoot(off, -2, { x: 240, power: 0.5 }) }, ['a']);
    expect(score(glass).found).toBeGreaterThan(0.93);
    expect([...glass.data.keys()].filter((i) => bulb(i) && glass.data[i] > 0)).toEqual([]);
  });
  test('a room without a window has none', () => {
    const r = room(3);
    for (let i = 0; i < r.own.data.length; i++) if (inWindow(i % W, Math.floor(i / W))) { r.own.data[i] = 0.12; r.reflectance.data[i] = 0.6; }
    // Two flashes are needed: where the ambient is clipped, one alone cannot tell its own light from the sun's.
    const { glass } = glassOf({ a: shoot(r, 0), d: shoot(r, -3), f: shoot(r, -2, { x: 60, power: 0.5 }) }, ['a', 'd']);
    expect(glass.data.every((v) => v === 0)).toBe(true);
  });
  test('each flash calls the view outside and the wall inside', () => {
    const r = room(4);
    const { guides, stops } = glassOf({ a: shoot(r, 0), d: shoot(r, -3), f: shoot(r, -2, { x: 60, power: 0.5 }) }, ['a', 'd']);
    const { frames: evidence } = flashEvidence(guides, stops, ownRadiance(guides, stops));
    expect(evidence).toHaveLength(1);
    expect(outsideByAll(evidence.map(({ outside }) => outside.data), 70 * W + 170)).toBeGreaterThan(0.9);
    expect(outsideByAll(evidence.map(({ outside }) => outside.data), 150 * W + 200)).toBeLessThan(0.4);
  });
});

describe('how sharply a bright region ends', () => {
  const inBox = (i: number): boolean => i % W >= 100 && i % W < 200 && Math.floor(i / W) >= 40 && Math.floor(i / W) < 120;
  const stepOf = (value: (x: number, y: number) => number): number => {
    const plane = createPlane(W, H);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = value(i % W, Math.floor(i / W));
    const light: Light = { width: W, height: H, r: plane.data, g: plane.data, b: plane.data };
    const guides: GuideSet = { width: W, height: H, frames: new Map([['a', { light, top: mapPlane(plane, linearToSrgb), cover: mapPlane(plane, () => 1) }]]), merge: light };
    const pixels = [...plane.data.keys()].filter(inBox);
    const untold = mapPlane(plane, () => NaN);
    return rimStep(rimOf({ pixels, left: 100, top: 40, right: 199, bottom: 119 }, W, H), guides, new Uint8Array(W * H), untold);
  };
  test('a view ends all round; the light of a lamp fades on, however fast', () => {
    const texture = seeded(4);
    expect(stepOf((x, y) => (inBox(y * W + x) ? 0.5 + 0.2 * texture() : 0.2))).toBeGreaterThan(0.8);
    for (const reach of [30, 60, 120]) expect(stepOf((x, y) => 0.85 * Math.exp(-Math.hypot(x - 150, y - 80) / reach))).toBeLessThan(0.1);
    // Cut off on three sides by furniture, and fading on the fourth.
    expect(stepOf((x, y) => (x < 100 || y < 40 || y >= 120 ? 0.02 : 0.85 * Math.exp(-(x - 100) / 60)))).toBeLessThan(0.1);
  });
});

describe('what goes on past a cord', () => {
  /** A bright rectangle whose left side is a dark cord; how bright it is beyond the cord, against it. */
  const judged = (beyond: number): boolean => {
    const plane = createPlane(W, H);
    const pixels: number[] = [];
    const fading = new Uint8Array(W * H);
    for (let i = 0; i < plane.data.length; i++) {
      const [x, y] = [i % W, Math.floor(i / W)];
      const within = y >= 40 && y < 80;
      plane.data[i] = !within ? 0.05 : x < 96 ? 0.4 * beyond : x < 100 ? 0.01 : x < 200 ? 0.4 : 0.05;
      if (within && x >= 100 && x < 200) pixels.push(i);
      if (within && x < 96) fading[i] = 1;
    }
    const light: Light = { width: W, height: H, r: plane.data, g: plane.data, b: plane.data };
    const guide: Guide = { light, top: mapPlane(plane, linearToSrgb), cover: mapPlane(plane, () => 1) };
    const guides: GuideSet = { width: W, height: H, frames: new Map([['a', guide]]), merge: light };
    return goesOn({ pixels, left: 100, top: 40, right: 199, bottom: 79 }, guides, fading);
  };
  test('is one surface with what fades beyond it, if that is as bright', () => {
    expect(judged(0.9)).toBe(true);
    expect(judged(0.4)).toBe(false);
  });
});

describe('edges by a trimap', () => {
  test('a mask that is off by two pixels finds the true edge again where the guidance shows one', () => {
    const guidance = createPlane(W, H);
    const mask = createPlane(W, H);
    for (let i = 0; i < mask.data.length; i++) {
      guidance.data[i] = i % W < 150 ? -3 : 1;
      mask.data[i] = i % W < 148 ? 0 : 1;
    }
    const { a, b } = matteEdges(guidance, mask);
    const at = (x: number): number => Math.min(1, Math.max(0, a.data[100 * W + x] * guidance.data[100 * W + x] + b.data[100 * W + x]));
    expect(at(148)).toBeLessThan(0.1);
    expect(at(149)).toBeLessThan(0.1);
    expect(at(150)).toBeGreaterThan(0.9);
    expect([at(40), at(260)]).toEqual([0, 1]);
  });
});
