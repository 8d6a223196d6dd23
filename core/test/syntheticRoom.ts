import { linearToSrgb } from '../src/colour/transfer';
import { invert, type Homography } from '../src/geometry/homography';
import type { Pixels } from '../src/image/plane';
import type { FrameFacts } from '../src/intake/frameFacts';
import { seeded } from './kernelMemory';

export const ROOM_WIDTH = 900;
export const ROOM_HEIGHT = 600;

/** A box-painted room with a bright window, lit by daylight from the window side and by a flash from the other. */
export interface SyntheticRoom {
  readonly albedo: Float32Array;
  readonly window: { x: number; y: number; w: number; h: number };
  /** Another window, and how bright what lies outside of it is against that of the first. */
  readonly second?: { x: number; y: number; w: number; h: number; light: number };
}

export function paintRoom(seed: number): SyntheticRoom {
  const next = seeded(seed);
  const [w, h] = [ROOM_WIDTH, ROOM_HEIGHT];
  const albedo = new Float32Array(w * h * 3);
  // Ceiling and walls white, floor brown, then furniture.
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) for (let c = 0; c < 3; c++) albedo[(y * w + x) * 3 + c] = y > 420 ? [0.35, 0.24, 0.15][c] : 0.78;
  for (let k = 0; k < 150; k++) {
    const [x0, y0, bw, bh] = [Math.floor(next() * w), 200 + Math.floor(next() * 400), 6 + Math.floor(next() * 60), 6 + Math.floor(next() * 50)];
    const colour = [next(), next(), next()].map((v) => 0.08 + 0.6 * v);
    for (let y = y0; y < Math.min(h, y0 + bh); y++) for (let x = x0; x < Math.min(w, x0 + bw); x++) for (let c = 0; c < 3; c++) albedo[(y * w + x) * 3 + c] = colour[c];
  }
  return { albedo, window: { x: 380, y: 130, w: 150, h: 110 } };
}

/** Somebody in the room: their share of the picture and their middle, room pixels. */
export interface Somebody {
  readonly room: SyntheticRoom;
  readonly share: number;
  readonly x: number;
  readonly y: number;
}

/** The room with somebody of any size and clothes who stands anywhere in it. */
export function standIn(room: SyntheticRoom, next: () => number): Somebody {
  const albedo = room.albedo.slice();
  const size = 0.6 + 0.6 * next();
  const [x0, feet, tall, wide] = [60 + next() * (ROOM_WIDTH - 200), 440 + next() * 130, 330 * size, 95 * size];
  const cloth = (): number[] => {
    const light = 0.03 + 0.5 * next() * next();
    return [0, 1, 2].map(() => light * (0.6 + 0.8 * next()));
  };
  const [shirt, trousers] = [cloth(), cloth()];
  const tan = 0.4 + 0.7 * next();
  const skin = [0.55 * tan, 0.36 * tan, 0.26 * tan];
  // Down from the crown and out from the middle, in shares of the height and the width.
  const wears = (down: number, out: number): number[] | null => {
    if (down < 0.14) return ((down - 0.07) / 0.07) ** 2 + (out / 0.22) ** 2 < 1 ? skin : null;
    if (down < 0.55) return out < 0.42 - 0.1 * down ? shirt : out < 0.6 && down < 0.5 ? (down < 0.4 ? shirt : skin) : null;
    return out > 0.03 && out < 0.36 ? trousers : null;
  };
  let painted = 0;
  for (let y = Math.max(0, Math.floor(feet - tall)); y < Math.min(ROOM_HEIGHT, feet); y++) {
    for (let x = Math.max(0, Math.floor(x0 - wide)); x < Math.min(ROOM_WIDTH, x0 + wide); x++) {
      const colour = wears((y - (feet - tall)) / tall, Math.abs(x - x0) / wide);
      if (!colour) continue;
      painted++;
      const fold = 0.9 + (0.2 * ((x * 7 + y * 13) % 11)) / 11;
      for (let c = 0; c < 3; c++) albedo[(y * ROOM_WIDTH + x) * 3 + c] = colour[c] * fold;
    }
  }
  return { room: { ...room, albedo }, share: painted / (ROOM_WIDTH * ROOM_HEIGHT), x: x0, y: feet - tall / 2 };
}

const within = (q: SyntheticRoom['window'], x: number, y: number): boolean => x >= q.x && y >= q.y && x < q.x + q.w && y < q.y + q.h;
/** The window at a place, with how bright it is outside; null where there is none. */
function windowAt({ window: first, second }: SyntheticRoom, x: number, y: number): { readonly y: number; readonly light: number } | null {
  if (within(first, x, y)) return { y: first.y, light: 1 };
  return second && within(second, x, y) ? second : null;
}

/** A flash at a place of the picture (pixels): light that falls off about it, and a bar that throws a hard shadow. */
export interface FlashSpot {
  readonly x: number;
  readonly y: number;
  readonly power: number;
  readonly shadow: { readonly x: number; readonly width: number };
}

export interface Shot {
  readonly stops: number;
  readonly flash: number;
  readonly move: Homography;
  /** How much warmer than neutral the ambient light is, 0..1. */
  readonly warmth: number;
  readonly seed: number;
  readonly spot?: FlashSpot;
  /** How bright a lamp in the room burns; 0 unless given. */
  readonly lamp?: number;
  /** Where glass mirrors a flash, and how far about that. */
  readonly mirrored?: { readonly x: number; readonly y: number; readonly radius: number };
  /** Times the noise of base sensitivity; 1 unless given. */
  readonly noise?: number;
}

const SKY = [4.5, 5.4, 6.6];
const LEAF = [1.6, 2.4, 1.1];
const LAWN = [2.6, 3.2, 1.9];
/** A lamp: where it stands, how large it is, and its colour. */
export const LAMP = { x: 170, y: 330, radius: 14, colour: [1.5, 0.95, 0.42] } as const;

/** Linear light of the whole room as it stands, three channels a pixel. */
function lightRoom(room: SyntheticRoom, { stops, flash, warmth, spot, mirrored, lamp = 0 }: Shot): Float32Array {
  const scene = new Float32Array(ROOM_WIDTH * ROOM_HEIGHT * 3);
  const exposure = 2 ** stops;
  const tint = [1 + warmth, 1, 1 - warmth];
  for (let y = 0, i = 0; y < ROOM_HEIGHT; y++) {
    for (let x = 0; x < ROOM_WIDTH; x++, i += 3) {
      const pane = windowAt(room, x, y);
      if (pane) {
        const outside = y < pane.y + 50 ? SKY : ((x >> 3) + (y >> 3)) % 2 === 0 ? LEAF : LAWN;
        const flashed = mirrored && Math.hypot(x - mirrored.x, y - mirrored.y) < mirrored.radius ? 1.5 : 0;
        for (let c = 0; c < 3; c++) scene[i + c] = exposure * pane.light * outside[c] + flashed;
        continue;
      }
      const dx = (x - 455) / 500;
      const dy = (y - 185) / 400;
      const day = (exposure * 0.34) / (0.6 + dx * dx + dy * dy);
      const fall = (flash * 0.75) / (0.8 + (1 - x / ROOM_WIDTH) * 0.6);
      const near = spot ? spot.power / (0.25 + ((x - spot.x) ** 2 + (y - spot.y) ** 2) / 400 ** 2) : 0;
      const shaded = spot && x >= spot.shadow.x && x < spot.shadow.x + spot.shadow.width ? 0.2 : 1;
      const far = (x - LAMP.x) ** 2 + (y - LAMP.y) ** 2;
      const lamplight = (exposure * lamp * 0.05) / (0.12 + far / 300 ** 2);
      const glowing = far < LAMP.radius ** 2 ? exposure * lamp * 3 : 0;
      for (let c = 0; c < 3; c++) scene[i + c] = room.albedo[i + c] * (day * tint[c] + fall + near * shaded + lamplight * LAMP.colour[c]) + glowing * LAMP.colour[c];
    }
  }
  return scene;
}

/** Code of linear light in 65536 steps. */
const ENCODED = Uint8Array.from({ length: 65536 }, (_, i) => Math.round(255 * linearToSrgb(i / 65535)));

const clamp = (v: number, top: number): number => Math.min(top, Math.max(0, v));

/** Takes a frame: `move` maps room pixels to frame pixels. */
export function takeFrame(room: SyntheticRoom, shot: Shot): Pixels {
  const { move, seed, noise = 1 } = shot;
  const [width, height] = [ROOM_WIDTH, ROOM_HEIGHT];
  const scene = lightRoom(room, shot);
  const data = new Uint8Array(width * height * 3);
  const [a, b, c, d, e, f, g, h] = invert(move);
  const next = seeded(seed);
  for (let y = 0, at = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const w = 1 / (g * x + h * y + 1);
      const u = (a * x + b * y + c) * w;
      const v = (d * x + e * y + f) * w;
      const iu = Math.floor(u);
      const iv = Math.floor(v);
      const fu = u - iu;
      const fv = v - iv;
      const left = 3 * clamp(iu, width - 1);
      const right = 3 * clamp(iu + 1, width - 1);
      const above = 3 * width * clamp(iv, height - 1);
      const below = 3 * width * clamp(iv + 1, height - 1);
      for (let k = 0; k < 3; k++, at++) {
        const upper = scene[above + left + k] * (1 - fu) + scene[above + right + k] * fu;
        const lower = scene[below + left + k] * (1 - fu) + scene[below + right + k] * fu;
        const value = upper * (1 - fv) + lower * fv;
        data[at] = ENCODED[Math.round(65535 * clamp(value + (next() - 0.5) * 0.01 * noise * Math.sqrt(value + 0.002), 1))];
      }
    }
  }
  return { width, height, data };
}

export const factsOf = (id: string, stops: number, second: number): FrameFacts => ({
  id, name: `${id}.jpg`, width: ROOM_WIDTH, height: ROOM_HEIGHT, takenAt: second * 1000, seconds: 0.25 * 2 ** stops, aperture: 8, iso: 200, flash: null, bracketed: false, focalLength: 20, format: 'jpeg', camera: null, lensName: null, twinOf: null,
});
