import type { Pass, SourcePass } from '@zaddle/document';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { IDENTITY } from '../src/geometry/homography';
import { linearToSrgb, srgbToLinear } from '../src/colour/transfer';
import { createPlane, type Pixels } from '../src/image/plane';
import type { ShotFrame } from '../src/propose/lineUpShot';
import { AUTOMATIC, proposeMix, type Proposal } from '../src/propose/proposeMix';
import { windowNames } from '../src/propose/windowNames';
import { pixelsOfPane, type PaneQuad } from '../src/window/fitPane';
import { windowsOf } from '../src/window/windowsOf';
import { testTools } from './kernelMemory';
import { factsOf, paintRoom, takeFrame, type Shot, type SyntheticRoom } from './syntheticRoom';

const box = (x: number, y: number, w: number, h: number): PaneQuad => [[x, y], [x + w, y], [x + w, y + h], [x, y + h]];
function glassOf(panes: readonly PaneQuad[]) {
  const plane = createPlane(400, 200);
  for (const pane of panes) pixelsOfPane(pane, 400, 200, (i) => (plane.data[i] = 1));
  return { plane, panes };
}

describe('the windows of a picture', () => {
  const rows = fc.record({ count: fc.integer({ min: 2, max: 5 }), columns: fc.integer({ min: 1, max: 3 }), down: fc.integer({ min: 1, max: 2 }), bar: fc.integer({ min: 1, max: 8 }) });
  test('hold the panes that lie over bars from each other, and no others, from left to right, in whatever order these were found', () => {
    fc.assert(fc.property(rows, fc.infiniteStream(fc.double({ min: 0, max: 1, noNaN: true })), ({ count, columns, down, bar }, order) => {
      const side = 14;
      const windows = Array.from({ length: count }, (_, k) => Array.from({ length: columns * down }, (__, n) => box(5 + k * 78 + (n % columns) * (side + bar), 20 + Math.floor(n / columns) * (side + bar), side, side)));
      const shuffled = windows.flat().map((pane) => ({ pane, by: order.next().value as number })).sort((a, b) => a.by - b.by).map(({ pane }) => pane);
      const found = windowsOf(glassOf(shuffled));
      expect(found.map(({ panes }) => new Set(panes))).toEqual(windows.map((panes) => new Set(panes)));
      // Each place of glass belongs to one of them.
      const places = found.flatMap((window) => [...window.places]);
      expect(new Set(places).size).toBe(places.length);
      expect(places.length).toBe(glassOf(shuffled).plane.data.reduce((sum, v) => sum + v, 0));
    }), { numRuns: 30 });
  });
  test('are as many as a person sets one by one: small ones go with what is nearest', () => {
    const large = [box(10, 10, 80, 80), box(200, 10, 80, 80)];
    const small = box(320, 20, 12, 12);
    expect(windowsOf(glassOf([...large, small])).map(({ panes }) => panes)).toEqual([[large[0]], [large[1], small]]);
    const many = Array.from({ length: 8 }, (_, k) => box(5 + k * 48, 40, 20, 20));
    const found = windowsOf(glassOf(many));
    expect(found).toHaveLength(5);
    expect(found.flatMap(({ panes }) => panes)).toHaveLength(8);
    expect(windowsOf(glassOf([]))).toEqual([]);
  });
  test('are called by where they are', () => {
    expect(windowNames([[box(0, 0, 9, 9)], [box(50, 5, 9, 9)]])).toEqual(['left', 'right']);
    expect(windowNames([[box(0, 60, 9, 9)], [box(5, 0, 9, 9)]])).toEqual(['lower', 'upper']);
    expect(windowNames([[box(0, 0, 9, 9)], [box(50, 5, 9, 9)], [box(90, 5, 9, 9)]])).toEqual(['left', 'middle', 'right']);
    expect(windowNames(Array.from({ length: 4 }, (_, k) => [box(50 * k, 0, 9, 9)]))[3]).toBe('window 4 from the left');
  });
});

/** A frame by a camera of another white. */
function atWhite({ width, height, data }: Pixels, [red, blue]: readonly [number, number]): Pixels {
  const gains = [red, 1, blue];
  return { width, height, data: (data as Uint8Array).map((v, i) => Math.round(255 * linearToSrgb(Math.min(1, srgbToLinear(v / 255) * gains[i % 3])))) };
}

describe('the views of two windows', () => {
  /** @param white of frames whose camera had another one, as gains on red and blue */
  const start = (room: SyntheticRoom, shots: Readonly<Record<string, Partial<Shot>>>, white: Readonly<Record<string, readonly [number, number]>> = {}): Proposal => {
    const frames = Object.entries(shots).map(([id, shot], k): ShotFrame => ({ facts: factsOf(id, shot.stops ?? 0, k * 5), proxy: atWhite(takeFrame(room, { flash: 0, move: IDENTITY, warmth: 0.2, seed: 50 + k, stops: 0, ...shot }), white[id] ?? [1, 1]) }));
    return proposeMix(testTools(48 << 20), frames, AUTOMATIC, () => 0);
  };
  const proposed = (room: SyntheticRoom, shots: Readonly<Record<string, Partial<Shot>>>): readonly Pass[] => start(room, shots).mix.passes;
  const second = { x: 660, y: 130, w: 130, h: 110, light: 1 };
  const views = (passes: readonly Pass[]): SourcePass[] => passes.filter((pass): pass is SourcePass => pass.kind === 'view');

  test('come each from the frame that mirrors no flash there, alike in light, in one bundle, with the joinery of both', () => {
    const passes = proposed({ ...paintRoom(4), second }, {
      a: {}, left: { stops: -2.9, flash: 0.55, mirrored: { x: 440, y: 180, radius: 26 } }, right: { stops: -2.9, flash: 0.55, mirrored: { x: 720, y: 190, radius: 26 } },
    });
    const found = views(passes);
    expect(found.map(({ name, source }) => [name, (source as { frame: string }).frame])).toEqual([['View, left', 'right'], ['View, right', 'left']]);
    expect(Math.abs(found[0].exposure - found[1].exposure)).toBeLessThan(0.15);
    const bundle = passes.find(({ kind }) => kind === 'bundle')!;
    expect(bundle.name).toBe('Views');
    expect(found.every(({ within }) => within === bundle.id)).toBe(true);
    expect(found.every(({ mask }) => mask[0].kind === 'outline' && mask[0].rings.length === 1)).toBe(true);
    expect(passes.find(({ id }) => id === 'joinery')!.mask.map((area) => area.kind === 'same' && `${area.join} ${area.pass}`)).toEqual(['add view', 'add view-2', 'subtract view', 'subtract view-2']);
    expect(found.some(({ why }) => /from a frame of its own, since that of the other windows mirrors a flash here/.test(why))).toBe(true);
  });
  test('keep how bright they are beside each other, as far as both can be read', () => {
    const at = (light: number): readonly [number, number] => {
      const [left, right] = views(proposed({ ...paintRoom(4), second: { ...second, light } }, { a: {}, dark: { stops: -3 }, pop: { stops: -3, flash: 0.55 } }));
      expect(right.source).toEqual(left.source);
      return [left.exposure, right.exposure];
    };
    const alike = at(0.7);
    expect(Math.abs(alike[0] - alike[1])).toBeLessThan(0.05);
    // Two stops and a half darker outside: brought up, but it stays the darker one.
    const [left, right] = at(0.18);
    expect(right - left).toBeGreaterThan(0.2);
    expect(right - left).toBeLessThan(2.2);
  });
  test('have the white of the flashes, whatever that of the camera was in the frame that they are taken from', () => {
    const shots = { a: {}, low: { stops: -1.5 }, left: { stops: -2.9, flash: 0.55, mirrored: { x: 440, y: 180, radius: 26 } }, right: { stops: -2.9, flash: 0.55, mirrored: { x: 720, y: 190, radius: 26 } } };
    /** Mean colour of the left window, stops of red and of blue over green. */
    const seen = (white: Readonly<Record<string, readonly [number, number]>>): readonly [number, number] => {
      const { mix, guides, findings } = start({ ...paintRoom(4), second }, shots, white);
      const [left] = views(mix.passes);
      const { frame } = left.source as { readonly frame: string };
      const { light } = guides.frames.get(frame)!;
      const [r, g, b] = [light.r, light.g, light.b].map((channel, c) => left.balance[c] * findings.panes().plane.data.reduce((sum, v, i) => (v > 0 && i % light.width < light.width / 2 ? sum + channel[i] : sum), 0));
      return [Math.log2(r / g), Math.log2(b / g)];
    };
    const usual = seen({});
    const whites: Readonly<Record<string, readonly [number, number]>>[] = [{ right: [0.85, 1.15] }, { right: [1.1, 0.85] }, { left: [0.85, 1.15] }, { left: [0.85, 1.1], right: [0.85, 1.1] }];
    // A quarter of a stop off. That of a flash is not believed wholly: some of it may be paint.
    for (const white of whites) {
      const other = seen(white);
      expect(Math.abs(other[0] - usual[0])).toBeLessThan(0.14);
      expect(Math.abs(other[1] - usual[1])).toBeLessThan(0.14);
    }
  });
});
