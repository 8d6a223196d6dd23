import type { FillPass, Point, Triple } from '@zaddle/document';
import { mapPoint, type Homography } from '../geometry/homography';
import { distanceFrom } from '../image/distance';
import { LUMA, createPlane, luminance, quantile, type Light } from '../image/plane';

/** What a screen is made of that is off, as a fill has it. */
export type ScreenOff = Pick<FillPass, 'tone' | 'ramp' | 'opacity'>;

/** Share of a screen's longer side about it whose light is that of the room. */
const ABOUT = 0.35;
/** What black glass gives back of the room's light, and what its own grey is against that. */
const MIRRORS = 0.035;
const OWN = 0.25;
/** How much of the room's colour it takes on. */
const TINTED = 0.4;
/** Stops from its one end to the other, at least and at most. */
const FALL = [0.4, 1.6] as const;
/** How much of it covers what was there: some of its reflections stay; of a picture that is lit, nothing does. */
const COVERS = { dark: 0.85, lit: 0.985 } as const;
/** How much brighter than the screen that is off what is there may be and still count as dark, stops. */
const LIT = 2.5;

const rounded = (v: number, digits: number): number => Math.round(v * 10 ** digits) / 10 ** digits;

/** How log2 luminance rises from left to right and from top to bottom about a place, a pixel: by least squares on what is neither very dark nor very bright there. */
function slopeAbout(logY: Float32Array, places: readonly number[], width: number): readonly [number, number] {
  const values = places.map((i) => logY[i]);
  const [low, high] = [quantile(values, 0.15), quantile(values, 0.85)];
  const own = places.filter((i) => logY[i] >= low && logY[i] <= high);
  const mean = (of: (i: number) => number): number => own.reduce((sum, i) => sum + of(i), 0) / own.length;
  const [mx, my, mv] = [mean((i) => i % width), mean((i) => Math.floor(i / width)), mean((i) => logY[i])];
  let [xx, xy, yy, xv, yv] = [own.length, 0, own.length, 0, 0];
  for (const i of own) {
    const [x, y, v] = [(i % width) - mx, Math.floor(i / width) - my, logY[i] - mv];
    xx += x * x;
    xy += x * y;
    yy += y * y;
    xv += x * v;
    yv += y * v;
  }
  const det = xx * yy - xy * xy;
  return [(yy * xv - xy * yv) / det, (xx * yv - xy * xv) / det];
}

/**
 * The tones of a screen that is off: black glass that gives back a little of the room's light, more of it on the side that the light falls from.
 * @param picture linear light about the screen; @param screen 1 where it is; @param toReference pixels to the reference's; @param full its longer side
 * @returns null where nothing of the room is seen about it.
 */
export function screenOff(picture: Light, screen: Uint8Array, toReference: Homography, full: number): ScreenOff | null {
  const { width, height } = picture;
  const own: number[] = [];
  for (let i = 0; i < screen.length; i++) if (screen[i]) own.push(i);
  if (own.length === 0) return null;
  const side = Math.sqrt(own.length);
  const distance = distanceFrom(createPlane(width, height, Float32Array.from(screen))).data;
  const y = luminance(picture).data;
  const about: number[] = [];
  for (let i = 0; i < screen.length; i++) if (distance[i] > 1.5 && distance[i] < 2 + ABOUT * side && y[i] > 0) about.push(i);
  if (about.length < 12) return null;
  const logY = y.map((v) => Math.log2(Math.max(1e-4, v)));
  const usual = (channel: Float32Array): number => quantile(about.map((i) => channel[i]), 0.5);
  const room: Triple = [usual(picture.r), usual(picture.g), usual(picture.b)];
  const level = room.reduce((sum, v, c) => sum + v * LUMA[c], 0);
  const middle = MIRRORS * level * (1 + OWN);
  const tint = room.map((v) => 1 + TINTED * (v / level - 1));
  const [sx, sy] = slopeAbout(logY, about, width);
  const steep = Math.hypot(sx, sy);
  // Where the room tells no direction, light falls from above.
  const [ux, uy] = steep * side > 0.05 ? [sx / steep, sy / steep] : [0, -1];
  const along = own.map((i) => (i % width) * ux + Math.floor(i / width) * uy);
  const [cx, cy] = [own.reduce((sum, i) => sum + (i % width), 0) / own.length, own.reduce((sum, i) => sum + Math.floor(i / width), 0) / own.length];
  const [low, high] = [quantile(along, 0.02), quantile(along, 0.98)];
  const centre = cx * ux + cy * uy;
  const fall = Math.max(FALL[0], Math.min(FALL[1], steep * (high - low)));
  const end = (at: number): Point => {
    const [px, py] = mapPoint(toReference, cx + (at - centre) * ux, cy + (at - centre) * uy);
    return [rounded(px / full, 6), rounded(py / full, 6)];
  };
  const tone = (stops: number): Triple => tint.map((v) => rounded(v * middle * 2 ** stops, 6)) as unknown as Triple;
  const lit = Math.log2(quantile(own.map((i) => y[i]), 0.8) / middle) > LIT;
  return { tone: tone(-fall / 2), ramp: { from: end(low), to: end(high), tone: tone(fall / 2) }, opacity: lit ? COVERS.lit : COVERS.dark };
}
