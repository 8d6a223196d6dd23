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

/** Linear light at a room pixel. */
function lightAt(room: SyntheticRoom, x: number, y: number, c: number, stops: number, flash: number, warmth: number): number {
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
  return a * (exposure * day * tint + flash * fall);
}

export interface Shot {
  readonly stops: number;
  readonly flash: number;
  readonly move: Homography;
  /** How much warmer than neutral the ambient light is, 0..1. */
  readonly warmth: number;
  readonly seed: number;
}

/** Takes a frame: `move` maps room pixels to frame pixels. */
export function takeFrame(room: SyntheticRoom, { stops, flash, move, warmth, seed }: Shot): Pixels {
  const [width, height] = [ROOM_WIDTH, ROOM_HEIGHT];
  const data = new Uint8Array(width * height * 3);
  const back = invert(move);
  const next = seeded(seed);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = mapPoint(back, x, y);
      const [iu, iv] = [Math.floor(u), Math.floor(v)];
      const [fu, fv] = [u - iu, v - iv];
      for (let c = 0; c < 3; c++) {
        let value = 0;
        for (const [i, j, k] of [[0, 0, (1 - fu) * (1 - fv)], [1, 0, fu * (1 - fv)], [0, 1, (1 - fu) * fv], [1, 1, fu * fv]]) {
          value += k * lightAt(room, Math.min(width - 1, Math.max(0, iu + i)), Math.min(height - 1, Math.max(0, iv + j)), c, stops, flash, warmth);
        }
        data[(y * width + x) * 3 + c] = Math.round(255 * linearToSrgb(value + (next() - 0.5) * 0.01 * Math.sqrt(value + 0.002)));
      }
    }
  }
  return { width, height, data };
}

export const factsOf = (id: string, stops: number, second: number): FrameFacts => ({
  id, name: `${id}.jpg`, width: ROOM_WIDTH, height: ROOM_HEIGHT, takenAt: second * 1000, seconds: 0.25 * 2 ** stops, aperture: 8, iso: 200, flash: null, bracketed: false, focalLength: 20, format: 'jpeg', camera: null, lensName: null, twinOf: null,
});
