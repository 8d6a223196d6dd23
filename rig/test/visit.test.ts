import { join } from 'node:path';
import { beforeAll, describe, expect, test } from 'vitest';
import { greyPyramid } from '@zaddle/core/align/structure';
import { cornerDistance } from '@zaddle/core/align/lineUp';
import { compose, invert } from '@zaddle/core/geometry/homography';
import { groupShots } from '@zaddle/core/intake/groupShots';
import { AUTOMATIC, proposeMix } from '@zaddle/core/propose/proposeMix';
import { responseStops } from '@zaddle/core/colour/responseTable';
import { srgbToLinear } from '@zaddle/core/colour/transfer';
import { addedLight } from '@zaddle/core/propose/addedLight';
import { flashFired } from '@zaddle/core/propose/guessRoles';
import { chooseReference, lineUpShot, viewShot } from '@zaddle/core/propose/lineUpShot';
import { testTools } from '../../core/test/kernelMemory';
import { FRAME_HEIGHT, FRAME_WIDTH, factsOf, room, rooms, take } from './taken';
import { readLayers, writeLayers } from '../src/camera/layerStore';
import { planDemo } from '../src/camera/demoVisit';
import { planShot } from '../src/camera/plans';
import { KIT_LENS, referenceToFrame, simulateFrame } from '../src/camera/simulateFrame';
import type { PlannedFrame } from '../src/camera/takeFrames';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';

const tools = testTools(64_000_000);
beforeAll(async () => {
  for (const name of ['sitting-room', 'kitchen']) await room(name);
});

describe('the demo visit', () => {
  test('falls into its shots, the stray test frame by itself, whatever the order of the files', async () => {
    const plan = await planDemo(room, ['sitting-room', 'kitchen']);
    const frames = plan.map(take).map(({ facts, proxy }) => ({ facts, structure: greyPyramid(tools, proxy).structure }));
    const truth = ['sitting-room', 'test', 'kitchen'].map((shot) => plan.filter((f) => f.shot === shot).map((f) => f.file));
    expect(groupShots(tools, frames).map((s) => s.frames)).toEqual(truth);
    expect(groupShots(tools, [...frames].reverse()).map((s) => s.frames)).toEqual(truth);
  });
});

/** Corner errors against the truth, pixels, of all frames that were lined up in these tests. */
const tripod: number[] = [];
const byHand: number[] = [];

describe.each([
  ['tripod', 'sitting-room', 3, 0.05, 11],
  ['knocked tripod', 'kitchen', 14, 0.3, 12],
  ['tripod, a long room with a doorway', 'grain-loft', 2, 0.03, 14],
  ['tripod, low texture', 'bedroom', 2, 0.05, 15],
  ['by hand, a big mirror', 'wash-house', 60, 1.2, 16],
  ['by hand, a glass front', 'boat-hall', 70, 1.8, 17],
])('%s in the %s', (_, name, shake, degrees, seed) => {
  test('flash is told from ambient, every frame lies on the truth, as its residual says', async () => {
    const plan = planShot({ room: name, shot: name, ambient: [0, -3], pops: ['flash-1', 'flash-2'], shake, turn: (degrees * Math.PI) / 180, seed }, await room(name), new Date('2026-06-11T10:00:00Z'), 1);
    const frames = plan.map(take);
    const views = viewShot(tools, frames);
    const added = addedLight(views);
    for (const frame of plan) expect(flashFired({ ...factsOf(frame), bracketed: false }, added.get(frame.file))).toBe(frame.role === 'flash');
    const reference = chooseReference(views, added);
    const lined = lineUpShot(tools, views, 'find', reference);
    const home = referenceToFrame(plan.find((f) => f.file === reference)!);
    for (const frame of plan.filter((f) => f.file !== reference)) {
      const found = lined.frames.get(frame.file)!;
      if (!found.ok) throw new Error(`${frame.file}: ${found.why}`);
      const error = cornerDistance(found.homography, compose(referenceToFrame(frame), invert(home)), FRAME_WIDTH, FRAME_HEIGHT);
      (shake > 40 ? byHand : tripod).push(error);
      // Whoever is off by more than a pixel must say so itself.
      if (error > 1) expect(found.residualPx).toBeGreaterThan(0.5);
    }
    for (const colour of ['red', 'blue'] as const) expect(Math.abs(lined.lens[colour] - KIT_LENS[colour])).toBeLessThan(1.5e-4);
    expect(Math.abs(lined.lens.k1 + 0.7 * lined.lens.k2 - KIT_LENS.k1 - 0.7 * KIT_LENS.k2)).toBeLessThan(0.012);
  });
});

test('over all rooms: half of the frames within a quarter of a pixel, nearly all within 0.6, none far off', () => {
  const all = [...tripod, ...byHand].sort((a, b) => a - b);
  expect(all.length).toBe(18);
  expect(all[all.length >> 1]).toBeLessThan(0.25);
  expect(all[Math.floor(0.95 * (all.length - 1))]).toBeLessThan(0.6);
  expect(Math.max(...tripod)).toBeLessThan(1);
  expect(Math.max(...byHand)).toBeLessThan(1.5);
});

test('a bracket by hand tells the fall-off of its lens, and that the camera is an sRGB one; another camera is found out', async () => {
  await room('bedroom');
  const plan = planShot({ room: 'bedroom', shot: 'bedroom', ambient: [0, -2, 2], pops: [], shake: 45, turn: 0.01, seed: 9 }, await room('bedroom'), new Date('2026-06-11T10:00:00Z'), 1);
  const frames = plan.map(take);
  const { mix } = proposeMix(tools, frames, AUTOMATIC, () => 0);
  expect(Math.abs(mix.lens.falloff[0] - KIT_LENS.falloff)).toBeLessThan(0.07);
  expect(mix.response).toEqual([]);
  // A contrasty picture style: steeper in the middle tones.
  const style = Uint8Array.from({ length: 256 }, (_, i) => Math.round(255 * (i / 255 - 0.06 * Math.sin((2 * Math.PI * i) / 255))));
  const styled = frames.map(({ facts, proxy }) => ({ facts, proxy: { ...proxy, data: (proxy.data as Uint8Array).map((v) => style[v]) } }));
  const { response } = proposeMix(tools, styled, AUTOMATIC, () => 0).mix;
  for (const v of [60, 110, 160, 210]) {
    const [seen, true_] = [style[v] / 255, v / 255];
    expect(Math.abs(Math.log2(srgbToLinear(seen)) + responseStops(response, seen) - Math.log2(srgbToLinear(true_)))).toBeLessThan(0.25);
  }
});

test('rooms that follow within seconds, and two compositions of one, fall into their shots', async () => {
  let at = Date.parse('2026-06-11T10:00:00Z');
  const plan: PlannedFrame[] = [];
  for (const [name, ambient] of [['sitting-room', [0]], ['sitting-room-aside', [0]], ['boat-hall', [0]]] as const) {
    plan.push(...planShot({ room: name, shot: name, ambient, pops: ['flash-1'], shake: 2, turn: 0.0005, seed: plan.length + 2 }, await room(name), new Date(at), plan.length + 1));
    at = plan[plan.length - 1].takenAt.getTime() + 3000;
  }
  const frames = plan.map(take).map(({ facts, proxy }) => ({ facts, structure: greyPyramid(tools, proxy).structure }));
  const truth = [...new Set(plan.map((f) => f.shot))].map((shot) => plan.filter((f) => f.shot === shot).map((f) => f.file));
  expect(groupShots(tools, frames).map((s) => s.frames)).toEqual(truth);
});

describe('the rig', () => {
  test('keeps layers to a per cent and stores them small', async () => {
    const source = rooms.get('kitchen')!;
    const folder = mkdtempSync(join(tmpdir(), 'zaddle-rig-'));
    const day = source.layers.get('day')!;
    await writeLayers(folder, { ...source, layers: new Map([['day', day]]) });
    const back = (await readLayers(folder)).layers.get('day')!;
    rmSync(folder, { recursive: true });
    const errors: number[] = [];
    for (let i = 0; i < day.length; i += 101) if (day[i] > 0.01) errors.push(Math.abs(Math.log2(back[i] / day[i])));
    errors.sort((a, b) => a - b);
    expect(errors[errors.length >> 1]).toBeLessThan(0.03);
  });
  test('light adds: twice the time is twice the value, and flashes do not depend on time', () => {
    const base = { aperture: 8, iso: 200, steady: {}, flashes: { 'flash-1': 0.4 }, toReference: [1, 0, 0, 0, 1, 0, 0, 0, 1] as const, balance: [1, 1] as const, seed: 5 };
    const [short, long] = [0.01, 0.5].map((seconds) => simulateFrame(rooms.get('kitchen')!, { ...base, seconds }, KIT_LENS));
    expect(Buffer.from(short).equals(Buffer.from(long))).toBe(true);
  });
});
