import { describe, expect, test } from 'vitest';
import { findSurfaces } from '../src/found/findSurfaces';
import { createLight } from '../src/image/plane';
import { FOCAL, H, score, shoot, W } from './boxRoom';
import { seeded } from './kernelMemory';

describe('surfaces of a room', () => {
  test('ceiling and walls are found however the camera stands', () => {
    for (const camera of [{ roll: 0, pitch: -3, yaw: 4, seed: 1 }, { roll: 1.2, pitch: 2, yaw: -7, seed: 2 }, { roll: -0.8, pitch: -2, yaw: 11, seed: 3 }, { roll: 0.3, pitch: 0, yaw: 0.2, seed: 4 }]) {
      const { lights, things } = shoot(camera);
      const { ceiling, walls } = findSurfaces(lights, FOCAL);
      const [above, around] = [score(ceiling, things, 'ceiling'), score(walls(), things, 'wall')];
      expect(above.union, JSON.stringify(camera)).toBeGreaterThan(0.9);
      expect(above.precision, JSON.stringify(camera)).toBeGreaterThan(0.96);
      expect(around.union, JSON.stringify(camera)).toBeGreaterThan(0.75);
      expect(around.precision, JSON.stringify(camera)).toBeGreaterThan(0.85);
    }
  });
  test('a ceiling is found by one light alone, under a cast of its own, and beside a beam that is none of it', () => {
    const { lights, things } = shoot({ roll: 0, pitch: -3, yaw: 5, seed: 5 }, { cast: [1.12, 1, 0.85] });
    expect(score(findSurfaces(lights.slice(0, 1), FOCAL).ceiling, things, 'ceiling').union).toBeGreaterThan(0.85);
    const beamed = shoot({ roll: 0, pitch: 1, yaw: -4, seed: 6 }, { beam: true });
    const { ceiling } = findSurfaces(beamed.lights, FOCAL);
    expect(score(ceiling, beamed.things, 'ceiling').precision).toBeGreaterThan(0.94);
    expect(beamed.things.filter((thing, i) => thing === 'beam' && ceiling.data[i] > 0).length).toBeLessThan(0.35 * beamed.things.filter((thing) => thing === 'beam').length);
  });
  test('nothing is found where nothing is level or plumb, nor where no ceiling is in the picture', () => {
    const next = seeded(7);
    const wood = createLight(W, H);
    for (let k = 0; k < 900; k++) {
      const [x, y, size, shade] = [next() * W, next() * H, 4 + next() * 22, 0.05 + next() * 0.6];
      for (let j = Math.max(0, Math.floor(y - size)); j < Math.min(H, y + size); j++) for (let i = Math.max(0, Math.floor(x - size)); i < Math.min(W, x + size); i++) if ((i - x) ** 2 + (j - y) ** 2 < size * size) [wood.r[j * W + i], wood.g[j * W + i], wood.b[j * W + i]] = [0.7 * shade, shade, 0.5 * shade];
    }
    const found = findSurfaces([{ light: wood }], FOCAL);
    expect(found.ceiling.data.every((v) => v === 0)).toBe(true);
    expect(found.walls().data.every((v) => v === 0)).toBe(true);
    const { lights, things } = shoot({ roll: 0, pitch: 24, yaw: 3, seed: 8 });
    const down = findSurfaces(lights, FOCAL).ceiling;
    expect(down.data.filter((v, i) => v > 0 && things[i] !== 'ceiling').length).toBeLessThan(0.01 * W * H);
  });
});
