import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Mix, SourcePass } from '@zaddle/document';
import { IDENTITY, type Homography } from '../src/geometry/homography';
import { readyMix } from '../src/graph/readyMix';
import { createLight, createPlane, quantile, type Light } from '../src/image/plane';
import { lampsAgainst } from '../src/light/lampsAgainst';
import type { Guide } from '../src/mix/guides';
import type { ShotFrame } from '../src/propose/lineUpShot';
import { AUTOMATIC, proposeMix, type Proposal } from '../src/propose/proposeMix';
import { seeded, testTools } from './kernelMemory';
import { factsOf, LAMP, paintRoom, ROOM_WIDTH, standIn, takeFrame, type SyntheticRoom } from './syntheticRoom';

const [W, H] = [120, 80];
type Lit = (x: number, y: number) => readonly [number, number, number];
/** Paint of all kinds under some light, as a frame has it. */
function frameOf(light: Lit, seed = 1): Guide {
  const paint = seeded(7);
  const noise = seeded(seed);
  const made: Light = createLight(W, H);
  const top = createPlane(W, H);
  for (let i = 0; i < W * H; i++) {
    const colour = i % 5 === 0 ? [paint(), paint(), paint()] : [0.7, 0.68, 0.66];
    const at = light(i % W, Math.floor(i / W));
    [made.r[i], made.g[i], made.b[i]] = colour.map((v, c) => Math.min(1, (0.05 + 0.9 * v) * at[c] * (1 + 0.02 * (noise() - 0.5)))) as [number, number, number];
    top.data[i] = Math.sqrt(Math.max(made.r[i], made.g[i], made.b[i]));
  }
  return { light: made, top, cover: createPlane(W, H, new Float32Array(W * H).fill(1)) };
}
const day: Lit = (x) => [0.2 + 0.001 * x, 0.22 + 0.001 * x, 0.25 + 0.001 * x];
const with_ = (a: Lit, b: Lit): Lit => (x, y) => [0, 1, 2].map((c) => a(x, y)[c] + b(x, y)[c]) as unknown as [number, number, number];
const near = (x0: number, y0: number, [r, g, b]: readonly [number, number, number]): Lit => (x, y) => { const fall = 1 / (0.3 + ((x - x0) ** 2 + (y - y0) ** 2) / 900); return [r * fall, g * fall, b * fall]; };
const place = [fc.integer({ min: 20, max: W - 20 }), fc.integer({ min: 15, max: H - 15 })] as const;

describe('lamps switched between two frames', () => {
  test('are told from one frame to the other and back, wherever they stand, whatever the exposure', () => {
    fc.assert(fc.property(...place, fc.double({ min: 0.09, max: 0.16, noNaN: true }), fc.double({ min: -1, max: 1, noNaN: true }), (x, y, power, stops) => {
      const lit = with_(day, near(x, y, [1.5 * power, power, 0.45 * power]));
      const exposed: Lit = (u, v) => lit(u, v).map((c) => c * 2 ** stops) as unknown as [number, number, number];
      expect(lampsAgainst(frameOf(day), frameOf(exposed, 2), stops)).toBe('more');
      expect(lampsAgainst(frameOf(exposed, 2), frameOf(day), -stops)).toBe('fewer');
    }), { numRuns: 40 });
  });

  test('a flash, a cloud, a change of exposure and somebody in warm clothes are none', () => {
    fc.assert(fc.property(...place, fc.double({ min: 0.05, max: 0.3, noNaN: true }), (x, y, power) => {
      const flashed = frameOf(with_(day, near(x, y, [power, power, 1.05 * power])), 3);
      expect(lampsAgainst(frameOf(day), flashed, 0)).toBe('same');
      expect(lampsAgainst(flashed, frameOf(day), 0)).toBe('same');
      const cloud: Lit = (u, v) => day(u, v).map((c, k) => c * (1 - power) * (1 + 0.1 * k)) as unknown as [number, number, number];
      expect(lampsAgainst(frameOf(day), frameOf(cloud, 4), 0)).toBe('same');
      const somebody: Lit = (u, v) => (Math.abs(u - x) < 12 && v > 20 ? [0.3, 0.12, 0.06] : day(u, v));
      expect(lampsAgainst(frameOf(day), frameOf(somebody, 5), 0)).toBe('same');
    }), { numRuns: 30 });
    expect(lampsAgainst(frameOf(day), frameOf(day, 6), 0)).toBe('same');
    expect(lampsAgainst(frameOf(day), frameOf(() => [1.4, 1.4, 1.4], 7), 0)).toBe('same');
  });
});

const turned = (dx: number, dy: number): Homography => [1, 0, dx, 0, 1, dy, 0, 0, 1];
interface Taken { readonly id: string; readonly stops: number; readonly lamp: number; readonly flash?: number; readonly bracketed?: boolean; readonly of?: SyntheticRoom }
const room = paintRoom(4);
const shot = (plan: readonly Taken[]): { frames: ShotFrame[]; proposal: Proposal } => {
  const frames = plan.map(({ id, stops, lamp, flash = 0, bracketed = false, of = room }, k): ShotFrame => ({
    facts: { ...factsOf(id, stops, k * 4), bracketed }, proxy: takeFrame(of, { stops, flash, lamp, warmth: -0.08, move: k === 0 ? IDENTITY : turned(1.3 * k, -0.7 * k), seed: 80 + k }),
  }));
  return { frames, proposal: proposeMix(testTools(48 << 20), frames, { ...AUTOMATIC, straighten: false }, () => 0) };
};
const lampsPass = ({ mix }: Proposal): SourcePass | undefined => mix.passes.find((p): p is SourcePass => p.id === 'lamps');

describe('a shot with lamps on and off', () => {
  test('of one frame each, both are by the room’s own light, and the lamps are a light of their own that makes the one of the other', () => {
    const { frames, proposal } = shot([{ id: 'off', stops: 0, lamp: 0 }, { id: 'on', stops: 0, lamp: 1 }]);
    expect([...proposal.verdicts.values()].map(({ role, used }) => [role, used])).toEqual([['ambient', true], ['ambient', true]]);
    expect(proposal.mix.merge).toEqual(['off']);
    expect(lampsPass(proposal)).toMatchObject({ source: { kind: 'switched', frame: 'on', without: 'off' }, mode: 'add', on: true });
    // As they are, without any balance, day and lamps add up to the frame that has both.
    const plain = { alignment: null, mask: [], exposure: 0, balance: [1, 1, 1], opacity: 1, on: true, within: null, why: '', name: '', brightness: 1, colour: 1, kind: 'light' } as const;
    const passes: SourcePass[] = [{ ...plain, id: 'u', mode: 'normal', source: { kind: 'frame', frame: 'off' } }, { ...plain, id: 'l', mode: 'add', source: { kind: 'switched', frame: 'on', without: 'off' } }];
    const proxies = new Map(frames.map(({ facts, proxy }) => [facts.id, proxy]));
    const picture = (mix: Mix): Light => readyMix(testTools(48 << 20), mix, proposal.findings, proxies, (level, prepared) => level.picture(prepared)).result;
    const [sum, whole] = [picture({ ...proposal.mix, passes }), picture({ ...proposal.mix, passes: [{ ...passes[0], source: { kind: 'frame', frame: 'on' } }] })];
    const off: number[] = [];
    for (let y = 20; y < sum.height - 20; y++) for (let x = 20; x < sum.width - 20; x++) { const i = y * sum.width + x; if (whole.r[i] < 0.75) off.push(Math.abs(sum.g[i] - whole.g[i])); }
    // At the lamp's own rim frames that lie a fraction of a pixel apart differ.
    expect(quantile(off, 0.995)).toBeLessThan(0.01);
    // What is clipped of the lamp has no colour.
    const scale = sum.width / ROOM_WIDTH;
    const lamp = picture({ ...proposal.mix, passes: [{ ...passes[1], balance: [0.7, 1, 1.8] }] });
    const at = Math.round(LAMP.y * scale) * sum.width + Math.round(LAMP.x * scale);
    expect(lamp.b[at] / lamp.r[at]).toBeCloseTo(1, 2);
  });

  test('of which most have them on, those are joined, and the one without turns them down; it is no plate, and nothing is cleaned by it', () => {
    const { proposal } = shot([{ id: 'off', stops: 0, lamp: 0 }, { id: 'a', stops: 0, lamp: 1, bracketed: true }, { id: 'b', stops: -2, lamp: 1, bracketed: true }, { id: 'c', stops: 2, lamp: 1, bracketed: true }]);
    expect(new Set(proposal.mix.merge)).toEqual(new Set(['a', 'b', 'c']));
    expect(proposal.mix.reference).not.toBe('off');
    expect(proposal.verdicts.get('off')).toMatchObject({ role: 'ambient', used: false });
    expect(lampsPass(proposal)).toMatchObject({ source: { kind: 'frame', frame: 'off' }, on: false });
    expect(proposal.mix.passes.filter(({ kind }) => kind === 'inset')).toEqual([]);
  });

  test('with a flash: lamps are not taken for one, and the flash is not taken for lamps', () => {
    const { proposal } = shot([{ id: 'on', stops: 0, lamp: 1 }, { id: 'pop', stops: -3, flash: 0.5, lamp: 1 }, { id: 'off', stops: 0, lamp: 0 }]);
    expect([...proposal.verdicts].map(([id, { role }]) => [id, role])).toEqual([['on', 'ambient'], ['pop', 'flash'], ['off', 'ambient']]);
    expect(lampsPass(proposal)).toMatchObject({ mode: 'add', source: { kind: 'switched', frame: 'on', without: 'off' } });
  });

  test('of two flashes of one exposure, one warm, nothing is told of lamps: they are held against the room’s own light only', () => {
    const { proposal } = shot([{ id: 'a', stops: 0, lamp: 0 }, { id: 'pop', stops: -3, flash: 0.4, lamp: 0 }, { id: 'warm', stops: -3, flash: 0.4, lamp: 6 }]);
    expect([...proposal.verdicts].map(([id, { role }]) => [id, role])).toEqual([['a', 'ambient'], ['pop', 'flash'], ['warm', 'flash']]);
    expect(lampsPass(proposal)).toBeUndefined();
  });

  test('without any switched there is no such pass, though somebody walks in', () => {
    const { proposal } = shot([{ id: 'a', stops: 0, lamp: 1 }, { id: 'b', stops: -1, lamp: 1 }, { id: 'c', stops: 0, lamp: 1, of: standIn(room, seeded(3)).room }]);
    expect(lampsPass(proposal)).toBeUndefined();
    expect([...proposal.verdicts.values()].every(({ role }) => role === 'ambient' || role === 'plate')).toBe(true);
  });
});
