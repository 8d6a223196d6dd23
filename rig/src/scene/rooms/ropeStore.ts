import { as, matt, type Builder } from '../builder';
import { tube } from '../forms';
import { flash, glow, iron, oak, windowWall, wood } from '../furniture';
import { hash } from '../noise';
import type { Layer, LightSource, Room } from '../room';
import { boards, cloth, plain, sisal } from '../textures';
import { basket, bottle, jug } from '../things';
import type { Vec } from '../vector';

const [w, d, h] = [2.3, 9.2, 2.55];

const hemp = [matt(sisal([0.46, 0.36, 0.21])), matt(sisal([0.36, 0.29, 0.18])), matt(sisal([0.56, 0.5, 0.38]))];

/** A coil of rope on a peg of a side wall. */
function coil(b: Builder, wall: number, y: number, z: number, radius: number, turns: number, seed: number): void {
  const out = wall === 0 ? 1 : -1;
  const rope = hemp[Math.floor(hash(seed, 3) * hemp.length)];
  tube(b, [[wall, y, z], [wall + out * 0.16, y, z + 0.02]], 0.014, oak, 8);
  const path: Vec[] = [];
  for (let k = 0; k <= turns * 18; k++) {
    const a = (k / 18) * 2 * Math.PI;
    const r = radius * (1 + 0.06 * Math.sin(k * 0.31 + seed));
    path.push([wall + out * (0.035 + 0.1 * (k / (turns * 18))), y + r * 0.82 * Math.sin(a), z - r + r * Math.cos(a) - 0.015 * hash(Math.floor(k / 18), seed)]);
  }
  tube(b, path, 0.011, rope, 7);
}

function furnish(b: Builder): Layer[] {
  const planks = as('wall', matt(boards([0.47, 0.36, 0.23], 0.125), 0.02, 0.25));
  b.quad([0, -0.8, 0], [0, d + 0.8, 0], [w, 0, 0], as('floor', matt(boards([0.36, 0.26, 0.16], 0.16), 0.03, 0.1)));
  b.quad([0, -0.8, h], [0, d + 0.8, 0], [w, 0, 0], as('ceiling', matt(boards([0.55, 0.44, 0.3], 0.125))));
  b.quad([0, -0.8, 0], [0, d + 0.8, 0], [0, 0, h], planks);
  b.quad([w, -0.8, 0], [0, d + 0.8, 0], [0, 0, h], planks);
  b.quad([0, -0.8, 0], [w, 0, 0], [0, 0, h], planks);
  const day = windowWall(b, d, w, h, { x: 0.7, z: 1.05, w: 0.9, h: 0.95 }, planks, 2);
  for (let k = 0; k < 16; k++) {
    const y = 0.1 + k * 0.6;
    for (const x of [0, w - 0.07]) b.box([x, y, 0], [0.07, 0.09, h], wood([0.38, 0.26, 0.15], 0.02, 0.2), 0, 0.006);
    b.box([0, y, h - 0.12], [w, 0.09, 0.16], wood([0.38, 0.26, 0.15], 0.02, 0.2), 0, 0.006);
  }
  for (let k = 0; k < 15; k++) {
    const y = 0.42 + k * 0.6;
    for (const wall of [0, w]) {
      const seed = k * 2 + (wall ? 1 : 0);
      coil(b, wall, y, 1.95, 0.17 + 0.05 * hash(seed, 1), 5, seed);
      if (hash(seed, 7) > 0.25) coil(b, wall, y, 1.3, 0.14 + 0.06 * hash(seed, 9), 4, seed + 40);
    }
  }
  // Benches with tarred drums and blocks below the pegs.
  for (const x of [0.02, w - 0.36]) b.box([x, 1.2, 0.38], [0.34, 6.6, 0.04], wood([0.4, 0.28, 0.165], 0.03, 0.12), 0, 0.006);
  for (let k = 0; k < 9; k++) {
    const x = k % 2 ? w - 0.19 : 0.19;
    const y = 1.5 + k * 0.78;
    if (k % 3 === 0) basket(b, [x, y, 0.42], 0.13, 0.2);
    else if (k % 3 === 1) b.turned([x, y, 0.42], [[0, 0], [0.11, 0], [0.12, 0.02], [0.12, 0.24], [0.11, 0.26], [0, 0.26]], matt(plain([0.09, 0.1, 0.11]), 0.05, 0.12));
    else bottle(b, [x, y, 0.42], 0.3, [0.12, 0.17, 0.1]);
    b.box([x - 0.05, y + 0.3, 0.42], [0.1, 0.16, 0.12], matt(cloth([0.4, 0.3, 0.18])), 0.4, 0.03);
    jug(b, [x, y + 0.1, 0], 0.24, [0.3, 0.22, 0.16]);
  }
  const lamps: LightSource[] = [];
  for (const y of [2.2, 5.8]) {
    tube(b, [[w / 2, y, h - 0.1], [w / 2, y, h - 0.3]], 0.004, iron, 6);
    b.cushion([w / 2, y, h - 0.36], [0.04, 0.04, 0.055], glow(1, [30, 19, 10]), 1);
    lamps.push({ kind: 'bulb', centre: [w / 2, y, h - 0.36], radius: 0.045, power: [6, 4, 2.1] });
  }
  return [
    { name: 'day', sources: [day], view: 6 },
    { name: 'lamps', sources: lamps, view: 0 },
    flash('flash-1', [1.2, -0.4, 1.95], [0, 0.9, 0.35], 260),
    flash('flash-2', [1.15, 8.6, 1.9], [0, -0.9, 0.4], 240),
  ];
}

/** The rope store: long and narrow, planks and pegs in a rhythm, lit from both ends. */
export const ropeStore: Room = { name: 'rope-store', label: 'Rope store', furnish, view: { from: [1.2, -0.6, 1.42], to: [1.12, 9.2, 1.28], fieldOfView: 64, roll: -0.5 } };
