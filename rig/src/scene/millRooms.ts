import { matt, type Builder, type Material } from './builder';
import type { Layer, LightSource, Room } from './room';
import { boards, brick, cloth, painting, plain, plaster, rug, tiles, timber, type Colour } from './textures';
import type { Vec } from './vector';

/*
 * The demo house: Saltpan Tide Mill, 3 Causeway Lane, Merrow Creek; let by Heron & Quay, agents. An old tide
 * mill turned into a home. Everything about it is made up.
 */

const OAK: Colour = [0.42, 0.26, 0.13];
const LIME: Colour = [0.8, 0.79, 0.75];
const steel = matt(plain([0.35, 0.36, 0.37]), 0.3, 0.12);
const oak = matt(timber(OAK), 0.04, 0.08);
const white = matt(plain([0.8, 0.79, 0.76]), 0.03, 0.2);
const leaf = matt(plain([0.07, 0.19, 0.05]));
const clay = matt(plaster([0.5, 0.22, 0.13]));
const pane: Material = { ...matt(plain([1, 1, 1]), 0.06, 0), pane: true };
const glazing = (seed: number): Material => matt(painting(seed), 0.045, 0);
const glow = (layer: number, colour: Vec): Material => ({ ...matt(plain([0.8, 0.78, 0.7])), glow: { layer, colour }, shadowless: true });

/** A wall along x at depth y with a rectangular opening, a reveal behind it, joinery and a pane. Returns the opening's light. */
function windowWall(b: Builder, y: number, width: number, height: number, hole: { x: number; z: number; w: number; h: number }, wall: Material, bars: number): LightSource {
  const { x, z, w, h } = hole;
  const deep = 0.34;
  b.quad([0, y, 0], [x, 0, 0], [0, 0, height], wall);
  b.quad([x + w, y, 0], [width - x - w, 0, 0], [0, 0, height], wall);
  b.quad([x, y, 0], [w, 0, 0], [0, 0, z], wall);
  b.quad([x, y, z + h], [w, 0, 0], [0, 0, height - z - h], wall);
  b.quad([x, y, z], [0, deep, 0], [0, 0, h], wall);
  b.quad([x + w, y, z], [0, deep, 0], [0, 0, h], wall);
  b.quad([x, y, z + h], [w, 0, 0], [0, deep, 0], wall);
  b.box([x - 0.04, y - 0.07, z - 0.035], [w + 0.08, deep + 0.07, 0.035], oak);
  const at = y + deep - 0.06;
  for (const [px, pz, pw, ph] of [[x, z, w, 0.06], [x, z + h - 0.06, w, 0.06], [x, z, 0.06, h], [x + w - 0.06, z, 0.06, h]]) b.box([px, at, pz], [pw, 0.05, ph], white);
  for (let k = 1; k < bars; k++) b.box([x + (w * k) / bars - 0.018, at, z], [0.036, 0.05, h], white);
  b.box([x, at + 0.005, z + h * 0.55], [w, 0.04, 0.03], white);
  b.quad([x, at + 0.025, z], [w, 0, 0], [0, 0, h], pane);
  return { kind: 'panel', rect: { middle: [x + w / 2, at - 0.01, z + h / 2], u: [-w / 2, 0, 0], v: [0, 0, -h / 2] }, radiance: [14, 16, 18.5] };
}

/** Floor, ceiling with beams, and three plain walls. */
function shell(b: Builder, w: number, d: number, h: number, floor: Material, walls: readonly [Material, Material, Material], beams: number): void {
  b.quad([0, -0.6, 0], [w, 0, 0], [0, d + 0.6, 0], floor);
  b.quad([0, -0.6, h], [w, 0, 0], [0, d + 0.6, 0], matt(plaster([0.82, 0.815, 0.8])));
  b.quad([0, -0.6, 0], [0, d + 0.6, 0], [0, 0, h], walls[0]);
  b.quad([w, -0.6, 0], [0, d + 0.6, 0], [0, 0, h], walls[1]);
  b.quad([0, -0.6, 0], [w, 0, 0], [0, 0, h], walls[2]);
  for (let k = 0; k < beams; k++) b.box([0, 0.7 + (k * (d - 1)) / Math.max(1, beams - 1) - 0.09, h - 0.2], [w, 0.18, 0.2], oak);
  for (const [x, y, sx, sy] of [[0, -0.6, 0.02, d + 0.6], [w - 0.02, -0.6, 0.02, d + 0.6], [0, d - 0.02, w, 0.02]]) b.box([x, y, 0], [sx, sy, 0.12], white);
}

/** A framed, glazed picture on the wall at depth y (facing the camera) or on a side wall. */
function picture(b: Builder, corner: Vec, w: Vec, h: number, seed: number, out: Vec, frame: Material): void {
  const t = 0.025;
  const at = (s: number, v: number, o: number): Vec => [corner[0] + w[0] * s + out[0] * o, corner[1] + w[1] * s + out[1] * o, corner[2] + v * h];
  const span = (s: number, v: number): [Vec, Vec] => [[w[0] * s, w[1] * s, 0], [0, 0, h * v]];
  b.quad(at(0, 0, t), ...span(1, 1), glazing(seed), true);
  const rim = 0.03;
  const r = rim / Math.hypot(...w);
  for (const [s, v, ds, dv] of [[-r, -rim / h, 1 + 2 * r, rim / h], [-r, 1, 1 + 2 * r, rim / h], [-r, 0, r, 1], [1, 0, r, 1]]) {
    b.quad(at(s, v, t + 0.012), ...span(ds, dv), frame);
    b.quad(at(s, v, 0), ...span(ds, 0.0001), frame);
  }
}

function sofa(b: Builder, x: number, y: number, turn: number, fabric: Material): void {
  const cos = Math.cos(turn);
  const sin = Math.sin(turn);
  const at = (u: number, v: number, z: number): Vec => [x + cos * u - sin * v, y + sin * u + cos * v, z];
  const part = (u: number, v: number, z: number, half: Vec, power = 0.28, tilt = 0): void => b.cushion(at(u, v, z), half, fabric, power, turn, tilt);
  part(0, 0, 0.2, [1.0, 0.44, 0.13], 0.2);
  part(-0.46, -0.05, 0.4, [0.46, 0.4, 0.11]);
  part(0.46, -0.05, 0.4, [0.46, 0.4, 0.11]);
  part(-0.46, 0.33, 0.66, [0.44, 0.13, 0.26], 0.35, -0.18);
  part(0.46, 0.33, 0.66, [0.44, 0.13, 0.26], 0.35, -0.18);
  part(-1.02, 0, 0.38, [0.12, 0.45, 0.24], 0.25);
  part(1.02, 0, 0.38, [0.12, 0.45, 0.24], 0.25);
  b.cushion(at(-0.66, 0.1, 0.64), [0.23, 0.09, 0.2], matt(cloth([0.62, 0.33, 0.08])), 0.5, turn + 0.2, -0.3);
  b.cushion(at(0.7, 0.12, 0.63), [0.22, 0.08, 0.19], matt(cloth([0.1, 0.2, 0.3])), 0.5, turn - 0.25, -0.3);
}

function table(b: Builder, corner: Vec, size: Vec, top: Material): void {
  const [x, y, z] = corner;
  const [w, d, h] = size;
  b.box([x, y, z + h - 0.045], [w, d, 0.045], top);
  for (const px of [x + 0.05, x + w - 0.11]) for (const py of [y + 0.05, y + d - 0.11]) b.box([px, py, z], [0.06, 0.06, h - 0.045], oak);
}

function chair(b: Builder, x: number, y: number, turn: number, wood: Material): void {
  const cos = Math.cos(turn);
  const sin = Math.sin(turn);
  const part = (u: number, v: number, z: number, s: Vec): void => b.box([x + cos * u - sin * v - s[0] / 2, y + sin * u + cos * v - s[1] / 2, z], s, wood, turn);
  part(0, 0, 0.44, [0.42, 0.42, 0.035]);
  for (const u of [-0.18, 0.18]) {
    part(u, -0.18, 0, [0.035, 0.035, 0.44]);
    part(u, 0.18, 0, [0.035, 0.035, 0.92]);
  }
  for (const z of [0.6, 0.72, 0.84]) part(0, 0.18, z, [0.36, 0.025, 0.06]);
}

function shelf(b: Builder, x: number, y: number, w: number, h: number, wood: Material): void {
  for (const px of [x, x + w - 0.03]) b.box([px, y - 0.3, 0], [0.03, 0.3, h], wood);
  b.quad([x, y - 0.005, 0], [w, 0, 0], [0, 0, h], wood);
  const rows = Math.round(h / 0.36);
  for (let r = 0; r <= rows; r++) b.box([x, y - 0.3, (r * (h - 0.03)) / rows], [w, 0.3, 0.03], wood);
  const tones: Colour[] = [[0.45, 0.1, 0.08], [0.1, 0.2, 0.32], [0.62, 0.58, 0.48], [0.14, 0.26, 0.17], [0.55, 0.36, 0.1], [0.2, 0.16, 0.2]];
  for (let r = 0; r < rows; r++) {
    let at = x + 0.05;
    for (let k = 0; at < x + w - 0.12; k++) {
      const thick = 0.022 + 0.022 * ((k * 0.618 + r * 0.37) % 1);
      const tall = 0.2 + 0.09 * ((k * 0.377 + r * 0.71) % 1);
      if ((k + r * 3) % 9 !== 7) b.box([at, y - 0.24, (r * (h - 0.03)) / rows + 0.03], [thick, 0.17, tall], matt(cloth(tones[(k * 5 + r * 2) % tones.length])));
      at += thick + ((k + r * 3) % 9 === 7 ? 0.1 : 0.003);
    }
  }
}

function floorLamp(b: Builder, x: number, y: number, layer: number): LightSource {
  b.turned([x, y, 0], [[0, 0], [0.15, 0], [0.15, 0.02], [0.012, 0.03], [0.012, 1.42]], steel);
  b.turned([x, y, 1.4], [[0.2, 0], [0.13, 0.26]], glow(layer, [1.5, 1.0, 0.55]));
  return { kind: 'bulb', centre: [x, y, 1.52], radius: 0.05, power: [27, 18, 10] };
}

function tableLamp(b: Builder, foot: Vec, layer: number): LightSource {
  const [x, y, z] = foot;
  b.turned(foot, [[0, 0], [0.07, 0], [0.085, 0.05], [0.05, 0.14], [0.015, 0.2], [0.015, 0.26]], clay);
  b.turned([x, y, z + 0.24], [[0.14, 0], [0.09, 0.18]], glow(layer, [1.7, 1.1, 0.6]));
  return { kind: 'bulb', centre: [x, y, z + 0.32], radius: 0.035, power: [14, 9.4, 5.2] };
}

const flash = (name: string, centre: Vec, aim: Vec, power: number): Layer => {
  const l = Math.hypot(...aim);
  return { name, view: 0, sources: [{ kind: 'flash', centre, aim: [aim[0] / l, aim[1] / l, aim[2] / l], radius: 0.22, power: [power * 0.97, power, power * 1.06] }] };
};

/** The grinding floor, now the sitting room: brick end wall, deep window over the creek, beams. */
function sittingRoom(): Room {
  const [w, d, h] = [6.2, 5.2, 2.75];
  const furnish = (b: Builder): Layer[] => {
    const walls = matt(plaster([0.74, 0.75, 0.71]));
    shell(b, w, d, h, matt(boards(OAK, 0.14), 0.04, 0.05), [walls, walls, walls], 4);
    const day = windowWall(b, d, w, h, { x: 1.75, z: 0.85, w: 1.9, h: 1.35 }, matt(brick([0.46, 0.24, 0.17])), 3);
    b.curtain([1.35, d - 0.1, 2.42], [0.42, 0, 0], 2.36, [0, -1, 0], 4, 0.05, matt(cloth([0.62, 0.6, 0.53])));
    b.curtain([3.65, d - 0.1, 2.42], [0.42, 0, 0], 2.36, [0, -1, 0], 4, 0.05, matt(cloth([0.62, 0.6, 0.53])));
    b.box([1.2, d - 0.12, 2.43], [3.0, 0.03, 0.03], steel);
    b.quad([1.3, 1.7, 0.006], [3.2, 0, 0], [0, 2.2, 0], matt(rug([0.5, 0.44, 0.35], [0.12, 0.16, 0.22], [0.45, 0.13, 0.09], 3.2, 2.2)));
    sofa(b, 0.95, 2.9, Math.PI / 2, matt(cloth([0.2, 0.27, 0.25])));
    table(b, [2.2, 2.35, 0], [1.15, 0.65, 0.42], matt(timber([0.5, 0.32, 0.17]), 0.05, 0.04));
    b.turned([2.75, 2.7, 0.42], [[0, 0], [0.05, 0], [0.11, 0.05], [0.13, 0.1], [0.125, 0.1], [0.04, 0.03]], matt(plain([0.1, 0.24, 0.3]), 0.06, 0.05));
    b.box([2.35, 2.5, 0.42], [0.22, 0.3, 0.03], matt(cloth([0.5, 0.12, 0.1])), 0.2);
    b.box([2.36, 2.52, 0.45], [0.19, 0.25, 0.025], white, 0.1);
    shelf(b, 4.6, d, 1.35, 1.85, oak);
    b.cushion([4.95, 2.0, 0.34], [0.42, 0.44, 0.16], matt(cloth([0.42, 0.24, 0.12])), 0.4, -0.5);
    b.cushion([5.32, 2.12, 0.7], [0.14, 0.4, 0.36], matt(cloth([0.42, 0.24, 0.12])), 0.4, -0.35);
    for (const [x, y] of [[4.7, 1.7], [4.75, 2.3], [5.2, 1.75], [5.25, 2.35]]) b.box([x, y, 0], [0.04, 0.04, 0.2], oak);
    const standing = floorLamp(b, 0.55, 4.5, 1);
    table(b, [5.55, 3.25, 0], [0.5, 0.5, 0.55], oak);
    const small = tableLamp(b, [5.8, 3.5, 0.55], 1);
    picture(b, [0, 2.2, 1.35], [0, 0.62, 0], 0.8, 2, [1, 0, 0], matt(plain([0.05, 0.05, 0.05])));
    picture(b, [0, 3.1, 1.35], [0, 0.62, 0], 0.8, 5, [1, 0, 0], matt(plain([0.05, 0.05, 0.05])));
    // A round-cornered looking glass on the right wall.
    b.quad([w - 0.02, 3.95, 1.05], [0, -1.0, 0], [0, 0, 1.05], { ...matt(plain([0.9, 0.9, 0.9])), gloss: 0.92 });
    for (const [y, z, sy, sz] of [[2.9, 1.0, 1.1, 0.05], [2.9, 2.1, 1.1, 0.05], [2.9, 1.0, 0.05, 1.15], [3.95, 1.0, 0.05, 1.15]]) b.box([w - 0.045, y, z], [0.04, sy, sz], oak);
    b.turned([4.25, 4.9, 0], [[0, 0], [0.16, 0], [0.19, 0.3], [0.17, 0.3], [0.16, 0.26], [0, 0.26]], clay);
    b.plant([4.25, 4.9, 0.25], 0.75, 26, leaf);
    b.turned([2.3, d + 0.12, 0.85], [[0, 0], [0.05, 0], [0.06, 0.1], [0.03, 0.2], [0.035, 0.24]], matt(plain([0.15, 0.3, 0.32]), 0.06, 0.03));
    return [
      { name: 'day', sources: [day], view: 6 },
      { name: 'lamps', sources: [standing, small], view: 0 },
      flash('flash-1', [3.7, -0.35, 2.1], [0, 0.5, 0.9], 420),
      flash('flash-2', [0.5, 0.2, 2.0], [0.6, 0.7, 0.35], 420),
      flash('flash-3', [5.8, 0.4, 2.0], [-0.6, 0.7, 0.35], 420),
      flash('flash-4', [5.2, 4.3, 2.2], [-0.5, -0.3, 0.8], 330),
    ];
  };
  return {
    name: 'sitting-room', label: 'Sitting room', furnish,
    view: { from: [3.75, -0.45, 1.38], to: [3.15, 5.2, 1.22], fieldOfView: 76 },
  };
}

/** The keeper's kitchen under the sluice: painted units, tiles, a small window, a table laid. */
function keepersKitchen(): Room {
  const [w, d, h] = [4.6, 4.3, 2.5];
  const furnish = (b: Builder): Layer[] => {
    const bulbs: LightSource[] = [];
    const walls = matt(plaster([0.78, 0.72, 0.6]));
    shell(b, w, d, h, matt(tiles([0.36, 0.17, 0.11], 0.2, 0.2), 0.04, 0.06), [walls, walls, walls], 3);
    const day = windowWall(b, d, w, h, { x: 1.55, z: 1.1, w: 1.3, h: 0.95 }, matt(plaster(LIME)), 2);
    const unit = matt(plain([0.16, 0.25, 0.27]), 0.04, 0.15);
    const top = matt(timber([0.46, 0.28, 0.13]), 0.05, 0.05);
    for (let k = 0; k < 6; k++) {
      b.box([0.1 + k * 0.73, d - 0.6, 0.08], [0.71, 0.6, 0.8], unit);
      b.box([0.35 + k * 0.73, d - 0.63, 0.74], [0.2, 0.02, 0.02], steel);
      b.box([0.13 + k * 0.73, d - 0.612, 0.13], [0.65, 0.012, 0.5], matt(plain([0.19, 0.29, 0.31]), 0.04, 0.15));
    }
    b.box([0, d - 0.64, 0.88], [w, 0.64, 0.04], top);
    b.quad([0, d - 0.012, 0.92], [1.5, 0, 0], [0, 0, 0.55], matt(tiles([0.74, 0.76, 0.72], 0.15, 0.075), 0.06, 0.02));
    b.quad([2.9, d - 0.012, 0.92], [1.7, 0, 0], [0, 0, 0.55], matt(tiles([0.74, 0.76, 0.72], 0.15, 0.075), 0.06, 0.02));
    for (const x of [0.2, 3.1]) {
      b.box([x, d - 0.24, 1.62], [1.2, 0.24, 0.035], oak);
      for (let k = 0; k < 6; k++) b.turned([x + 0.12 + k * 0.19, d - 0.12, 1.655], [[0, 0], [0.045, 0], [0.05, 0.05 + 0.03 * (k % 3)], [0.04, 0.12 + 0.03 * (k % 3)]], k % 2 ? clay : white);
    }
    table(b, [1.35, 1.35, 0], [1.75, 0.95, 0.74], matt(timber([0.52, 0.34, 0.18]), 0.045, 0.05));
    chair(b, 1.75, 1.15, 0.15 + Math.PI, oak);
    chair(b, 2.65, 1.1, -0.1 + Math.PI, oak);
    chair(b, 1.8, 2.6, 0.1, oak);
    chair(b, 2.7, 2.62, -0.12, oak);
    b.turned([2.2, 1.85, 0.74], [[0, 0], [0.06, 0], [0.15, 0.06], [0.17, 0.09], [0.16, 0.09], [0.05, 0.02]], matt(plain([0.72, 0.68, 0.6]), 0.06, 0.04));
    for (const [x, y] of [[2.14, 1.82], [2.24, 1.9], [2.22, 1.79]]) b.cushion([x, y, 0.83], [0.045, 0.045, 0.042], matt(plain([0.6, 0.26, 0.03]), 0.03, 0.2), 1);
    for (const x of [1.75, 2.7]) b.turned([x, 1.65, 0.741], [[0, 0.004], [0.1, 0.004], [0.13, 0.018], [0.128, 0.02], [0.1, 0.01]], white);
    b.turned([0.6, d - 0.3, 0.92], [[0, 0], [0.09, 0], [0.1, 0.1], [0.06, 0.19], [0.02, 0.2]], steel);
    b.turned([3.5, d - 0.3, 0.92], [[0, 0], [0.06, 0], [0.06, 0.22], [0.055, 0.22]], clay);
    b.plant([1.75, d + 0.1, 1.1], 0.3, 16, leaf);
    b.turned([1.75, d + 0.1, 1.1], [[0, 0], [0.06, 0], [0.07, 0.11], [0.06, 0.11]], clay);
    for (const x of [1.75, 2.75]) {
      b.box([x - 0.006, 1.84, 1.78], [0.012, 0.012, h - 1.78], matt(plain([0.03, 0.03, 0.03])));
      b.turned([x, 1.85, 1.62], [[0.19, 0], [0.15, 0.08], [0.05, 0.17], [0.02, 0.18]], { ...matt(plain([0.1, 0.12, 0.12]), 0.05, 0.1), shadowless: false });
      b.turned([x, 1.85, 1.61], [[0, 0], [0.03, 0.01], [0.04, 0.05], [0.02, 0.09]], glow(1, [30, 20, 11]));
      bulbs.push({ kind: 'bulb', centre: [x, 1.85, 1.65], radius: 0.04, power: [20, 13.4, 7.4] });
    }
    picture(b, [0, 1.6, 1.3], [0, 0.5, 0], 0.65, 9, [1, 0, 0], oak);
    b.box([w - 0.45, 0.9, 0], [0.45, 1.3, 2.0], unit);
    b.box([w - 0.47, 1.0, 0.1], [0.02, 0.52, 1.8], matt(plain([0.19, 0.29, 0.31]), 0.04, 0.15));
    b.box([w - 0.47, 1.57, 0.1], [0.02, 0.52, 1.8], matt(plain([0.19, 0.29, 0.31]), 0.04, 0.15));
    b.quad([0.9, 0.7, 0.005], [2.7, 0, 0], [0, 2.2, 0], matt(rug([0.28, 0.3, 0.3], [0.6, 0.55, 0.46], [0.35, 0.2, 0.12], 2.7, 2.2)));
    return [
      { name: 'day', sources: [day], view: 6 },
      { name: 'lamps', sources: bulbs, view: 0 },
      flash('flash-1', [0.4, -0.2, 2.0], [0.5, 0.8, 0.5], 300),
      flash('flash-2', [4.1, -0.2, 2.0], [-0.5, 0.8, 0.6], 300),
    ];
  };
  return {
    name: 'kitchen', label: 'Kitchen', furnish,
    view: { from: [2.05, -0.5, 1.42], to: [2.45, 4.3, 1.15], fieldOfView: 74 },
  };
}

export const ROOMS: readonly Room[] = [sittingRoom(), keepersKitchen()];
