import { describe, expect, test } from 'vitest';
import { unturnedView } from '../src/found/straightView';
import { surfaceAt } from '../src/found/surfaceAt';
import { total } from '../src/image/plane';
import { H, score, shoot, W, type Thing } from './boxRoom';

/** The pixel of a thing that lies deepest within it: farthest from all others, by squares. */
function deepWithin(things: readonly Thing[], thing: Thing): readonly [number, number] {
  let [best, at]: [number, readonly [number, number]] = [0, [-1, -1]];
  const size = Array.from({ length: W * H }, () => 0);
  for (let y = 1; y < H; y++) {
    for (let x = 1; x < W; x++) {
      const i = y * W + x;
      size[i] = things[i] === thing ? 1 + Math.min(size[i - 1], size[i - W], size[i - W - 1]) : 0;
      if (size[i] > best) [best, at] = [size[i], [x - Math.floor(size[i] / 2), y - Math.floor(size[i] / 2)]];
    }
  }
  return at;
}

describe('a surface that is pointed at', () => {
  const cameras = [{ roll: 0, pitch: -3, yaw: 4, seed: 11 }, { roll: 1.2, pitch: 2, yaw: -7, seed: 12 }, { roll: -0.8, pitch: -2, yaw: 11, seed: 13 }];
  test('is taken whole, and nothing else: floor with its boards, ceiling, a cupboard, a picture', () => {
    for (const camera of cameras) {
      const { lights, things } = shoot(camera);
      const view = unturnedView(lights);
      for (const thing of ['floor', 'ceiling', 'cupboard', 'picture'] as const) {
        const found = surfaceAt(view, deepWithin(things, thing));
        const { union, precision } = score(found, things, thing);
        expect(precision, `${thing} ${JSON.stringify(camera)}`).toBeGreaterThan(0.95);
        // Of pictures there are two, and one hangs beside the camera.
        if (thing !== 'picture') expect(union, `${thing} ${JSON.stringify(camera)}`).toBeGreaterThan(0.85);
      }
    }
  });
  test('what it takes in is set: less is part of more, and none of it lies beyond the picture', () => {
    const { lights, things } = shoot(cameras[0]);
    const view = unturnedView(lights);
    const at = deepWithin(things, 'wall');
    const [less, usual, more] = [0.4, 1, 3].map((takes) => surfaceAt(view, at, takes));
    expect(total(less)).toBeLessThan(total(usual));
    expect(total(usual)).toBeLessThan(total(more));
    expect(less.data.filter((v, i) => v > 0 && usual.data[i] === 0).length).toBeLessThan(0.05 * total(usual));
    for (const beyond of [[-1, 5], [5, H], [W, 5], [NaN, 5]] as const) expect(total(surfaceAt(view, beyond))).toBe(0);
  });
  test('a glossy spot of one light does not end it', () => {
    const { lights, things } = shoot(cameras[1]);
    const [cx, cy] = deepWithin(things, 'cupboard');
    const glossy = lights.map(({ light }) => ({ light: { ...light, r: light.r.slice(), g: light.g.slice(), b: light.b.slice() } }));
    const third = { light: { ...lights[0].light, r: lights[0].light.r.map((v) => 0.7 * v), g: lights[0].light.g.map((v) => 0.7 * v), b: lights[0].light.b.map((v) => 0.7 * v) } };
    for (const channel of ['r', 'g', 'b'] as const) for (let y = -5; y <= 5; y++) for (let x = -5; x <= 5; x++) glossy[1].light[channel][(cy + y) * W + cx + x + 12] *= 1 + 3 * Math.exp(-(x * x + y * y) / 12);
    const found = surfaceAt(unturnedView([...glossy, third]), [cx, cy]);
    expect(found.data[cy * W + cx + 12]).toBe(1);
    expect(score(found, things, 'cupboard').union).toBeGreaterThan(0.85);
  });
});
