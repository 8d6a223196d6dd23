import type { Builder, Material } from './builder';
import { noise } from './noise';
import { add, cross, normalize, scale, sub, type Vec } from './vector';

/* Shapes that things in rooms are made of, beyond boxes and turned bodies; lengths in metres. */

/** A round rod along a path: cables, handles, taps, rails. */
export function tube(b: Builder, path: readonly Vec[], radius: number, material: Material, sides = 8): void {
  const along = (k: number): Vec => normalize(sub(path[Math.min(path.length - 1, k + 1)], path[Math.max(0, k - 1)]));
  const frames = path.map((_, k) => {
    const t = along(k);
    const x = normalize(cross(t, Math.abs(t[2]) > 0.9 ? [1, 0, 0] : [0, 0, 1]));
    return { x, y: cross(t, x) };
  });
  const at = (i: number, j: number): Vec => {
    const k = Math.min(path.length - 2, Math.floor(i));
    const f = i - k;
    const a = (2 * Math.PI * j) / sides;
    const ring = (n: number): Vec => add(path[n], add(scale(frames[n].x, radius * Math.cos(a)), scale(frames[n].y, radius * Math.sin(a))));
    return add(scale(ring(k), 1 - f), scale(ring(k + 1), f));
  };
  b.sheet(path.length - 1, sides, at, material, 2 * Math.PI * radius, path.length * 0.1);
  for (const end of [0, path.length - 1]) for (let j = 0; j < sides; j++) b.triangle([path[end], at(end, j), at(end, j + 1)], [[0, 0], [radius, 0], [radius, radius]], material);
}

/** Points of a hanging or lying line from a to b that sags by `sag` in the direction of `down`. */
export function sagging(a: Vec, b: Vec, sag: number, down: Vec, steps = 12): Vec[] {
  return Array.from({ length: steps + 1 }, (_, k) => {
    const t = k / steps;
    return add(add(scale(a, 1 - t), scale(b, t)), scale(down, 4 * sag * t * (1 - t)));
  });
}

/** A cloth laid over something: a grid between four corners, lifted by `height(s, t)` along `up`, creased. */
export function drape(b: Builder, corner: Vec, u: Vec, v: Vec, up: Vec, height: (s: number, t: number) => number, crease: number, material: Material, steps = 26): void {
  const seed = corner[0] * 3.3 + corner[1];
  const at = (i: number, j: number): Vec => {
    const [s, t] = [j / steps, i / steps];
    const fold = crease * (noise(s * 5 + seed, t * 3 + seed) - 0.5 + 0.6 * (noise(s * 11, t * 7 + seed) - 0.5));
    return add(add(corner, add(scale(u, s + 0.25 * fold), scale(v, t + 0.15 * fold))), scale(up, height(s, t) + fold));
  };
  b.sheet(steps, steps, at, material, Math.hypot(...u), Math.hypot(...v));
}

/** One leaf: a bent blade along `out` from `stem`, tips drooping. */
function blade(b: Builder, stem: Vec, out: Vec, length: number, width: number, droop: number, material: Material): void {
  const side = normalize(cross(out, [0, 0, 1]));
  const [rows, columns] = [7, 4];
  const at = (i: number, j: number): Vec => {
    const t = i / rows;
    const s = (j / columns) * 2 - 1;
    const wide = width * Math.sin(Math.PI * Math.min(1, 0.06 + 0.94 * t) ** 0.75) * (1 - 0.3 * t);
    const fold = 0.25 * wide * Math.abs(s) + 0.04 * length * Math.sin(t * 7 + s * 2);
    return add(add(stem, scale(out, length * t)), add(scale(side, wide * s), [0, 0, fold - droop * length * t * t]));
  };
  // Surface coordinates of leaves: along 0..1, across -1..1.
  for (let i = 0; i < rows; i++) {
    for (let j = 0; j < columns; j++) {
      const corners = [[i, j], [i, j + 1], [i + 1, j + 1], [i + 1, j]] as const;
      const p = corners.map(([r, c]) => at(r, c));
      const n = corners.map(([r, c]) => normalize(cross(sub(at(r, c + 0.1), at(r, c - 0.1)), sub(at(Math.min(rows, r + 0.1), c), at(Math.max(0, r - 0.1), c)))));
      const w = corners.map(([r, c]) => [r / rows, (c / columns) * 2 - 1] as const);
      b.triangle([p[0], p[1], p[2]], [w[0], w[1], w[2]], material, [n[0], n[1], n[2]]);
      b.triangle([p[0], p[2], p[3]], [w[0], w[2], w[3]], material, [n[0], n[2], n[3]]);
    }
  }
}

/** A plant: leaves on stalks round a middle, the younger ones steep. */
export function plant(b: Builder, foot: Vec, height: number, leaves: number, leaf: Material, stalk: Material): void {
  for (let k = 0; k < leaves; k++) {
    const turn = k * 2.39996 + 0.4 * noise(k, foot[0]);
    const young = 1 - k / leaves;
    const rise = height * (0.3 + 0.45 * young + 0.15 * noise(k * 1.7, foot[1]));
    const reach = height * (0.12 + 0.16 * (1 - young));
    const head = add(foot, [Math.cos(turn) * reach, Math.sin(turn) * reach, rise]);
    const out = normalize([Math.cos(turn), Math.sin(turn), 0.25 + 0.9 * young]);
    tube(b, [foot, add(foot, [Math.cos(turn) * reach * 0.35, Math.sin(turn) * reach * 0.35, rise * 0.6]), head], 0.004 * (1 + height), stalk, 5);
    blade(b, head, out, height * (0.3 + 0.16 * noise(k, 5)), height * (0.07 + 0.03 * noise(k, 8)), 0.25 + 0.5 * (1 - young), leaf);
  }
}

/** Thin twigs with small leaves in a vase. */
export function twigs(b: Builder, foot: Vec, height: number, count: number, leaf: Material, wood: Material): void {
  for (let k = 0; k < count; k++) {
    const turn = k * 2.39996;
    const lean = 0.15 + 0.25 * noise(k * 3.1, 2);
    const at = (t: number): Vec => add(foot, [Math.cos(turn) * lean * height * t * t, Math.sin(turn) * lean * height * t * t, height * t * (0.75 + 0.25 * noise(k, 4))]);
    tube(b, [0, 0.35, 0.7, 1].map(at), 0.0025, wood, 5);
    for (let l = 1; l < 8; l++) {
      const a = turn + l * 2.2;
      blade(b, at(0.3 + 0.1 * l), normalize([Math.cos(a), Math.sin(a), 0.5]), 0.055, 0.014, 0.3, leaf);
    }
  }
}

/** A flat disc looking up. */
export function disc(b: Builder, middle: Vec, radius: number, material: Material): void {
  const at = (i: number, j: number): Vec => add(middle, [radius * i * Math.cos((j * Math.PI) / 12), radius * i * Math.sin((j * Math.PI) / 12), 0]);
  b.sheet(1, 24, at, material, radius, radius);
}
