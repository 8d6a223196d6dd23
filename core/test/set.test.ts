import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyCommand, CURRENT_VERSION, type AdjustPass, type MixDocument, type Triple } from '@zaddle/document';
import { createLight, createPlane, mapPlane, type Light } from '../src/image/plane';
import { bringTowards, targetsOf } from '../src/set/bringTogether';
import { handGain } from '../src/set/handGain';
import { lookOfPicture, type Look } from '../src/set/lookOf';
import { roomOf } from '../src/set/roomsOf';
import { commonOf, paintDifference, setReadings, type SetMember } from '../src/set/setReadings';
import { seeded } from './kernelMemory';

const W = 240;
const H = 160;
/** A room: pale walls of one paint, a dark floor, furniture; and what its left window shows. */
function room(level: number, cast: Triple, seed: number): Light {
  const next = seeded(seed);
  const light = createLight(W, H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const reflects: Triple = y > 120 ? [0.2, 0.13, 0.08] : x > 150 && x < 185 && y > 80 ? [0.1, 0.2, 0.35] : [0.72, 0.72, 0.72];
    const fall = 0.75 + (0.4 * x) / W + 0.01 * next();
    const [r, g, b] = x < 50 && y > 30 && y < 90 ? [1.2, 1.5, 2] : reflects.map((v, c) => v * fall * cast[c] * 2 ** level);
    light.r[i] = r;
    light.g[i] = g;
    light.b[i] = b;
  }
  return light;
}
const window = mapPlane(createPlane(W, H), (_, i) => (i % W < 50 && i / W > 30 && i / W < 90 ? 1 : 0));
const tone: AdjustPass = { id: 'finish', kind: 'adjust', name: 'Tone', why: '', on: true, opacity: 1, within: null, mask: [], exposure: 0.1, balance: [1, 1, 1], contrast: 1.1, highlights: 0, shadows: 0, saturation: 1, curve: [], tied: false };
const mixOf = (passes: AdjustPass[]): MixDocument => ({ version: CURRENT_VERSION, reference: 'a', lens: { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 300, height: 200, frames: { a: { width: 300, height: 200, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] } }, merge: ['a'], passes });
const look = (more: Partial<Look> = {}): Look => ({ light: 0.5, paint: [1, 1, 1], view: null, leaning: 0.1, ratio: 1.5, ...more });
const member = (id: string, label: string, more: Partial<Look> = {}): SetMember => ({ id, room: roomOf(label), look: look(more) });

describe('what a picture looks like', () => {
  test('is told of the room, the view aside: its level, its pale paint, and the view against it', () => {
    const base = lookOfPicture(room(0, [1, 1, 1], 1), window);
    const darker = lookOfPicture(room(-0.8, [1, 1, 1], 2), window);
    expect(darker.light - base.light).toBeCloseTo(-0.8, 1);
    expect(darker.view! - base.view!).toBeCloseTo(0.8, 1);
    expect(base.paint!.every((v) => Math.abs(v - 1) < 0.03)).toBe(true);
    const warm = lookOfPicture(room(0, [1.12, 1, 0.85], 3), window);
    expect(Math.log2(warm.paint![0] / warm.paint![2]) - Math.log2(base.paint![0] / base.paint![2])).toBeCloseTo(Math.log2(1.12 / 0.85), 1);
    expect(lookOfPicture(room(0, [1, 1, 1], 1), null).view).toBeNull();
  });
  test('has places: where its paint, its usual light and the view lie broadly, and where the edge is that stands', () => {
    const { places } = lookOfPicture(room(0, [1, 1, 1], 1), window);
    const within = ([x, y]: readonly [number, number]): string => (x * W < 50 && y * H > 30 && y * H < 90 ? 'window' : y * H > 120 ? 'floor' : x * W > 150 && x * W < 185 && y * H > 80 ? 'furniture' : 'wall');
    expect(within(places!.view!)).toBe('window');
    expect(within(places!.paint!)).toBe('wall');
    expect(within(places!.light!)).toBe('wall');
    const [x] = places!.leaning!;
    expect([50, 150, 185].some((edge) => Math.abs(x * W - edge) < 2)).toBe(true);
    expect(lookOfPicture(room(0, [1, 1, 1], 1), null).places!.view).toBeUndefined();
  });
  test('has no paint where nothing is pale', () => {
    const light = room(-20, [1, 1, 1], 4);
    for (let i = 0; i < light.r.length; i++) light.r[i] = light.g[i] = light.b[i] = 0;
    expect(lookOfPicture(light, null).paint).toBeNull();
  });
});

describe('readings of a set', () => {
  test('a room is told by a label without its number', () => {
    expect(['Kitchen', 'Kitchen 2', 'kitchen - 3', 'Kitchen b'].map(roomOf)).toEqual(['kitchen', 'kitchen', 'kitchen', 'kitchen']);
    expect(['Shot 3', '7', ''].map(roomOf)).toEqual([null, null, null]);
    expect(['Bedroom', 'Attic', 'Attic 2', 'Spa'].map(roomOf)).toEqual(['bedroom', 'attic', 'attic', 'spa']);
  });
  test('say what differs, against whom, and nothing where all is alike', () => {
    const alike = [member('a', 'Kitchen'), member('b', 'Kitchen 2'), member('c', 'Hall')];
    expect([...setReadings(alike).values()].flat()).toEqual([]);
    const set = setReadings([member('a', 'Kitchen'), member('b', 'Kitchen 2'), member('c', 'Kitchen 3', { light: -0.5, paint: [1.1, 1, 0.85], leaning: 3, ratio: 1.33 }), member('d', 'Hall')]);
    expect(set.get('a')).toEqual([]);
    expect(set.get('c')!.map(({ kind }) => kind).sort()).toEqual(['brightness', 'leaning', 'paint', 'ratio']);
    expect(set.get('c')!.find(({ kind }) => kind === 'brightness')).toMatchObject({ state: 'bad', text: '1.0 stops darker than the others of kitchen' });
    expect(set.get('c')!.find(({ kind }) => kind === 'paint')!.text).toContain('warmer');
    expect(set.get('c')!.find(({ kind }) => kind === 'paint')!.proposal).toContain('Bring together');
    expect(set.get('c')!.every(({ at }) => at === null)).toBe(true);
    const placed = setReadings([member('a', 'Kitchen'), member('b', 'Kitchen 2'), member('c', 'Kitchen 3', { light: -0.5, places: { light: [0.2, 0.3], paint: [0.7, 0.1] } })]);
    expect(placed.get('c')!.map(({ at }) => at)).toEqual([[0.2, 0.3]]);
  });
  test('a tall picture is not held to differ in its ratio from lying ones, nor one picture from nobody', () => {
    expect(setReadings([member('a', 'A'), member('b', 'B'), member('c', 'C', { ratio: 1 / 1.5 })]).get('c')).toEqual([]);
    expect(setReadings([member('a', 'A', { light: -4 })]).get('a')).toEqual([]);
  });
  test('what deserves a hand weighs more the worse it is', () => {
    const reading = { kind: 'cast', value: 1, unit: '', text: '' } as const;
    expect(handGain([], [])).toBe(0);
    expect(handGain([{ ...reading, state: 'bad' }], [])).toBeGreaterThan(handGain([{ ...reading, state: 'check' }], []));
    expect(handGain([{ ...reading, state: 'good' }], [])).toBe(0);
  });
});

describe('bringing pictures together', () => {
  test('brings level and paint of a room to what it has in common; a shot alone in its room keeps its paint', () => {
    fc.assert(fc.property(fc.array(fc.tuple(fc.double({ min: -0.7, max: 0.7, noNaN: true }), fc.double({ min: 0.9, max: 1.1, noNaN: true }), fc.double({ min: 0.85, max: 1.15, noNaN: true })), { minLength: 2, maxLength: 4 }), (casts) => {
      const pictures = casts.map(([level, red, blue], k) => room(level, [red, 1, blue], k + 1));
      const members = pictures.map((picture, k): SetMember => ({ id: String(k), room: 'loft', look: { ...look(), ...lookOfPicture(picture, window) } }));
      const targets = targetsOf(members);
      const after = members.map((each, k) => {
        const command = bringTowards(mixOf([tone]), each, targets.get(each.id)!, { light: true, colour: true, strength: 1 });
        const made = command ? (applyCommand(mixOf([tone]), command).document.passes[0] as AdjustPass) : tone;
        // As the pass does: exposure and balance of light, the view being laid over it.
        const gain = 2 ** (made.exposure - tone.exposure);
        const changed = createLight(W, H);
        for (const [c, key] of (['r', 'g', 'b'] as const).entries()) for (let i = 0; i < W * H; i++) changed[key][i] = pictures[k][key][i] * (window.data[i] > 0 ? 1 : gain * made.balance[c]);
        return lookOfPicture(changed, window);
      });
      const common = commonOf(after.map((each) => ({ ...look(), ...each })));
      for (const each of after) {
        expect(Math.abs(each.light - common.light)).toBeLessThan(0.12);
        expect(paintDifference(each.paint!, common.paint!)).toBeLessThan(2);
      }
    }), { numRuns: 12 });
    const alone = [member('a', 'Kitchen', { paint: [1.2, 1, 0.8] }), member('b', 'Hall', { light: 1.5 }), member('c', 'Loft')];
    expect(targetsOf(alone).get('a')!.paint).toBeNull();
  });
  test('takes part of the way by its strength, is held, and leaves alone what is alike', () => {
    const common = { light: 0.5, paint: [1, 1, 1] as Triple };
    const wanted = { light: true, colour: true, strength: 0.5 };
    const changes = (each: SetMember) => (bringTowards(mixOf([tone]), each, common, wanted) as { changes: Partial<AdjustPass> }).changes;
    expect(changes(member('a', 'A', { light: -0.5 })).exposure).toBeCloseTo(0.6, 6);
    expect(changes(member('a', 'A', { light: -9 })).exposure).toBeCloseTo(0.85, 6);
    expect(bringTowards(mixOf([tone]), member('a', 'A'), common, wanted)).toBeNull();
    expect(bringTowards(mixOf([tone]), member('a', 'A', { light: -2 }), common, { ...wanted, light: false })).toBeNull();
    expect(bringTowards(mixOf([tone]), member('a', 'A', { paint: null }), common, { ...wanted, light: false })).toBeNull();
  });
  test('where the tone pass is limited or gone, a pass of its own does it, with an id that is free', () => {
    const limited = { ...tone, opacity: 0.5 };
    const kept = { ...tone, id: 'together-1' };
    const command = bringTowards(mixOf([limited, kept]), member('a', 'A', { light: -0.5 }), { light: 0.5, paint: null }, { light: true, colour: true, strength: 1 })!;
    expect(command).toMatchObject({ kind: 'addPass', index: 2, pass: { id: 'together-2', name: 'Like the set', exposure: 1 } });
    expect(applyCommand(mixOf([limited, kept]), command).document.passes).toHaveLength(3);
  });
});
