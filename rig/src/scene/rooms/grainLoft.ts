import { matt, type Builder } from '../builder';
import { plant, tube } from '../forms';
import { brass, chair, clay, doorWall, flash, floorLamp, iron, leaf, OAK, oak, picture, shell, sofa, stalk, table, tableLamp, windowWall, wood } from '../furniture';
import type { Layer, LightSource, Room } from '../room';
import { boards, cloth, painting, plaster, rug } from '../textures';
import { basket, boardDoor, bouquet, bowl, candle, hung, jug, mug, papers, shelf, socket } from '../things';

const [w, d, h] = [4.2, 7.4, 2.6];

function furnish(b: Builder): Layer[] {
  const walls = matt(plaster([0.72, 0.7, 0.64]));
  const far = matt(plaster([0.58, 0.63, 0.61]));
  shell(b, w, d + 3, h, matt(boards([0.3, 0.195, 0.105], 0.18), 0.04, 0.06), [walls, walls, walls], 6);
  doorWall(b, d, w, h, { x: 2.2, w: 0.95, h: 2.05 }, far);
  const day = windowWall(b, d + 3, w, h, { x: 2.1, z: 0.9, w: 1.2, h: 1.2 }, far, 2);
  const hatch: LightSource = { kind: 'panel', rect: { middle: [0.03, 0.15, 1.5], u: [0, 0.4, 0], v: [0, 0, 0.5] }, radiance: [6, 7, 8] };
  b.box([0.9, 1.0, 0], [2.2, 3.4, 0.012], matt(rug([0.37, 0.335, 0.28], [0.3, 0.12, 0.09], [0.12, 0.16, 0.18], 2.2, 3.4)), 0, 0.005);
  sofa(b, 0.85, 2.4, Math.PI / 2, matt(cloth([0.31, 0.215, 0.145])));
  table(b, [1.7, 2.2, 0], [0.7, 1.1, 0.4], wood(OAK, 0.05, 0.04));
  papers(b, [1.85, 2.4, 0.4], 0.1, 4, 21);
  bowl(b, [2.05, 2.95, 0.4], 0.12, [0.42, 0.36, 0.28]);
  mug(b, [2.2, 2.5, 0.4], [0.14, 0.2, 0.24]);
  shelf(b, 0.3, d, 1.5, 2.1, oak);
  table(b, [3.3, 4.4, 0], [0.75, 1.5, 0.76], wood([0.44, 0.29, 0.16], 0.05, 0.05));
  papers(b, [3.45, 5.1, 0.76], 0.5, 2, 31);
  jug(b, [3.62, 5.55, 0.76], 0.17, [0.2, 0.26, 0.28]);
  for (let k = 0; k < 6; k++) tube(b, [[3.62, 5.55, 0.8], [3.62 + 0.05 * Math.cos(k), 5.55 + 0.05 * Math.sin(k), 1.04]], 0.0035, k % 2 ? brass : oak, 5);
  chair(b, 3.0, 5.0, -Math.PI / 2, oak);
  const standing = floorLamp(b, 0.5, 4.6, 1);
  const small = tableLamp(b, [3.7, 4.7, 0.76], 1);
  picture(b, [0, 3.4, 1.3], [0, 0.9, 0], 0.6, 12, [1, 0, 0], iron);
  picture(b, [0, 5.3, 1.35], [0, 0.5, 0], 0.65, 17, [1, 0, 0], oak);
  b.box([w - 0.03, 2.9, 1.3], [0.03, 0.7, 0.9], matt(cloth([0.6, 0.57, 0.5])), 0, 0.003);
  b.quad([w - 0.0305, 3.6, 1.3], [0, -0.7, 0], [0, 0, 0.9], matt(painting(21), 0.045, 0), true);
  boardDoor(b, [3.15, d - 0.03, 0.01], 0.9, 2.0, -0.55, matt(plaster([0.24, 0.29, 0.28]), 0.03, 0.2));
  table(b, [2.3, d + 1.6, 0], [1.2, 0.6, 0.75], oak);
  bouquet(b, [2.7, d + 1.9, 0.75], 0.36, [0.46, 0.24, 0.15]);
  candle(b, [3.2, d + 1.85, 0.75], 0.2);
  plant(b, [3.6, d - 0.6, 0.25], 0.9, 20, leaf, stalk);
  b.turned([3.6, d - 0.6, 0], [[0, 0], [0.16, 0], [0.19, 0.28], [0.205, 0.3], [0.18, 0.3], [0.16, 0.26], [0, 0.26]], clay);
  basket(b, [0.5, 5.3, 0], 0.22, 0.3);
  hung(b, [w, 6.2, 1.65], [0, 1, 0], [-1, 0, 0], 0.4, 0.95, matt(cloth([0.13, 0.16, 0.2])));
  hung(b, [w, 6.6, 1.65], [0, 1, 0], [-1, 0, 0], 0.36, 0.8, matt(cloth([0.4, 0.35, 0.25])));
  socket(b, [0, 4.2, 0.3], [1, 0, 0]);
  return [
    { name: 'day', sources: [day, hatch], view: 6 },
    { name: 'lamps', sources: [standing, small], view: 0 },
    flash('flash-1', [0.5, 0.1, 2.1], [0.4, 0.8, 0.4], 330),
    flash('flash-2', [3.8, 3.6, 2.2], [-0.4, 0.7, 0.6], 330),
    flash('flash-3', [3.9, d + 0.9, 2.1], [-0.6, 0.6, 0.6], 230),
  ];
}

/** The old grain loft: long, with a doorway to a store room that has a window of its own. */
export const grainLoft: Room = { name: 'grain-loft', label: 'Grain loft', furnish, view: { from: [2.15, -0.5, 1.4], to: [2.2, 7.4, 1.1], fieldOfView: 72 } };
