import { linearToSrgb } from '../src/colour/transfer';
import { invert, mapPoint, type Homography } from '../src/geometry/homography';
import type { Pixels } from '../src/image/plane';
import type { FrameFacts } from '../src/intake/frameFacts';
import { seeded } from './kernelMemory';

export const ROOM_WIDTH = 900;
export const ROOM_HEIGHT = 600;

/** A box-painted room with a bright window, lit by daylight from the window side and by a flash from the other. */
export interface SyntheticRoom {
  readonly albedo: Float32Array;
  readonly window: { x: number; y: number; w: number; h: number };
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

const inWindow = ({ window: q }: SyntheticRoom, x: number, y: number): boolean => x >= q.x && y >= q.y && x < q.x + q.w && y < q.y + q.h;

/** A flash at a place of the picture (pixels): light that falls off about it, and a bar that throws a hard shadow. */
export interface FlashSpot {
  readonly x: number;
  readonly y: number;
  readonly power: number;
  readonly shadow: { readonly x: number; readonly width: number };
}

/** Linear light at a room pixel. */
function lightAt(room: SyntheticRoom, x: number, y: number, c: number, { stops, flash, warmth, spot }: Shot): number {
  const exposure = 2 ** stops;
  if (inWindow(room, x, y)) {
    const sky = y < room.window.y + 50;
    const leaf = ((x >> 3) + (y >> 3)) % 2 === 0;
    return exposure * (sky ? [4.5, 5.4, 6.6][c] : leaf ? [1.6, 2.4, 1.1][c] : [2.6, 3.2, 1.9][c]);
  }
  const a = room.albedo[(y * ROOM_WIDTH + x) * 3 + c];
  const dx = (x - 455) / 500;
  const dy = (y - 185) / 400;
  const day = 0.34 / (0.6 + dx * dx + dy * dy);
  const tint = [1 + warmth, 1, 1 - warmth][c];
  const fall = 0.75 / (0.8 + (1 - x / ROOM_WIDTH) * 0.6);
  const near = spot ? spot.power / (0.25 + ((x - spot.x) ** 2 + (y - spot.y) ** 2) / 400 ** 2) : 0;
  const shaded = spot && x >= spot.shadow.x && x < spot.shadow.x + spot.shadow.width ? 0.2 : 1;
  return a * (exposure * day * tint + flash * fall + near * shaded);
}

export interface Shot {
  readonly stops: number;
  readonly flash: number;
  readonly move: Homography;
  /** How much warmer than neutral the ambient light is, 0..1. */
  readonly warmth: number;
  readonly seed: number;
  readonly spot?: FlashSpot;
}

/** Takes a frame: `move` maps room pixels to frame pixels. */
export function takeFrame(room: SyntheticRoom, shot: Shot): Pixels {
  const { move, seed } = shot;
  const [width, height] = [ROOM_WIDTH, ROOM_HEIGHT];
  const scene = new Float32Array(width * height * 3);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++) for (let c = 0; c < 3; c++, i++) scene[i] = lightAt(room, x, y, c, shot);
  const data = new Uint8Array(width * height * 3);
  const back = invert(move);
  const next = seeded(seed);
  const clamp = (v: number, top: number): number => Math.min(top, Math.max(0, v));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = mapPoint(back, x, y);
      const [iu, iv] = [Math.floor(u), Math.floor(v)];
      const [fu, fv] = [u - iu, v - iv];
      const [left, right] = [3 * clamp(iu, width - 1), 3 * clamp(iu + 1, width - 1)];
      const [above, below] = [3 * width * clamp(iv, height - 1), 3 * width * clamp(iv + 1, height - 1)];
      for (let c = 0; c < 3; c++) {
        const upper = scene[above + left + c] * (1 - fu) + scene[above + right + c] * fu;
        const lower = scene[below + left + c] * (1 - fu) + scene[below + right + c] * fu;
        const value = upper * (1 - fv) + lower * fv;
        data[(y * width + x) * 3 + c] = Math.round(255 * linearToSrgb(value + (next() - 0.5) * 0.01 * Math.sqrt(value + 0.002)));
      }
    }
  }
  return { width, height, data };
}

export const factsOf = (id: string, stops: number, second: number): FrameFacts => ({
  id, name: `${id}.jpg`, width: ROOM_WIDTH, height: ROOM_HEIGHT, takenAt: second * 1000, seconds: 0.25 * 2 ** stops, aperture: 8, iso: 200, flash: null, bracketed: false, focalLength: 20, format: 'jpeg', camera: null, lensName: null, twinOf: null,
});
