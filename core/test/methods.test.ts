import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyCommand, methodSchema, PART_NAMES, type AdjustPass, type Command, type Method, type MixDocument, type Pass, type SourcePass } from '@zaddle/document';
import { NO_LENS } from '../src/geometry/lens';
import type { ToldStance } from '../src/geometry/estimateStance';
import { settingBetween } from '../src/method/blendSettings';
import { methodStep } from '../src/method/methodStep';
import { partsOf } from '../src/method/partsOf';
import type { MethodChoice } from '../src/method/placeMethod';
import { SHIPPED_METHODS } from '../src/method/shippedMethods';
import { asShot, frameMix } from '../src/mix/frameMix';
import { withStart } from '../src/propose/starts';

const base = { why: '', within: null, on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1] } as const;
const source = (id: string, kind: 'light' | 'view', from: SourcePass['source'], more: Partial<SourcePass> = {}): SourcePass => ({ ...base, id, kind, name: id, source: from, alignment: null, mode: 'normal', brightness: 1, colour: 1, ...more });
const paint: AdjustPass = { ...base, id: 'paint', kind: 'adjust', name: 'Paint', contrast: 1, highlights: 0, shadows: 0, saturation: 1, curve: [], tied: false, evenness: 0 };
const finish: AdjustPass = { ...base, id: 'finish', kind: 'adjust', name: 'Tone', contrast: 1, highlights: 0, shadows: 0, saturation: 1, curve: [], tied: false };
const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1] as const;
const use = { width: 1500, height: 1000, homography: IDENTITY, mesh: null, stops: 0, balance: [1, 1, 1] } as const;
const mixOf = (passes: readonly Pass[]): MixDocument => ({ version: 4, reference: 'a', lens: NO_LENS, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: IDENTITY, width: 1500, height: 1000, framing: asShot(0.72), sharpening: null, frames: { a: use, b: use, c: use }, merge: ['a'], passes });
const flashShot = mixOf(withStart([source('ambient', 'light', { kind: 'merge' }, { exposure: 1.5 }), source('pop-1', 'light', { kind: 'frame', frame: 'b' }, { exposure: 0.4 }), source('fall', 'light', { kind: 'merge' }), paint, finish, source('view', 'view', { kind: 'frame', frame: 'c' }, { exposure: -0.3 })], 'even'));
const stance: ToldStance = { plumb: { roll: 1.2, pitch: -3 }, yaw: 0.8, verticals: 14, horizontals: 30, error: 0.04, frame: 'a', focal: 0.72 };

const applied = (mix: MixDocument, choice: MethodChoice | null, told: ToldStance | null = stance): MixDocument => applyCommand(mix, methodStep(mix, choice, told).command).document;
const choose = (method: Method, strength = 1, off: MethodChoice['off'] = []): MethodChoice => ({ method, strength, off });
const pass = (mix: MixDocument, id: string): Record<string, unknown> => mix.passes.find((p) => p.id === id) as unknown as Record<string, unknown>;
const change = (mix: MixDocument, command: Command): MixDocument => applyCommand(mix, command).document;
/** All but the record of the method, and what was left out told as null. */
const looks = ({ method: _, ...mix }: MixDocument): unknown => JSON.parse(JSON.stringify(mix, (key, value: unknown) => (value === null && (key === 'bands' || key === 'muted' || key === 'evenness' || key === 'localContrast' || key === 'veil' || key === 'glow' || key === 'table') ? undefined : value)));

const methods = fc.constantFrom(...SHIPPED_METHODS);
const strengths = fc.double({ min: 0, max: 1, noNaN: true });
const offs = fc.subarray([...PART_NAMES]);

describe('methods that ship', () => {
  test.each(SHIPPED_METHODS.map((m) => [m.name, m] as const))('%s is a valid file', (_, method) => {
    expect(methodSchema.validate(JSON.parse(JSON.stringify(method)), { convert: false }).error).toBeUndefined();
  });
});

describe('applying a method', () => {
  test('it can be taken off again, whatever came before: another strength, other parts, another method', () => {
    fc.assert(fc.property(fc.array(fc.tuple(methods, strengths, offs), { minLength: 1, maxLength: 5 }), (choices) => {
      const mix = choices.reduce((now, [method, strength, off]) => applied(now, choose(method, strength, off)), flashShot);
      expect(looks(applied(mix, null))).toEqual(looks(flashShot));
    }), { numRuns: 60 });
  });
  test('only the last choice counts', () => {
    fc.assert(fc.property(fc.array(fc.tuple(methods, strengths, offs), { minLength: 1, maxLength: 4 }), methods, strengths, offs, (choices, method, strength, off) => {
      const mix = choices.reduce((now, [m, s, o]) => applied(now, choose(m, s, o)), flashShot);
      expect(looks(applied(mix, choose(method, strength, off)))).toEqual(looks(applied(flashShot, choose(method, strength, off))));
    }), { numRuns: 60 });
  });
  test('the step takes itself back to the last value', () => {
    fc.assert(fc.property(methods, strengths, (method, strength) => {
      const { document, inverse } = applyCommand(flashShot, methodStep(flashShot, choose(method, strength), stance).command);
      expect(looks(change(document, inverse))).toEqual(looks(flashShot));
    }), { numRuns: 20 });
  });
  test('at no strength settings stay, at half they lie half way', () => {
    const [bright] = SHIPPED_METHODS.filter(({ name }) => name === 'Bright and open');
    const tone = bright.parts.tone!;
    for (const [share, mix] of [[0, applied(flashShot, choose(bright, 0))], [0.5, applied(flashShot, choose(bright, 0.5))], [1, applied(flashShot, choose(bright))]] as const) {
      for (const key of ['exposure', 'contrast', 'highlights', 'shadows', 'saturation'] as const) expect(pass(mix, 'finish')[key]).toBeCloseTo(Number(pass(flashShot, 'finish')[key]) * (1 - share) + tone[key]! * share, 9);
      expect(pass(mix, 'fall').brightness).toBeCloseTo(0.6 * (1 - share) + 0.4 * share, 9);
      expect(pass(mix, 'method-1').opacity).toBeCloseTo(share, 9);
    }
  });
  test('straightening is taken whole at any strength, by what the edges of this shot tell', () => {
    const listing = SHIPPED_METHODS[0];
    const mix = applied(flashShot, choose(listing, 0.3));
    expect(mix.framing).toMatchObject({ roll: 1.2, pitch: -3, yaw: 0.8, strength: 1, ratio: 4 / 3 });
    expect(mix.width / mix.height).toBeCloseTo(4 / 3, 2);
  });
  test('it finds passes by what they are, in whatever order they lie', () => {
    const shuffled = mixOf([...flashShot.passes].reverse());
    const mix = applied(shuffled, choose(SHIPPED_METHODS[3]));
    expect(pass(mix, 'view').exposure).toBeCloseTo(-0.65, 9);
    expect(pass(mix, 'fall').brightness).toBe(0.7);
  });
});

describe('what a method needs', () => {
  const [listing, bright, , outside] = SHIPPED_METHODS;
  test('a shot without flash, without glass, without straight edges keeps what it has, and each is told', () => {
    const dark = mixOf([source('ambient', 'light', { kind: 'merge' }), finish]);
    const { command, lacking } = methodStep(dark, choose(outside), null);
    expect(lacking.map(({ part }) => part).sort()).toEqual(['framing', 'light', 'view']);
    const mix = change(dark, command);
    expect(pass(mix, 'ambient')).toEqual(pass(dark, 'ambient'));
    expect(pass(mix, 'finish').contrast).toBe(1.2);
    expect(mix.geometry).toEqual(dark.geometry);
  });
  test('a fall of light and a tone pass that somebody took out are put in where they belong, and go with the method', () => {
    const bare = mixOf(flashShot.passes.filter(({ id }) => id !== 'fall' && id !== 'paint' && id !== 'finish'));
    const mix = applied(bare, choose(bright));
    expect(mix.passes.map(({ id }) => id)).toEqual(['ambient', 'pop-1', 'fall', 'paint', 'finish', 'view', 'method-1']);
    expect(pass(mix, 'fall')).toMatchObject({ brightness: 0.4, exposure: 1.5, source: { kind: 'merge' } });
    expect(looks(applied(mix, null))).toEqual(looks(bare));
    // Their strength is the method's, later, too.
    expect(pass(applied(mix, choose(bright, 0.5)), 'fall').brightness).toBeCloseTo(0.2, 9);
  });
  test('what was framed by hand stays as it was framed', () => {
    const framing = { ...asShot(0.72), turn: 1, crop: { at: [0.4, 0.3] as const, width: 0.5, height: 0.3 } };
    const own = { ...flashShot, ...frameMix(flashShot, framing) };
    const { command, lacking } = methodStep(own, choose(listing), stance);
    expect(change(own, command).framing).toEqual(framing);
    expect(lacking).toEqual([expect.objectContaining({ part: 'framing' })]);
  });
  test('edges of another reference tell nothing of this one', () => {
    expect(methodStep(flashShot, choose(listing), { ...stance, frame: 'b' }).lacking.map(({ part }) => part)).toEqual(['framing']);
  });
});

describe('what a person changes afterwards', () => {
  const [, bright] = SHIPPED_METHODS;
  const mix = applied(flashShot, choose(bright));
  test('stays theirs at another strength, and when the method is taken off', () => {
    const tuned = change(mix, { kind: 'changePass', id: 'finish', changes: { contrast: 1.5 } });
    const weaker = applied(tuned, choose(bright, 0.4));
    expect(pass(weaker, 'finish').contrast).toBe(1.5);
    expect(pass(weaker, 'finish').shadows).toBeCloseTo(0.35 + 0.4 * 0.25, 9);
    // However often it is chosen anew.
    const again = [0.7, 0.2, 1, 0.55].reduce((now, strength) => applied(now, choose(bright, strength)), weaker);
    expect(pass(again, 'finish').contrast).toBe(1.5);
    expect(pass(again, 'finish').shadows).toBeCloseTo(0.35 + 0.55 * 0.25, 9);
    for (const each of [weaker, again]) expect(pass(applied(each, null), 'finish')).toMatchObject({ contrast: 1.5, shadows: 0.35 });
  });
  test('in its own passes likewise; one that they removed does not come back by itself', () => {
    const tuned = change(mix, { kind: 'changePass', id: 'method-1', changes: { saturation: 0.2 } });
    expect(pass(applied(tuned, choose(bright, 0.5)), 'method-1')).toMatchObject({ saturation: 0.2, opacity: 0.5 });
    const faded = change(mix, { kind: 'changePass', id: 'method-1', changes: { opacity: 0.35 } });
    expect(pass([0.35, 0.9].reduce((now, strength) => applied(now, choose(bright, strength)), faded), 'method-1').opacity).toBe(0.35);
    const gone = change(mix, { kind: 'removePass', id: 'method-1' });
    expect(pass(applied(gone, choose(bright, 0.5)), 'method-1')).toBeUndefined();
  });
  test('is told from what the method made in whatever order a database gives keys back', () => {
    const sorted = (value: unknown): unknown => (Array.isArray(value) ? value.map(sorted) : typeof value === 'object' && value !== null ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)).map(([key, each]) => [key, sorted(each)])) : value);
    const outside = SHIPPED_METHODS[3];
    const stored = sorted(applied(flashShot, choose(outside))) as MixDocument;
    expect(pass(applied(stored, choose(outside, 0.5)), 'finish').contrast).toBeCloseTo((1.14 + 1.2) / 2, 9);
    expect(looks(applied(stored, null))).toEqual(looks(flashShot));
  });
  test('a crop by hand outlives another strength, and the method', () => {
    const cropped = change(mix, { kind: 'changeMix', changes: frameMix(mix, { ...mix.framing!, crop: { at: [0.5, 0.3], width: 0.4, height: 0.3 } }) });
    for (const strengths of [[0.5], [0.5, 0.9, 0.1]]) expect(strengths.reduce((now, strength) => applied(now, choose(bright, strength)), cropped).framing).toEqual(cropped.framing);
    expect(applied(cropped, null).framing).toEqual(cropped.framing);
  });
  test('strokes on the mask of a pass whose settings it set are kept', () => {
    const stroke = { points: [[0.2, 0.2], [0.4, 0.2]] as const, radius: 0.05, softness: 0.5, strength: 1, reveal: true };
    const painted = change(mix, { kind: 'addArea', pass: 'finish', area: { id: 'hand', kind: 'brush', join: 'add', inverted: false, strokes: [stroke] }, index: 0 });
    expect((pass(applied(painted, null), 'finish').mask as unknown[]).length).toBe(1);
  });
});

describe('a method made of a shot', () => {
  test('gives another shot of the kind the same settings, also lights that were moved', () => {
    const worked = ([['pop-1', 'exposure', 0.9], ['fall', 'brightness', 0.33], ['finish', 'contrast', 1.31], ['view', 'exposure', -0.8]] as const)
      .reduce((mix, [id, key, value]) => change(mix, { kind: 'changePass', id, changes: { [key]: value } }), applied(flashShot, choose(SHIPPED_METHODS[4])));
    const parts = partsOf(worked, flashShot);
    const made: Method = { ...SHIPPED_METHODS[0], name: 'Mine', parts };
    expect(methodSchema.validate(JSON.parse(JSON.stringify(made)), { convert: false }).error).toBeUndefined();
    expect(parts.framing).toEqual(SHIPPED_METHODS[4].parts.framing);
    const other = mixOf(flashShot.passes.map((p) => (p.kind === 'light' || p.kind === 'view' ? { ...p, exposure: p.exposure + 0.25 } : p)));
    const mix = applied(other, choose(made));
    expect(pass(mix, 'pop-1').exposure).toBeCloseTo(0.4 + 0.25 + 0.5, 9);
    expect(pass(mix, 'view').exposure).toBeCloseTo(-0.3 + 0.25 - 0.5, 9);
    expect(pass(mix, 'fall').brightness).toBe(0.33);
    expect(pass(mix, 'finish').contrast).toBe(1.31);
    expect(mix.passes.filter(({ name }) => name === 'Quiet paint')).toHaveLength(1);
  });
  test('says how it was framed by hand as a rule', () => {
    const framing = { ...asShot(0.72), roll: 1, pitch: -2, strength: 0.8, ratio: 4 / 3 };
    expect(partsOf({ ...flashShot, ...frameMix(flashShot, framing) }, flashShot).framing).toEqual({ straighten: 'verticals', strength: 0.8, ratio: 4 / 3 });
    expect(partsOf(flashShot, flashShot).framing).toEqual({ straighten: 'leave', strength: 1, ratio: null });
  });
  test('leaves out what means something on that shot only', () => {
    const local: Pass = { ...finish, id: 'here', name: 'Here', mask: [{ id: 'm', kind: 'spot', join: 'add', inverted: false, at: [0.5, 0.5], rim: [0.6, 0.5], ratio: 1, softness: 0.5 }] };
    const warm: Pass = { ...finish, id: 'warm', name: 'Warm darks', mask: [{ id: 'm', kind: 'tones', join: 'add', inverted: false, of: { kind: 'below' }, from: -6, to: -2, softness: 1 }] };
    expect(partsOf(mixOf([...flashShot.passes, local, warm]), flashShot).passes?.map(({ name }) => name)).toEqual(['Warm darks']);
  });
});

describe('between two settings', () => {
  const points = fc.uniqueArray(fc.integer({ min: -60, max: 25 }), { minLength: 0, maxLength: 10 }).chain((tones) => fc.tuple(...tones.sort((a, b) => a - b).map((tone) => fc.double({ min: -1, max: 1, noNaN: true }).map((by) => [tone / 5, by] as const))));
  test('curves stay valid, and both ends are themselves', () => {
    fc.assert(fc.property(points, points, strengths, (a, b, share) => {
      const curve = settingBetween('curve', a, b, share) as readonly (readonly [number, number])[];
      expect(curve.length).toBeLessThanOrEqual(16);
      expect(curve.every(([tone], k) => k === 0 || tone > curve[k - 1][0])).toBe(true);
      expect(settingBetween('curve', a, b, 1)).toEqual(b);
    }));
  });
  test('gains lie between in stops', () => {
    expect(settingBetween('balance', [1, 1, 1], [4, 1, 0.25], 0.5)).toEqual([expect.closeTo(2, 9), 1, expect.closeTo(0.5, 9)]);
  });
});

describe('noise in a method', () => {
  const grain = { brightness: [0.01, 0.01, 0.01, 0.01], colour: [0.01, 0.01, 0.01, 0.01] };
  const calming: Method = { format: 'zaddle-method', version: 1, name: 'Calm', what: '', room: 'any room', light: 'any light', parts: { noise: { brightness: 0.6, colour: 1 } } };
  test('goes by its strength from what a shot takes; what was measured stays the shot’s own; taken off, all is as before', () => {
    const mix: MixDocument = { ...flashShot, noise: { brightness: 0.2, colour: 0, grain } };
    const half = applied(mix, choose(calming, 0.5));
    expect(half.noise).toEqual({ brightness: 0.4, colour: 0.5, grain });
    expect(looks(applied(half, null))).toEqual(looks(mix));
  });
  test('leaves a shot alone whose noise was not measured, and says so', () => {
    const { lacking, command } = methodStep(flashShot, choose(calming), stance);
    expect(lacking.map(({ part }) => part)).toEqual(['noise']);
    expect(looks(applyCommand(flashShot, command).document)).toEqual(looks(flashShot));
  });
  test('is part of a method only where somebody decided it', () => {
    const mix: MixDocument = { ...flashShot, noise: { brightness: 0.2, colour: 0, grain } };
    expect(partsOf(mix, mix).noise).toBeUndefined();
    expect(partsOf({ ...mix, noise: { brightness: 0.5, colour: 0, grain } }, mix).noise).toEqual({ brightness: 0.5, colour: 0 });
  });
});
