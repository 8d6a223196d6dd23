import { as, matt, type Builder, type Material } from './builder';
import { disc, drape, tube } from './forms';
import { noise } from './noise';
import type { Layer, LightSource } from './room';
import { cloth, foliage, painting, plain, plaster, timber, type Colour } from './textures';
import { add, type Vec } from './vector';

/* What the rooms of the demo house are furnished with; lengths in metres. */

export const OAK: Colour = [0.36, 0.215, 0.105];
export const LIME: Colour = [0.8, 0.79, 0.75];
export const wood = (c: Colour, gloss = 0.04, roughness = 0.08): Material => ({ ...matt(timber(c), gloss, roughness), grain: true });
export const steel = matt(plain([0.35, 0.36, 0.37]), 0.3, 0.12);
export const brass = matt(plain([0.5, 0.34, 0.13]), 0.3, 0.14);
export const iron = matt(plain([0.035, 0.035, 0.038]), 0.05, 0.16);
export const oak = wood(OAK);
export const white = matt(plain([0.76, 0.755, 0.73]), 0.03, 0.2);
export const leaf = matt(foliage([0.075, 0.15, 0.045]), 0.03, 0.2);
export const palm = matt(foliage([0.11, 0.19, 0.07]), 0.03, 0.2);
export const stalk = matt(plain([0.13, 0.16, 0.06]));
export const clay = matt(plaster([0.5, 0.25, 0.15]));
export const glaze = (c: Colour): Material => matt(plain(c), 0.05, 0.03);
export const pane: Material = { ...matt(plain([1, 1, 1]), 0.06, 0), pane: true };
const windowPane = as('glass', pane);
export const glazing = (seed: number): Material => as('picture', matt(painting(seed), 0.045, 0));

/** A surface that gives light by itself, all over alike. */
export const glow = (layer: number, colour: Vec): Material => ({ ...matt(plain([0.8, 0.78, 0.7])), glow: { layer, colour }, shadowless: true, what: 'bulb' });

/** A shade of cloth about a bulb, brightest beside it. @param bulb where on the shade the bulb is, 0 at its foot, 1 on top */
const shade = (layer: number, colour: Vec, bulb: number): Material => ({
  ...matt(cloth([0.72, 0.66, 0.54])),
  glow: { layer, colour, shine: (u, v) => (0.3 + 0.85 * Math.exp(-(((v - bulb) / 0.42) ** 2))) * (0.94 + 0.09 * noise(u * 420, v * 26) + 0.05 * noise(u * 60, v * 210)) },
  shadowless: true,
});

/** A wall along x at depth y with a rectangular opening, a reveal behind it, joinery and a pane. Returns the opening's light. */
export function windowWall(b: Builder, y: number, width: number, height: number, hole: { x: number; z: number; w: number; h: number }, wall: Material, bars: number): LightSource {
  const face = as('wall', wall);
  const { x, z, w, h } = hole;
  const deep = 0.34;
  b.quad([0, y, 0], [x, 0, 0], [0, 0, height], face);
  b.quad([x + w, y, 0], [width - x - w, 0, 0], [0, 0, height], face);
  b.quad([x, y, 0], [w, 0, 0], [0, 0, z], face);
  b.quad([x, y, z + h], [w, 0, 0], [0, 0, height - z - h], face);
  b.quad([x, y, z], [0, deep, 0], [0, 0, h], face);
  b.quad([x + w, y, z], [0, deep, 0], [0, 0, h], face);
  b.quad([x, y, z + h], [w, 0, 0], [0, deep, 0], face);
  b.box([x - 0.04, y - 0.07, z - 0.035], [w + 0.08, deep + 0.07, 0.035], oak, 0, 0.008);
  const at = y + deep - 0.06;
  const frame = (px: number, pz: number, pw: number, ph: number, front = 0): void => b.box([px, at - front, pz], [pw, 0.05 + front, ph], white, 0, 0.006);
  for (const [px, pz, pw, ph] of [[x, z, w, 0.06], [x, z + h - 0.06, w, 0.06], [x, z, 0.06, h], [x + w - 0.06, z, 0.06, h]]) frame(px, pz, pw, ph);
  for (let k = 1; k < bars; k++) frame(x + (w * k) / bars - 0.018, z, 0.036, h);
  b.box([x, at + 0.005, z + h * 0.55], [w, 0.04, 0.03], white, 0, 0.006);
  b.quad([x, at + 0.025, z], [w, 0, 0], [0, 0, h], windowPane);
  // A stay and a catch on the middle bar.
  tube(b, [[x + w / bars - 0.01, at - 0.012, z + h * 0.5], [x + w / bars - 0.01, at - 0.05, z + h * 0.5], [x + w / bars + 0.07, at - 0.055, z + h * 0.5]], 0.007, brass);
  tube(b, [[x + w / bars + 0.05, at - 0.012, z + 0.05], [x + w / bars + 0.05, at - 0.03, z + 0.055], [x + w / bars + 0.24, at - 0.035, z + 0.05]], 0.005, brass);
  return { kind: 'panel', rect: { middle: [x + w / 2, at - 0.01, z + h / 2], u: [-w / 2, 0, 0], v: [0, 0, -h / 2] }, radiance: [14, 16, 18.5] };
}

/** Floor, ceiling with beams, and three plain walls with skirting. */
export function shell(b: Builder, w: number, d: number, h: number, floor: Material, walls: readonly [Material, Material, Material], beams: number): void {
  b.quad([0, -0.6, 0], [w, 0, 0], [0, d + 0.6, 0], as('floor', floor));
  b.quad([0, -0.6, h], [w, 0, 0], [0, d + 0.6, 0], as('ceiling', matt(plaster([0.82, 0.815, 0.8]))));
  b.quad([0, -0.6, 0], [0, d + 0.6, 0], [0, 0, h], as('wall', walls[0]));
  b.quad([w, -0.6, 0], [0, d + 0.6, 0], [0, 0, h], as('wall', walls[1]));
  b.quad([0, -0.6, 0], [w, 0, 0], [0, 0, h], as('wall', walls[2]));
  for (let k = 0; k < beams; k++) b.box([0, 0.7 + (k * (d - 1)) / Math.max(1, beams - 1) - 0.09, h - 0.2], [w, 0.18, 0.24], wood([0.34, 0.21, 0.11], 0.03, 0.16), 0, 0.014);
  for (const [x, y, sx, sy] of [[0, -0.6, 0.02, d + 0.6], [w - 0.02, -0.6, 0.02, d + 0.6], [0, d - 0.02, w, 0.02]]) b.box([x, y, 0], [sx, sy, 0.12], white, 0, 0.006);
}

/** A framed, glazed picture on the wall at depth y (facing the camera) or on a side wall. */
export function picture(b: Builder, corner: Vec, w: Vec, h: number, seed: number, out: Vec, frame: Material): void {
  const t = 0.025;
  const at = (s: number, v: number, o: number): Vec => [corner[0] + w[0] * s + out[0] * o, corner[1] + w[1] * s + out[1] * o, corner[2] + v * h];
  const span = (s: number, v: number): [Vec, Vec] => [[w[0] * s, w[1] * s, 0], [0, 0, h * v]];
  b.quad(at(0, 0, t), ...span(1, 1), glazing(seed), true);
  const rim = 0.028;
  const r = rim / Math.hypot(...w);
  for (const [s, v, ds, dv] of [[-r, -rim / h, 1 + 2 * r, rim / h], [-r, 1, 1 + 2 * r, rim / h], [-r, 0, r, 1], [1, 0, r, 1]]) {
    const [lo, hi] = [at(s, v, 0.002), at(s + ds, v + dv, t + 0.012)];
    const least = lo.map((c, k) => Math.min(c, hi[k])) as unknown as Vec;
    b.box(least, lo.map((c, k) => Math.abs(hi[k] - c)) as unknown as Vec, frame, 0, 0.004);
  }
}

export function sofa(b: Builder, x: number, y: number, turn: number, fabric: Material): void {
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const at = (u: number, v: number, z: number): Vec => [x + cos * u - sin * v, y + sin * u + cos * v, z];
  const part = (u: number, v: number, z: number, half: Vec, power = 0.28, tilt = 0): void => b.cushion(at(u, v, z), half, fabric, power, turn, tilt);
  part(0, 0, 0.22, [1.0, 0.43, 0.11], 0.16);
  for (const u of [-0.46, 0.46]) {
    part(u, -0.06, 0.41, [0.455, 0.41, 0.1], 0.3);
    part(u, 0.33, 0.66, [0.45, 0.13, 0.27], 0.38, -0.2);
  }
  for (const u of [-1.02, 1.02]) {
    part(u, 0.0, 0.36, [0.11, 0.46, 0.25], 0.22);
    part(u, 0.0, 0.585, [0.125, 0.47, 0.045], 0.5);
  }
  for (const u of [-0.95, 0.95]) for (const v of [-0.36, 0.36]) b.turned(at(u, v, 0), [[0.018, 0], [0.028, 0.11]], oak);
  b.cushion(at(-0.66, 0.1, 0.64), [0.23, 0.085, 0.2], matt(cloth([0.5, 0.27, 0.1])), 0.55, turn + 0.2, -0.3);
  b.cushion(at(0.66, 0.12, 0.62), [0.22, 0.075, 0.19], matt(cloth([0.1, 0.16, 0.22])), 0.55, turn - 0.25, -0.3);
  // A throw over one arm.
  const [u, v] = [add(at(0.78, -0.2, 0), [0, 0, 0]), add(at(0.78, 0.14, 0), [0, 0, 0])];
  drape(b, [u[0], u[1], 0.25], add(at(1.2, -0.2, 0), [-u[0], -u[1], 0]), [v[0] - u[0], v[1] - u[1], 0], [0, 0, 1], (s) => 0.4 * (1 - Math.min(1, Math.abs(s - 0.58) * 2.3) ** 5), 0.03, matt(cloth([0.56, 0.52, 0.44])), 30);
}

export function table(b: Builder, corner: Vec, size: Vec, top: Material): void {
  const [x, y, z] = corner;
  const [w, d, h] = size;
  b.box([x, y, z + h - 0.032], [w, d, 0.032], top, 0, 0.008);
  b.box([x + 0.07, y + 0.06, z + h - 0.11], [w - 0.14, 0.022, 0.08], oak);
  b.box([x + 0.07, y + d - 0.08, z + h - 0.11], [w - 0.14, 0.022, 0.08], oak);
  for (const px of [x + 0.05, x + w - 0.1]) for (const py of [y + 0.05, y + d - 0.1]) b.box([px, py, z], [0.05, 0.05, h - 0.032], oak, 0, 0.008);
}

export function chair(b: Builder, x: number, y: number, turn: number, timbers: Material): void {
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const at = (u: number, v: number, z: number): Vec => [x + cos * u - sin * v, y + sin * u + cos * v, z];
  b.box([x - 0.21, y - 0.21, 0.43], [0.42, 0.42, 0.028], timbers, turn, 0.012);
  for (const u of [-0.17, 0.17]) {
    tube(b, [at(u * 1.12, -0.2, 0), at(u, -0.17, 0.43)], 0.016, timbers, 10);
    tube(b, [at(u * 1.12, 0.22, 0), at(u, 0.18, 0.43), at(u * 0.97, 0.205, 0.68), at(u * 0.94, 0.245, 0.93)], 0.016, timbers, 10);
    tube(b, [at(u * 1.05, -0.185, 0.2), at(u * 1.05, 0.2, 0.2)], 0.01, timbers, 8);
  }
  for (const z of [0.6, 0.73, 0.87]) {
    const bow = 0.02 + (z - 0.43) * 0.13;
    tube(b, [-0.165, -0.08, 0, 0.08, 0.165].map((u) => at(u, 0.18 + bow + 0.03 * (1 - (u / 0.165) ** 2), z)), 0.013, timbers, 8);
  }
}

export function floorLamp(b: Builder, x: number, y: number, layer: number): LightSource {
  b.turned([x, y, 0], [[0, 0], [0.15, 0], [0.152, 0.012], [0.14, 0.022], [0.012, 0.028], [0.012, 1.42]], steel);
  b.turned([x, y, 1.4], [[0.2, 0], [0.13, 0.26]], shade(layer, [1.5, 1.0, 0.55], 0.45));
  b.turned([x, y, 1.655], [[0.128, 0], [0.131, 0.006]], brass);
  disc(b, [x, y, 1.52], 0.045, glow(layer, [14, 9.6, 5.4]));
  return { kind: 'bulb', centre: [x, y, 1.52], radius: 0.05, power: [27, 18, 10] };
}

export function tableLamp(b: Builder, foot: Vec, layer: number): LightSource {
  const [x, y, z] = foot;
  b.turned(foot, [[0, 0], [0.07, 0], [0.085, 0.05], [0.08, 0.09], [0.05, 0.14], [0.022, 0.19], [0.015, 0.2], [0.015, 0.26]], glaze([0.33, 0.2, 0.13]));
  b.turned([x, y, z + 0.24], [[0.14, 0], [0.09, 0.18]], shade(layer, [1.7, 1.1, 0.6], 0.42));
  return { kind: 'bulb', centre: [x, y, z + 0.32], radius: 0.035, power: [14, 9.4, 5.2] };
}

export const flash = (name: string, centre: Vec, aim: Vec, power: number): Layer => {
  const l = Math.hypot(...aim);
  return { name, view: 0, sources: [{ kind: 'flash', centre, aim: [aim[0] / l, aim[1] / l, aim[2] / l], radius: 0.22, power: [power * 0.97, power, power * 1.06] }] };
};

/** A wall along x at depth y with an open doorway from the floor up. */
export function doorWall(b: Builder, y: number, width: number, height: number, door: { x: number; w: number; h: number }, wall: Material): void {
  const deep = 0.22;
  const face = as('wall', wall);
  const { x, w, h } = door;
  for (const at of [y, y + deep]) {
    b.quad([0, at, 0], [x, 0, 0], [0, 0, height], face);
    b.quad([x + w, at, 0], [width - x - w, 0, 0], [0, 0, height], face);
    b.quad([x, at, h], [w, 0, 0], [0, 0, height - h], face);
  }
  b.quad([x, y, 0], [0, deep, 0], [0, 0, h], face);
  b.quad([x + w, y, 0], [0, deep, 0], [0, 0, h], face);
  b.quad([x, y, h], [w, 0, 0], [0, deep, 0], face);
  for (const px of [x - 0.07, x + w]) b.box([px, y - 0.02, 0], [0.07, 0.02, h + 0.07], white, 0, 0.006);
  b.box([x - 0.07, y - 0.02, h], [w + 0.14, 0.02, 0.07], white, 0, 0.006);
}

export const silver: Material = { ...matt(plain([0.9, 0.9, 0.9])), gloss: 0.92, what: 'mirror' };

/** A looking glass that faces the camera, framed. */
export function mirror(b: Builder, corner: Vec, w: number, h: number, frame: Material): void {
  const [x, y, z] = corner;
  b.quad([x, y - 0.02, z], [w, 0, 0], [0, 0, h], silver);
  for (const [px, pz, pw, ph] of [[x - 0.04, z - 0.04, w + 0.08, 0.04], [x - 0.04, z + h, w + 0.08, 0.04], [x - 0.04, z, 0.04, h], [x + w, z, 0.04, h]]) b.box([px, y - 0.045, pz], [pw, 0.04, ph], frame, 0, 0.006);
}

export function bed(b: Builder, x: number, y: number, blanket: Material): void {
  for (const px of [x, x + 1.56]) b.box([px, y + 0.02, 0.16], [0.04, 2.0, 0.18], oak);
  b.box([x, y, 0.16], [1.6, 0.04, 0.2], oak);
  for (const px of [x + 0.02, x + 1.52]) for (const py of [y + 0.02, y + 1.95]) b.box([px, py, 0], [0.06, 0.06, 0.18], oak);
  b.cushion([x + 0.8, y + 1.02, 0.4], [0.77, 1.0, 0.12], matt(cloth([0.74, 0.73, 0.7])), 0.15);
  // A duvet that hangs over both sides, turned back below the pillows.
  const hang = (s: number, t: number): number => -0.3 * Math.max(0, Math.abs(2 * s - 1) - 0.86) / 0.14 + 0.025 * Math.sin(t * 7 + s * 3) + 0.02 * Math.cos(s * 9);
  drape(b, [x - 0.13, y - 0.05, 0.605], [1.86, 0, 0], [0, 1.42, 0], [0, 0, 1], (s, t) => hang(s, t) - 0.26 * Math.max(0, 0.08 - t) / 0.08, 0.05, blanket, 60);
  drape(b, [x - 0.12, y + 1.3, 0.64], [1.84, 0, 0], [0, 0.24, 0], [0, 0, 1], (s, t) => hang(s, t) + 0.02 * Math.sin(Math.PI * t), 0.03, matt(cloth([0.76, 0.75, 0.72])), 44);
  for (const [px, tilt] of [[x + 0.42, 0.55], [x + 1.18, 0.48]]) b.cushion([px, y + 1.77, 0.66], [0.35, 0.21, 0.085], matt(cloth([0.78, 0.77, 0.75])), 0.55, 0.05 * tilt, tilt);
  for (const [px, tilt] of [[x + 0.45, 0.7], [x + 1.14, 0.75]]) b.cushion([px, y + 1.56, 0.7], [0.24, 0.16, 0.07], blanket, 0.55, -0.06, tilt);
  b.box([x, y + 2.05, 0], [1.6, 0.05, 1.12], oak, 0, 0.012);
}
