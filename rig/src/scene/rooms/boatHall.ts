import { matt, type Builder } from '../builder';
import { plant } from '../forms';
import { chair, clay, flash, floorLamp, iron, oak, palm, picture, shell, sofa, stalk, table, windowWall, wood } from '../furniture';
import type { Layer, Room } from '../room';
import { boards, cloth, plaster, rug } from '../textures';
import { basket, bowl, cable, candle, fruit, jug, mug, papers, socket } from '../things';

const [w, d, h] = [6.6, 5.4, 2.9];

function furnish(b: Builder): Layer[] {
  const walls = matt(plaster([0.79, 0.78, 0.76]));
  shell(b, w, d, h, matt(boards([0.44, 0.37, 0.28], 0.2), 0.05, 0.05), [walls, walls, walls], 2);
  const day = windowWall(b, d, w, h, { x: 0.7, z: 0.12, w: 5.2, h: 2.35 }, walls, 5);
  sofa(b, 1.6, 2.2, Math.PI, matt(cloth([0.47, 0.465, 0.44])));
  table(b, [3.3, 2.9, 0], [1.9, 0.95, 0.74], wood([0.33, 0.22, 0.135], 0.05, 0.04));
  chair(b, 3.7, 2.7, Math.PI, oak);
  chair(b, 4.7, 2.72, Math.PI + 0.2, oak);
  chair(b, 4.2, 4.1, 0.1, oak);
  const standing = floorLamp(b, 0.5, 3.6, 1);
  cable(b, [0.5, 3.65, 0.004], [0.02, 4.4, 0.2]);
  bowl(b, [4.2, 3.35, 0.74], 0.15, [0.16, 0.28, 0.31]);
  fruit(b, [4.2, 3.35, 0.79], [0.44, 0.42, 0.1], 4);
  for (const [x, y] of [[3.65, 3.15], [4.75, 3.15], [4.3, 3.7]]) {
    b.turned([x, y, 0.741], [[0, 0.004], [0.09, 0.004], [0.12, 0.016], [0.118, 0.018], [0.09, 0.009], [0, 0.007]], clay);
    mug(b, [x + 0.2, y + 0.06, 0.741], [0.6, 0.57, 0.5]);
  }
  candle(b, [3.95, 3.42, 0.741], 0.26);
  jug(b, [4.55, 3.5, 0.741], 0.2, [0.5, 0.48, 0.42]);
  plant(b, [5.9, 4.6, 0.28], 1.2, 24, palm, stalk);
  b.turned([5.9, 4.6, 0], [[0, 0], [0.18, 0], [0.21, 0.32], [0.225, 0.34], [0.2, 0.34], [0.18, 0.3], [0, 0.3]], clay);
  b.box([0.6, 1.2, 0], [2.2, 1.7, 0.012], matt(rug([0.5, 0.475, 0.42], [0.2, 0.23, 0.26], [0.42, 0.31, 0.17], 2.2, 1.7)), 0, 0.005);
  papers(b, [2.75, 2.35, 0.012], 0.6, 3, 8);
  basket(b, [0.45, 2.75, 0], 0.2, 0.28);
  picture(b, [0, 1.9, 1.3], [0, 1.1, 0], 0.8, 31, [1, 0, 0], iron);
  picture(b, [w, 2.4, 1.35], [0, 0.6, 0], 0.75, 36, [-1, 0, 0], oak);
  socket(b, [0, 4.6, 0.3], [1, 0, 0]);
  return [
    { name: 'day', sources: [day], view: 6 },
    { name: 'lamps', sources: [standing], view: 0 },
    flash('flash-1', [0.5, -0.1, 2.2], [0.5, 0.7, 0.6], 420),
    flash('flash-2', [6.1, 0.0, 2.2], [-0.5, 0.7, 0.6], 420),
    flash('flash-3', [3.3, -0.3, 2.3], [0, 0.3, 1], 480),
  ];
}

/** The boat hall: its creek side is nearly all glass, its walls are nearly bare. */
export const boatHall: Room = { name: 'boat-hall', label: 'Boat hall', furnish, view: { from: [3.1, -0.5, 1.45], to: [3.4, 5.4, 1.2], fieldOfView: 80 } };
