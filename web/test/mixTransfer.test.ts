import { describe, expect, test } from 'vitest';
import { applyCommand, CURRENT_VERSION, draftOf, type MixDocument, type Pass, type Stroke } from '@zaddle/document';
import { MixReceiver, MixSender } from '../src/engine/mixTransfer';
import { levelFor, regionBox } from '@zaddle/core/mix/regionBox';
import { visiblePart } from '../src/engine/visiblePart';

const stroke = (k: number): Stroke => ({ points: Array.from({ length: 50 }, (_, i) => [i / 100, k / 100] as const), radius: 0.05, softness: 0.5, strength: 1, reveal: true });
const pass = (id: string, strokes: readonly Stroke[]): Pass => ({ id, name: id, within: null, why: '', kind: 'light', on: true, opacity: 1, mask: [{ id: 'brush', kind: 'brush', join: 'add', inverted: false, strokes }], exposure: 0, balance: [1, 1, 1], source: { kind: 'merge' }, alignment: null, mode: 'normal', brightness: 1, colour: 1 });
const use = { width: 6000, height: 4000, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1] as const, mesh: null, stops: 0, balance: [1, 1, 1] as const };
const mix: MixDocument = { version: CURRENT_VERSION, reference: 'r', lens: { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 6000, height: 4000, frames: { r: use }, merge: ['r'], passes: [pass('a', [stroke(1), stroke(2)]), pass('b', [])] };

describe('a mix on its way to the worker', () => {
  test('arrives as it was; what was sent before arrives as the same object, and costs next to nothing', () => {
    const [sender, receiver] = [new MixSender(), new MixReceiver()];
    const send = (m: MixDocument, lasting = true): { got: MixDocument; bytes: number } => {
      const packed = structuredClone(sender.pack(m, lasting));
      return { got: receiver.unpack(packed), bytes: JSON.stringify(packed).length };
    };
    const first = send(mix);
    expect(first.got).toEqual(mix);
    const again = send(mix);
    expect(again.got.passes[0]).toBe(first.got.passes[0]);
    expect(again.bytes).toBeLessThan(first.bytes / 3);
    const more = applyCommand(mix, { kind: 'addStroke', pass: 'a', area: 'brush', stroke: stroke(3) }).document;
    // In the middle of the drag, several times, then done.
    for (const lasting of [false, false, true]) {
      const { got, bytes } = send(more, lasting);
      expect(got).toEqual(more);
      const area = got.passes[0].mask[0];
      expect(area.kind === 'brush' && area.strokes[0]).toBe(first.got.passes[0].mask[0].kind === 'brush' && first.got.passes[0].mask[0].strokes[0]);
      expect(got.passes[1]).toBe(first.got.passes[1]);
      expect(bytes).toBeLessThan(first.bytes);
    }
    const moved = draftOf(more, { kind: 'changePass', id: 'b', changes: { exposure: 1 } });
    expect(send(moved, false).got).toEqual(moved);
  });
});

describe('what is visible', () => {
  test('pixels of the screen lie where the view says, and nothing outside of the picture is made', () => {
    const view = { scale: 0.25, x: 10.5, y: -40, width: 800, height: 500 };
    const { grid, drawn, region } = visiblePart(mix, view)!;
    expect([drawn.left, drawn.top, drawn.width, drawn.height]).toEqual([10, 0, 790, 500]);
    // The middle of the screen's pixel (100, 200) within the canvas.
    const [sx, sy] = [drawn.left + 100 + 0.5, drawn.top + 200 + 0.5];
    expect(grid.toOutput[0] * 100 + grid.toOutput[2]).toBeCloseTo((sx - view.x) / view.scale - 0.5, 9);
    expect(grid.toOutput[4] * 200 + grid.toOutput[5]).toBeCloseTo((sy - view.y) / view.scale - 0.5, 9);
    expect(region.level).toBe(2);
    expect(visiblePart(mix, { ...view, x: 900 })).toBeNull();
  });
  test('levels are as fine as the screen, never finer than the original or coarser than what is served', () => {
    expect([8, 1, 0.9, 0.51, 0.5, 0.26, 0.2, 0.01].map(levelFor)).toEqual([0, 0, 0, 0, 1, 1, 2, 3]);
  });
  test('the box of a frame holds all that a region needs, at every level, and lies within the frame', () => {
    for (const level of [0, 1, 2, 3]) {
      const k = 2 ** level;
      const { box, whole } = regionBox(mix, 'r', { x: 1000, y: 500, width: 800, height: 600, level });
      expect([whole.width, whole.height]).toEqual([6000 / k, 4000 / k]);
      expect(box.x).toBeLessThanOrEqual(1000 / k - 4);
      expect(box.x + box.w).toBeGreaterThanOrEqual(1800 / k + 4);
      const edge = regionBox(mix, 'r', { x: -50, y: 3900, width: 9000, height: 600, level }).box;
      expect([edge.x, edge.x + edge.w, edge.y + edge.h]).toEqual([0, 6000 / k, 4000 / k]);
    }
  });
});
