import { add, cross, normalize, scale, sub, type Vec } from './vector';
import type { Texture } from './textures';

/** How a surface answers light. */
export interface Material {
  readonly texture: Texture;
  /** Mirror-like share of the reflection at normal incidence, 0..1 (varnish 0.04); 1 is a mirror. */
  readonly gloss: number;
  /** Spread of the glossy reflection: 0 sharp. */
  readonly roughness: number;
  /** Radiance given off in the light layer of this index, or none. */
  readonly glow: { readonly layer: number; readonly colour: Vec } | null;
  /** Thin clear pane: the ray goes on, a little is mirrored. */
  readonly pane: boolean;
  /** Does not cast shadows: lamp shades about their own bulb. */
  readonly shadowless: boolean;
}

export const matt = (texture: Texture, gloss = 0, roughness = 0): Material => ({ texture, gloss, roughness, glow: null, pane: false, shadowless: false });

/** No normal of its own. */
const FLAT: Vec = [0, 0, 0];

/** A growing list of triangles with surface coordinates. */
export class Builder {
  readonly positions: number[] = [];
  readonly coords: number[] = [];
  readonly materialOf: number[] = [];
  /** Normals at the corners of rounded things, 9 numbers a triangle; zeros where a triangle is flat. */
  readonly cornerNormals: number[] = [];
  readonly materials: Material[] = [];

  private index(material: Material): number {
    const found = this.materials.indexOf(material);
    return found >= 0 ? found : this.materials.push(material) - 1;
  }

  triangle(points: readonly [Vec, Vec, Vec], coords: readonly (readonly [number, number])[], material: Material, normals: readonly [Vec, Vec, Vec] | null = null): void {
    for (const p of points) this.positions.push(...p);
    for (const n of normals ?? [FLAT, FLAT, FLAT]) this.cornerNormals.push(...n);
    for (const c of coords) this.coords.push(...c);
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

  /** A standing box by its least corner and size, turned about the vertical by `turn` radians around its middle. */
  box(corner: Vec, size: Vec, material: Material, turn = 0): void {
    const [w, d, h] = size;
    const middle: Vec = [corner[0] + w / 2, corner[1] + d / 2, corner[2]];
    const cos = Math.cos(turn);
    const sin = Math.sin(turn);
    const at = (x: number, y: number, z: number): Vec => [middle[0] + cos * (x - w / 2) - sin * (y - d / 2), middle[1] + sin * (x - w / 2) + cos * (y - d / 2), corner[2] + z];
    const face = (p: Vec, q: Vec, r: Vec): void => this.quad(p, sub(q, p), sub(r, p), material);
    face(at(0, 0, 0), at(w, 0, 0), at(0, 0, h));
    face(at(0, d, 0), at(w, d, 0), at(0, d, h));
    face(at(0, 0, 0), at(0, d, 0), at(0, 0, h));
    face(at(w, 0, 0), at(w, d, 0), at(w, 0, h));
    face(at(0, 0, h), at(w, 0, h), at(0, d, h));
    face(at(0, 0, 0), at(w, 0, 0), at(0, d, 0));
  }

  /** A soft block: a superellipsoid about `centre` with half-sizes `half`; power 1 is an ellipsoid, smaller is boxier. */
  cushion(centre: Vec, half: Vec, material: Material, power = 0.35, turn = 0, tilt = 0): void {
    const rings = 20;
    const sides = 32;
    const round = (v: number): number => Math.sign(v) * Math.abs(v) ** power;
    const at = (i: number, j: number): Vec => {
      const a = (Math.PI * i) / rings - Math.PI / 2;
      const b = (2 * Math.PI * j) / sides;
      const x = half[0] * round(Math.cos(a)) * round(Math.cos(b));
      const y = half[1] * round(Math.cos(a)) * round(Math.sin(b));
      const z = half[2] * round(Math.sin(a));
      const ty = y * Math.cos(tilt) - z * Math.sin(tilt);
      const tz = y * Math.sin(tilt) + z * Math.cos(tilt);
      return [centre[0] + x * Math.cos(turn) - ty * Math.sin(turn), centre[1] + x * Math.sin(turn) + ty * Math.cos(turn), centre[2] + tz];
    };
    this.sheet(rings, sides, at, material, half[0] * 4, half[2] * 3);
  }

  /** A turned body: radius by height along `profile`, about a vertical axis. */
  turned(foot: Vec, profile: readonly (readonly [number, number])[], material: Material): void {
    const sides = 28;
    const at = (i: number, j: number): Vec => {
      // Between its points a profile is straight.
      const k = Math.min(profile.length - 2, Math.floor(i));
      const [r, z] = [0, 1].map((c) => profile[k][c] + (i - k) * (profile[k + 1][c] - profile[k][c]));
      const b = (2 * Math.PI * j) / sides;
      return [foot[0] + r * Math.cos(b), foot[1] + r * Math.sin(b), foot[2] + z];
    };
    this.sheet(profile.length - 1, sides, at, material, 1, 1);
  }

  /** A hanging cloth from `top` along `along`, `drop` metres long, in folds towards `out`. */
  curtain(top: Vec, along: Vec, drop: number, out: Vec, folds: number, depth: number, material: Material): void {
    const columns = folds * 10;
    const width = Math.hypot(...along);
    const at = (i: number, j: number): Vec => {
      const t = j / columns;
      const wave = Math.sin(t * folds * 2 * Math.PI + 0.6 * Math.sin(t * 19)) * depth * (0.75 + 0.25 * (i / 6));
      return add(add(add(top, scale(along, t)), scale(out, wave)), [0, 0, (-drop * i) / 6]);
    };
    this.sheet(6, columns, at, material, width * 1.6, drop);
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
    for (let i = 0; i < rows; i++) {
      for (let j = 0; j < columns; j++) {
        const [a, b, c, d] = [at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i + 1, j)];
        const [u0, u1] = [(j / columns) * width, ((j + 1) / columns) * width];
        const [v0, v1] = [(i / rows) * height, ((i + 1) / rows) * height];
        const [na, nb, nc, nd] = [normal(i, j), normal(i, j + 1), normal(i + 1, j + 1), normal(i + 1, j)];
        this.triangle([a, b, c], [[u0, v0], [u1, v0], [u1, v1]], material, [na, nb, nc]);
        this.triangle([a, c, d], [[u0, v0], [u1, v1], [u0, v1]], material, [na, nc, nd]);
      }
    }
  }

  /** A plant: bent leaves round a stem. */
  plant(foot: Vec, height: number, leaves: number, material: Material): void {
    for (let k = 0; k < leaves; k++) {
      const b = k * 2.39996;
      const reach = height * (0.25 + 0.3 * ((k * 0.618) % 1));
      const rise = height * (0.35 + 0.65 * ((k * 0.377) % 1));
      const dir: Vec = [Math.cos(b), Math.sin(b), 0];
      const side = scale(cross(dir, [0, 0, 1]), height * 0.07);
      const stem = add(foot, [0, 0, rise * 0.55]);
      const middle = add(add(foot, scale(dir, reach * 0.6)), [0, 0, rise]);
      const tip = add(add(foot, scale(dir, reach * 1.15)), [0, 0, rise * 0.8]);
      this.triangle([stem, add(middle, side), sub(middle, side)], [[0, 0], [0.1, 0.2], [0, 0.2]], material);
      this.triangle([tip, add(middle, side), sub(middle, side)], [[0, 0.4], [0.1, 0.2], [0, 0.2]], material);
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
