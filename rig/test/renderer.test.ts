import { describe, expect, test } from 'vitest';
import { DetailBand } from '../src/detail/detailBand';
import { matt, type Builder } from '../src/scene/builder';
import { flash, glow, mirror, shell, steel, windowWall } from '../src/scene/furniture';
import type { Room } from '../src/scene/room';
import { boards, cloth, plain, plaster } from '../src/scene/textures';
import { denoise } from '../src/trace/denoise';
import { EyeRay } from '../src/trace/eyeRay';
import { fillHoles } from '../src/trace/fillHoles';
import { GridLight } from '../src/trace/gridLight';
import { gridSurfaces, PER_PIXEL } from '../src/trace/gridSurfaces';
import { traceBand } from '../src/trace/lightBand';
import { PathTracer } from '../src/trace/pathTracer';
import { RayTree } from '../src/trace/rayTree';
import { sampleEffort } from '../src/trace/sampleEffort';

/** A cell of the mill, small enough to trace in a test: a window, a looking glass, a cushion, a bulb. */
const cell: Room = {
  name: 'cell', label: 'Cell',
  furnish: (b: Builder) => {
    const wall = matt(plaster([0.7, 0.68, 0.6]));
    shell(b, 3, 3, 2.4, matt(boards([0.4, 0.26, 0.14], 0.14), 0.04, 0.05), [wall, wall, wall], 0);
    const day = windowWall(b, 3, 3, 2.4, { x: 0.4, z: 0.9, w: 1, h: 1 }, wall, 2);
    mirror(b, [1.8, 3, 1], 0.8, 0.9, steel);
    b.cushion([1.4, 1.9, 0.3], [0.4, 0.3, 0.25], matt(cloth([0.2, 0.3, 0.4])));
    b.turned([2.4, 2.2, 1.2], [[0, 0], [0.05, 0.02], [0.05, 0.1], [0, 0.12]], glow(1, [6, 5, 4]));
    return [
      { name: 'day', sources: [day], view: 6 },
      { name: 'lamps', sources: [{ kind: 'bulb', centre: [2.4, 2.2, 1.26], radius: 0.05, power: [20, 16, 11] }], view: 0 },
      flash('flash', [0.4, 0.2, 1.8], [0.3, 0.4, 0.9], 200),
    ];
  },
  view: { from: [1.5, -0.4, 1.3], to: [1.5, 3, 1.1], fieldOfView: 74 },
};

describe('light of a room', () => {
  test('under a small lamp is what the inverse square and the cosine say', () => {
    const power = 9;
    const open: Room = { ...cell, furnish: (b) => {
      b.quad([-4, -4, 0], [8, 0, 0], [0, 8, 0], matt(plain([0, 0, 0])));
      return [{ name: 'day', sources: [{ kind: 'bulb', centre: [0.5, 1, 1.5], radius: 0.01, power: [power, power, power] }], view: 0 }];
    } };
    const scene = new PathTracer(open);
    for (const [x, y] of [[0.5, 1], [1.7, 0.2], [-1, 2]]) {
      const out = new Float32Array(3);
      scene.seed(7);
      scene.gather(out, x, y, 0, 0, 0, 1, 1, 1, 1);
      const d2 = (x - 0.5) ** 2 + (y - 1) ** 2 + 1.5 ** 2;
      const radiance = (power / (4 * Math.PI * d2)) * (1.5 / Math.sqrt(d2)) / Math.PI;
      expect(out[0] / radiance).toBeCloseTo(1, 1);
    }
  });

  /** What arrives on the floor by every light of the cell: as traced, and calmed. */
  const floor = (() => {
    const [w, h] = [60, 40];
    const scene = new PathTracer(cell);
    const close = { ...cell.view, to: [1.5, 1.7, 0] as const, fieldOfView: 30 };
    const surfaces = gridSurfaces(scene, close, w, h).scattering;
    const on = { width: w, height: h, surfaces };
    const effort = sampleEffort(surfaces, w, h);
    const made = (samples: number): { traced: Float32Array; calm: Float32Array }[] => {
      const [direct, indirect] = (['direct', 'indirect'] as const).map((light) => traceBand(scene, close, light, { width: w, height: h, y0: 0, rows: h, samples, effort }));
      const sums = (a: Float32Array[], b: Float32Array[]): Float32Array[] => a.map((light, k) => light.map((v, i) => v + b[k][i]));
      const calm = sums(denoise(direct, on, 3, 0.2), denoise(indirect, on, 5, 0.5));
      return sums(direct, indirect).map((traced, k) => ({ traced, calm: calm[k] }));
    };
    return { few: made(24), many: made(384), pixels: w * h };
  })();

  // A flash aimed at the ceiling is the hard case: few paths find the small bright place that most light comes from.
  test.each(['day', 'lamps', 'flash'].map((name, k) => [name, k] as const))('of the %s, traced with few samples and calmed, agrees with 16 times as many', (_, k) => {
    const { few, many, pixels } = floor;
    const calmest = many[k].calm;
    const lit = Array.from({ length: pixels }, (_, i) => i * 3 + 1).filter((i) => calmest[i] > 1e-3);
    const errors = (picture: Float32Array): number[] => lit.map((i) => Math.abs(picture[i] / calmest[i] - 1)).sort((a, b) => a - b);
    const at = (values: number[], share: number): number => values[Math.floor(share * (values.length - 1))];
    const sum = (picture: Float32Array): number => lit.reduce((total, i) => total + picture[i], 0);
    expect(lit.length).toBeGreaterThan(0.3 * pixels);
    expect(at(errors(few[k].calm), 0.5)).toBeLessThan(0.02);
    expect(at(errors(few[k].calm), 0.99)).toBeLessThan(0.1);
    expect(at(errors(few[k].calm), 0.5)).toBeLessThan(0.5 * at(errors(few[k].traced), 0.5));
    // Sparks are light: what calming takes out comes back.
    expect(Math.abs(sum(few[k].calm) / sum(many[k].traced) - 1)).toBeLessThan(0.02);
  });

  test('holes are filled from around them, and what is known stays', () => {
    const [w, h] = [37, 23];
    const has = Uint8Array.from({ length: w * h }, (_, i) => (i % w > 9 && i % w < 20 && i > 5 * w && i < 14 * w ? 0 : 1));
    const light = Float32Array.from({ length: w * h * 3 }, (_, i) => (has[Math.floor(i / 3)] ? 2 + (Math.floor(i / 3) % w) / w : 0));
    const before = light.slice();
    fillHoles(light, w, h, has);
    for (let i = 0; i < w * h; i++) {
      if (has[i]) expect(light[i * 3]).toBe(before[i * 3]);
      else expect(light[i * 3] >= 2 && light[i * 3] <= 3).toBe(true);
    }
  });
});

/** Numbers in 0..1 from a seed. */
function chance(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}

describe('rays', () => {
  const random = chance(77);
  const positions = Array.from({ length: 400 }, () => {
    const middle = [random() * 4, random() * 4, random() * 4];
    return Array.from({ length: 9 }, (_, k) => middle[k % 3] + 1.4 * (random() - 0.5));
  }).flat();
  const passes = (triangle: number): boolean => triangle % 5 === 0;

  /** Distance at which a ray meets a triangle, by the plane and the sides of its edges; Infinity where it misses. */
  function meet(t: number, o: number[], d: number[]): number {
    const corner = (k: number): number[] => positions.slice(t * 9 + k * 3, t * 9 + k * 3 + 3);
    const minus = (a: number[], b: number[]): number[] => a.map((v, k) => v - b[k]);
    const cross = (a: number[], b: number[]): number[] => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
    const dot = (a: number[], b: number[]): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
    const n = cross(minus(corner(1), corner(0)), minus(corner(2), corner(0)));
    const far = dot(minus(corner(0), o), n) / dot(d, n);
    const at = o.map((v, k) => v + far * d[k]);
    const inside = [0, 1, 2].every((k) => dot(cross(minus(corner((k + 1) % 3), corner(k)), minus(at, corner(k))), n) >= 0);
    return inside && far > 1e-4 ? far : Infinity;
  }

  test('find the nearest triangle and what is in the way, as a look at every one does', () => {
    const tree = new RayTree(positions, passes);
    let [hits, stops] = [0, 0];
    for (let k = 0; k < 600; k++) {
      const o = [random() * 4, random() * 4, random() * 4];
      const d = [random() - 0.5, random() - 0.5, random() - 0.5];
      const l = Math.hypot(...d);
      const ray = d.map((v) => v / l);
      const far = Array.from({ length: 400 }, (_, t) => meet(t, o, ray));
      const nearest = Math.min(...far);
      const found = tree.nearest(o[0], o[1], o[2], ray[0], ray[1], ray[2], 1e9);
      expect(found).toBe(nearest === Infinity ? -1 : far.indexOf(nearest));
      if (found >= 0) {
        hits++;
        expect(tree.t).toBeCloseTo(nearest, 4);
      }
      const stopped = far.some((t, i) => t < 2 && !passes(i));
      expect(tree.blocked(o[0], o[1], o[2], ray[0], ray[1], ray[2], 2)).toBe(stopped);
      if (stopped) stops++;
    }
    expect(hits > 200 && stops > 100 && stops < 590).toBe(true);
  });

  test('along an axis, from a plane of a box, miss nothing', () => {
    const square = [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 0, 0, 1, 1, 0, 0, 1, 0];
    const tree = new RayTree(square, () => false);
    for (const [x, y] of [[0.5, 0.25], [0.25, 0.5], [0.5, 0.5], [0, 0.5], [1, 1]]) expect(tree.nearest(x, y, 2, 0, 0, -1, 1e9)).toBeGreaterThanOrEqual(0);
    expect(tree.nearest(1.1, 0.5, 2, 0, 0, -1, 1e9)).toBe(-1);
  });
});

describe('detail of a room', () => {
  const scene = new PathTracer(cell);
  const surfaces = gridSurfaces(scene, cell.view, 90, 60);
  const flat = (value: number): Float32Array[] => scene.layers.map(() => new Float32Array(90 * 60 * 3).fill(value));
  const detail = new DetailBand(scene, cell.view, { surfaces, light: flat(0.5), gloss: flat(0.2) });
  const made = (width: number, height: number, y0 = 0, rows = height): Float32Array[] => {
    const pictures = scene.layers.map(() => new Float32Array(width * height * 3));
    detail.rows(width, height, y0, rows, pictures);
    return pictures;
  };

  test('is the same picture at every size', () => {
    const [small, large] = [made(120, 80), made(360, 240)];
    for (let k = 0; k < 2; k++) {
      let off = 0;
      let sum = 0;
      for (let y = 0; y < 80; y++) for (let x = 0; x < 120; x++) {
        let mean = 0;
        for (let j = 0; j < 3; j++) for (let i = 0; i < 3; i++) mean += large[k][((3 * y + j) * 360 + 3 * x + i) * 3 + 1] / 9;
        off += Math.abs(mean - small[k][(y * 120 + x) * 3 + 1]);
        sum += mean;
      }
      expect(off / sum).toBeLessThan(0.012);
    }
  });

  test('begins anywhere: bands agree with the whole to the last bit', () => {
    const whole = made(90, 60);
    const part = made(90, 60, 22, 9);
    for (let k = 0; k < 2; k++) expect(part[k].subarray(22 * 90 * 3, 31 * 90 * 3)).toEqual(whole[k].subarray(22 * 90 * 3, 31 * 90 * 3));
  });

  test('a lamp glows in its own light only, and the view belongs to the day', () => {
    const [day, lamps] = made(90, 60);
    const bright = (picture: Float32Array): number => picture.filter((v) => v > 3).length;
    // Surfaces have at most 0.5 of their reflectance here: all that is brighter glows, or is the sky through the pane.
    expect(bright(lamps)).toBeGreaterThan(10);
    expect(bright(lamps)).toBeLessThan(150);
    expect(bright(day)).toBeGreaterThan(100);
    const both = day.filter((v, i) => v > 3 && lamps[i] > 3).length;
    expect(both).toBe(0);
  });
});

describe('eye rays', () => {
  const scene = new PathTracer(cell);
  const ray = new EyeRay(scene);
  const towards = (x: number, y: number, z: number): EyeRay => {
    const from = cell.view.from;
    const d = Float64Array.from([x - from[0], y - from[1], z - from[2]]);
    const l = Math.hypot(...d);
    ray.follow(from, d.map((v) => v / l));
    return ray;
  };

  test('go through the pane to the view and leave a little behind', () => {
    const { surface, view, glossy, fresnel } = towards(0.62, 3.3, 1.15);
    expect([surface.is, view.is, glossy.is]).toEqual([false, true, true]);
    expect(view.share).toBeCloseTo(0.92, 6);
    expect(fresnel).toBeGreaterThan(0.05);
  });

  test('come back from a looking glass to what is in front of it, with what it leaves of the light', () => {
    const { surface, mirrors } = towards(2.2, 2.98, 1.4);
    expect(mirrors).toHaveLength(1);
    expect(mirrors[0].dy).toBeLessThan(0);
    expect(surface.is && surface.y < 2.9).toBe(true);
    expect(surface.share).toBeLessThan(0.93);
    // Angle in is angle out.
    expect(mirrors[0].dy).toBeCloseTo(-(2.98 - cell.view.from[1]) / Math.hypot(2.2 - 1.5, 2.98 + 0.4, 0.1), 6);
  });

  test('fall on round things with round normals', () => {
    const a = { ...towards(1.3, 1.62, 0.4).surface };
    const b = { ...towards(1.31, 1.62, 0.4).surface };
    expect(a.is && b.is).toBe(true);
    const turn = a.nx * b.nx + a.ny * b.ny + a.nz * b.nz;
    expect(turn).toBeGreaterThan(0.99);
    expect(Math.hypot(a.nx, a.ny, a.nz)).toBeCloseTo(1, 6);
    expect(a.nx * a.dx + a.ny * a.dy + a.nz * a.dz).toBeLessThan(0);
  });
});

describe('light carried up from the grid', () => {
  test('does not cross from one surface to another', () => {
    // A floor on the left, a wall on the right, each with a light of its own.
    const [w, h] = [8, 4];
    const surfaces = new Float32Array(w * h * PER_PIXEL);
    const light = new Float32Array(w * h * 3);
    for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) {
      surfaces.set(x < 4 ? [0, 0, 1, x * 0.1, y * 0.1, 0] : [-1, 0, 0, 0.4, y * 0.1, (x - 4) * 0.1], (y * w + x) * PER_PIXEL);
      light.fill(x < 4 ? 1 : 9, (y * w + x) * 3, (y * w + x + 1) * 3);
    }
    const grid = new GridLight(w, h, surfaces);
    const out = new Float32Array(3);
    const at = (u: number, place: number[]): number => {
      grid.locate(u, 1.5, Float64Array.from(place));
      grid.read([light], out);
      return out[0];
    };
    expect(at(3.4, [0, 0, 1, 0.34, 0.15, 0])).toBeCloseTo(1, 5);
    expect(at(3.6, [-1, 0, 0, 0.4, 0.15, 0.01])).toBeCloseTo(9, 5);
    // Where the grid has nothing of a surface, its nearest place stands in.
    expect(at(3.5, [0, 1, 0, 0.3, 0.15, 0.05])).toBeCloseTo(1, 5);
  });
});
