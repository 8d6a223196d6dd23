import { readdirSync, statSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, test } from 'vitest';
import { mapPoint, type Homography } from '@zaddle/core/geometry/homography';
import { DEMO_SHOTS, planDemo } from '../src/camera/demoVisit';
import { DATA, frameView, House, roomOf } from '../src/camera/house';
import { KIT_LENS, simulateFrame } from '../src/camera/simulateFrame';
import { ROOMS } from '../src/scene/house';
import { Eye } from '../src/trace/eyeRay';
import { PathTracer } from '../src/trace/pathTracer';
import { glossOf, type Layers } from '../src/trace/renderRoom';
import { displacement, lookForGlare, lookRoom, type RoomLook } from '../src/truth/lookRoom';

/* What is said to be true of frames agrees with what they show. */

const SIZE = { width: 300, height: 200 };

const house = new House(SIZE, 4);

/** The part of a picture of a room that frames show: a value a pixel, green. */
function framed({ width, height, layers }: Layers, name: string): Float32Array {
  const [left, top] = [(width - SIZE.width) / 2, (height - SIZE.height) / 2];
  const layer = layers.get(name)!;
  return Float32Array.from({ length: SIZE.width * SIZE.height }, (_, i) => layer[((Math.floor(i / SIZE.width) + top) * width + (i % SIZE.width) + left) * 3 + 1]);
}

describe("the pilot's room", () => {
  const room = roomOf('pilots-room');
  const view = frameView(room.view);
  let scene: PathTracer;
  let look: RoomLook;
  let shown: Layers;
  beforeAll(async () => {
    scene = new PathTracer(room);
    look = lookRoom(scene, view, SIZE.width, SIZE.height);
    shown = await house.room(room.name);
  });
  const where = (thing: 'glass' | 'screen' | 'ceiling' | 'wall'): number[] => [...look.things.get(thing)!].flatMap((share, i) => (share === 1 ? [i] : []));

  test('has what it is said to have', () => {
    expect([...look.things.keys()]).toEqual(expect.arrayContaining(['glass', 'picture', 'ceiling', 'wall', 'floor', 'screen']));
    for (const share of look.things.values()) for (const v of share) expect(v >= 0 && v <= 1).toBe(true);
  });

  test('glows on its screen by the light of the screen, and nowhere else so much', () => {
    const light = framed(shown, 'screen');
    const screen = new Set(where('screen'));
    expect(screen.size).toBeGreaterThan(100);
    const mean = (of: (i: number) => boolean): number => {
      const values = [...light].filter((_, i) => of(i));
      return values.reduce((a, b) => a + b, 0) / values.length;
    };
    expect(mean((i) => screen.has(i))).toBeGreaterThan(20 * mean((i) => !screen.has(i)));
  });

  test('shows the view in its panes by day, and nothing of it by its lamps', () => {
    const [day, lamps] = [framed(shown, 'day'), framed(shown, 'lamps')];
    const glass = where('glass').filter((i) => look.view[i * 3 + 1] > 0.1);
    expect(glass.length).toBeGreaterThan(300);
    for (const i of glass.filter((_, k) => k % 7 === 0)) {
      expect(day[i]).toBeGreaterThan(0.5);
      expect(lamps[i]).toBeLessThan(0.2 * day[i]);
    }
    // Six times the view, less what the pane keeps.
    const ratios = glass.map((i) => day[i] / look.view[i * 3 + 1]).sort((a, b) => a - b);
    expect(ratios[ratios.length >> 1] / 6).toBeCloseTo(0.92, 1);
  });

  test('has walls of the paint that is said of them', () => {
    const paint = where('wall').map((i) => [0, 1, 2].map((c) => look.paint[i * 3 + c]));
    // Their plaster is uneven by some per cent about this.
    for (const rgb of paint) [0.66, 0.69, 0.7].forEach((of, c) => expect(Math.abs(rgb[c] / of - 1)).toBeLessThan(0.08));
  });
});

test('glares where a head is mirrored: far brighter there than around in the looking glass', async () => {
  const room = roomOf('wash-house');
  const view = frameView(room.view);
  const scene = new PathTracer(room);
  const mirror = lookRoom(scene, view, SIZE.width, SIZE.height).things.get('mirror')!;
  const shown = await house.room(room.name);
  for (const name of ['flash-1', 'flash-3']) {
    const glare = lookForGlare(scene, view, scene.layers.findIndex((layer) => layer.name === name), SIZE.width, SIZE.height);
    const light = framed(shown, name);
    const sorted = (glaring: number): number[] => [...light].filter((_, i) => mirror[i] === 1 && glare[i] === glaring).sort((a, b) => a - b);
    const [inside, around] = [sorted(1), sorted(0)];
    expect(inside.length).toBeGreaterThan(20);
    expect(inside[inside.length >> 1]).toBeGreaterThan(3 * around[around.length >> 1]);
  }
});

test('levelling makes what is plumb vertical and keeps the middle', () => {
  for (const name of ['office', 'pilots-room', 'hoist-stair']) {
    const { view } = roomOf(name);
    const eye = new Eye(view, 1500, 1000);
    const level = eye.toLevel() as unknown as Homography;
    const at = new Float64Array(2);
    for (const [x, y] of [[0.4, 3], [1.1, 2.5], [view.from[0] + 0.8, view.from[1] + 4]]) {
      const [low, high] = [0.2, 2.2].map((z) => {
        expect(eye.project(x, y, z, at)).toBe(true);
        return mapPoint(level, at[0], at[1]);
      });
      expect(low[0] - high[0]).toBeCloseTo(0, 6);
    }
    const [cx, cy] = mapPoint(level, 749.5, 499.5);
    expect([cx, cy]).toEqual([expect.closeTo(749.5, 6), expect.closeTo(499.5, 6)]);
  }
});

test('after the bump near and far move as is said: followed there, both pictures agree', async () => {
  const [before, after] = [framed(await house.room('causeway'), 'lamps'), framed(await house.room('causeway-bumped'), 'lamps')];
  const moved = displacement(new PathTracer(roomOf('causeway')), frameView(roomOf('causeway').view), frameView(roomOf('causeway-bumped').view), SIZE.width, SIZE.height);
  const off = (follow: boolean): number => {
    let sum = 0;
    for (let y = 10; y < SIZE.height - 10; y++) for (let x = 10; x < SIZE.width - 10; x++) {
      const i = y * SIZE.width + x;
      const [u, v] = follow ? [Math.round(x + moved[i * 2]), Math.round(y + moved[i * 2 + 1])] : [x, y];
      sum += Math.abs(Math.log2(0.01 + after[v * SIZE.width + u]) - Math.log2(0.01 + before[i]));
    }
    return sum;
  };
  const x = [...moved].filter((_, i) => i % 2 === 0);
  // Near things move further than far ones: no single map says both.
  expect(Math.max(...x) - Math.min(...x)).toBeGreaterThan(0.5);
  expect(off(true)).toBeLessThan(0.8 * off(false));
});

describe('what ships with the house', () => {
  const files = (readdirSync(DATA, { recursive: true }) as string[]).map((file) => join(DATA, file)).filter((file) => statSync(file).isFile());

  test('is small', () => {
    const sizes = files.map((file) => statSync(file).size);
    expect(Math.max(...sizes)).toBeLessThan(3_000_000);
    expect(sizes.reduce((a, b) => a + b, 0)).toBeLessThan(45_000_000);
  });

  test('has the light of every room, each with its gloss', async () => {
    for (const room of ROOMS) {
      const { layers } = JSON.parse(await readFile(join(DATA, room.name, 'layers.json'), 'utf8')) as { layers: string[] };
      const names = layers.filter((name) => !name.endsWith('.gloss'));
      expect(names.length).toBeGreaterThan(0);
      for (const name of names) {
        expect(layers).toContain(glossOf(name));
        for (const part of ['coarse.png', 'detail.jpg']) expect(files).toContain(join(DATA, room.name, `${name}.${part}`));
      }
    }
  });

  test('has every frame of the demo visit, at its size', async () => {
    // Names and purposes do not depend on what a room looks like.
    const flashes = Array.from({ length: 9 }, (_, k) => `flash-${k + 1}`);
    const grey: Layers = { width: 324, height: 216, layers: new Map(['day', 'lamps', ...flashes].map((light) => [light, new Float32Array(324 * 216 * 3).fill(1)])) };
    const room = (): Promise<Layers> => Promise.resolve(grey);
    const planned = await planDemo(room);
    expect(readdirSync(join(DATA, 'demo-visit')).sort()).toEqual(planned.map((frame) => frame.file).sort());
    expect(new Set(planned.filter((frame) => frame.shot !== 'test').map((frame) => frame.shot))).toEqual(new Set(DEMO_SHOTS));
    expect(planned.length).toBeGreaterThan(42);
    for (const { file } of planned) {
      const { width, height } = await sharp(join(DATA, 'demo-visit', file)).metadata();
      expect([width, height]).toEqual([3000, 2000]);
    }
    await expect(planDemo(room, ['cellar'])).rejects.toThrow('There are: sitting-room');
  });

  test('has frames that are what the camera takes of the house as it is', async () => {
    const [planned] = await planDemo(house.room.bind(house), ['office']);
    const taken = simulateFrame(await house.room(planned.room), planned, KIT_LENS);
    const kept = await sharp(join(DATA, 'demo-visit', planned.file)).resize(SIZE.width, SIZE.height, { kernel: 'cubic' }).raw().toBuffer();
    let sum = 0;
    for (let i = 0; i < taken.length; i++) sum += Math.abs(taken[i] - kept[i]);
    // Noise of a small frame, and edges that fall otherwise within its pixels.
    expect(sum / taken.length).toBeLessThan(4);
  });
});
