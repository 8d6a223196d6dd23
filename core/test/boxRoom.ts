import { stanceRotation } from '../src/geometry/straightenMap';
import { createLight, type Light, type Plane } from '../src/image/plane';
import { seeded } from './kernelMemory';

/*
 * A room as a box, seen by a camera that stands anyhow: a window and two pictures in its walls, a board along the floor, a cupboard; by its own light and by a flash.
 */

export const [W, H, FOCAL] = [480, 320, 0.62];
/** Metres: how wide, high and deep it is, and how high the camera hangs. */
const [WIDE, HIGH, DEEP, EYE] = [4.4, 2.6, 4.2, 1.42];

export interface Camera { readonly roll: number; readonly pitch: number; readonly yaw: number; readonly seed: number }
export type Thing = 'ceiling' | 'wall' | 'floor' | 'window' | 'picture' | 'skirting' | 'cupboard' | 'beam';
interface Options { readonly beam?: boolean; readonly cast?: readonly [number, number, number] }

/** What a ray meets, where, and how it faces. */
function meet(ray: readonly number[], { beam = false }: Options): { thing: Thing; at: readonly [number, number, number] } {
  const far = [ray[0] === 0 ? Infinity : ((ray[0] > 0 ? WIDE / 2 : -WIDE / 2) / ray[0]), ray[1] === 0 ? Infinity : ((ray[1] > 0 ? EYE : EYE - HIGH) / ray[1]), ray[2] > 0 ? DEEP / ray[2] : Infinity];
  const near = Math.min(...far);
  const at = ray.map((v) => v * near) as [number, number, number];
  const up = EYE - at[1];
  if (beam && ray[1] < 0) {
    const t = (EYE - HIGH + 0.22) / ray[1];
    if (t < near && ray[2] * t > 1.5 && ray[2] * t < 1.75) return { thing: 'beam', at: ray.map((v) => v * t) as [number, number, number] };
  }
  if (near === far[1]) return { thing: ray[1] > 0 ? 'floor' : 'ceiling', at };
  if (up < 0.1) return { thing: 'skirting', at };
  if (near === far[2]) {
    if (at[0] > -1.3 && at[0] < -0.2 && up > 0.9 && up < 2) return { thing: 'window', at };
    if (at[0] > 0.5 && at[0] < 1.1 && up > 1.2 && up < 1.8) return { thing: 'picture', at };
    return { thing: at[0] > 1.3 && up < 1.4 ? 'cupboard' : 'wall', at };
  }
  return { thing: at[2] > 1.6 && at[2] < 2.3 && up > 1.1 && up < 1.7 && at[0] < 0 ? 'picture' : 'wall', at };
}

const PAINT: Readonly<Record<Thing, readonly [number, number, number]>> = { ceiling: [0.8, 0.8, 0.79], wall: [0.68, 0.66, 0.6], floor: [0.28, 0.2, 0.13], window: [2, 2.3, 2.8], picture: [0.12, 0.16, 0.2], skirting: [0.8, 0.8, 0.8], cupboard: [0.3, 0.22, 0.15], beam: [0.16, 0.1, 0.06] };

/** What the room's own light and a flash show of it, and what each pixel is of. */
export function shoot({ roll, pitch, yaw, seed }: Camera, options: Options = {}): { lights: { light: Light }[]; things: Thing[] } {
  const r = stanceRotation({ roll, pitch, yaw });
  const next = seeded(seed);
  const [own, flash] = [createLight(W, H), createLight(W, H)];
  const things = new Array<Thing>(W * H);
  const cast = options.cast ?? [1, 1, 1];
  for (let i = 0; i < W * H; i++) {
    // Four rays a pixel, so that edges are smooth.
    for (const [dx, dy] of [[-0.25, -0.25], [0.25, -0.25], [-0.25, 0.25], [0.25, 0.25]]) {
      const camera = [((i % W) + dx - (W - 1) / 2) / (FOCAL * W), (Math.floor(i / W) + dy - (H - 1) / 2) / (FOCAL * W), 1];
      const ray = [0, 1, 2].map((k) => r[3 * k] * camera[0] + r[3 * k + 1] * camera[1] + r[3 * k + 2] * camera[2]);
      const { thing, at } = meet(ray, options);
      things[i] = thing;
      const window = Math.hypot(at[0] + 0.75, at[1] + 0.05, at[2] - DEEP);
      const day = thing === 'window' ? 1 : 0.25 + 0.9 / (1 + window ** 2);
      // The flash is turned to the ceiling behind: what it lights comes from there, and faces tell.
      const bounced = (thing === 'ceiling' ? 0.5 : thing === 'floor' ? 0.9 : 0.7) / (0.6 + 0.12 * Math.hypot(...at) ** 2);
      const board = thing === 'floor' ? 1 + 0.12 * Math.sin(at[0] * 40) : 1;
      for (const [c, channel] of (['r', 'g', 'b'] as const).entries()) {
        own[channel][i] += Math.max(0, PAINT[thing][c] * day * board * (thing === 'ceiling' ? cast[c] : 1) * 0.55 + 0.01 * (next() - 0.5)) / 4;
        flash[channel][i] += Math.max(0, (thing === 'window' ? 0.2 : PAINT[thing][c] * bounced) * board * 0.6 + 0.01 * (next() - 0.5)) / 4;
      }
    }
  }
  return { lights: [{ light: own }, { light: flash }], things };
}

/** How well what was found covers what is there, and how much of it is right. */
export function score(found: Plane, things: readonly Thing[], thing: Thing): { union: number; precision: number } {
  let [both, either, all] = [0, 0, 0];
  found.data.forEach((v, i) => {
    const is = things[i] === thing;
    if (v > 0 && is) both++;
    if (v > 0 || is) either++;
    if (v > 0) all++;
  });
  return { union: both / Math.max(1, either), precision: both / Math.max(1, all) };
}
