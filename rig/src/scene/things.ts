import { matt, type Builder, type Material } from './builder';
import { disc, drape, sagging, tube, twigs } from './forms';
import { brass, glaze, iron, leaf, oak, stalk, white } from './furniture';
import { hash } from './noise';
import { cloth, plain, printed, wicker, type Colour } from './textures';
import type { Vec } from './vector';

/* Small things that lie about where somebody lives; lengths in metres. */

const COVERS: readonly Colour[] = [[0.33, 0.1, 0.08], [0.1, 0.15, 0.2], [0.5, 0.46, 0.37], [0.13, 0.18, 0.13], [0.4, 0.28, 0.12], [0.16, 0.13, 0.14], [0.6, 0.58, 0.53], [0.22, 0.26, 0.28], [0.36, 0.18, 0.16]];
const covers = COVERS.map((c) => matt(cloth(c), 0.03, 0.25));
const paper = matt(plain([0.62, 0.58, 0.48]));

/** One book standing with its back to the camera, leaning by `lean` radians. */
function book(b: Builder, x: number, y: number, z: number, thick: number, deep: number, tall: number, cover: Material): void {
  b.box([x, y, z], [thick, deep, tall], cover, 0, 0.002);
  b.box([x + 0.002, y + 0.004, z + 0.003], [thick - 0.004, deep - 0.001, tall - 0.001], paper, 0, 0.001);
  if (tall > 0.24) for (const at of [0.12, 0.8]) b.box([x - 0.0004, y - 0.0006, z + tall * at], [thick + 0.0008, 0.004, 0.006], brass, 0, 0.0005);
}

/** Books of a lifetime along x from `from` to `to`, some lying, with gaps where something was taken. */
export function books(b: Builder, from: number, to: number, y: number, z: number, room: number, seed: number): void {
  let x = from;
  for (let k = 0; x < to - 0.05; k++) {
    const [p, q, r] = [hash(k, seed), hash(k + 50, seed), hash(k + 99, seed)];
    if (p > 0.95) {
      x += 0.05 + 0.14 * q;
      continue;
    }
    if (p > 0.88 && to - x > 0.26) {
      for (let n = 0, top = z; n < 2 + Math.floor(q * 3); n++) {
        const thick = 0.02 + 0.02 * hash(n, k + seed);
        b.box([x + 0.01 * hash(n, k), y + 0.01, top], [0.2 + 0.03 * hash(n, seed), 0.15, thick], covers[(k * 5 + n * 2 + seed) % covers.length], 0.06 * (hash(n + 4, k) - 0.5), 0.002);
        top += thick;
      }
      x += 0.25;
      continue;
    }
    const thick = 0.014 + 0.034 * q * q;
    if (x + thick > to) return;
    book(b, x, y + 0.012 * hash(k, seed + 5), z, thick, 0.13 + 0.06 * r, Math.min(room - 0.02, 0.17 + 0.12 * hash(k + 7, seed)), covers[Math.floor(hash(k + 21, seed) * covers.length)]);
    x += thick + 0.001;
  }
}

export function shelf(b: Builder, x: number, y: number, w: number, h: number, timbers: Material): void {
  for (const px of [x, x + w - 0.03]) b.box([px, y - 0.3, 0], [0.03, 0.3, h], timbers);
  b.quad([x, y - 0.005, 0], [w, 0, 0], [0, 0, h], timbers);
  const rows = Math.round(h / 0.36);
  const step = (h - 0.03) / rows;
  for (let r = 0; r <= rows; r++) b.box([x, y - 0.3, r * step], [w, 0.3, 0.03], timbers);
  for (let r = 0; r < rows; r++) {
    const z = r * step + 0.03;
    const things = r % 3 === 1;
    books(b, x + 0.04, x + w - (things ? 0.42 : 0.05), y - 0.25, z, step - 0.04, r * 7 + Math.round(x * 10));
    if (!things) continue;
    if (r === 1) basket(b, [x + w - 0.21, y - 0.16, z], 0.13, 0.2);
    else jug(b, [x + w - 0.2, y - 0.16, z], 0.2, [0.5, 0.52, 0.5]);
  }
}

export function basket(b: Builder, foot: Vec, radius: number, height: number): void {
  const straw = matt(wicker([0.42, 0.29, 0.15]));
  b.turned(foot, [[0, 0], [radius * 0.8, 0], [radius, height * 0.5], [radius * 0.95, height], [radius * 0.9, height], [radius * 0.92, height * 0.5], [radius * 0.7, 0.01]], straw);
}

export function jug(b: Builder, foot: Vec, height: number, colour: Colour): void {
  const s = height / 0.2;
  b.turned(foot, [[0, 0], [0.045 * s, 0], [0.06 * s, 0.04 * s], [0.062 * s, 0.08 * s], [0.04 * s, 0.14 * s], [0.037 * s, 0.17 * s], [0.048 * s, 0.2 * s], [0.044 * s, 0.2 * s], [0.034 * s, 0.17 * s]], glaze(colour));
  tube(b, [[0.04, 0, 0.18], [0.085, 0, 0.16], [0.09, 0, 0.1], [0.055, 0, 0.07]].map(([x, y, z]) => [foot[0] + x * s, foot[1] + y * s, foot[2] + z * s] as Vec), 0.007 * s, glaze(colour));
}

/** A vase with twigs. */
export function bouquet(b: Builder, foot: Vec, height: number, colour: Colour): void {
  b.turned(foot, [[0, 0], [0.04, 0], [0.055, 0.05], [0.05, 0.1], [0.026, 0.16], [0.03, 0.19], [0.026, 0.19]], glaze(colour));
  twigs(b, [foot[0], foot[1], foot[2] + 0.16], height, 7, leaf, stalk);
}

export function mug(b: Builder, foot: Vec, colour: Colour): void {
  b.turned(foot, [[0, 0], [0.034, 0], [0.039, 0.01], [0.04, 0.09], [0.037, 0.09], [0.036, 0.02], [0, 0.016]], glaze(colour));
  disc(b, [foot[0], foot[1], foot[2] + 0.075], 0.036, matt(plain([0.05, 0.025, 0.012]), 0.05, 0.02));
  tube(b, [[0.038, 0, 0.078], [0.062, 0.008, 0.07], [0.064, 0.008, 0.035], [0.038, 0, 0.022]].map(([x, y, z]) => [foot[0] + x, foot[1] + y, foot[2] + z] as Vec), 0.0055, glaze(colour));
}

export function bowl(b: Builder, foot: Vec, radius: number, colour: Colour): void {
  const s = radius / 0.15;
  b.turned(foot, [[0, 0], [0.055, 0], [0.06, 0.008], [0.115, 0.045], [0.142, 0.085], [0.15, 0.1], [0.145, 0.1], [0.135, 0.08], [0.1, 0.04], [0.03, 0.016], [0, 0.014]].map(([r, z]) => [r * s, z * s] as const), glaze(colour));
}

export function fruit(b: Builder, middle: Vec, colour: Colour, count: number): void {
  const skin = matt(plain(colour), 0.03, 0.2);
  for (let k = 0; k < count; k++) {
    const a = k * 2.4;
    const r = k === 0 ? 0 : 0.06;
    b.cushion([middle[0] + r * Math.cos(a), middle[1] + r * Math.sin(a), middle[2] + (k === 0 ? 0.035 : 0)], [0.04, 0.04, 0.037], skin, 1);
  }
}

/** Printed things lying open or in a pile. */
export function papers(b: Builder, corner: Vec, turn: number, count: number, seed: number): void {
  let z = corner[2];
  for (let k = 0; k < count; k++) {
    const thick = 0.005 + 0.009 * hash(k, seed);
    const [w, d] = [0.2 + 0.03 * hash(k, seed + 1), 0.27 + 0.02 * hash(k, seed + 2)];
    const spin = turn + 0.25 * (hash(k, seed + 3) - 0.5);
    b.box([corner[0], corner[1], z], [w, d, thick], paper, spin, 0.001);
    z += thick;
    const [cos, sin] = [Math.cos(spin), Math.sin(spin)];
    const middle: Vec = [corner[0] + w / 2, corner[1] + d / 2, z + 0.0006];
    const at = (x: number, y: number): Vec => [middle[0] + cos * x - sin * y, middle[1] + sin * x + cos * y, middle[2]];
    const [o, u, v] = [at(-w / 2, -d / 2), at(w / 2, -d / 2), at(-w / 2, d / 2)];
    if (k === count - 1) b.quad(o, [u[0] - o[0], u[1] - o[1], 0], [v[0] - o[0], v[1] - o[1], 0], matt(printed(seed + k, COVERS[(seed + k) % COVERS.length]), 0.04, 0.12), true);
  }
}

export function candle(b: Builder, foot: Vec, height: number): void {
  b.turned(foot, [[0, 0], [0.045, 0], [0.047, 0.008], [0.014, 0.014], [0.012, height * 0.4], [0.02, height * 0.42]], brass);
  b.turned([foot[0], foot[1], foot[2] + height * 0.42], [[0.011, 0], [0.011, height * 0.58], [0, height * 0.6]], matt(plain([0.78, 0.74, 0.62]), 0.02, 0.3));
}

/** A double socket or a switch on a wall. @param out the side of the wall that it is on; along x or y */
export function socket(b: Builder, at: Vec, out: Vec, wide = 0.15): void {
  const along: Vec = [Math.abs(out[1]), Math.abs(out[0]), 0];
  const size: Vec = [along[0] * wide + Math.abs(out[0]) * 0.009, along[1] * wide + Math.abs(out[1]) * 0.009, 0.086];
  const corner: Vec = [at[0] - (along[0] * wide) / 2 + Math.min(0, out[0]) * 0.009, at[1] - (along[1] * wide) / 2 + Math.min(0, out[1]) * 0.009, at[2]];
  b.box(corner, size, white, 0, 0.003);
  for (const side of wide > 0.1 ? [-0.25, 0.25] : [0]) {
    const middle: Vec = [at[0] + along[0] * wide * side + out[0] * 0.01, at[1] + along[1] * wide * side + out[1] * 0.01, at[2] + 0.03];
    b.box([middle[0] - 0.008 * along[0] - 0.001, middle[1] - 0.008 * along[1] - 0.001, middle[2]], [0.016 * along[0] + 0.002, 0.016 * along[1] + 0.002, 0.02], wide > 0.1 ? iron : white, 0, 0.002);
  }
}

/** A ribbed radiator under a window, standing off the wall at depth y. */
export function radiator(b: Builder, x: number, y: number, w: number, h: number): void {
  const count = Math.round(w / 0.055);
  for (let k = 0; k < count; k++) b.cushion([x + (k + 0.5) * 0.055, y - 0.09, 0.12 + h / 2], [0.021, 0.05, h / 2], white, 0.45);
  for (const z of [0.17, 0.08 + h]) tube(b, [[x, y - 0.09, z], [x + w, y - 0.09, z]], 0.016, white);
  tube(b, [[x - 0.02, y - 0.09, 0.17], [x - 0.06, y - 0.09, 0.16], [x - 0.06, y - 0.09, 0]], 0.009, brass);
}

/** A coat or towel on a peg of a wall that faces along `out`. */
export function hung(b: Builder, peg: Vec, along: Vec, out: Vec, width: number, drop: number, material: Material): void {
  tube(b, [peg, [peg[0] + out[0] * 0.06, peg[1] + out[1] * 0.06, peg[2] + 0.01]], 0.008, brass);
  const corner: Vec = [peg[0] - (along[0] * width) / 2 + out[0] * 0.03, peg[1] - (along[1] * width) / 2 + out[1] * 0.03, peg[2] - drop];
  drape(b, corner, [along[0] * width, along[1] * width, 0], [0, 0, drop], out, (s, t) => 0.03 + 0.05 * (1 - t) * (0.5 + 0.5 * Math.cos(9 * s + 2 * t)) * (1 - Math.abs(2 * s - 1) * t), 0.05, material);
}

/** A rod with rings for a curtain. */
export function rail(b: Builder, from: Vec, to: Vec, rings: readonly number[]): void {
  tube(b, [from, to], 0.012, iron, 10);
  for (const end of [from, to]) b.cushion(end, [0.024, 0.024, 0.024], iron, 1);
  for (const t of rings) {
    const m: Vec = [from[0] + (to[0] - from[0]) * t, from[1] + (to[1] - from[1]) * t, from[2] + (to[2] - from[2]) * t];
    tube(b, Array.from({ length: 11 }, (_, k) => [m[0], m[1] + 0.02 * Math.sin((k * Math.PI) / 5), m[2] - 0.006 + 0.02 * Math.cos((k * Math.PI) / 5)] as Vec), 0.0025, iron, 6);
  }
}

/** A cable from a lamp's foot to the wall, lying on the floor. */
export function cable(b: Builder, from: Vec, to: Vec, colour: Colour = [0.5, 0.48, 0.44]): void {
  const bend = sagging(from, to, 0.12, [from[1] - to[1], to[0] - from[0], 0].map((v) => v / (Math.hypot(from[0] - to[0], from[1] - to[1]) + 1e-6)) as unknown as Vec);
  tube(b, bend, 0.0035, matt(plain(colour)), 6);
}

/** A door of boards, open against a wall: hinge, width, height, turned by `turn`. */
export function boardDoor(b: Builder, hinge: Vec, w: number, h: number, turn: number, paint: Material): void {
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const count = Math.round(w / 0.12);
  for (let k = 0; k < count; k++) {
    const u = ((k + 0.5) * w) / count;
    b.box([hinge[0] + cos * u - w / count / 2 + 0.001, hinge[1] + sin * u - 0.016, hinge[2]], [w / count - 0.003, 0.032, h], paint, turn, 0.004);
  }
  const knob: Vec = [hinge[0] + cos * (w - 0.07) + sin * 0.04, hinge[1] + sin * (w - 0.07) - cos * 0.04, hinge[2] + 1.02];
  tube(b, [[hinge[0] + cos * (w - 0.07), hinge[1] + sin * (w - 0.07), knob[2]], knob, [knob[0] - cos * 0.1, knob[1] - sin * 0.1, knob[2]]], 0.009, brass);
}

/** A bottle. */
export function bottle(b: Builder, foot: Vec, height: number, colour: Colour): void {
  const s = height / 0.28;
  b.turned(foot, [[0, 0], [0.034, 0], [0.036, 0.01], [0.036, 0.17], [0.028, 0.2], [0.013, 0.23], [0.0125, 0.27], [0.015, 0.28], [0.0, 0.28]].map(([r, z]) => [r * s, z * s] as const), matt(plain(colour), 0.06, 0.02));
}

/** A clock on a wall that faces the camera. */
export function clock(b: Builder, middle: Vec, radius: number): void {
  const [x, y, z] = middle;
  const at = (i: number, j: number): Vec => [x + radius * i * Math.cos((j * Math.PI) / 20), y - 0.03, z + radius * i * Math.sin((j * Math.PI) / 20)];
  b.sheet(1, 40, at, white, 1, 1);
  tube(b, Array.from({ length: 41 }, (_, k) => at(1, k)), 0.012, oak, 8);
  tube(b, [[x, y - 0.034, z], [x + radius * 0.42, y - 0.034, z + radius * 0.3]], 0.004, iron, 5);
  tube(b, [[x, y - 0.036, z], [x - radius * 0.2, y - 0.036, z + radius * 0.76]], 0.003, iron, 5);
  for (let k = 0; k < 12; k++) b.box([x + radius * 0.85 * Math.cos((k * Math.PI) / 6) - 0.004, y - 0.033, z + radius * 0.85 * Math.sin((k * Math.PI) / 6) - 0.004], [0.008, 0.003, 0.008], iron, 0, 0.001);
}

