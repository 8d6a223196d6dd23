import { matt, type Builder } from '../builder';
import { plant } from '../forms';
import { clay, flash, floorLamp, iron, leaf, oak, OAK, picture, shell, silver, sofa, stalk, table, tableLamp, windowWall, wood } from '../furniture';
import type { Layer, Room } from '../room';
import { boards, brick, cloth, plaster, rug } from '../textures';
import { basket, bouquet, bowl, cable, candle, jug, mug, papers, radiator, rail, shelf, socket } from '../things';

const [w, d, h] = [6.2, 5.2, 2.75];

function furnish(b: Builder): Layer[] {
  const walls = matt(plaster([0.74, 0.75, 0.71]));
  shell(b, w, d, h, matt(boards(OAK, 0.14), 0.04, 0.05), [walls, walls, walls], 4);
  const day = windowWall(b, d, w, h, { x: 1.75, z: 0.85, w: 1.9, h: 1.35 }, matt(brick([0.42, 0.24, 0.175])), 3);
  const linen = matt(cloth([0.62, 0.6, 0.53]));
  b.curtain([1.35, d - 0.1, 2.42], [0.42, 0, 0], 2.36, [0, -1, 0], 4, 0.05, linen);
  b.curtain([3.65, d - 0.1, 2.42], [0.42, 0, 0], 2.36, [0, -1, 0], 4, 0.05, linen);
  rail(b, [1.2, d - 0.1, 2.45], [4.2, d - 0.1, 2.45], [0.06, 0.09, 0.12, 0.15, 0.18, 0.82, 0.85, 0.88, 0.91, 0.94]);
  radiator(b, 2.1, d, 1.25, 0.5);
  b.box([1.3, 1.7, 0], [3.2, 2.2, 0.012], matt(rug([0.47, 0.42, 0.33], [0.13, 0.16, 0.2], [0.36, 0.13, 0.09], 3.2, 2.2)), 0, 0.005);
  sofa(b, 0.95, 2.9, Math.PI / 2, matt(cloth([0.2, 0.25, 0.235])));
  table(b, [2.2, 2.35, 0], [1.15, 0.65, 0.42], wood([0.43, 0.27, 0.145], 0.05, 0.04));
  bowl(b, [2.75, 2.7, 0.42], 0.13, [0.12, 0.2, 0.23]);
  papers(b, [2.33, 2.48, 0.42], 0.2, 3, 4);
  mug(b, [3.06, 2.5, 0.42], [0.6, 0.56, 0.48]);
  candle(b, [3.12, 2.82, 0.42], 0.22);
  shelf(b, 4.6, d, 1.35, 1.85, oak);
  jug(b, [4.8, d - 0.16, 1.85], 0.26, [0.46, 0.4, 0.3]);
  basket(b, [5.6, d - 0.16, 1.85], 0.15, 0.2);
  const leather = matt(cloth([0.33, 0.2, 0.115]), 0.04, 0.2);
  b.cushion([4.95, 2.0, 0.34], [0.42, 0.44, 0.16], leather, 0.4, -0.5);
  b.cushion([5.32, 2.12, 0.7], [0.14, 0.4, 0.36], leather, 0.4, -0.35);
  for (const [x, y] of [[4.7, 1.7], [4.75, 2.3], [5.2, 1.75], [5.25, 2.35]]) b.turned([x, y, 0], [[0.016, 0], [0.026, 0.2]], oak);
  b.cushion([5.1, 2.06, 0.62], [0.07, 0.2, 0.17], matt(cloth([0.5, 0.47, 0.38])), 0.55, -0.4, 0);
  const standing = floorLamp(b, 0.55, 4.5, 1);
  cable(b, [0.55, 4.55, 0.004], [0.02, 5.0, 0.2]);
  socket(b, [1.05, d, 0.3], [0, -1, 0]);
  socket(b, [4.35, d, 0.3], [0, -1, 0]);
  table(b, [5.55, 3.25, 0], [0.5, 0.5, 0.55], oak);
  const small = tableLamp(b, [5.8, 3.5, 0.55], 1);
  mug(b, [5.66, 3.36, 0.55], [0.25, 0.3, 0.3]);
  picture(b, [0, 2.2, 1.35], [0, 0.62, 0], 0.8, 2, [1, 0, 0], iron);
  picture(b, [0, 3.1, 1.35], [0, 0.62, 0], 0.8, 5, [1, 0, 0], iron);
  // A looking glass on the right wall.
  b.quad([w - 0.02, 3.95, 1.05], [0, -1.0, 0], [0, 0, 1.05], silver);
  for (const [y, z, sy, sz] of [[2.9, 1.0, 1.1, 0.05], [2.9, 2.1, 1.1, 0.05], [2.9, 1.0, 0.05, 1.15], [3.95, 1.0, 0.05, 1.15]]) b.box([w - 0.045, y, z], [0.04, sy, sz], oak, 0, 0.008);
  b.turned([4.25, 4.9, 0], [[0, 0], [0.16, 0], [0.19, 0.28], [0.205, 0.3], [0.19, 0.31], [0.17, 0.3], [0.16, 0.26], [0, 0.26]], clay);
  plant(b, [4.25, 4.9, 0.25], 0.95, 22, leaf, stalk);
  bouquet(b, [2.3, d + 0.12, 0.85], 0.34, [0.16, 0.25, 0.26]);
  candle(b, [3.3, d + 0.1, 0.85], 0.2);
  basket(b, [4.3, 4.1, 0], 0.2, 0.24);
  return [
    { name: 'day', sources: [day], view: 6 },
    { name: 'lamps', sources: [standing, small], view: 0 },
    flash('flash-1', [3.7, -0.35, 2.1], [0, 0.5, 0.9], 420),
    flash('flash-2', [0.5, 0.2, 2.0], [0.6, 0.7, 0.35], 420),
    flash('flash-3', [5.8, 0.4, 2.0], [-0.6, 0.7, 0.35], 420),
    flash('flash-4', [5.2, 4.3, 2.2], [-0.5, -0.3, 0.8], 330),
  ];
}

/** The grinding floor, now the sitting room: brick end wall, deep window over the creek, beams. */
export const sittingRoom: Room = { name: 'sitting-room', label: 'Sitting room', furnish, view: { from: [3.75, -0.45, 1.38], to: [3.15, 5.2, 1.22], fieldOfView: 76 } };

/** The sitting room a step to the left and turned: a second composition of the same room. */
export const sittingRoomAside: Room = { ...sittingRoom, name: 'sitting-room-aside', furnish: (b) => furnish(b).slice(0, 4), view: { from: [3.35, -0.45, 1.36], to: [3.3, 5.2, 1.2], fieldOfView: 76 } };
