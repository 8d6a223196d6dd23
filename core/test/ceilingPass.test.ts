import { describe, expect, test } from 'vitest';
import type { Mix } from '@zaddle/document';
import { WHITE_OF_PAINT } from '../src/colour/whiteOfPaint';
import { believedOfFlash } from '../src/colour/believedOfFlash';
import { createLight, createPlane, type Light, type Plane } from '../src/image/plane';
import { ceilingPass, type LightOnPaint } from '../src/propose/ceilingPass';
import { seeded } from './kernelMemory';

const [W, H, EDGE] = [120, 80, 20];
type Chroma = readonly [red: number, blue: number];

/** A room whose upper rows are its ceiling, each of one chroma (stops of red and blue over green) and of light that falls off. */
function room(ceiling: Chroma, walls: Chroma, lit = 1): { light: Light; found: Plane; weight: Plane } {
  const next = seeded(3);
  const light = createLight(W, H);
  const found = createPlane(W, H);
  for (let i = 0; i < W * H; i++) {
    const above = Math.floor(i / W) < EDGE;
    const [red, blue] = above ? ceiling : walls;
    const y = 0.4 * (1 - (0.5 * (i % W)) / W) * (1 + 0.02 * (next() - 0.5));
    light.r[i] = y * 2 ** red;
    light.g[i] = y;
    light.b[i] = y * 2 ** blue;
    if (above) found.data[i] = 1;
  }
  return { light, found, weight: createPlane(W, H, new Float32Array(W * H).fill(lit)) };
}

const proposed = ({ light, found, weight }: ReturnType<typeof room>, evenness = 0, byFlash = true): ReturnType<typeof ceilingPass> =>
  ceilingPass({ findings: { ceiling: () => found }, mix: { reference: 'a' } as Mix } as never, { light, weight, evenness, byFlash } satisfies LightOnPaint);

/** Chroma of a ceiling with the pass on it. */
function after([red, blue]: Chroma, pass: NonNullable<ReturnType<typeof ceilingPass>>): Chroma {
  const stops = pass.balance.map((v) => Math.log2(v));
  return [red + pass.opacity * (stops[0] - stops[1]), blue + pass.opacity * (stops[2] - stops[1])];
}

describe('the colour that a room throws onto its ceiling', () => {
  test('is taken away for the most part, whatever it is, and stays adjustable', () => {
    for (const cast of [[0.1, -0.25], [-0.05, 0.2], [0.15, 0.05]] as const) {
      const pass = proposed(room(cast, [0, 0]))!;
      const before = Math.hypot(cast[0] - WHITE_OF_PAINT.red, cast[1] - WHITE_OF_PAINT.blue);
      const [red, blue] = after(cast, pass);
      expect(Math.hypot(red - WHITE_OF_PAINT.red, blue - WHITE_OF_PAINT.blue)).toBeLessThan(0.2 * before);
      expect(pass.mask).toMatchObject([{ kind: 'found', what: 'ceiling', edge: 'a' }]);
      expect(pass.opacity).toBeGreaterThan(0.5);
    }
  });

  test('no part of a ceiling turns blue that has less of it', () => {
    const uneven = room([0.1, -0.3], [0, 0]);
    const [red, blue] = [0.03, -0.1];
    // A fifth of it, where other light falls.
    for (let i = 0; i < EDGE * W; i++) if (i % W < W / 5) [uneven.light.r[i], uneven.light.b[i]] = [uneven.light.g[i] * 2 ** red, uneven.light.g[i] * 2 ** blue];
    const pass = proposed(uneven)!;
    expect(after([red, blue], pass)[1]).toBeLessThan(WHITE_OF_PAINT.blue + 0.02);
    expect(after([0.1, -0.3], pass)[1]).toBeGreaterThan(-0.3 + 0.04);
    // By lamps and daylight most of it is what counts.
    const byOwnLight = proposed(uneven, 0, false)!;
    expect(after([0.1, -0.3], byOwnLight)[1]).toBeGreaterThan(-0.1);
  });

  test('nothing is done to a white one, to one of wood, where none is found, or where no flash reaches it', () => {
    expect(proposed(room([WHITE_OF_PAINT.red, WHITE_OF_PAINT.blue], [0.2, -0.3]))).toBeNull();
    expect(proposed(room([0.2, -0.6], [0, 0]))).toBeNull();
    const bare = room([0.1, -0.25], [0, 0]);
    expect(proposed({ ...bare, found: createPlane(W, H) })).toBeNull();
    expect(proposed(room([0.1, -0.25], [0, 0], 0.1))).toBeNull();
  });

  test('what the evening of light takes away before is not taken twice', () => {
    // A cast that grows along the ceiling is light, and evened out in part.
    const cast = room([0.1, -0.2], [0.1, -0.2]);
    const warm = room([0.1, -0.2], [0, -0.02]);
    const alone = Math.abs(Math.log2(proposed(warm)!.balance[2]));
    const evened = proposed(warm, 1);
    expect(evened === null ? 0 : Math.abs(Math.log2(evened.balance[2]))).toBeLessThan(alone + 0.02);
    // Where ceiling and walls share a cast there is nothing to even out, and all of it is left to this.
    expect(Math.log2(proposed(cast, 1)!.balance[2])).toBeCloseTo(Math.log2(proposed(cast)!.balance[2]), 1);
  });
});

describe('what is believed of a flash', () => {
  const stops = (red: number, blue: number): readonly [number, number] => {
    const [r, , b] = believedOfFlash([2 ** red, 1, 2 ** blue]);
    return [Math.log2(r), Math.log2(b)];
  };
  test('warmth and coolness mostly, green and magenta hardly, strong colours not at all', () => {
    const [warmRed, warmBlue] = stops(-0.1, 0.1);
    expect((warmBlue - warmRed) / 0.2).toBeGreaterThan(0.5);
    const [greenRed, greenBlue] = stops(0.1, 0.1);
    expect((greenRed + greenBlue) / 0.2).toBeLessThan(0.4);
    const [woodRed, woodBlue] = stops(-0.5, 1);
    expect(Math.hypot(woodRed, woodBlue)).toBeLessThan(0.25 * Math.hypot(0.5, 1));
  });
  test('white paint is white', () => {
    const [red, blue] = stops(-WHITE_OF_PAINT.red, -WHITE_OF_PAINT.blue);
    expect(Math.abs(red)).toBeLessThan(1e-9);
    expect(Math.abs(blue)).toBeLessThan(1e-9);
  });
});
