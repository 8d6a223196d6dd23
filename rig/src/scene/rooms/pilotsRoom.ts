import { matt, type Builder } from '../builder';
import { drape, plant, tube } from '../forms';
import { brass, chair, clay, flash, floorLamp, iron, LIME, oak, palm, picture, shell, sofa, stalk, steel, table, tableLamp, windowWall, wood } from '../furniture';
import type { Layer, LightSource, Room } from '../room';
import { boards, cloth, plain, plaster, rug } from '../textures';
import { basket, bowl, cable, candle, jug, mug, papers, rail, shelf, socket } from '../things';

const [w, d, h] = [5.6, 5.0, 2.55];
const SCREEN = 2;

/** A desk with a lit screen on it. */
function desk(b: Builder): void {
  table(b, [4.75, 2.6, 0], [0.75, 1.45, 0.75], wood([0.38, 0.245, 0.135], 0.05, 0.05));
  b.box([5.3, 2.95, 0.9], [0.03, 0.78, 0.46], iron, 0, 0.006);
  const glowing = (u: number, v: number): number => (v > 0.9 ? 1.3 : u < 0.24 ? 0.55 : Math.sin(v * 60) > 0.2 && u < 0.9 ? 0.4 : 1);
  b.quad([5.296, 3.71, 0.92], [0, -0.74, 0], [0, 0, 0.42], { ...matt(plain([0.02, 0.02, 0.022]), 0.05, 0.01), glow: { layer: SCREEN, colour: [1.4, 1.75, 2.2], shine: glowing }, shadowless: true, what: 'screen' }, true);
  b.box([5.2, 3.25, 0.75], [0.18, 0.2, 0.012], steel, 0, 0.004);
  tube(b, [[5.32, 3.35, 0.76], [5.33, 3.35, 1.0]], 0.02, steel);
  b.box([4.95, 3.1, 0.75], [0.14, 0.42, 0.016], matt(plain([0.55, 0.55, 0.54])), 0, 0.004);
  papers(b, [4.82, 2.68, 0.75], 1.7, 4, 61);
  mug(b, [4.9, 3.75, 0.75], [0.13, 0.17, 0.22]);
}

function furnish(b: Builder): Layer[] {
  const walls = matt(plaster([0.66, 0.69, 0.7]));
  shell(b, w, d, h, matt(boards([0.33, 0.21, 0.115], 0.11), 0.05, 0.05), [walls, walls, walls], 0);
  const day = windowWall(b, d, w, h, { x: 3.3, z: 0.95, w: 1.5, h: 1.2 }, walls, 3);
  const sail = matt(cloth([0.66, 0.64, 0.57]));
  b.curtain([2.95, d - 0.1, 2.32], [0.34, 0, 0], 2.28, [0, -1, 0], 3, 0.05, sail);
  b.curtain([4.82, d - 0.1, 2.32], [0.34, 0, 0], 2.28, [0, -1, 0], 3, 0.05, sail);
  rail(b, [2.9, d - 0.1, 2.35], [5.2, d - 0.1, 2.35], [0.03, 0.06, 0.09, 0.12, 0.88, 0.91, 0.94, 0.97]);
  // The big red rug and a signal flag of the same red: they tint the ceiling.
  const red = [0.5, 0.05, 0.035] as const;
  b.box([0.7, 0.9, 0], [3.7, 3.0, 0.014], matt(rug(red, [0.13, 0.1, 0.12], [0.42, 0.3, 0.16], 3.7, 3.0)), 0, 0.006);
  drape(b, [0.02, 3.55, 0.95], [0, -1.5, 0], [0, 0, 1.1], [1, 0, 0], (s) => 0.02 + 0.012 * Math.sin(s * 14), 0.02, matt(cloth(red)), 30);
  sofa(b, 0.95, 2.55, Math.PI / 2, matt(cloth([0.36, 0.33, 0.29])));
  table(b, [2.0, 2.0, 0], [0.8, 1.0, 0.4], wood([0.4, 0.26, 0.145], 0.05, 0.04));
  bowl(b, [2.35, 2.3, 0.4], 0.12, [0.45, 0.42, 0.36]);
  papers(b, [2.15, 2.55, 0.4], 0.4, 3, 71);
  candle(b, [2.62, 2.75, 0.4], 0.2);
  // Charts and paintings, all glazed, face the camera.
  for (const [x, z, pw, ph, seed] of [[0.45, 1.3, 0.62, 0.82, 63], [1.25, 1.72, 0.48, 0.4, 64], [1.25, 1.25, 0.48, 0.38, 65], [1.92, 1.3, 0.7, 0.82, 66]] as const) picture(b, [x, d, z], [pw, 0, 0], ph, seed, [0, -1, 0], seed % 2 ? iron : brass);
  shelf(b, 0.5, d, 1.9, 1.05, oak);
  jug(b, [0.8, d - 0.16, 1.05], 0.2, [0.5, 0.46, 0.36]);
  desk(b);
  chair(b, 4.45, 3.3, -Math.PI / 2 + 0.2, oak);
  const standing = floorLamp(b, 0.42, 4.3, 1);
  cable(b, [0.42, 4.36, 0.004], [0.02, 4.8, 0.2]);
  const small = tableLamp(b, [2.2, d - 0.17, 1.05], 1);
  table(b, [2.75, d - 0.5, 0], [0.42, 0.4, 0.52], oak);
  plant(b, [2.95, d - 0.3, 0.74], 0.6, 16, palm, stalk);
  b.turned([2.95, d - 0.3, 0.52], [[0, 0], [0.08, 0], [0.11, 0.2], [0.1, 0.22], [0.09, 0.2], [0, 0.2]], clay);
  basket(b, [4.5, 4.6, 0], 0.2, 0.3);
  // A brass telescope on three legs by the window.
  for (const a of [0.5, 2.6, 4.7]) tube(b, [[5.1 + 0.28 * Math.cos(a), 4.35 + 0.28 * Math.sin(a), 0], [5.1, 4.35, 1.15]], 0.013, oak, 8);
  tube(b, [[5.3, 4.0, 1.12], [4.95, 4.62, 1.36]], 0.035, brass, 16);
  tube(b, [[5.36, 3.89, 1.08], [5.3, 4.0, 1.12]], 0.024, brass, 12);
  socket(b, [4.3, d, 0.3], [0, -1, 0]);
  socket(b, [w, 2.3, 0.3], [-1, 0, 0]);
  for (const [x, y] of [[1.5, 1.4], [3.9, 1.4], [1.5, 3.6], [3.9, 3.6]]) b.turned([x, y, h - 0.012], [[0.045, 0], [0.052, 0.012]], matt(plain(LIME)));
  const bulbs: LightSource[] = [standing, small];
  return [
    { name: 'day', sources: [day], view: 6 },
    { name: 'lamps', sources: bulbs, view: 0 },
    { name: 'screen', sources: [{ kind: 'panel', rect: { middle: [5.28, 3.34, 1.13], u: [0, 0.37, 0], v: [0, 0, 0.21] }, radiance: [1.1, 1.4, 1.75] }], view: 0 },
    flash('flash-1', [0.5, 0.0, 2.1], [0.4, 0.7, 0.6], 330),
    flash('flash-2', [5.1, 0.1, 2.1], [-0.4, 0.7, 0.6], 330),
    flash('flash-3', [2.8, -0.3, 1.6], [0, 1, 0.05], 260),
    flash('flash-4', [4.9, 4.2, 2.0], [-0.2, 0.9, 0.1], 130),
  ];
}

/** The pilot's room: glazed pictures that catch every flash, a lit screen, lamps, a big red rug under a white ceiling. */
export const pilotsRoom: Room = { name: 'pilots-room', label: "Pilot's room", furnish, view: { from: [2.75, -0.5, 1.45], to: [2.7, 5.0, 1.02], fieldOfView: 75, roll: 1.1 } };
