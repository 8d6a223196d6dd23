import { cloud, hash, noise } from './noise';

/* Colours of surfaces, linear sRGB reflectance 0..1, as functions of place. All made up here. */

export type Colour = readonly [number, number, number];
/** u, v: surface coordinates in metres (or 0..1 for pictures). Writes reflectance into out. */
export type Texture = (u: number, v: number, out: Float64Array) => void;

function set(out: Float64Array, c: Colour, k: number): void {
  out[0] = c[0] * k;
  out[1] = c[1] * k;
  out[2] = c[2] * k;
}

/** As `set`, warmer or colder by a share of `hue`. */
function tint(out: Float64Array, c: Colour, k: number, hue: number): void {
  out[0] = c[0] * k * (1 + hue);
  out[1] = c[1] * k;
  out[2] = c[2] * k * (1 - hue);
}

/** Distance to the nearest joint of a row of things `size` wide, in metres. */
const toJoint = (at: number, size: number): number => {
  const within = at - Math.floor(at / size) * size;
  return Math.min(within, size - within);
};

/** 0 below a, 1 above b, smooth between. */
export const ramp = (x: number, a: number, b: number): number => {
  const t = Math.min(1, Math.max(0, (x - a) / (b - a)));
  return t * t * (3 - 2 * t);
};

export const plain = (c: Colour): Texture => (_u, _v, out) => set(out, c, 1);

/** Painted plaster: rolled on, a little uneven. */
export const plaster = (c: Colour): Texture => (u, v, out) => tint(out, c, 0.955 + 0.05 * cloud(u * 1.7, v * 1.7) + 0.018 * noise(u * 60, v * 60) + 0.02 * noise(u * 240, v * 240), 0.012 * (noise(u * 0.8 + 5, v * 0.8) - 0.5));

/** Brightness of sawn timber with its grain along u. */
function grain(u: number, v: number): number {
  const bend = cloud(u * 0.55, v * 2.2 + 11);
  const ring = 0.5 + 0.5 * Math.sin(2 * Math.PI * (v * 21 + 3.2 * bend));
  const pores = noise(u * 9, v * 420) * noise(u * 31, v * 900);
  return 0.8 + 0.16 * cloud(u * 1.3, v * 17) + 0.13 * ring * ring - 0.22 * pores + 0.06 * noise(u * 5, v * 150);
}

/** One piece of timber with the grain along u. */
export const timber = (c: Colour): Texture => (u, v, out) => {
  const g = grain(u, v);
  tint(out, c, g, 0.1 * (0.9 - g));
};

/** Boards along u, `width` metres wide. */
export const boards = (c: Colour, width: number): Texture => (u, v, out) => {
  const row = Math.floor(v / width);
  const length = 1.7;
  const at = u + hash(row, 7) * length;
  const board = Math.floor(at / length);
  const joint = Math.min(toJoint(v, width), toJoint(at, length));
  const worn = 0.92 + 0.14 * cloud(u * 1.1 + 3, v * 1.1);
  const g = grain(u + 31 * hash(row, board), v + 5 * hash(board, row)) * worn;
  const dark = 0.32 + 0.68 * ramp(joint, 0.0006, 0.0024);
  tint(out, c, Math.min(1.3, g * (0.8 + 0.36 * hash(row * 13 + 5, board * 7 + 1))) * dark, 0.09 * (hash(row + 3, board) - 0.5));
};

/** Linen or wool: threads of uneven thickness across each other. */
export const cloth = (c: Colour): Texture => (u, v, out) => {
  const threads = noise(u * 700, v * 90) + noise(u * 90 + 40, v * 700);
  set(out, c, 0.8 + 0.14 * threads + 0.1 * cloud(u * 5, v * 5) + 0.05 * noise(u * 48, v * 48));
};

/** Ribbed or knitted cloth, ribs along u every `rib` metres. */
export const knit = (c: Colour, rib: number): Texture => (u, v, out) => {
  const across = 0.5 + 0.5 * Math.cos((2 * Math.PI * v) / rib + 0.8 * noise(u * 20, v * 20));
  const stitch = 0.5 + 0.5 * Math.cos((2 * Math.PI * (u + 0.4 * Math.abs((v / rib) % 1))) / (rib * 0.7));
  set(out, c, 0.66 + 0.24 * across + 0.1 * stitch + 0.12 * cloud(u * 8, v * 8));
};

/** A flat-woven rug with stripes, zigzags and a border. */
export const rug = (a: Colour, b: Colour, d: Colour, w: number, h: number): Texture => (u, v, out) => {
  const [x, y] = [u + 0.012 * (noise(u * 7, v * 7) - 0.5), v + 0.016 * (noise(u * 5 + 9, v * 5) - 0.5)];
  const edge = Math.min(x, w - x, y, h - y);
  const zig = Math.abs((((x * 4) % 1) + 1) % 1 - 0.5) * 0.16;
  const band = ((((y + zig) / 0.22) % 1) + 1) % 1;
  const c = edge < 0.05 ? b : edge < 0.12 ? a : band < 0.18 ? b : band < 0.3 ? d : band < 0.62 ? a : band < 0.7 ? d : a;
  const yarn = noise(u * 130, v * 420) * 0.24 + noise(u * 300, v * 900) * 0.12;
  tint(out, c, 0.72 + yarn + 0.16 * cloud(u * 3, v * 9), 0.05 * (noise(u * 3, v * 30) - 0.5));
};

/** Sisal or jute, plaited. */
export const sisal = (c: Colour): Texture => (u, v, out) => {
  const row = Math.floor(v / 0.012);
  const plait = 0.5 + 0.5 * Math.cos((2 * Math.PI * (u / 0.016 + (row % 2) * 0.5)));
  const across = 0.5 + 0.5 * Math.cos(2 * Math.PI * (v / 0.012 - row - 0.5));
  tint(out, c, 0.5 + 0.3 * plait * across + 0.2 * noise(u * 300, v * 300) + 0.14 * cloud(u * 4, v * 4), 0.1 * (noise(u * 40, v * 90) - 0.5));
};

/** Glazed tiles with pale joints. */
export const tiles = (c: Colour, w: number, h: number): Texture => (u, v, out) => {
  const row = Math.floor(v / h);
  const x = u + (row % 2) * 0.5 * w;
  const tile = Math.floor(x / w);
  const joint = Math.min(toJoint(x, w), toJoint(v, h));
  const k = ramp(joint, 0.0012, 0.0024);
  const glaze = 0.9 + 0.13 * hash(tile, row) + 0.07 * cloud(u * 11 + 3 * hash(row, tile), v * 11) - 0.1 * (1 - ramp(joint, 0.002, 0.006));
  const lime = 0.5 + 0.16 * noise(u * 70, v * 70) + 0.06 * noise(u * 500, v * 500);
  out[0] = k * c[0] * glaze + (1 - k) * lime;
  out[1] = k * c[1] * glaze + (1 - k) * lime * 0.97;
  out[2] = k * c[2] * glaze * (0.96 + 0.08 * hash(row + 9, tile)) + (1 - k) * lime * 0.9;
};

/** Lime-washed brickwork with raked joints. */
export const brick = (c: Colour): Texture => (u, v, out) => {
  const [w, h] = [0.23, 0.075];
  const wavy = 0.0035 * (noise(u * 14, v * 14) - 0.5) + 0.0025 * (noise(u * 70, v * 70) - 0.5);
  const y = v + wavy;
  const row = Math.floor(y / h);
  const x = u + (row % 2) * 0.5 * w + wavy + 0.012 * (hash(row, 4) - 0.5);
  const stone = Math.floor(x / w);
  const joint = Math.min(toJoint(x, w), toJoint(y, h));
  const k = ramp(joint, 0.0042, 0.0068);
  const fired = hash(stone, row);
  const face = 0.55 + 0.5 * fired + 0.26 * cloud(u * 16 + 7 * fired, v * 16) - 0.25 * ramp(noise(u * 130, v * 130), 0.72, 0.9);
  const warm = 0.22 * (hash(row + 11, stone) - 0.5);
  const wash = 0.55 * ramp(cloud(u * 3.1, v * 3.1 + 2), 0.55, 0.75) * noise(u * 45, v * 45);
  const mortar = (0.42 + 0.2 * noise(u * 90, v * 90) + 0.08 * noise(u * 400, v * 400)) * (0.72 + 0.28 * ramp(joint, 0, 0.004));
  for (let i = 0; i < 3; i++) {
    const body = c[i] * face * (1 + (i === 0 ? warm : i === 2 ? -warm : 0)) * (1 - wash) + wash * 0.62;
    out[i] = k * body + (1 - k) * mortar * (i === 0 ? 1 : i === 1 ? 0.93 : 0.82);
  }
};

/** Wickerwork about a basket. */
export const wicker = (c: Colour): Texture => (u, v, out) => {
  const row = Math.floor(v / 0.014);
  const post = 0.5 + 0.5 * Math.cos(2 * Math.PI * (u / 0.05 + (row % 2) * 0.5));
  const withy = 0.5 + 0.5 * Math.cos(2 * Math.PI * (v / 0.014 - row - 0.5));
  tint(out, c, (0.35 + 0.65 * withy) * (0.6 + 0.4 * post) + 0.15 * noise(u * 160, v * 40), 0.1 * (hash(row, 2) - 0.5));
};

/** Rough grass. */
export const turf = (c: Colour): Texture => (u, v, out) => {
  const blades = noise(u * 60, v * 14) * noise(u * 17 + 3, v * 70);
  tint(out, c, 0.45 + 0.9 * blades + 0.5 * cloud(u * 1.2, v * 1.2), 0.5 * (cloud(u * 0.5, v * 0.5) - 0.4));
};

/** A leaf: midrib and veins; u along it 0..1, v across -1..1. */
export const foliage = (c: Colour): Texture => (u, v, out) => {
  const rib = 1 - ramp(Math.abs(v), 0.02, 0.07);
  const vein = 0.5 + 0.5 * Math.cos(2 * Math.PI * (u * 9 - Math.abs(v) * 2.2));
  tint(out, c, 0.85 + 0.5 * rib + 0.14 * vein * vein + 0.22 * (cloud(u * 5 + v, v * 3) - 0.5), 0.15 * (noise(u * 3, v + 7) - 0.5));
};

/** Printed paper: a block of text or a photograph on a page, u, v 0..1. */
export const printed = (seed: number, ground: Colour): Texture => (u, v, out) => {
  const picture = v > 0.35 + 0.2 * hash(seed, 1) && u > 0.08 && u < 0.92 && v < 0.93;
  if (picture) {
    const k = cloud(u * 4 + seed, v * 3);
    return set(out, [0.15 + 0.6 * k, 0.2 + 0.4 * cloud(u * 3, v * 5 + seed), 0.18 + 0.3 * hash(seed, 2)], 0.9);
  }
  const line = v * 22 - Math.floor(v * 22) < 0.45 && u > 0.1 && u < 0.55 + 0.4 * hash(Math.floor(v * 22), seed) && v > 0.06 && v < 0.9;
  set(out, ground, line ? 0.3 + 0.4 * noise(u * 120, v * 22) : 1);
};

/** A painted landscape for a frame, with a mount; u, v 0..1. */
export const painting = (seed: number): Texture => (u, v, out) => {
  const rim = Math.min(u, 1 - u, v, 1 - v);
  if (rim < 0.12) return set(out, [0.84, 0.83, 0.79], (rim > 0.115 ? 0.7 : 1) * (0.97 + 0.05 * noise(u * 300, v * 300)));
  const stroke = 0.55 * noise(u * 60 + seed, v * 150) + 0.45 * noise(u * 190, v * 60 + seed);
  const hue = hash(seed, 3);
  const far = 0.55 + 0.12 * cloud(u * 2.2 + seed * 9, seed) + 0.012 * stroke;
  const near = 0.4 + 0.14 * cloud(u * 3.1 + seed * 5, seed + 4) + 0.03 * stroke;
  if (v < near) {
    const ground: Colour = hue < 0.4 ? [0.12, 0.2, 0.2] : hue < 0.7 ? [0.36, 0.24, 0.11] : [0.17, 0.22, 0.11];
    return tint(out, ground, 0.45 + 0.9 * cloud(u * 7, v * 18 + seed) + 0.4 * (stroke - 0.5), 0.5 * (cloud(u * 5 + 2, v * 5) - 0.5));
  }
  if (v < far) return tint(out, [0.3, 0.36, 0.4], 0.8 + 0.4 * cloud(u * 9, v * 9 + seed) + 0.25 * (stroke - 0.5), 0.1);
  const glow = Math.exp(-(((u - 0.3 - 0.4 * hash(seed, 8)) / 0.25) ** 2) - ((v - far) / 0.16) ** 2);
  const sky: Colour = hue < 0.5 ? [0.55, 0.6, 0.63] : [0.66, 0.56, 0.46];
  tint(out, sky, 0.8 + 0.35 * cloud(u * 3, v * 8 + seed) + 0.3 * glow + 0.16 * (stroke - 0.5), 0.22 * glow);
};
