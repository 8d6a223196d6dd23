import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { MixDocument } from '@zaddle/document';
import { roughPart, visiblePart } from '../src/engine/visiblePart';

const mix = { width: 6000, height: 4000 } as MixDocument;
const views = fc.record({ scale: fc.double({ min: 0.05, max: 4, noNaN: true }), x: fc.integer({ min: -3000, max: 300 }), y: fc.integer({ min: -2000, max: 300 }), width: fc.integer({ min: 200, max: 1920 }), height: fc.integer({ min: 200, max: 1080 }) });
/** Where the middle of a grid's pixel lies in the output, pixel corners at integers. */
const place = (part: NonNullable<ReturnType<typeof visiblePart>>, px: number, py: number): [number, number] => {
  const [kx, , x0, , ky, y0] = part.grid.toOutput;
  return [kx * px + x0 + 0.5, ky * py + y0 + 0.5];
};

test('a pixel of the screen shows what lies under its middle; a rough one what lies in the middle of the four that it stands for', () => {
  fc.assert(fc.property(views, (view) => {
    const whole = visiblePart(mix, view);
    fc.pre(whole !== null);
    const { left, top, width, height } = whole!.drawn;
    const [x, y] = place(whole!, 3, 5);
    expect((left + 3.5 - view.x) / view.scale).toBeCloseTo(x, 6);
    expect((top + 5.5 - view.y) / view.scale).toBeCloseTo(y, 6);
    const rough = roughPart(mix, view, whole!);
    fc.pre(rough !== null);
    const [rx, ry] = place(rough!, 2, 4);
    expect((2 * (rough!.drawn.left + 2.5) - view.x) / view.scale).toBeCloseTo(rx, 6);
    expect((2 * (rough!.drawn.top + 4.5) - view.y) / view.scale).toBeCloseTo(ry, 6);
    // Nothing that the screen shows is left out, and the pixels come from the same part of the originals.
    expect(2 * rough!.drawn.left).toBeLessThanOrEqual(left + 1);
    expect(2 * (rough!.drawn.left + rough!.drawn.width)).toBeGreaterThanOrEqual(left + width - 1);
    expect(2 * (rough!.drawn.top + rough!.drawn.height)).toBeGreaterThanOrEqual(top + height - 1);
    expect(rough!.region).toBe(whole!.region);
  }));
});
