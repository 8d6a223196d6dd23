import { as, matt, type Builder } from '../builder';
import { plant, tube } from '../forms';
import { clay, flash, glow, leaf, mirror, oak, pane, shell, stalk, steel, white, wood } from '../furniture';
import type { Layer, LightSource, Room } from '../room';
import { cloth, plain, plaster, tiles } from '../textures';
import { basket, bottle, hung, mug } from '../things';

const [w, d, h] = [3.2, 3.0, 2.45];

/** @param towel whether it hangs on its peg */
function furnish(b: Builder, towel: boolean): Layer[] {
  const wall = matt(tiles([0.56, 0.62, 0.59], 0.2, 0.1), 0.06, 0.02);
  const paint = matt(plaster([0.76, 0.74, 0.7]));
  shell(b, w, d, h, matt(tiles([0.2, 0.2, 0.205], 0.3, 0.3), 0.05, 0.04), [wall, paint, paint], 0);
  b.quad([0, d, 0], [w, 0, 0], [0, 0, h], as('wall', wall));
  mirror(b, [0.9, d, 1.05], 1.9, 1.05, steel);
  b.box([0.7, d - 0.5, 0.62], [2.2, 0.5, 0.24], wood([0.4, 0.26, 0.135], 0.05, 0.05), 0, 0.008);
  for (const x of [1.05, 1.6, 2.15]) b.box([x, d - 0.506, 0.66], [0.5, 0.012, 0.16], wood([0.38, 0.245, 0.13], 0.05, 0.05));
  for (const x of [1.3, 2.3]) {
    b.turned([x, d - 0.26, 0.86], [[0, 0], [0.12, 0], [0.19, 0.05], [0.21, 0.1], [0.203, 0.104], [0.195, 0.1], [0.17, 0.05], [0.1, 0.02], [0, 0.016]], white);
    tube(b, [[x, d - 0.05, 0.86], [x, d - 0.05, 1.08], [x, d - 0.08, 1.12], [x, d - 0.17, 1.115], [x, d - 0.18, 1.09]], 0.011, steel, 12);
    b.cushion([x + 0.07, d - 0.05, 0.9], [0.02, 0.02, 0.03], steel, 0.6);
  }
  b.box([0.05, 0.7, 0], [0.75, 1.7, 0.56], white, 0, 0.03);
  b.box([0.13, 0.78, 0.555], [0.59, 1.54, 0.008], matt(plain([0.6, 0.6, 0.59]), 0.06, 0.03), 0, 0.02);
  tube(b, [[0.08, 1.0, 0.56], [0.08, 1.0, 0.72], [0.16, 1.0, 0.75], [0.22, 1.0, 0.72]], 0.014, steel, 12);
  b.cushion([0.42, 2.14, 0.585], [0.26, 0.15, 0.035], matt(cloth([0.2, 0.3, 0.33])), 0.4);
  // A glazed screen along the tub.
  b.quad([0.82, 1.35, 0.57], [0, 1.0, 0], [0, 0, 1.4], pane);
  for (const [y, sy] of [[1.34, 0.016], [2.34, 0.016]]) b.box([0.812, y, 0.56], [0.016, sy, 1.42], steel, 0, 0.002);
  b.box([0.812, 1.34, 1.965], [0.016, 1.016, 0.014], steel, 0, 0.002);
  b.box([2.75, 1.2, 0], [0.4, 0.5, 1.5], wood([0.43, 0.295, 0.18], 0.04, 0.06), 0, 0.008);
  for (const z of [0.12, 0.58, 1.04]) b.box([2.742, 1.225, z], [0.012, 0.45, 0.42], wood([0.42, 0.285, 0.17], 0.04, 0.06));
  for (const [z, c] of [[1.5, [0.45, 0.19, 0.13]], [1.55, [0.62, 0.6, 0.55]], [1.6, [0.45, 0.19, 0.13]]] as const) b.cushion([2.94, 1.45, z + 0.027], [0.15, 0.17, 0.03], matt(cloth(c)), 0.3);
  plant(b, [0.35, d - 0.3, 0.98], 0.42, 16, leaf, stalk);
  b.turned([0.35, d - 0.3, 0.86], [[0, 0], [0.06, 0], [0.075, 0.12], [0.068, 0.12], [0.06, 0.1], [0, 0.1]], clay);
  b.box([0.24, d - 0.41, 0], [0.22, 0.22, 0.86], oak, 0, 0.008);
  bottle(b, [0.98, d - 0.12, 0.86], 0.19, [0.36, 0.27, 0.12]);
  bottle(b, [1.05, d - 0.14, 0.86], 0.15, [0.1, 0.16, 0.15]);
  mug(b, [1.8, d - 0.14, 0.86], [0.55, 0.57, 0.54]);
  for (let k = 0; k < 2; k++) tube(b, [[1.8, d - 0.14, 0.88], [1.8 + 0.03 * (2 * k - 1), d - 0.14, 1.03]], 0.005, k ? white : clay, 6);
  basket(b, [2.6, 2.55, 0], 0.17, 0.3);
  if (towel) hung(b, [w, 2.3, 1.45], [0, 1, 0], [-1, 0, 0], 0.4, 0.75, matt(cloth([0.62, 0.6, 0.55])));
  b.quad([1.1, -0.55, 1.1], [1.0, 0, 0], [0, 0, 0.9], { ...matt(plain([0.9, 0.9, 0.9])), glow: { layer: 0, colour: [9, 10.5, 12] } });
  const day: LightSource = { kind: 'panel', rect: { middle: [1.6, -0.5, 1.55], u: [-0.5, 0, 0], v: [0, 0, 0.45] }, radiance: [9, 10.5, 12] };
  b.box([1.2, d - 0.1, 2.2], [1.3, 0.06, 0.06], glow(1, [7, 9.5, 6.5]), 0, 0.02);
  const lights: LightSource[] = [{ kind: 'panel', rect: { middle: [1.85, d - 0.14, 2.2], u: [0.65, 0, 0], v: [0, 0, 0.03] }, radiance: [26, 35, 24] }];
  // Bare bulbs to either side of the looking glass.
  for (const x of [0.74, 2.96]) {
    b.turned([x, d - 0.09, 1.62], [[0.02, 0], [0.02, 0.05]], steel);
    tube(b, [[x, d, 1.645], [x, d - 0.09, 1.645]], 0.012, steel);
    b.cushion([x, d - 0.09, 1.72], [0.035, 0.035, 0.045], glow(1, [34, 22, 12]), 1);
    lights.push({ kind: 'bulb', centre: [x, d - 0.09, 1.72], radius: 0.045, power: [4, 2.7, 1.5] });
  }
  return [
    { name: 'day', sources: [day], view: 6 },
    { name: 'lamps', sources: lights, view: 0 },
    flash('flash-1', [0.4, 0.0, 2.0], [0.3, 0.7, 0.6], 170),
    flash('flash-2', [2.8, 0.3, 2.0], [-0.4, 0.6, 0.7], 170),
    flash('flash-3', [1.6, -0.3, 1.9], [0, 0.5, 0.9], 170),
  ];
}

/** The wash house: a wide looking glass facing the camera, glazed tiles and screen, a greenish tube, bare bulbs, a window behind the camera. */
export const washHouse: Room = { name: 'wash-house', label: 'Wash house', furnish: (b) => furnish(b, true), view: { from: [1.35, -0.4, 1.35], to: [1.75, 3.0, 1.2], fieldOfView: 78 } };

/** The same after somebody took the towel. */
export const washHouseLater: Room = { ...washHouse, furnish: (b) => furnish(b, false) };
