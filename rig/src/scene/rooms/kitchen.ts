import { matt, type Builder } from '../builder';
import { plant, tube } from '../forms';
import { chair, clay, flash, glow, iron, leaf, LIME, oak, picture, shell, stalk, steel, table, white, windowWall, wood } from '../furniture';
import type { Layer, LightSource, Room } from '../room';
import { cloth, plain, plaster, rug, tiles } from '../textures';
import { bottle, bowl, clock, fruit, hung, jug, mug, papers, socket } from '../things';

const [w, d, h] = [4.6, 4.3, 2.5];

/** Painted units along the far wall with what stands on them. */
function units(b: Builder): void {
  const unit = matt(plain([0.16, 0.25, 0.27]), 0.04, 0.15);
  const panel = matt(plain([0.17, 0.26, 0.28]), 0.04, 0.15);
  for (let k = 0; k < 6; k++) {
    const x = 0.1 + k * 0.73;
    b.box([x, d - 0.6, 0.08], [0.71, 0.6, 0.8], unit);
    tube(b, [[x + 0.26, d - 0.612, 0.75], [x + 0.26, d - 0.64, 0.75], [x + 0.45, d - 0.64, 0.75], [x + 0.45, d - 0.612, 0.75]], 0.006, steel);
    // A framed door under a drawer.
    for (const [px, pz, pw, ph] of [[0.03, 0.1, 0.65, 0.07], [0.03, 0.55, 0.65, 0.07], [0.03, 0.1, 0.07, 0.52], [0.61, 0.1, 0.07, 0.52], [0.03, 0.66, 0.65, 0.16]]) b.box([x + px, d - 0.615, pz + 0.02], [pw, 0.015, ph], panel, 0, 0.003);
  }
  b.box([0, d - 0.64, 0.88], [w, 0.64, 0.04], wood([0.4, 0.25, 0.12], 0.05, 0.05), 0, 0.006);
  const glazed = matt(tiles([0.7, 0.71, 0.66], 0.15, 0.075), 0.06, 0.02);
  b.quad([0, d - 0.012, 0.92], [1.5, 0, 0], [0, 0, 0.55], glazed);
  b.quad([2.9, d - 0.012, 0.92], [1.7, 0, 0], [0, 0, 0.55], glazed);
  for (const x of [0.2, 3.1]) {
    b.box([x, d - 0.24, 1.62], [1.2, 0.24, 0.035], oak);
    for (const at of [x + 0.08, x + 1.08]) tube(b, [[at, d - 0.02, 1.42], [at, d - 0.03, 1.6], [at, d - 0.2, 1.612]], 0.008, iron);
    for (let k = 0; k < 4; k++) b.turned([x + 0.12 + k * 0.19, d - 0.12, 1.655], [[0, 0], [0.045, 0], [0.05, 0.05 + 0.03 * (k % 3)], [0.046, 0.12 + 0.03 * (k % 3)], [0.05, 0.125 + 0.03 * (k % 3)], [0.012, 0.14 + 0.03 * (k % 3)], [0, 0.155 + 0.03 * (k % 3)]], k % 2 ? clay : white);
    for (let k = 0; k < 5; k++) b.turned([x + 0.98, d - 0.12, 1.655 + k * 0.014], [[0, 0], [0.06, 0.002], [0.1, 0.014], [0.098, 0.017], [0.055, 0.006]], white);
    for (const at of [0.25, 0.5, 0.75]) mug(b, [x + at, d - 0.2, 1.655], at > 0.4 ? [0.2, 0.26, 0.3] : [0.62, 0.58, 0.5]);
  }
  b.turned([0.6, d - 0.3, 0.92], [[0, 0], [0.09, 0], [0.1, 0.1], [0.06, 0.19], [0.02, 0.2], [0.018, 0.22], [0, 0.225]], steel);
  tube(b, [[0.67, d - 0.3, 1.04], [0.74, d - 0.3, 1.1], [0.745, d - 0.3, 1.13]], 0.014, steel);
  b.box([0.85, d - 0.4, 0.92], [0.34, 0.24, 0.018], wood([0.45, 0.3, 0.16]), 0.1, 0.006);
  b.cushion([1.0, d - 0.28, 0.975], [0.11, 0.065, 0.05], matt(cloth([0.44, 0.26, 0.11])), 0.7, 0.3);
  b.turned([3.5, d - 0.3, 0.92], [[0, 0], [0.06, 0], [0.06, 0.16], [0.055, 0.16]], clay);
  for (let k = 0; k < 5; k++) tube(b, [[3.5, d - 0.3, 0.95], [3.5 + 0.06 * Math.cos(k * 1.4), d - 0.3 + 0.05 * Math.sin(k * 1.4), 1.18 + 0.02 * k]], 0.006, k % 2 ? oak : steel);
  bottle(b, [3.75, d - 0.22, 0.92], 0.29, [0.06, 0.09, 0.03]);
  bottle(b, [3.86, d - 0.26, 0.92], 0.24, [0.35, 0.24, 0.06]);
  // A deep sink and its tap under the window.
  b.box([1.95, d - 0.62, 0.66], [0.6, 0.46, 0.265], white, 0, 0.02);
  b.box([2.0, d - 0.58, 0.915], [0.5, 0.36, 0.012], matt(plain([0.45, 0.45, 0.44]), 0.06, 0.03));
  tube(b, [[2.25, d - 0.12, 0.92], [2.25, d - 0.12, 1.14], [2.25, d - 0.17, 1.19], [2.25, d - 0.26, 1.18], [2.25, d - 0.27, 1.14]], 0.012, steel, 12);
}

function furnish(b: Builder): Layer[] {
  const bulbs: LightSource[] = [];
  const walls = matt(plaster([0.76, 0.7, 0.59]));
  shell(b, w, d, h, matt(tiles([0.32, 0.17, 0.115], 0.2, 0.2), 0.04, 0.06), [walls, walls, walls], 3);
  const day = windowWall(b, d, w, h, { x: 1.55, z: 1.1, w: 1.3, h: 0.95 }, matt(plaster(LIME)), 2);
  units(b);
  table(b, [1.35, 1.35, 0], [1.75, 0.95, 0.74], wood([0.44, 0.29, 0.155], 0.045, 0.05));
  chair(b, 1.75, 1.15, 0.15 + Math.PI, oak);
  chair(b, 2.65, 1.1, -0.1 + Math.PI, oak);
  chair(b, 1.8, 2.6, 0.1, oak);
  chair(b, 2.7, 2.62, -0.12, oak);
  bowl(b, [2.2, 1.85, 0.74], 0.17, [0.66, 0.62, 0.54]);
  fruit(b, [2.2, 1.85, 0.82], [0.52, 0.27, 0.06], 5);
  for (const x of [1.75, 2.7]) b.turned([x, 1.65, 0.741], [[0, 0.004], [0.1, 0.004], [0.13, 0.018], [0.128, 0.02], [0.1, 0.01], [0, 0.008]], white);
  for (const x of [1.92, 2.53]) mug(b, [x, 1.72, 0.741], [0.3, 0.35, 0.34]);
  jug(b, [2.45, 1.98, 0.741], 0.22, [0.62, 0.6, 0.55]);
  papers(b, [1.48, 1.9, 0.741], 0.3, 2, 11);
  plant(b, [1.75, d + 0.1, 1.19], 0.34, 16, leaf, stalk);
  b.turned([1.75, d + 0.1, 1.1], [[0, 0], [0.06, 0], [0.07, 0.1], [0.076, 0.11], [0.06, 0.11], [0.055, 0.095], [0, 0.095]], clay);
  bottle(b, [2.62, d + 0.1, 1.1], 0.2, [0.1, 0.18, 0.16]);
  for (const x of [1.75, 2.75]) {
    tube(b, [[x, 1.85, 1.78], [x, 1.85, h]], 0.005, iron, 6);
    b.turned([x, 1.85, h - 0.03], [[0.05, 0], [0.05, 0.03]], iron);
    b.turned([x, 1.85, 1.62], [[0.19, 0], [0.186, 0.004], [0.15, 0.08], [0.05, 0.17], [0.02, 0.18]], matt(plain([0.1, 0.12, 0.12]), 0.05, 0.1));
    b.turned([x, 1.85, 1.61], [[0, 0], [0.022, 0.004], [0.034, 0.018], [0.04, 0.045], [0.03, 0.075], [0.018, 0.09]], glow(1, [30, 20, 11]));
    bulbs.push({ kind: 'bulb', centre: [x, 1.85, 1.65], radius: 0.04, power: [20, 13.4, 7.4] });
  }
  picture(b, [0, 1.6, 1.3], [0, 0.5, 0], 0.65, 9, [1, 0, 0], oak);
  const unit = matt(plain([0.16, 0.25, 0.27]), 0.04, 0.15);
  b.box([w - 0.45, 0.9, 0], [0.45, 1.3, 2.0], unit);
  for (const y of [1.0, 1.57]) {
    b.box([w - 0.47, y, 0.1], [0.02, 0.52, 1.8], unit);
    tube(b, [[w - 0.475, y === 1.0 ? 1.48 : 1.61, 1.0], [w - 0.5, y === 1.0 ? 1.48 : 1.61, 1.01], [w - 0.5, y === 1.0 ? 1.48 : 1.61, 1.19], [w - 0.475, y === 1.0 ? 1.48 : 1.61, 1.2]], 0.006, steel);
  }
  clock(b, [3.75, d - 0.001, 2.02], 0.14);
  socket(b, [1.2, d - 0.012, 1.12], [0, -1, 0]);
  hung(b, [0.02, 2.9, 1.45], [0, 1, 0], [1, 0, 0], 0.34, 0.6, matt(cloth([0.36, 0.15, 0.11])));
  b.box([0.9, 0.7, 0], [2.7, 2.2, 0.01], matt(rug([0.27, 0.285, 0.28], [0.5, 0.46, 0.39], [0.3, 0.18, 0.12], 2.7, 2.2)), 0, 0.004);
  return [
    { name: 'day', sources: [day], view: 6 },
    { name: 'lamps', sources: bulbs, view: 0 },
    flash('flash-1', [0.4, -0.2, 2.0], [0.5, 0.8, 0.5], 300),
    flash('flash-2', [4.1, -0.2, 2.0], [-0.5, 0.8, 0.6], 300),
  ];
}

/** The keeper's kitchen under the sluice: painted units, tiles, a small window, a table laid. */
export const kitchen: Room = { name: 'kitchen', label: 'Kitchen', furnish, view: { from: [2.05, -0.5, 1.42], to: [2.45, 4.3, 1.15], fieldOfView: 74 } };
