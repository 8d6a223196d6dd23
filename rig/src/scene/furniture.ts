import { matt, type Builder, type Material } from './builder';
import type { Layer, LightSource } from './room';
import { cloth, painting, plain, plaster, timber, type Colour } from './textures';
import type { Vec } from './vector';

/* What the rooms of the demo house are furnished with; lengths in metres. */

export const OAK: Colour = [0.42, 0.26, 0.13];
export const LIME: Colour = [0.8, 0.79, 0.75];
export const steel = matt(plain([0.35, 0.36, 0.37]), 0.3, 0.12);
export const oak = matt(timber(OAK), 0.04, 0.08);
export const white = matt(plain([0.8, 0.79, 0.76]), 0.03, 0.2);
export const leaf = matt(plain([0.07, 0.19, 0.05]));
export const clay = matt(plaster([0.5, 0.22, 0.13]));
const pane: Material = { ...matt(plain([1, 1, 1]), 0.06, 0), pane: true };
export const glazing = (seed: number): Material => matt(painting(seed), 0.045, 0);
export const glow = (layer: number, colour: Vec): Material => ({ ...matt(plain([0.8, 0.78, 0.7])), glow: { layer, colour }, shadowless: true });

/** A wall along x at depth y with a rectangular opening, a reveal behind it, joinery and a pane. Returns the opening's light. */
export function windowWall(b: Builder, y: number, width: number, height: number, hole: { x: number; z: number; w: number; h: number }, wall: Material, bars: number): LightSource {
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
export function shell(b: Builder, w: number, d: number, h: number, floor: Material, walls: readonly [Material, Material, Material], beams: number): void {
  b.quad([0, -0.6, 0], [w, 0, 0], [0, d + 0.6, 0], floor);
  b.quad([0, -0.6, h], [w, 0, 0], [0, d + 0.6, 0], matt(plaster([0.82, 0.815, 0.8])));
  b.quad([0, -0.6, 0], [0, d + 0.6, 0], [0, 0, h], walls[0]);
  b.quad([w, -0.6, 0], [0, d + 0.6, 0], [0, 0, h], walls[1]);
  b.quad([0, -0.6, 0], [w, 0, 0], [0, 0, h], walls[2]);
  for (let k = 0; k < beams; k++) b.box([0, 0.7 + (k * (d - 1)) / Math.max(1, beams - 1) - 0.09, h - 0.2], [w, 0.18, 0.2], oak);
  for (const [x, y, sx, sy] of [[0, -0.6, 0.02, d + 0.6], [w - 0.02, -0.6, 0.02, d + 0.6], [0, d - 0.02, w, 0.02]]) b.box([x, y, 0], [sx, sy, 0.12], white);
}

/** A framed, glazed picture on the wall at depth y (facing the camera) or on a side wall. */
export function picture(b: Builder, corner: Vec, w: Vec, h: number, seed: number, out: Vec, frame: Material): void {
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

export function sofa(b: Builder, x: number, y: number, turn: number, fabric: Material): void {
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

export function table(b: Builder, corner: Vec, size: Vec, top: Material): void {
  const [x, y, z] = corner;
  const [w, d, h] = size;
  b.box([x, y, z + h - 0.045], [w, d, 0.045], top);
  for (const px of [x + 0.05, x + w - 0.11]) for (const py of [y + 0.05, y + d - 0.11]) b.box([px, py, z], [0.06, 0.06, h - 0.045], oak);
}

export function chair(b: Builder, x: number, y: number, turn: number, wood: Material): void {
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

export function shelf(b: Builder, x: number, y: number, w: number, h: number, wood: Material): void {
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

export function floorLamp(b: Builder, x: number, y: number, layer: number): LightSource {
  b.turned([x, y, 0], [[0, 0], [0.15, 0], [0.15, 0.02], [0.012, 0.03], [0.012, 1.42]], steel);
  b.turned([x, y, 1.4], [[0.2, 0], [0.13, 0.26]], glow(layer, [1.5, 1.0, 0.55]));
  return { kind: 'bulb', centre: [x, y, 1.52], radius: 0.05, power: [27, 18, 10] };
}

export function tableLamp(b: Builder, foot: Vec, layer: number): LightSource {
  const [x, y, z] = foot;
  b.turned(foot, [[0, 0], [0.07, 0], [0.085, 0.05], [0.05, 0.14], [0.015, 0.2], [0.015, 0.26]], clay);
  b.turned([x, y, z + 0.24], [[0.14, 0], [0.09, 0.18]], glow(layer, [1.7, 1.1, 0.6]));
  return { kind: 'bulb', centre: [x, y, z + 0.32], radius: 0.035, power: [14, 9.4, 5.2] };
}

export const flash = (name: string, centre: Vec, aim: Vec, power: number): Layer => {
  const l = Math.hypot(...aim);
  return { name, view: 0, sources: [{ kind: 'flash', centre, aim: [aim[0] / l, aim[1] / l, aim[2] / l], radius: 0.22, power: [power * 0.97, power, power * 1.06] }] };
};

/** A wall along x at depth y with an open doorway from the floor up. */
export function doorWall(b: Builder, y: number, width: number, height: number, door: { x: number; w: number; h: number }, wall: Material): void {
  const deep = 0.22;
  const { x, w, h } = door;
  for (const at of [y, y + deep]) {
    b.quad([0, at, 0], [x, 0, 0], [0, 0, height], wall);
    b.quad([x + w, at, 0], [width - x - w, 0, 0], [0, 0, height], wall);
    b.quad([x, at, h], [w, 0, 0], [0, 0, height - h], wall);
  }
  b.quad([x, y, 0], [0, deep, 0], [0, 0, h], wall);
  b.quad([x + w, y, 0], [0, deep, 0], [0, 0, h], wall);
  b.quad([x, y, h], [w, 0, 0], [0, deep, 0], wall);
  for (const px of [x - 0.07, x + w]) b.box([px, y - 0.02, 0], [0.07, 0.02, h + 0.07], white);
  b.box([x - 0.07, y - 0.02, h], [w + 0.14, 0.02, 0.07], white);
}

/** A looking glass that faces the camera, framed. */
export function mirror(b: Builder, corner: Vec, w: number, h: number, frame: Material): void {
  const [x, y, z] = corner;
  b.quad([x, y - 0.02, z], [w, 0, 0], [0, 0, h], { ...matt(plain([0.9, 0.9, 0.9])), gloss: 0.92 });
  for (const [px, pz, pw, ph] of [[x - 0.04, z - 0.04, w + 0.08, 0.04], [x - 0.04, z + h, w + 0.08, 0.04], [x - 0.04, z, 0.04, h], [x + w, z, 0.04, h]]) b.box([px, y - 0.045, pz], [pw, 0.04, ph], frame);
}

export function bed(b: Builder, x: number, y: number, blanket: Material): void {
  b.box([x, y, 0], [1.6, 2.05, 0.28], oak);
  b.cushion([x + 0.8, y + 1.02, 0.42], [0.8, 1.02, 0.15], matt(cloth([0.74, 0.73, 0.7])), 0.15);
  b.cushion([x + 0.8, y + 0.72, 0.5], [0.84, 0.74, 0.12], blanket, 0.2);
  for (const px of [x + 0.42, x + 1.18]) b.cushion([px, y + 1.75, 0.64], [0.34, 0.2, 0.1], matt(cloth([0.78, 0.77, 0.75])), 0.5, 0, 0.5);
  b.box([x, y + 2.05, 0], [1.6, 0.06, 1.15], oak);
}
