import { as, matt, type Builder } from '../builder';
import { tube } from '../forms';
import { brass, chair, flash, floorLamp, glow, iron, oak, shell, silver, wood } from '../furniture';
import type { Layer, LightSource, Room } from '../room';
import { boards, cloth, plain, plaster } from '../textures';
import { basket, bottle, bouquet, hung, jug, papers, socket } from '../things';

const [w, d, h] = [6.4, 5.6, 3.0];
const [panels, panel, high] = [5, 1.12, 2.15];

/** Five tall looking glasses side by side with a rail before them. */
function mirrorWall(b: Builder): void {
  const x = (w - panels * panel) / 2;
  b.box([x - 0.05, d - 0.03, 0.2], [panels * panel + 0.1, 0.03, 0.05], oak);
  b.box([x - 0.05, d - 0.03, 0.25 + high], [panels * panel + 0.1, 0.03, 0.05], oak);
  for (let k = 0; k < panels; k++) b.quad([x + k * panel + 0.003, d - 0.02, 0.25], [panel - 0.006, 0, 0], [0, 0, high], silver);
  for (let k = 1; k < panels; k++) b.box([x + k * panel - 0.004, d - 0.018, 0.25], [0.008, 0.012, high], matt(plain([0.08, 0.08, 0.08])), 0, 0.001);
  tube(b, [[0.2, d - 0.22, 1.06], [w - 0.2, d - 0.22, 1.06]], 0.022, oak, 12);
  for (let k = 0; k < 4; k++) tube(b, [[0.5 + k * 1.8, d, 0.98], [0.5 + k * 1.8, d - 0.18, 1.0], [0.5 + k * 1.8, d - 0.22, 1.06]], 0.012, iron);
}

function piano(b: Builder): void {
  const black = matt(plain([0.02, 0.02, 0.022]), 0.05, 0.02);
  b.box([0.03, 2.6, 0], [0.34, 1.5, 1.2], black, 0, 0.01);
  b.box([0.0, 2.57, 1.2], [0.4, 1.56, 0.03], black, 0, 0.01);
  b.box([0.37, 2.62, 0.6], [0.3, 1.46, 0.1], black, 0, 0.01);
  b.box([0.4, 2.68, 0.7], [0.2, 1.34, 0.012], matt(plain([0.74, 0.72, 0.66]), 0.05, 0.05), 0, 0.002);
  for (let k = 0; k < 33; k++) if (k % 7 !== 2 && k % 7 !== 6) b.box([0.4, 2.71 + k * 0.04, 0.712], [0.12, 0.02, 0.012], black, 0, 0.003);
  for (const y of [2.7, 3.98]) b.box([0.58, y, 0], [0.06, 0.06, 0.6], black, 0, 0.01);
  b.box([0.8, 3.0, 0.44], [0.34, 0.72, 0.06], black, 0, 0.02);
  for (const [x, y] of [[0.84, 3.04], [1.06, 3.04], [0.84, 3.64], [1.06, 3.64]]) tube(b, [[x, y, 0], [x, y, 0.44]], 0.02, black);
  papers(b, [0.12, 3.1, 1.23], 1.5, 5, 13);
  bouquet(b, [0.2, 3.8, 1.23], 0.34, [0.55, 0.53, 0.47]);
}

/** @param aside whether the chairs and a music stand were put away between the frames */
function loft(aside: boolean): (b: Builder) => Layer[] {
  return (b) => {
    const walls = matt(plaster([0.75, 0.74, 0.71]));
    shell(b, w, d, h, matt(boards([0.5, 0.385, 0.25], 0.09), 0.05, 0.035), [walls, walls, walls], 0);
    b.quad([0, d, 0], [w, 0, 0], [0, 0, h], as('wall', walls));
    for (const y of [0.4, 2.2, 4.0]) b.box([0, y, h - 0.24], [w, 0.16, 0.3], wood([0.34, 0.22, 0.12], 0.03, 0.16), 0, 0.014);
    mirrorWall(b);
    piano(b);
    // Windows behind the camera.
    const day: LightSource[] = [];
    for (const x of [1.0, 4.2]) {
      b.quad([x, -0.58, 1.0], [1.2, 0, 0], [0, 0, 1.4], { ...matt(plain([0.9, 0.9, 0.9])), glow: { layer: 0, colour: [8, 9.4, 10.8] } });
      for (const [px, pz, pw, ph] of [[x - 0.06, 0.94, 1.32, 0.06], [x - 0.06, 2.4, 1.32, 0.06], [x - 0.06, 1, 0.06, 1.4], [x + 1.2, 1, 0.06, 1.4], [x + 0.58, 1, 0.04, 1.4], [x, 1.68, 1.2, 0.04]]) b.box([px, -0.58, pz], [pw, 0.06, ph], wood([0.7, 0.69, 0.65]), 0, 0.006);
      day.push({ kind: 'panel', rect: { middle: [x + 0.6, -0.5, 1.7], u: [-0.6, 0, 0], v: [0, 0, 0.7] }, radiance: [8, 9.4, 10.8] });
    }
    const chairs: readonly (readonly [number, number, number])[] = aside ? [[5.9, 4.9, -1.4], [5.9, 4.4, -1.6]] : [[4.9, 3.3, -0.5], [5.4, 4.5, -0.9], [4.4, 4.4, 0.4]];
    for (const [x, y, turn] of chairs) chair(b, x, y, turn, oak);
    if (!aside) {
      tube(b, [[3.3, 3.9, 0], [3.3, 3.9, 1.12]], 0.012, iron);
      for (const a of [0, 2.1, 4.2]) tube(b, [[3.3, 3.9, 0.2], [3.3 + 0.24 * Math.cos(a), 3.9 + 0.24 * Math.sin(a), 0.01]], 0.008, iron);
      b.box([3.06, 3.84, 1.08], [0.48, 0.02, 0.32], iron, 0.1, 0.004);
    }
    hung(b, [w, 2.4, 1.75], [0, 1, 0], [-1, 0, 0], 0.4, 0.9, matt(cloth([0.45, 0.4, 0.33])));
    hung(b, [w, 2.9, 1.75], [0, 1, 0], [-1, 0, 0], 0.36, 0.7, matt(cloth([0.3, 0.11, 0.1])));
    b.box([w - 0.42, 1.2, 0.42], [0.4, 1.6, 0.05], wood([0.42, 0.28, 0.16]), 0, 0.01);
    for (const y of [1.3, 2.64]) b.box([w - 0.4, y, 0], [0.34, 0.06, 0.42], oak);
    basket(b, [w - 0.22, 3.3, 0], 0.18, 0.3);
    jug(b, [w - 0.24, 1.5, 0.47], 0.24, [0.3, 0.36, 0.36]);
    bottle(b, [w - 0.3, 1.8, 0.47], 0.24, [0.2, 0.24, 0.24]);
    const standing = floorLamp(b, 0.45, 4.9, 1);
    socket(b, [w, 3.7, 0.3], [-1, 0, 0]);
    const pendants: LightSource[] = [];
    for (const x of [1.7, 4.7]) {
      tube(b, [[x, 2.3, 2.42], [x, 2.3, h]], 0.004, iron, 6);
      b.turned([x, 2.3, 2.3], [[0.2, 0], [0.17, 0.07], [0.06, 0.13], [0.02, 0.15]], brass);
      b.cushion([x, 2.3, 2.31], [0.04, 0.04, 0.05], glow(1, [24, 16, 9]), 1);
      pendants.push({ kind: 'bulb', centre: [x, 2.3, 2.3], radius: 0.045, power: [16, 10.8, 6] });
    }
    const pops = Array.from({ length: 12 }, (_, k) => {
      const [column, row] = [k % 6, Math.floor(k / 6)];
      return flash(`flash-${k + 1}`, [0.5 + column * 1.06, 0.2 + row * 2.4, row ? 2.3 : 1.9], [(column - 2.5) * 0.12, 0.8, row ? 0.9 : 0.25], 160);
    });
    return [{ name: 'day', sources: day, view: 0 }, { name: 'lamps', sources: [standing, ...pendants], view: 0 }, ...pops];
  };
}

/** The rehearsal room in the loft: a wall of looking glass that faces the camera. */
export const rehearsalLoft: Room = { name: 'rehearsal-loft', label: 'Rehearsal loft', furnish: loft(false), view: { from: [3.0, -0.45, 1.5], to: [3.25, 5.6, 1.3], fieldOfView: 76, roll: -0.7 } };

/** The same after the chairs were put away: its day, lamps and last four pops. */
export const rehearsalLoftAside: Room = { ...rehearsalLoft, name: 'rehearsal-loft-aside', furnish: (b) => loft(true)(b).filter((_, k) => k < 2 || k > 9) };
