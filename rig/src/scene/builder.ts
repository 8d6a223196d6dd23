import { add, cross, normalize, scale, sub, type Vec } from './vector';
import { cloud, noise } from './noise';
import type { Texture } from './textures';

/** What a thing is, where masks of it are of use. */
export const THINGS = ['glass', 'mirror', 'picture', 'ceiling', 'wall', 'floor', 'person', 'equipment', 'bulb', 'screen'] as const;
export type Thing = (typeof THINGS)[number];

/** How a surface answers light. */
export interface Material {
  readonly texture: Texture;
  /** Mirror-like share of the reflection at normal incidence, 0..1 (varnish 0.04); 1 is a mirror. */
  readonly gloss: number;
  /** Spread of the glossy reflection: 0 sharp. */
  readonly roughness: number;
  /** Radiance given off in the light layer of this index, or none; `shine` says how much of it where, by surface coordinates. */
  readonly glow: { readonly layer: number; readonly colour: Vec; readonly shine?: (u: number, v: number) => number } | null;
  /** Thin clear pane: the ray goes on, a little is mirrored. */
  readonly pane: boolean;
  /** Does not cast shadows: lamp shades about their own bulb. */
  readonly shadowless: boolean;
  /** Its texture has a direction, that of the longest side. */
  readonly grain?: boolean;
  readonly what?: Thing;
}

export const matt = (texture: Texture, gloss = 0, roughness = 0): Material => ({ texture, gloss, roughness, glow: null, pane: false, shadowless: false });

/** The same material, as a thing of a kind. */
export const as = (what: Thing, material: Material): Material => ({ ...material, what });

/** No normal of its own. */
const FLAT: Vec = [0, 0, 0];
const NO_NORMALS: readonly Vec[] = [FLAT, FLAT, FLAT];

/** A growing list of triangles with surface coordinates. */
export class Builder {
  readonly positions: number[] = [];
  readonly coords: number[] = [];
  readonly materialOf: number[] = [];
  /** Normals at the corners of rounded things, 9 numbers a triangle; zeros where a triangle is flat. */
  readonly cornerNormals: number[] = [];
  /** Triangles too narrow to carry light of their own: roundings of edges. */
  readonly narrow: boolean[] = [];
  readonly materials: Material[] = [];

  private index(material: Material): number {
    // Triangles come thing by thing: mostly it is the last one again.
    const found = this.materials.lastIndexOf(material);
    return found >= 0 ? found : this.materials.push(material) - 1;
  }

  triangle(points: readonly [Vec, Vec, Vec], coords: readonly (readonly [number, number])[], material: Material, normals: readonly [Vec, Vec, Vec] | null = null, narrow = false): void {
    this.narrow.push(narrow);
    for (const p of points) this.positions.push(p[0], p[1], p[2]);
    for (const n of normals ?? NO_NORMALS) this.cornerNormals.push(n[0], n[1], n[2]);
    for (const c of coords) this.coords.push(c[0], c[1]);
    this.materialOf.push(this.index(material));
  }

  /** A parallelogram from a corner along two edges; coordinates in metres, or 0..1 when `unit`. */
  quad(corner: Vec, u: Vec, v: Vec, material: Material, unit = false): void {
    const a = corner;
    const b = add(corner, u);
    const c = add(b, v);
    const d = add(corner, v);
    const w = unit ? 1 : Math.hypot(...u);
    const h = unit ? 1 : Math.hypot(...v);
    this.triangle([a, b, c], [[0, 0], [w, 0], [w, h]], material);
    this.triangle([a, c, d], [[0, 0], [w, h], [0, h]], material);
  }

  /**
   * A standing box by its least corner and size, turned about the vertical by `turn` radians around its middle. Its edges are
   * rounded by `round` metres; grain runs along its longest side.
   */
  box(corner: Vec, size: Vec, material: Material, turn = 0, round = 0.004): void {
    const r = Math.min(round, 0.2 * Math.min(...size));
    const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
    const middle: Vec = [corner[0] + size[0] / 2, corner[1] + size[1] / 2, corner[2]];
    const spin = (x: number, y: number, z: number): Vec => [cos * x - sin * y, sin * x + cos * y, z];
    // A corner of the inner box, moved out along some of the axes.
    const at = (side: Vec, out: Vec): Vec => add(middle, spin(...([0, 1, 2].map((k) => side[k] * (size[k] / 2 - r) + out[k] * r) as [number, number, number]))).map((v, k) => (k === 2 ? v + size[2] / 2 : v)) as unknown as Vec;
    const longest = size.indexOf(Math.max(...size));
    const start = [corner[0] * 3.7 + corner[2], corner[1] * 2.9 + corner[2] * 1.3];
    const loose = material.grain ? start : [0, 0];
    const unitAlong = (axis: number, sign: number): Vec => [0, 1, 2].map((k) => (k === axis ? sign : 0)) as unknown as Vec;
    for (let axis = 0; axis < 3; axis++) {
      const others = [0, 1, 2].filter((k) => k !== axis);
      const [a, b] = material.grain && others[1] === longest ? [others[1], others[0]] : others;
      for (const s of [-1, 1]) {
        const out = unitAlong(axis, s);
        const normal = spin(...out);
        const corners = ([[-1, -1], [1, -1], [1, 1], [-1, 1]] as const).map(([p, q]) => [0, 1, 2].map((k) => (k === axis ? s : k === a ? p : q)) as unknown as Vec);
        const places = corners.map((c) => at(c, out));
        const coords = corners.map((c) => [loose[0] + (c[a] + 1) * 0.5 * size[a], loose[1] + (material.grain ? axis : 0) + (c[b] + 1) * 0.5 * size[b]] as const);
        this.patch(places, [normal, normal, normal, normal], coords, material);
        if (s > 0) continue;
        // The four edges along this axis.
        for (const [p, q] of [[-1, -1], [1, -1], [1, 1], [-1, 1]]) {
          const [outA, outB] = [unitAlong(a, p), unitAlong(b, q)];
          const side = (t: number): Vec => [0, 1, 2].map((k) => (k === axis ? t : k === a ? p : q)) as unknown as Vec;
          const [nA, nB] = [spin(...outA), spin(...outB)];
          const [from, to] = [loose[0], loose[0] + size[axis]];
          this.patch([at(side(-1), outA), at(side(1), outA), at(side(1), outB), at(side(-1), outB)], [nA, nA, nB, nB], [[from, 0], [to, 0], [to, r], [from, r]], material, true);
        }
      }
    }
    for (const x of [-1, 1]) for (const y of [-1, 1]) for (const z of [-1, 1]) {
      const c: Vec = [x, y, z];
      const outs = [unitAlong(0, x), unitAlong(1, y), unitAlong(2, z)];
      this.triangle(outs.map((o) => at(c, o)) as [Vec, Vec, Vec], [[0, 0], [r, 0], [0, r]], material, outs.map((o) => spin(...o)) as [Vec, Vec, Vec], true);
    }
  }

  /** Two triangles over four corners in order. */
  private patch(p: readonly Vec[], n: readonly Vec[], c: readonly (readonly [number, number])[], material: Material, narrow = false): void {
    this.triangle([p[0], p[1], p[2]], [c[0], c[1], c[2]], material, [n[0], n[1], n[2]], narrow);
    this.triangle([p[0], p[2], p[3]], [c[0], c[2], c[3]], material, [n[0], n[2], n[3]], narrow);
  }

  /** A soft block: a superellipsoid about `centre` with half-sizes `half`; power 1 is an ellipsoid, smaller is boxier. */
  cushion(centre: Vec, half: Vec, material: Material, power = 0.35, turn = 0, tilt = 0): void {
    const rings = 26;
    const sides = 44;
    const round = (v: number): number => Math.sign(v) * Math.abs(v) ** power;
    const at = (i: number, j: number): Vec => {
      const a = (Math.PI * i) / rings - Math.PI / 2;
      const b = (2 * Math.PI * j) / sides;
      const swell = 1 + 0.07 * (cloud(3 + 2.5 * Math.cos(b) + centre[0], 3 + 2.5 * Math.sin(b) + 2 * a) - 0.5) * Math.cos(a);
      const x = half[0] * swell * round(Math.cos(a)) * round(Math.cos(b));
      const y = half[1] * swell * round(Math.cos(a)) * round(Math.sin(b));
      const z = half[2] * swell * round(Math.sin(a));
      const ty = y * Math.cos(tilt) - z * Math.sin(tilt);
      const tz = y * Math.sin(tilt) + z * Math.cos(tilt);
      return [centre[0] + x * Math.cos(turn) - ty * Math.sin(turn), centre[1] + x * Math.sin(turn) + ty * Math.cos(turn), centre[2] + tz];
    };
    this.sheet(rings, sides, at, material, half[0] * 4, half[2] * 3);
  }

  /** A turned body: radius by height along `profile`, about a vertical axis. */
  turned(foot: Vec, profile: readonly (readonly [number, number])[], material: Material): void {
    const sides = Math.max(...profile.map(([r]) => r)) > 0.07 ? 52 : 28;
    const at = (i: number, j: number): Vec => {
      // Between its points a profile is straight.
      const k = Math.min(profile.length - 2, Math.floor(i));
      const [r, z] = [0, 1].map((c) => profile[k][c] + (i - k) * (profile[k + 1][c] - profile[k][c]));
      const b = (2 * Math.PI * j) / sides;
      return [foot[0] + r * Math.cos(b), foot[1] + r * Math.sin(b), foot[2] + z];
    };
    this.sheet(profile.length - 1, sides, at, material, 1, 1);
  }

  /** A hanging cloth from `top` along `along`, `drop` metres long, in uneven folds towards `out` that open downwards. */
  curtain(top: Vec, along: Vec, drop: number, out: Vec, folds: number, depth: number, material: Material): void {
    const columns = folds * 14;
    const rows = 14;
    const width = Math.hypot(...along);
    const seed = top[0] * 7.1;
    const at = (i: number, j: number): Vec => {
      const [t, down] = [j / columns, i / rows];
      const bent = t + 0.05 * Math.sin(t * 11 + seed) * (0.4 + 0.6 * down) + 0.012 * Math.sin(down * 5 + t * 9 + seed);
      const deep = depth * (0.55 + 0.45 * Math.min(1, down * 3)) * (0.75 + 0.5 * noise(t * folds + seed, down * 0.7));
      const wave = Math.sin(bent * folds * 2 * Math.PI + 0.35 * Math.sin(down * 4 + t * 17)) * deep + 0.2 * deep * Math.sin(bent * folds * 6.1 * Math.PI + seed) * down;
      const spread = 1 + 0.05 * down * Math.sin(seed + 1.3);
      return add(add(add(top, scale(along, t * spread)), scale(out, wave)), [0, 0, -drop * down + 0.006 * Math.sin(t * 31) * down]);
    };
    this.sheet(rows, columns, at, material, width * 1.6, drop);
  }

  /** A grid of triangles over (i, j), round to the eye: `at` is also asked a little beside its corners. */
  sheet(rows: number, columns: number, at: (i: number, j: number) => Vec, material: Material, width: number, height: number): void {
    const normal = (i: number, j: number): Vec => {
      const across = sub(at(i, j + 0.01), at(i, j - 0.01));
      const down = sub(at(Math.min(rows, i + 0.01), j), at(Math.max(0, i - 0.01), j));
      const n = cross(across, down);
      const l = Math.hypot(...n);
      return l > 1e-12 ? scale(n, 1 / l) : FLAT;
    };
    const corners = Array.from({ length: (rows + 1) * (columns + 1) }, (_, k) => {
      const [i, j] = [Math.floor(k / (columns + 1)), k % (columns + 1)];
      return { at: at(i, j), normal: normal(i, j), place: [(j / columns) * width, (i / rows) * height] as const };
    });
    for (let i = 0; i < rows; i++) {
      for (let j = 0; j < columns; j++) {
        const k = i * (columns + 1) + j;
        const [a, b, c, d] = [corners[k], corners[k + 1], corners[k + columns + 2], corners[k + columns + 1]];
        this.patch([a.at, b.at, c.at, d.at], [a.normal, b.normal, c.normal, d.normal], [a.place, b.place, c.place, d.place], material);
      }
    }
  }
}

/** A rectangle with a middle and two half-edges, for lights. */
export interface Rect {
  readonly middle: Vec;
  readonly u: Vec;
  readonly v: Vec;
}

/** The side of a rectangle that gives light. */
export const facing = (rect: Rect): Vec => normalize(cross(rect.u, rect.v));
