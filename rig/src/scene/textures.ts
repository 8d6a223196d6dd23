/** Colours of surfaces, linear sRGB reflectance 0..1, as functions of place. All made up here. */
export type Colour = readonly [number, number, number];
/** u, v: surface coordinates in metres (or 0..1 for pictures). Writes reflectance into out. */
export type Texture = (u: number, v: number, out: Float64Array) => void;

function hash(x: number, y: number): number {
  let h = (Math.imul(x | 0, 374761393) + Math.imul(y | 0, 668265263)) | 0;
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

/** Value noise, 0..1. */
export function noise(x: number, y: number): number {
  const ix = Math.floor(x);
  const iy = Math.floor(y);
  const fx = x - ix;
  const fy = y - iy;
  const sx = fx * fx * (3 - 2 * fx);
  const sy = fy * fy * (3 - 2 * fy);
  const top = hash(ix, iy) + sx * (hash(ix + 1, iy) - hash(ix, iy));
  const bottom = hash(ix, iy + 1) + sx * (hash(ix + 1, iy + 1) - hash(ix, iy + 1));
  return top + sy * (bottom - top);
}

/** Four octaves of noise, 0..1. */
export function cloud(x: number, y: number): number {
  return 0.53 * noise(x, y) + 0.27 * noise(2.03 * x + 7, 2.03 * y) + 0.13 * noise(4.1 * x, 4.1 * y + 3) + 0.07 * noise(8.3 * x, 8.3 * y);
}

function set(out: Float64Array, c: Colour, k: number): void {
  out[0] = c[0] * k;
  out[1] = c[1] * k;
  out[2] = c[2] * k;
}

export const plain = (c: Colour): Texture => (_u, _v, out) => set(out, c, 1);
/** Painted plaster, faintly uneven. */
export const plaster = (c: Colour): Texture => (u, v, out) => set(out, c, 0.965 + 0.05 * cloud(u * 5, v * 5) + 0.02 * noise(u * 90, v * 90));
/** Boards along u, `width` metres wide. */
export const boards = (c: Colour, width: number): Texture => (u, v, out) => {
  const row = Math.floor(v / width);
  const length = 1.7;
  const shift = hash(row, 7) * length;
  const board = Math.floor((u + shift) / length);
  const inBoard = v / width - row;
  const joint = inBoard < 0.02 || inBoard > 0.985 || (u + shift) / length - board < 0.0025 ? 0.35 : 1;
  const grain = 0.8 + 0.3 * cloud(u * 2.2 + 31 * hash(row, board), v * 55) + 0.12 * noise(u * 14, v * 210);
  const tone = 0.78 + 0.4 * hash(row * 13 + 5, board * 7 + 1);
  set(out, c, Math.min(1.25, grain * tone) * joint);
};
/** One piece of timber with the grain along u. */
export const timber = (c: Colour): Texture => (u, v, out) => set(out, c, 0.75 + 0.35 * cloud(u * 1.6, v * 38) + 0.12 * noise(u * 9, v * 150));
/** Woven cloth. */
export const cloth = (c: Colour): Texture => (u, v, out) => {
  const weave = 0.5 + 0.25 * (Math.sin(u * 900) + Math.sin(v * 900)) * 0.5;
  set(out, c, 0.82 + 0.14 * weave + 0.14 * cloud(u * 9, v * 9) + 0.1 * noise(u * 160, v * 160));
};
/** A flat-woven rug with stripes, zigzags and a border. */
export const rug = (a: Colour, b: Colour, d: Colour, w: number, h: number): Texture => (u, v, out) => {
  const edge = Math.min(u, w - u, v, h - v);
  const zig = Math.abs(((u * 4) % 1) - 0.5) * 0.16;
  const band = (((v + zig) / 0.22) % 1 + 1) % 1;
  const c = edge < 0.05 ? b : edge < 0.12 ? a : band < 0.18 ? b : band < 0.3 ? d : band < 0.62 ? a : band < 0.7 ? d : a;
  set(out, c, 0.8 + 0.2 * noise(u * 220, v * 220) + 0.12 * cloud(u * 14, v * 14));
};
/** Glazed wall tiles with pale joints. */
export const tiles = (c: Colour, w: number, h: number): Texture => (u, v, out) => {
  const row = Math.floor(v / h);
  const x = u / w + (row % 2) * 0.5;
  const joint = x - Math.floor(x) < 0.025 || v / h - row < 0.05;
  if (joint) set(out, [0.62, 0.6, 0.56], 1);
  else set(out, c, 0.9 + 0.16 * hash(Math.floor(x), row));
};
/** Lime-washed brickwork. */
export const brick = (c: Colour): Texture => (u, v, out) => {
  const row = Math.floor(v / 0.075);
  const x = u / 0.23 + (row % 2) * 0.5;
  const joint = x - Math.floor(x) < 0.05 || v / 0.075 - row < 0.14;
  if (joint) set(out, [0.55, 0.5, 0.44], 0.9 + 0.15 * noise(u * 60, v * 60));
  else set(out, c, 0.65 + 0.55 * hash(Math.floor(x), row) * (0.7 + 0.3 * noise(u * 80, v * 80)) + 0.15 * cloud(u * 12, v * 12));
};
/** A painted seascape or still life for a frame; u, v 0..1. */
export const painting = (seed: number): Texture => (u, v, out) => {
  const mount = Math.min(u, 1 - u, v, 1 - v) < 0.12;
  if (mount) return set(out, [0.86, 0.85, 0.81], 1);
  const hills = 0.45 + 0.16 * cloud(u * 3 + seed * 9, seed) + 0.05 * noise(u * 16, seed);
  const hue = hash(seed, 3);
  if (v < hills) {
    const ground: Colour = hue < 0.4 ? [0.1, 0.22, 0.25] : hue < 0.7 ? [0.42, 0.25, 0.1] : [0.16, 0.24, 0.12];
    return set(out, ground, 0.6 + 0.9 * cloud(u * 9, v * 16 + seed));
  }
  const sun = Math.hypot(u - 0.3 - 0.4 * hash(seed, 8), v - 0.72) < 0.07;
  return sun ? set(out, [0.9, 0.55, 0.2], 1) : set(out, hue < 0.5 ? [0.66, 0.7, 0.72] : [0.78, 0.62, 0.46], 0.75 + 0.35 * cloud(u * 4, v * 9 + seed));
};

/**
 * The view from the mill: a creek at half tide, saltmarsh, a far bank with trees and a boat shed, cloudy sky.
 * x: bearing, y: elevation, both in radians. Writes radiance relative to a bright sky of 1.
 */
export function creekView(x: number, y: number, out: Float64Array): void {
  const bank = 0.012 + 0.008 * cloud(x * 9, 1);
  const treeTop = bank + 0.05 * Math.max(0, cloud(x * 13, 5) - 0.32) * 2 + 0.012 * noise(x * 130, 2);
  if (y > treeTop) {
    const c = cloud(x * 3.2 + 4, y * 9);
    const white = Math.min(1, Math.max(0, (c - 0.42) * 4.2));
    const fade = Math.exp(-y * 3);
    out[0] = (0.3 + 0.28 * fade) * (1 - white) + 0.98 * white;
    out[1] = (0.47 + 0.22 * fade) * (1 - white) + 0.98 * white;
    out[2] = (0.8 + 0.06 * fade) * (1 - white) + 1.0 * white;
    const shade = 0.82 + 0.18 * cloud(x * 9, y * 22 + 3);
    for (let k = 0; k < 3; k++) out[k] *= shade;
    return;
  }
  if (x > 0.1 && x < 0.26 && y > 0.008 && y < 0.075 - Math.abs(x - 0.18) * 0.32) {
    const roof = y > 0.052 - 0.0;
    const plank = Math.abs(((x * 160) % 1) - 0.5) < 0.06 ? 0.7 : 1;
    const door = Math.abs(x - 0.18) < 0.02 && y < 0.038;
    return set(out, roof ? [0.2, 0.17, 0.17] : door ? [0.06, 0.12, 0.16] : [0.36, 0.09, 0.07], plank * (0.85 + 0.25 * noise(x * 300, y * 300)));
  }
  if (y > bank - 0.006) return set(out, [0.07, 0.14, 0.05], 0.35 + 1.3 * noise(x * 240, y * 240) * cloud(x * 40, y * 60));
  const shore = -0.05 - 0.03 * cloud(x * 6, 9);
  if (y > shore) {
    const ripple = noise(x * 90, (y - bank) * 1400) * 0.5 + noise(x * 40, (y - bank) * 500) * 0.5;
    return set(out, [0.42, 0.52, 0.58], 0.55 + 0.6 * ripple);
  }
  const stalk = noise(x * 330, y * 40) * 0.6 + 0.4 * cloud(x * 30, y * 60);
  const mud = cloud(x * 12, y * 40) > 0.56;
  set(out, mud ? [0.2, 0.17, 0.13] : [0.24, 0.3, 0.1], 0.35 + stalk * 0.95);
}
