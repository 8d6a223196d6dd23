import { matt, type Builder } from '../builder';
import { plant, tube } from '../forms';
import { brass, chair, clay, glow, iron, leaf, LIME, oak, picture, shell, stalk, steel, table, tableLamp, white, windowWall, wood } from '../furniture';
import type { Layer, LightSource, Room } from '../room';
import { boards, cloth, plain, plaster, rug } from '../textures';
import { basket, books, bottle, clock, hung, jug, mug, papers, radiator, shelf, socket } from '../things';

const [w, d, h] = [3.8, 3.9, 2.5];

/** A desk with drawers and pigeon-holes. */
function bureau(b: Builder): void {
  const timbers = wood([0.33, 0.205, 0.11], 0.05, 0.05);
  b.box([0.15, 2.2, 0.72], [0.72, 1.5, 0.035], timbers, 0, 0.008);
  for (const y of [2.24, 3.3]) {
    b.box([0.2, y, 0.06], [0.6, 0.36, 0.66], timbers, 0, 0.006);
    for (let k = 0; k < 3; k++) {
      b.box([0.79, y + 0.02, 0.1 + k * 0.2], [0.018, 0.32, 0.18], timbers, 0, 0.006);
      b.cushion([0.82, y + 0.18, 0.19 + k * 0.2], [0.015, 0.02, 0.012], brass, 0.8);
    }
  }
  b.box([0.15, 2.2, 0.755], [0.22, 1.5, 0.02], timbers);
  for (let k = 0; k <= 6; k++) b.box([0.15, 2.2 + k * 0.247, 0.775], [0.22, 0.016, 0.3], timbers);
  b.box([0.15, 2.2, 1.07], [0.24, 1.5, 0.022], timbers, 0, 0.006);
  for (let k = 0; k < 6; k++) books(b, 0.16, 0.34, 2.22 + k * 0.247 + 0.02, 0.776, 0.28, 90 + k);
  papers(b, [0.48, 2.7, 0.755], 1.5, 5, 33);
  papers(b, [0.5, 3.2, 0.755], 1.9, 2, 37);
  mug(b, [0.72, 3.1, 0.755], [0.4, 0.2, 0.15]);
  jug(b, [0.26, 3.5, 1.09], 0.2, [0.15, 0.2, 0.22]);
}

function furnish(b: Builder): Layer[] {
  const walls = matt(plaster([0.71, 0.68, 0.58]));
  shell(b, w, d, h, matt(boards([0.37, 0.245, 0.14], 0.13), 0.04, 0.06), [walls, walls, walls], 2);
  const day = windowWall(b, d, w, h, { x: 1.35, z: 0.95, w: 1.25, h: 1.15 }, matt(plaster(LIME)), 2);
  radiator(b, 1.45, d, 1.05, 0.55);
  bureau(b);
  const lamp = tableLamp(b, [0.3, 2.45, 1.09], 1);
  chair(b, 1.25, 2.9, -Math.PI / 2 - 0.3, oak);
  shelf(b, 2.75, d, 0.95, 1.95, oak);
  b.box([0.9, 1.0, 0], [2.1, 1.6, 0.012], matt(rug([0.3, 0.27, 0.22], [0.1, 0.15, 0.15], [0.36, 0.15, 0.1], 2.1, 1.6)), 0, 0.005);
  // Scales, sacks, sample jars: the trade that the office was for.
  table(b, [2.95, 1.3, 0], [0.7, 1.2, 0.78], wood([0.42, 0.28, 0.16], 0.045, 0.06));
  for (let k = 0; k < 5; k++) bottle(b, [3.55, 1.5 + k * 0.16, 0.78], 0.2 + 0.03 * (k % 2), [0.34, 0.3, 0.2]);
  b.box([3.1, 1.8, 0.78], [0.16, 0.3, 0.05], iron, 0, 0.01);
  tube(b, [[3.18, 1.95, 0.83], [3.18, 1.95, 1.12]], 0.012, brass);
  tube(b, [[3.18, 1.72, 1.1], [3.18, 1.95, 1.13], [3.18, 2.18, 1.1]], 0.008, brass);
  for (const y of [1.72, 2.18]) {
    tube(b, [[3.18, y, 1.1], [3.18, y, 0.9]], 0.002, brass, 5);
    b.turned([3.18, y, 0.88], [[0, 0], [0.05, 0.004], [0.085, 0.025], [0.083, 0.027], [0.045, 0.008], [0, 0.006]], brass);
  }
  b.cushion([3.4, 0.75, 0.28], [0.24, 0.2, 0.28], matt(cloth([0.47, 0.39, 0.26])), 0.55);
  b.cushion([3.4, 0.75, 0.58], [0.1, 0.09, 0.06], matt(cloth([0.47, 0.39, 0.26])), 0.6);
  basket(b, [1.05, 2.25, 0], 0.15, 0.28);
  picture(b, [0, 2.6, 1.5], [0, 0.72, 0], 0.5, 83, [1, 0, 0], iron);
  picture(b, [w, 2.5, 1.35], [0, -0.5, 0], 0.65, 85, [-1, 0, 0], oak);
  clock(b, [0.75, d - 0.001, 1.95], 0.16);
  hung(b, [w, 0.6, 1.75], [0, 1, 0], [-1, 0, 0], 0.4, 0.95, matt(cloth([0.2, 0.19, 0.16])));
  plant(b, [2.42, d + 0.1, 1.06], 0.34, 14, leaf, stalk);
  b.turned([2.42, d + 0.1, 0.95], [[0, 0], [0.06, 0], [0.075, 0.11], [0.066, 0.11], [0.055, 0.09], [0, 0.09]], clay);
  b.box([1.42, d + 0.04, 0.95], [0.14, 0.1, 0.16], steel, 0.2, 0.02);
  socket(b, [1.15, d, 0.3], [0, -1, 0]);
  tube(b, [[1.9, 1.9, 2.0], [1.9, 1.9, h]], 0.004, iron, 6);
  b.turned([1.9, 1.9, 1.86], [[0.2, 0], [0.196, 0.005], [0.13, 0.09], [0.04, 0.14], [0.015, 0.15]], matt(plain([0.5, 0.52, 0.48]), 0.05, 0.1));
  b.cushion([1.9, 1.9, 1.87], [0.04, 0.04, 0.05], glow(1, [30, 20, 11]), 1);
  const pendant: LightSource = { kind: 'bulb', centre: [1.9, 1.9, 1.86], radius: 0.045, power: [22, 14.6, 8] };
  b.turned([1.9, 1.9, h - 0.03], [[0.05, 0], [0.05, 0.03]], white);
  return [
    { name: 'day', sources: [day], view: 6 },
    { name: 'lamps', sources: [lamp, pendant], view: 0 },
  ];
}

/** The miller's office: lamps and daylight together, photographed as one bracket. */
export const office: Room = { name: 'office', label: "Miller's office", furnish, view: { from: [2.3, -0.45, 1.5], to: [1.7, 3.9, 1.05], fieldOfView: 73, roll: -1.4 } };
