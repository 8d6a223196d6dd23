import { beforeAll, describe, expect, test } from 'vitest';
import { cornerDistance } from '../src/align/lineUp';
import { linearSrgbToLab, applyMatrix, WORKING_TO_SRGB } from '../src/colour/primaries';
import { compose, invert, IDENTITY, type Homography } from '../src/geometry/homography';
import type { Light } from '../src/image/plane';
import { Arena } from '../src/kernels/arena';
import { placeMix } from '../src/graph/placeMix';
import { wholeGrid, type PlacedSource } from '../src/graph/placedMix';
import type { PreparedMix } from '../src/graph/prepareMix';
import { readyMix } from '../src/graph/readyMix';
import { viewMasks } from '../src/graph/viewMasks';
import { RowRenderer } from '../src/graph/rowRenderer';
import { AUTOMATIC, proposeMix, type Proposal } from '../src/propose/proposeMix';
import { readShot } from '../src/read/readShot';
import type { ShotFrame } from '../src/propose/lineUpShot';
import { seeded, testKernels, testTools } from './kernelMemory';
import { factsOf, paintRoom, ROOM_HEIGHT, ROOM_WIDTH, takeFrame } from './syntheticRoom';

const turn = (dx: number, dy: number, angle: number): Homography => {
  const [c, s, cx, cy] = [Math.cos(angle), Math.sin(angle), (ROOM_WIDTH - 1) / 2, (ROOM_HEIGHT - 1) / 2];
  return [c, -s, cx - c * cx + s * cy + dx, s, c, cy - s * cx - c * cy + dy, 0, 0, 1];
};

const room = paintRoom(4);
const plan = [
  { id: 'a', stops: 0, flash: 0, move: IDENTITY },
  { id: 'dark', stops: -3, flash: 0, move: turn(1.4, -2.2, 0.0006) },
  { id: 'pop', stops: -2.5, flash: 0.55, move: turn(-3.1, 1.7, -0.0009) },
];
const frames: ShotFrame[] = plan.map((p, k) => ({ facts: factsOf(p.id, p.stops, k * 5), proxy: takeFrame(room, { ...p, warmth: 0.22, seed: 50 + k }) }));
let proposal: Proposal;
beforeAll(() => {
  proposal = proposeMix(testTools(48 << 20), frames, AUTOMATIC, () => 0);
});

const proxies = new Map(frames.map(({ facts, proxy }) => [facts.id, proxy]));
const ready = (mix: Proposal['mix']): PreparedMix => readyMix(testTools(48 << 20), mix, proposal.findings, proxies).prepared;
/** A mix on the guide, before the display curve. */
const pictureOf = (mix: Proposal['mix']): Light => readyMix(testTools(48 << 20), mix, proposal.findings, proxies, (level, prepared) => level.picture(prepared)).result;

/** Mean colour of a rectangle of guide light, CIELAB. */
function labOf(light: { r: Float32Array; g: Float32Array; b: Float32Array; width: number }, x0: number, y0: number, w: number, h: number): [number, number, number] {
  const sum: [number, number, number] = [0, 0, 0];
  for (let y = y0; y < y0 + h; y++) for (let x = x0; x < x0 + w; x++) (['r', 'g', 'b'] as const).forEach((c, k) => (sum[k] += light[c][y * light.width + x] / (w * h)));
  return linearSrgbToLab(applyMatrix(WORKING_TO_SRGB, sum));
}

describe('the automatic start of a made-up room', () => {
  test('tells roles and the reference by measure, without any flash bit', () => {
    expect(proposal.mix.reference).toBe('a');
    expect(proposal.verdicts.get('pop')!.role).toBe('flash');
    expect(proposal.verdicts.get('dark')!.role).toBe('ambient');
  });
  test('lines up to a fraction of a pixel', () => {
    for (const { id, move } of plan) expect(cornerDistance(proposal.mix.frames[id].homography, move, ROOM_WIDTH, ROOM_HEIGHT)).toBeLessThan(0.5);
  });
  test('finds the window and only the window', () => {
    const glass = proposal.findings.pane();
    const scale = glass.width / ROOM_WIDTH;
    let both = 0;
    let either = 0;
    for (let y = 0; y < glass.height; y++) for (let x = 0; x < glass.width; x++) {
      const [u, v] = [x / scale, y / scale];
      const truth = u >= 380 && v >= 130 && u < 530 && v < 240;
      const found = glass.data[y * glass.width + x] > 0.5;
      if (truth && found) both++;
      if (truth || found) either++;
    }
    expect(both / either).toBeGreaterThan(0.88);
  });
  test('makes white walls neutral under warm light and the view readable', () => {
    const picture = pictureOf(proposal.mix);
    const ambient = labOf(proposal.guides.frames.get('a')!.light, 60, 20, 120, 60);
    const [, a, b] = labOf(picture, 60, 20, 120, 60);
    expect(Math.hypot(a, b)).toBeLessThan(3);
    expect(Math.hypot(ambient[1], ambient[2])).toBeGreaterThan(8);
    const [light] = labOf(picture, 330, 120, 90, 60);
    expect(light).toBeGreaterThan(50);
    expect(light).toBeLessThan(97);
    expect(proposal.mix.passes.find((p) => p.kind === 'view')).toMatchObject({ source: { kind: 'frame' } });
  });
  test('reads what it made', () => {
    const { picture, views } = readyMix(testTools(48 << 20), proposal.mix, proposal.findings, proxies, (level, prepared) => ({ picture: level.picture(prepared), views: viewMasks(level, prepared) })).result;
    const readings = readShot(proposal, picture, views);
    expect(readings.find((r) => r.kind === 'misalignment')!.value).toBeLessThan(0.5);
    expect(readings.map((r) => r.kind)).toEqual(expect.arrayContaining(['clipped', 'cast', 'view']));
  });
  test('does not depend on the order of frames', () => {
    const turned = proposeMix(testTools(48 << 20), [...frames].reverse(), AUTOMATIC, () => 0);
    expect(turned.mix.reference).toBe(proposal.mix.reference);
    for (const { id } of plan) expect(cornerDistance(turned.mix.frames[id].homography, proposal.mix.frames[id].homography, ROOM_WIDTH, ROOM_HEIGHT)).toBeLessThan(0.05);
  });
  test('a frame of another place is left out, and said to be', () => {
    const stranger: ShotFrame = { facts: factsOf('x', 0, 90), proxy: takeFrame(paintRoom(77), { stops: -1, flash: 0.4, move: turn(200, 90, 0.4), warmth: 0, seed: 3 }) };
    const verdict = proposeMix(testTools(48 << 20), [frames[0], stranger], AUTOMATIC, () => 0).verdicts.get('x')!;
    expect(verdict.used).toBe(false);
    expect(verdict.why).toMatch(/lined up/);
  });
  test('a frame of another place is never the one that the others are lined up to, wherever it stands', () => {
    const stranger: ShotFrame = { facts: factsOf('x', 0, 90), proxy: takeFrame(paintRoom(77), { stops: 0, flash: 0.2, move: IDENTITY, warmth: 0, seed: 3 }) };
    for (const at of [0, 1, 3]) {
      const { mix, verdicts } = proposeMix(testTools(48 << 20), frames.toSpliced(at, 0, stranger), AUTOMATIC, () => 0);
      expect(mix.reference).toBe('a');
      expect(verdicts.get('x')!.used).toBe(false);
    }
  });
  test('hand-held frames are cropped to what all cover, unless told not to', () => {
    const moved: ShotFrame = { facts: factsOf('pop', -2.5, 8), proxy: takeFrame(room, { ...plan[2], move: turn(28, -17, 0.01), warmth: 0.22, seed: 9 }) };
    const cropped = proposeMix(testTools(48 << 20), [frames[0], moved], AUTOMATIC, () => 0).mix;
    expect(cropped.width).toBeLessThan(ROOM_WIDTH - 20);
    expect(Math.abs(cropped.width / cropped.height - ROOM_WIDTH / ROOM_HEIGHT)).toBeLessThan(0.01);
    const whole = proposeMix(testTools(48 << 20), [frames[0], moved], { ...AUTOMATIC, straighten: false }, () => 0).mix;
    expect([whole.geometry, whole.width]).toEqual([IDENTITY, ROOM_WIDTH]);
  });
});

/** Renders a proposal's mix on the compiled kernels at a size. */
function render(mix: Proposal['mix'], prepared: PreparedMix, width: number, height: number): Uint8Array {
  const kernels = testKernels(96 << 20);
  const arena = new Arena(kernels.memory.buffer);
  const sources = new Map<string, PlacedSource>(frames.map(({ facts, proxy }) => [facts.id, { at: arena.placeBytes(proxy.data as Uint8Array), width: proxy.width, height: proxy.height, depth: 8 }]));
  const renderer = new RowRenderer(kernels, arena, placeMix(prepared, sources, wholeGrid(mix, width, height), arena));
  const row = arena.take(width * 3);
  const out = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++) {
    renderer.encodeRow(y, row);
    out.set(new Uint8Array(kernels.memory.buffer, row, width * 3), y * width * 3);
  }
  return out;
}

describe('rendering', () => {
  test('is deterministic, and the same at half size as half of full size', () => {
    const prepared = ready(proposal.mix);
    const { width, height } = proposal.mix;
    const full = render(proposal.mix, prepared, width, height);
    expect(render(proposal.mix, prepared, width, height)).toEqual(full);
    const half = render(proposal.mix, prepared, width / 2, height / 2);
    let sum = 0;
    for (let y = 0; y < height / 2; y++) for (let x = 0; x < width / 2; x++) for (let c = 0; c < 3; c++) {
      const at = (i: number, j: number): number => full[((2 * y + j) * width + 2 * x + i) * 3 + c];
      sum += Math.abs((at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1)) / 4 - half[(y * (width / 2) + x) * 3 + c]);
    }
    expect(sum / half.length).toBeLessThan(1.5);
  });
  test('a flash source is the frame minus the ambient light it recorded', () => {
    const pass = { ...proposal.mix.passes[0], id: 'f', kind: 'light' as const, source: { kind: 'flash' as const, frame: 'pop' }, alignment: null, mode: 'normal' as const, brightness: 1, colour: 1, exposure: 0, balance: [1, 1, 1] as const, mask: [] };
    const mix = { ...proposal.mix, passes: [pass] };
    const picture = pictureOf(mix);
    const next = seeded(2);
    const ratios: number[] = [];
    for (let k = 0; k < 400; k++) {
      const [x, y] = [Math.floor(40 + next() * 250), Math.floor(20 + next() * 60)];
      const i = y * picture.width + x;
      const fall = 0.75 / (0.8 + (1 - (x * ROOM_WIDTH) / picture.width / ROOM_WIDTH) * 0.6);
      ratios.push(picture.g[i] / (0.78 * 0.55 * fall));
    }
    ratios.sort((p, q) => p - q);
    expect(ratios[200]).toBeGreaterThan(0.93);
    expect(ratios[200]).toBeLessThan(1.07);
  });
  test('maps between frames are the composition of their maps to the reference', () => {
    const h = proposal.mix.frames.pop.homography;
    expect(cornerDistance(compose(h, invert(h)), IDENTITY, ROOM_WIDTH, ROOM_HEIGHT)).toBeLessThan(1e-6);
  });
});
