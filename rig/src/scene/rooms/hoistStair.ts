import { as, matt, type Builder } from '../builder';
import { tube } from '../forms';
import { brass, flash, glow, iron, oak, pane, picture, wood } from '../furniture';
import type { Layer, LightSource, Room } from '../room';
import { boards, cloth, plaster, sisal } from '../textures';
import { basket, hung, jug, socket } from '../things';
import type { Vec } from '../vector';

const [w, foot, steps, rise, run] = [1.3, 1.7, 12, 0.19, 0.26];
const top = steps * rise;
const landing = foot + steps * run;
const end = landing + 1.3;

/** A steep stair between boarded walls; the ceiling follows it. */
function stair(b: Builder): void {
  const tread = wood([0.4, 0.26, 0.14], 0.04, 0.06);
  const riser = matt(plaster([0.66, 0.68, 0.62]));
  const runner = matt(sisal([0.42, 0.34, 0.22]));
  for (let k = 0; k < steps; k++) {
    const [y, z] = [foot + k * run, (k + 1) * rise];
    b.quad([0, y + 0.02, k * rise], [w, 0, 0], [0, 0, rise], riser);
    b.box([0, y, z - 0.03], [w, run + 0.03, 0.03], tread, 0, 0.008);
    b.box([0.3, y - 0.004, z], [w - 0.6, run + 0.004, 0.008], runner, 0, 0.003);
    b.box([0.3, y - 0.004, z - rise + 0.004], [w - 0.6, 0.026, rise], runner, 0, 0.003);
    tube(b, [[0.26, y + run - 0.012, z + 0.014], [w - 0.26, y + run - 0.012, z + 0.014]], 0.005, brass, 6);
  }
  b.quad([0, landing, top], [w, 0, 0], [0, end - landing, 0], matt(boards([0.36, 0.235, 0.13], 0.14), 0.04, 0.06));
}

function furnish(b: Builder): Layer[] {
  const wall = as('wall', matt(boards([0.5, 0.555, 0.49], 0.11), 0.02, 0.25));
  const lime = as('wall', matt(plaster([0.79, 0.78, 0.74])));
  const ceiling = as('ceiling', matt(plaster([0.79, 0.78, 0.74])));
  const head = top + 2.3;
  b.quad([0, -1.2, 0], [w, 0, 0], [0, foot + 1.3, 0], as('floor', matt(boards([0.36, 0.235, 0.13], 0.14), 0.04, 0.06)));
  // Walls of standing boards: their grain runs up.
  b.quad([0, -1.2, 0], [0, 0, head], [0, end + 1.2, 0], wall);
  b.quad([w, -1.2, 0], [0, 0, head], [0, end + 1.2, 0], wall);
  b.quad([0, -1.2, 0], [w, 0, 0], [0, 0, head], lime);
  b.quad([0, end, top], [w, 0, 0], [0, 0, 0.9], lime);
  b.quad([0, end, top + 1.7], [w, 0, 0], [0, 0, 0.6], lime);
  b.quad([0, end, top + 0.9], [0.3, 0, 0], [0, 0, 0.8], lime);
  b.quad([w - 0.3, end, top + 0.9], [0.3, 0, 0], [0, 0, 0.8], lime);
  for (const x of [0.27, w / 2 - 0.015, w - 0.3]) b.box([x, end - 0.03, top + 0.88], [0.03, 0.05, 0.84], wood([0.7, 0.69, 0.64]));
  for (const z of [top + 0.87, top + 1.69]) b.box([0.27, end - 0.03, z], [w - 0.54, 0.05, 0.03], wood([0.7, 0.69, 0.64]));
  b.quad([0.3, end, top + 0.9], [w - 0.6, 0, 0], [0, 0, 0.8], as('glass', pane));
  const day: LightSource = { kind: 'panel', rect: { middle: [w / 2, end - 0.04, top + 1.3], u: [-(w - 0.6) / 2, 0, 0], v: [0, 0, -0.4] }, radiance: [13, 15, 17.5] };
  b.quad([0, -1.2, 2.3], [w, 0, 0], [0, foot + 0.5, 0], ceiling);
  b.quad([0, foot - 0.7, 2.3], [w, 0, 0], [0, landing - foot, head - 2.3], ceiling);
  b.quad([0, landing - 0.7, head], [w, 0, 0], [0, end - landing + 0.7, 0], ceiling);
  stair(b);
  // Handrail and its brackets; the hoist's rope on its cleat.
  tube(b, [[w - 0.07, 0.9, 0.92], [w - 0.07, foot, 0.98], [w - 0.07, landing, top + 0.95], [w - 0.07, end - 0.1, top + 0.95]], 0.022, oak, 12);
  for (const t of [0.05, 0.35, 0.65, 0.95]) tube(b, [[w, foot + t * (landing - foot), 0.9 + t * (top - 0.03)], [w - 0.07, foot + t * (landing - foot), 0.96 + t * (top - 0.03)]], 0.008, iron, 6);
  const rope = matt(sisal([0.5, 0.4, 0.25]));
  const fall: Vec[] = [[0.12, 1.35, 2.3], [0.12, 1.35, 1.7], [0.1, 1.36, 1.2], [0.13, 1.33, 0.75]];
  tube(b, fall, 0.016, rope, 10);
  for (let k = 0; k < 5; k++) tube(b, Array.from({ length: 15 }, (_, j) => [0.1 + 0.01 * k, 1.34 + 0.1 * Math.sin((j * Math.PI) / 7), 0.62 + 0.18 * Math.cos((j * Math.PI) / 7) - 0.02 * k] as Vec), 0.014, rope, 8);
  b.box([0, 1.28, 1.18], [0.05, 0.14, 0.05], iron);
  hung(b, [0, 0.35, 1.7], [0, 1, 0], [1, 0, 0], 0.4, 1.0, matt(cloth([0.42, 0.34, 0.12])));
  hung(b, [0, 0.8, 1.7], [0, 1, 0], [1, 0, 0], 0.34, 0.8, matt(cloth([0.12, 0.17, 0.23])));
  b.box([0.0, 0.15, 1.68], [0.025, 1.0, 0.07], oak, 0, 0.006);
  basket(b, [0.24, 1.1, 0], 0.17, 0.32);
  for (const [x, y] of [[1.05, 0.5], [1.17, 0.52]]) b.turned([x, y, 0], [[0.045, 0], [0.05, 0.04], [0.045, 0.1], [0.06, 0.32], [0.052, 0.32]], matt(cloth([0.07, 0.11, 0.09]), 0.05, 0.1));
  picture(b, [w, 1.25, 1.3], [0, -0.42, 0], 0.55, 51, [-1, 0, 0], iron);
  jug(b, [1.1, landing + 0.5, top], 0.3, [0.42, 0.3, 0.2]);
  socket(b, [w, 0.3, 0.3], [-1, 0, 0]);
  b.box([0, 1.62, 1.85], [0.06, 0.1, 0.14], brass, 0, 0.008);
  b.cushion([0.1, 1.67, 2.02], [0.045, 0.045, 0.06], glow(1, [26, 17, 9]), 1);
  const lamp: LightSource = { kind: 'bulb', centre: [0.1, 1.67, 2.02], radius: 0.05, power: [5.5, 3.7, 2] };
  return [
    { name: 'day', sources: [day], view: 6 },
    { name: 'lamps', sources: [lamp], view: 0 },
    flash('flash-1', [0.35, -0.3, 1.95], [0.2, 0.8, 0.5], 90),
    flash('flash-2', [1.0, 0.9, 2.0], [-0.3, 0.5, 0.8], 70),
    flash('flash-3', [0.5, 2.9, 2.9], [0.3, 0.5, 0.8], 90),
    flash('flash-4', [0.9, landing + 0.4, top + 1.6], [-0.4, -0.6, 0.5], 80),
  ];
}

/** The stair to the grain hoist: so narrow that every pop spills onto both walls. */
export const hoistStair: Room = { name: 'hoist-stair', label: 'Stair to the grain hoist', furnish, view: { from: [0.68, -1.0, 1.45], to: [0.64, 4.0, 1.75], fieldOfView: 66, roll: 0.8 } };
