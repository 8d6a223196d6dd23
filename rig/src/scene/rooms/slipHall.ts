import { as, matt, type Builder, type Material } from '../builder';
import { drape, tube } from '../forms';
import { brass, chair, flash, glow, iron, LIME, oak, steel, table, windowWall, wood } from '../furniture';
import { hash } from '../noise';
import type { Layer, LightSource, Room } from '../room';
import { boards, cloth, plain, plaster, sisal, type Colour } from '../textures';
import { basket, bottle, clock, jug, papers } from '../things';
import { add, type Vec } from '../vector';

const [w, d, h] = [8.6, 13, 4.4];

/** A clinker-built hull of length 2 * half along y, on trestles. */
function hull(b: Builder, middle: Vec, half: number, beam: number, deep: number, paint: Material, turn: number): void {
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const strakes = 8;
  const at = (i: number, j: number, side: number): Vec => {
    const t = (2 * j) / 24 - 1;
    const full = Math.max(0, 1 - Math.abs(t) ** 2.4) ** 0.7;
    const s = i / strakes;
    const x = side * beam * full * Math.sin((s * Math.PI) / 2) ** 0.7 * (1 + 0.015 * (i % 1));
    const z = deep * (1 - Math.cos((s * Math.PI) / 2)) + 0.28 * deep * t * t * s;
    return add(middle, [cos * x - sin * t * half, sin * x + cos * t * half, z]);
  };
  for (const side of [-1, 1]) {
    b.sheet(strakes, 24, (i, j) => at(i, j, side), paint, half * 2, deep);
    b.sheet(strakes, 24, (i, j) => add(at(i, j, side * 0.96), [0, 0, 0.015]), oak, half * 2, deep);
    tube(b, Array.from({ length: 25 }, (_, j) => at(strakes, j, side)), 0.022, oak, 8);
    for (let i = 1; i < strakes; i++) tube(b, Array.from({ length: 25 }, (_, j) => at(i, j, side * 1.004)), 0.006, paint, 5);
  }
  for (const t of [-0.35, 0.3]) {
    const [x, y] = [middle[0] - sin * t * half, middle[1] + cos * t * half];
    b.box([x - beam * 0.9, y - 0.12, middle[2] + deep * 0.72], [beam * 1.8, 0.24, 0.03], oak, turn, 0.006);
    b.box([x - 0.55, y - 0.05, middle[2] - 0.12], [1.1, 0.1, 0.1], wood([0.42, 0.3, 0.18]), turn, 0.006);
    for (const s of [-0.45, 0.45]) b.box([x + s - 0.04, y - 0.04, 0], [0.08, 0.08, middle[2] - 0.1], wood([0.42, 0.3, 0.18]), turn, 0.006);
  }
}

/** Rafters, ties and posts of one truss at depth y. */
function truss(b: Builder, y: number): void {
  const timbers = wood([0.36, 0.235, 0.13], 0.02, 0.2);
  b.box([0, y - 0.09, h - 0.3], [w, 0.18, 0.24], timbers, 0, 0.012);
  for (const side of [0, 1]) {
    const x = (t: number): number => (side ? w - t * w * 0.5 : t * w * 0.5);
    tube(b, [[x(0), y, h - 0.1], [x(1), y, h + 2.1]], 0.1, timbers, 6);
    tube(b, [[x(0.55), y, h - 0.2], [x(0.55), y, h + 1.1]], 0.07, timbers, 6);
  }
  tube(b, [[w / 2, y, h - 0.2], [w / 2, y, h + 2.1]], 0.08, timbers, 6);
}

function furnish(b: Builder): Layer[] {
  const walls = as('wall', matt(plaster([0.73, 0.72, 0.68])));
  const planks = as('ceiling', matt(boards([0.52, 0.4, 0.27], 0.16), 0.02, 0.2));
  b.quad([0, -0.8, 0], [0, d + 0.8, 0], [w, 0, 0], as('floor', matt(boards([0.4, 0.3, 0.2], 0.2), 0.04, 0.06)));
  for (const x of [0, w]) b.quad([x, -0.8, 0], [0, d + 0.8, 0], [0, 0, h], walls);
  b.quad([0, -0.8, 0], [w, 0, 0], [0, 0, h + 2.2], walls);
  b.quad([0, -0.8, h], [0, d + 0.8, 0], [w / 2, 0, 2.2], planks);
  b.quad([w, -0.8, h], [0, d + 0.8, 0], [-w / 2, 0, 2.2], planks);
  const day = windowWall(b, d, w, h, { x: 1.9, z: 0.1, w: 4.8, h: 3.1 }, walls, 6);
  b.triangle([[0, d, h], [w, d, h], [w / 2, d, h + 2.2]], [[0, 0], [w, 0], [w / 2, 2.2]], walls);
  for (let k = 0; k < 5; k++) truss(b, 1.2 + k * 2.7);
  hull(b, [2.5, 4.6, 0.62], 2.0, 0.72, 0.62, matt(plain([0.1, 0.2, 0.24]), 0.05, 0.05), 0.1);
  hull(b, [6.3, 7.4, 0.6], 2.3, 0.8, 0.66, matt(plain([0.62, 0.6, 0.54]), 0.05, 0.05), -0.12);
  // Spars and oars along the walls.
  for (let k = 0; k < 6; k++) tube(b, [[0.16 + 0.02 * k, 1.5, 1.5 + 0.16 * k], [0.16 + 0.02 * k, 8 - 0.4 * k, 1.5 + 0.16 * k]], 0.035, wood([0.5, 0.35, 0.2], 0.05, 0.05), 10);
  for (const y of [2, 4.6, 7.2]) b.box([0, y, 1.36], [0.32, 0.06, 1.0], iron, 0, 0.006);
  for (let k = 0; k < 5; k++) tube(b, [[w - 0.2, 9.5 + k * 0.22, 0], [w - 0.08, 9.5 + k * 0.22, 3.0]], 0.026, wood([0.5, 0.36, 0.21], 0.05, 0.05), 10);
  table(b, [0.3, 9.2, 0], [0.9, 2.6, 0.9], wood([0.42, 0.29, 0.17], 0.03, 0.12));
  for (let k = 0; k < 9; k++) bottle(b, [0.5 + 0.14 * hash(k, 2), 9.4 + k * 0.26, 0.9], 0.2 + 0.1 * hash(k, 4), ([[0.3, 0.12, 0.08], [0.12, 0.2, 0.24], [0.5, 0.46, 0.36]] as Colour[])[k % 3]);
  papers(b, [0.75, 9.8, 0.9], 0.4, 3, 44);
  chair(b, 1.6, 10.4, Math.PI / 2, oak);
  table(b, [5.4, 2.2, 0], [1.6, 0.9, 0.76], wood([0.4, 0.27, 0.15], 0.04, 0.06));
  papers(b, [5.8, 2.4, 0.76], 0.2, 2, 48);
  jug(b, [6.6, 2.75, 0.76], 0.26, [0.5, 0.48, 0.42]);
  chair(b, 5.7, 1.95, Math.PI, oak);
  chair(b, 6.5, 3.35, 0.2, oak);
  for (const [x, y] of [[7.9, 4.2], [8.1, 4.7], [0.6, 12.2]]) basket(b, [x, y, 0], 0.24, 0.4);
  const coil = matt(sisal([0.46, 0.36, 0.21]));
  for (const [x, y] of [[4.3, 3.6], [4.9, 9.8]]) for (let k = 0; k < 6; k++) tube(b, Array.from({ length: 25 }, (_, j) => [x + (0.3 - 0.02 * k) * Math.cos((j * Math.PI) / 12), y + (0.3 - 0.02 * k) * Math.sin((j * Math.PI) / 12), 0.02 + 0.03 * k] as Vec), 0.018, coil, 8);
  drape(b, [w - 0.04, 4.4, 1.4], [0, 2.6, 0], [0, 0, 1.9], [-1, 0, 0], (s, t) => 0.05 + 0.07 * (0.5 + 0.5 * Math.cos(11 * s + 2 * t)), 0.06, matt(cloth([0.45, 0.16, 0.1])), 40);
  clock(b, [w / 2, d - 0.001, 3.85], 0.3);
  const lamps: LightSource[] = [];
  for (let k = 0; k < 6; k++) {
    const [x, y] = [k % 2 ? w - 2.4 : 2.4, 2.6 + Math.floor(k / 2) * 3.6];
    tube(b, [[x, y, 3.3], [x, y, h - 0.1]], 0.006, iron, 6);
    b.turned([x, y, 3.1], [[0.26, 0], [0.255, 0.006], [0.18, 0.11], [0.06, 0.19], [0.02, 0.2]], k % 2 ? steel : brass);
    b.cushion([x, y, 3.12], [0.05, 0.05, 0.06], glow(1, [28, 19, 10.5]), 1);
    lamps.push({ kind: 'bulb', centre: [x, y, 3.1], radius: 0.055, power: [30, 20, 11] });
  }
  for (const x of [0, w - 0.02]) b.box([x, -0.8, 0], [0.02, d + 0.8, 0.16], matt(plain(LIME)), 0, 0.006);
  const pops = Array.from({ length: 16 }, (_, k) => {
    const [side, row] = [k % 2, Math.floor(k / 2)];
    return flash(`flash-${k + 1}`, [side ? w - 0.7 : 0.7, 0.2 + row * 1.65, 2.3 + 0.3 * (row % 3)], [side ? -0.5 : 0.5, 0.5, row % 2 ? 0.8 : 0.25], 300);
  });
  return [{ name: 'day', sources: [day], view: 6 }, { name: 'lamps', sources: lamps, view: 0 }, ...pops];
}

/** The slip hall, where boats are mended and shown: as long as a ship, eighteen lights. */
export const slipHall: Room = { name: 'slip-hall', label: 'Slip hall', furnish, view: { from: [4.1, -0.6, 1.75], to: [4.35, 13, 1.6], fieldOfView: 74 }, drawn: { day: 0.5, lamps: 1.4, 'flash-1': 0.05, 'flash-2': 0.05, 'flash-5': 0.05, 'flash-6': 0.04, 'flash-10': 0.06, 'flash-13': 0.05 } };
