import { matt, type Builder, type Material } from '../builder';
import { plant, tube } from '../forms';
import { brass, clay, flash, glow, iron, leaf, oak, stalk, white, wood } from '../furniture';
import { hash, noise } from '../noise';
import { creekView } from '../outside';
import type { Layer, LightSource, Room } from '../room';
import { boards, brick, plain, ramp, tiles, turf } from '../textures';
import { basket, boardDoor } from '../things';
import type { Vec } from '../vector';

const FRONT = 6;
const LAMPS = 1;

/** A lit window in the mill's front: curtains and a lamp somewhere behind it. */
function litWindow(b: Builder, x: number, z: number, w: number, h: number, seed: number, front: number): void {
  const behind = (u: number, v: number): number => {
    const cloths = u < 0.22 || u > 0.78 ? 0.55 + 0.35 * Math.sin(u * 90 + seed) : 1;
    const lamp = Math.exp(-(((u - 0.3 - 0.4 * hash(seed, 1)) / 0.2) ** 2) - ((v - 0.45) / 0.25) ** 2);
    return cloths * (0.3 + 0.35 * v + 0.9 * lamp + 0.12 * noise(u * 9 + seed, v * 9)) * (v < 0.2 && noise(u * 14, seed) > 0.5 ? 0.4 : 1);
  };
  b.quad([x, front - 0.01, z], [w, 0, 0], [0, 0, h], { ...matt(plain([0.3, 0.25, 0.2]), 0.04, 0.01), glow: { layer: LAMPS, colour: [2.6, 1.55, 0.72], shine: behind } }, true);
  for (const [px, pz, pw, ph] of [[x - 0.07, z - 0.07, w + 0.14, 0.07], [x - 0.07, z + h, w + 0.14, 0.07], [x - 0.07, z, 0.07, h], [x + w, z, 0.07, h], [x + w / 2 - 0.02, z, 0.04, h], [x, z + h * 0.58, w, 0.035]]) b.box([px, front - 0.06, pz], [pw, 0.1, ph], white, 0, 0.008);
  b.box([x - 0.12, front - 0.14, z - 0.13], [w + 0.24, 0.16, 0.06], matt(plain([0.5, 0.49, 0.46])), 0, 0.01);
}

/** The mill: brick below, white weatherboard above, a tiled roof, the hoist's gable. */
function mill(b: Builder): void {
  const bricks = matt(brick([0.38, 0.2, 0.14]));
  const clad = wood([0.62, 0.61, 0.57], 0.02, 0.25);
  b.quad([-6, FRONT, -1], [6.4, 0, 0], [0, 0, 3.7], bricks);
  b.quad([0.4, FRONT, 2.15], [1.1, 0, 0], [0, 0, 0.55], bricks);
  b.quad([1.5, FRONT, -1], [3.5, 0, 0], [0, 0, 3.7], bricks);
  b.quad([0.4, FRONT, -1], [1.1, 0, 0], [0, 0, 1.05], bricks);
  for (let k = 0; k < 17; k++) b.box([-6.1, FRONT - 0.05 + 0.014 * (k % 2), 2.7 + k * 0.175], [11.2, 0.06, 0.19], clad, 0, 0.008);
  for (const x of [-6, 5]) b.quad([x, FRONT, -1], [0, 7, 0], [0, 0, 6.7], bricks);
  const roof = matt(tiles([0.22, 0.115, 0.085], 0.2, 0.24));
  b.quad([-6.4, FRONT - 0.5, 5.45], [11.8, 0, 0], [0, 4.2, 3.6], roof);
  b.box([-6.4, FRONT - 0.56, 5.36], [11.8, 0.1, 0.14], white, 0, 0.01);
  tube(b, [[-6.4, FRONT - 0.58, 5.38], [5.4, FRONT - 0.58, 5.34]], 0.06, iron, 10);
  tube(b, [[4.9, FRONT - 0.1, 5.3], [4.9, FRONT - 0.08, 0]], 0.045, iron, 10);
  // The hoist's gable with its beam.
  b.box([-1.6, FRONT - 0.7, 4.3], [2.0, 1.2, 2.2], clad, 0, 0.01);
  b.triangle([[-1.8, FRONT - 0.72, 6.5], [0.6, FRONT - 0.72, 6.5], [-0.6, FRONT - 0.72, 7.5]], [[0, 0], [2.4, 0], [1.2, 1]], matt(boards([0.6, 0.59, 0.55], 0.16)));
  for (const side of [-1, 1]) b.quad([-0.6 + side * 1.3, FRONT - 0.85, 6.42], [0, 3.0, 0], [-side * 1.3, 0, 1.12], roof);
  b.box([-0.66, FRONT - 1.7, 6.3], [0.12, 1.2, 0.14], oak);
  tube(b, [[-0.6, FRONT - 1.6, 6.3], [-0.6, FRONT - 1.6, 4.6]], 0.012, iron, 6);
  for (const [x, z, w, h, s] of [[-4.9, 0.8, 1.0, 1.25, 1], [-2.6, 0.8, 1.0, 1.25, 2], [2.7, 0.8, 1.2, 1.25, 3], [-4.7, 3.3, 0.9, 1.2, 4], [-2.9, 3.3, 0.9, 1.2, 5], [1.6, 3.3, 0.9, 1.2, 6], [3.5, 3.3, 0.9, 1.2, 7], [-1.05, 4.7, 0.9, 1.2, 8]] as const) litWindow(b, x, z, w, h, s, s === 8 ? FRONT - 0.7 : s > 3 ? FRONT - 0.06 : FRONT);
  b.box([0.33, FRONT - 0.02, 0.0], [0.07, 0.12, 2.2], white, 0, 0.008);
  b.box([1.5, FRONT - 0.02, 0.0], [0.07, 0.12, 2.2], white, 0, 0.008);
  boardDoor(b, [0.42, FRONT + 0.04, 0.05], 1.06, 2.1, 0, matt(plain([0.06, 0.13, 0.14]), 0.04, 0.1));
  b.box([0.1, FRONT - 0.5, -0.1], [1.7, 0.5, 0.14], matt(plain([0.36, 0.35, 0.33])), 0, 0.02);
}

/** A clump of reeds. */
function reeds(b: Builder, middle: Vec, count: number, material: Material): void {
  for (let k = 0; k < count; k++) {
    const [x, y] = [middle[0] + 1.1 * (hash(k, 3) - 0.5), middle[1] + 0.9 * (hash(k, 5) - 0.5)];
    const [lx, ly, tall] = [0.3 * (hash(k, 7) - 0.4), 0.2 * (hash(k, 9) - 0.5), 0.7 + 0.8 * hash(k, 11)];
    tube(b, [[x, y, middle[2]], [x + lx * 0.3, y + ly * 0.3, middle[2] + tall * 0.5], [x + lx, y + ly, middle[2] + tall]], 0.007, material, 4);
    if (k % 4 === 0) b.cushion([x + lx, y + ly, middle[2] + tall + 0.05], [0.014, 0.014, 0.07], wood([0.2, 0.12, 0.06]), 0.8);
  }
}

function grounds(b: Builder): LightSource[] {
  const cobbles = matt(tiles([0.24, 0.235, 0.225], 0.17, 0.12));
  b.quad([-1.2, -12, 0], [4.2, 0, 0], [0, 18, 0], cobbles);
  b.quad([3.4, -12, -0.05], [60, 0, 0], [0, 40, 0], matt(turf([0.13, 0.155, 0.055])));
  b.quad([-1.2, -12, -1], [0, 18, 0], [0, 0, 1.0], matt(brick([0.3, 0.27, 0.24])));
  b.quad([-60, -12, -0.75], [58.8, 0, 0], [0, 90, 0], { ...matt(plain([0.02, 0.028, 0.03]), 0.1, 0.02) });
  for (let k = 0; k < 24; k++) b.box([2.95 + 0.03 * hash(k, 1), -9 + k * 0.6, 0], [0.4, 0.58, 0.5 + 0.06 * hash(k, 2)], matt(brick([0.34, 0.31, 0.27])), 0.03 * (hash(k, 3) - 0.5), 0.04);
  const lights: LightSource[] = [];
  for (let k = 0; k < 4; k++) {
    const y = -5.4 + k * 2.9;
    b.turned([-0.95, y, 0], [[0, 0], [0.11, 0], [0.1, 0.5], [0.14, 0.54], [0.14, 0.62], [0, 0.66]], iron);
    b.cushion([-0.95, y, 0.74], [0.055, 0.055, 0.07], glow(LAMPS, [16, 10, 5]), 0.9);
    lights.push({ kind: 'bulb', centre: [-0.95, y, 0.74], radius: 0.07, power: [3.2, 2, 1] });
    if (k < 3) tube(b, [[-0.95, y, 0.5], [-0.95, y + 0.95, 0.34], [-0.95, y + 1.95, 0.34], [-0.95, y + 2.9, 0.5]], 0.014, iron, 6);
  }
  const reed = matt(plain([0.25, 0.23, 0.1]));
  for (const [x, y, n] of [[-2.6, -4.4, 70], [-3.4, -5.6, 80], [-5.2, 1.4, 60], [4.3, -4.6, 50], [5.2, -1.8, 50]] as const) reeds(b, [x, y, x > 0 ? 0 : -0.75], n, reed);
  // A skiff on its mooring.
  const at = (i: number, j: number, side: number): Vec => {
    const t = j / 10 - 1;
    const s = i / 5;
    return [-3.9 + side * 0.62 * Math.max(0, 1 - Math.abs(t) ** 2.6) ** 0.7 * Math.sin((s * Math.PI) / 2) ** 0.7, -0.6 + t * 1.7, -0.86 + 0.5 * (1 - Math.cos((s * Math.PI) / 2)) + 0.16 * t * t * s];
  };
  for (const side of [-1, 1]) {
    b.sheet(5, 20, (i, j) => at(i, j, side), matt(plain([0.5, 0.5, 0.46]), 0.04, 0.06), 3, 0.5);
    tube(b, Array.from({ length: 21 }, (_, j) => at(5, j, side)), 0.024, oak, 8);
  }
  for (const y of [-1.3, -0.5, 0.3]) b.box([-4.45, y, -0.5], [1.1, 0.22, 0.03], oak, 0, 0.006);
  tube(b, [[-3.9, 1.0, -0.3], [-2.4, 1.6, -0.5], [-1.0, 2.3, 0.1]], 0.012, matt(plain([0.4, 0.34, 0.22])), 6);
  for (const [x, y] of [[2.3, 5.4], [-0.3, 5.5]]) {
    b.turned([x, y, 0], [[0, 0], [0.2, 0], [0.25, 0.42], [0.27, 0.46], [0.22, 0.46], [0.2, 0.4], [0, 0.4]], clay);
    plant(b, [x, y, 0.38], 0.9, 22, leaf, stalk);
  }
  basket(b, [1.9, 5.5, 0], 0.2, 0.3);
  // A lantern beside the door.
  b.box([1.72, FRONT - 0.2, 1.95], [0.03, 0.2, 0.03], iron);
  b.box([1.65, FRONT - 0.28, 1.62], [0.16, 0.16, 0.3], glow(LAMPS, [20, 12.4, 6]), 0, 0.01);
  b.turned([1.73, FRONT - 0.2, 1.92], [[0.13, 0], [0.02, 0.12]], brass);
  lights.push({ kind: 'bulb', centre: [1.73, FRONT - 0.2, 1.76], radius: 0.09, power: [11, 7, 3.4] });
  return lights;
}

function furnish(b: Builder): Layer[] {
  mill(b);
  const lights = grounds(b);
  const sky: LightSource = { kind: 'panel', rect: { middle: [0, 2, 26], u: [45, 0, 0], v: [0, -45, 0] }, radiance: [0.5, 0.68, 1.05] };
  const west: LightSource = { kind: 'panel', rect: { middle: [-40, -20, 8], u: [0, 25, 0], v: [0, 0, 10] }, radiance: [0.62, 0.4, 0.3] };
  const pops: readonly (readonly [Vec, Vec, number])[] = [
    [[-4.5, 2.4, 0.8], [0, 0.9, 0.4], 520], [[0.6, 1.6, 1.8], [0, 0.9, 0.3], 520], [[3.6, 1.2, 1.4], [0.2, 0.9, 0.4], 560],
    [[0.4, -4.5, 1.6], [0.1, 0.9, -0.3], 420], [[-3.2, -3.6, 1.0], [-0.2, 0.9, -0.3], 380], [[4.2, -4.4, 1.3], [0.1, 0.8, -0.2], 420], [[-0.6, -0.4, 3.4], [0, 0.8, 0.6], 900], [[2.2, 2.6, 1.2], [-0.3, 0.9, 0.1], 300],
  ];
  return [
    { name: 'day', sources: [sky, west], view: 1 },
    { name: 'lamps', sources: lights, view: 0 },
    ...pops.map(([at, aim, power], k) => flash(`flash-${k + 1}`, at, aim, power)),
  ];
}

/** Sky and land at dusk. */
function dusk(x: number, y: number, out: Float64Array): void {
  creekView(x, y, out);
  const high = ramp(y, 0.0, 0.42);
  const afterglow = Math.exp(-(((x + 0.75) / 0.7) ** 2)) * (1 - high);
  const land = 0.5 + 0.5 * ramp(y, 0.02, 0.12);
  out[0] *= land * (0.5 + 0.4 * afterglow - 0.36 * high);
  out[1] *= land * (0.52 + 0.06 * afterglow - 0.3 * high);
  out[2] *= land * (0.72 - 0.16 * afterglow - 0.26 * high);
}

/** The mill from the causeway at dusk. */
export const causeway: Room = { name: 'causeway', label: 'The mill from the causeway', furnish, outside: dusk, view: { from: [0.9, -9.6, 1.6], to: [-0.5, 6, 2.3], fieldOfView: 68, roll: 0.4 } };

/** The same after somebody bumped the stand: near and far shift differently. */
export const causewayBumped: Room = { ...causeway, name: 'causeway-bumped', furnish: (b) => furnish(b).filter((_, k) => k < 2 || k > 5), view: { ...causeway.view, from: [0.98, -9.57, 1.62], to: [-0.47, 6, 2.31] } };
