import { matt, type Builder } from '../builder';
import { bed, flash, LIME, oak, picture, shell, table, tableLamp, windowWall, wood } from '../furniture';
import type { Layer, Room } from '../room';
import { boards, brick, cloth, plaster, rug } from '../textures';
import { books, bouquet, bowl, candle, hung, mug, papers, rail, socket } from '../things';

const [w, d, h] = [4.4, 4.2, 2.45];

function furnish(b: Builder): Layer[] {
  const walls = matt(plaster([0.6, 0.655, 0.6]));
  shell(b, w, d, h, matt(boards([0.48, 0.355, 0.22], 0.12), 0.03, 0.08), [walls, walls, walls], 3);
  const day = windowWall(b, d, w, h, { x: 0.7, z: 0.95, w: 0.95, h: 1.1 }, matt(plaster(LIME)), 2);
  const rust = matt(cloth([0.48, 0.3, 0.23]));
  b.curtain([0.45, d - 0.1, 2.25], [0.32, 0, 0], 2.2, [0, -1, 0], 3, 0.05, rust);
  b.curtain([1.6, d - 0.1, 2.25], [0.32, 0, 0], 2.2, [0, -1, 0], 3, 0.05, rust);
  rail(b, [0.38, d - 0.1, 2.28], [1.98, d - 0.1, 2.28], [0.05, 0.09, 0.13, 0.17, 0.22, 0.78, 0.82, 0.86, 0.9, 0.95]);
  bed(b, 1.95, d - 2.15, matt(cloth([0.17, 0.25, 0.31])));
  b.box([2.1, d - 0.08, 0], [1.3, 0.08, h], matt(brick([0.46, 0.3, 0.225])), 0, 0.006);
  for (let k = 0; k < 22; k++) b.box([w - 0.55, 0.5 + k * 0.06, 0.1], [0.04, 0.035, 2.0], wood([0.42, 0.285, 0.165], 0.04, 0.06));
  b.box([w - 0.5, 0.45, 0.02], [0.5, 1.45, 2.16], wood([0.27, 0.185, 0.115]), 0, 0.006);
  table(b, [3.62, d - 0.6, 0], [0.45, 0.45, 0.5], oak);
  const small = tableLamp(b, [3.84, d - 0.38, 0.5], 1);
  papers(b, [3.66, d - 0.56, 0.5], -0.2, 2, 3);
  table(b, [0.1, 1.6, 0], [0.5, 1.1, 0.8], wood([0.36, 0.23, 0.125], 0.05, 0.05));
  bouquet(b, [0.35, 2.3, 0.8], 0.34, [0.17, 0.26, 0.28]);
  bowl(b, [0.33, 1.9, 0.8], 0.09, [0.5, 0.44, 0.35]);
  books(b, 0.14, 0.42, 1.68, 0.8, 0.3, 77);
  mug(b, [0.42, 2.05, 0.8], [0.42, 0.22, 0.17]);
  candle(b, [1.0, d + 0.12, 0.95], 0.2);
  picture(b, [0, 1.8, 1.25], [0, 0.7, 0], 0.5, 41, [1, 0, 0], oak);
  b.box([1.2, 0.6, 0], [2.0, 1.4, 0.012], matt(rug([0.46, 0.43, 0.375], [0.19, 0.205, 0.17], [0.42, 0.28, 0.2], 2.0, 1.4)), 0, 0.005);
  hung(b, [0.02, 3.1, 1.7], [0, 1, 0], [1, 0, 0], 0.34, 0.9, matt(cloth([0.5, 0.48, 0.42])));
  socket(b, [1.85, d, 0.35], [0, -1, 0], 0.085);
  for (const [x, z, s] of [[0.34, 0.05, 0], [0.2, 0.05, 0.1]] as const) b.cushion([x, 3.0 + s, z], [0.05, 0.14, 0.05], matt(cloth([0.2, 0.13, 0.09])), 0.6);
  return [
    { name: 'day', sources: [day], view: 6 },
    { name: 'lamps', sources: [small], view: 0 },
    flash('flash-1', [0.5, -0.1, 2.0], [0.5, 0.7, 0.6], 260),
    flash('flash-2', [3.5, 0.1, 2.0], [-0.4, 0.7, 0.6], 260),
  ];
}

/** The miller's bedroom: slatted wardrobe, brick chimney breast, small deep window. */
export const bedroom: Room = { name: 'bedroom', label: 'Bedroom', furnish, view: { from: [2.0, -0.5, 1.4], to: [2.25, 4.2, 1.0], fieldOfView: 74 } };
