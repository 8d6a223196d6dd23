import { boxBlur } from '@zaddle/core/image/boxBlur';
import { createPlane, type Plane } from '@zaddle/core/image/plane';
import { linearToSrgb } from '@zaddle/core/colour/transfer';
import { compose, invert, type Homography } from '@zaddle/core/geometry/homography';
import type { Lens } from '@zaddle/core/geometry/lens';
import type { Layers } from '../trace/renderRoom';

/** Size of the frames that the camera takes, pixels. */
export const FRAME_WIDTH = 1500;
export const FRAME_HEIGHT = 1000;

/** Lens of the simulated camera: distortion, lateral colour, fall-off. */
export interface CameraLens extends Lens {
  /** Relative magnification error of red and of blue, at the corner. */
  readonly red: number;
  readonly blue: number;
  /** Light lost in the corner, 0..1. */
  readonly falloff: number;
}

export const KIT_LENS: CameraLens = { k1: 0.018, k2: -0.003, red: 0.0004, blue: -0.0004, falloff: 0.28 };

/** One press of the shutter. */
export interface Exposure {
  readonly seconds: number;
  readonly aperture: number;
  readonly iso: number;
  /** Steady lights that are on, each at a strength. */
  readonly steady: Readonly<Record<string, number>>;
  /** Flashes that fire, by name, with their power. */
  readonly flashes: Readonly<Record<string, number>>;
  /** Lens-free frame pixel to reference pixel: how the camera has moved. */
  readonly toReference: Homography;
  /** White balance that the camera chose: gains on red and blue. */
  readonly balance: readonly [number, number];
  readonly seed: number;
}

/** Sensor value of radiance 1 in one second at f/1 and ISO 100. */
const SENSITIVITY = 120;
/** A flash of power 1 gives the light of its layer for this long. */
const FLASH_SECONDS = 0.14;
/** Electrons of a full pixel at ISO 100. */
const FULL_WELL = 42_000;
const READ_NOISE = 4;

const NOISE_SIZE = 1 << 16;
/** Gaussian numbers (Box, Muller 1958), drawn once: frames take them from places that a seed chooses. */
const NOISE = Float32Array.from({ length: NOISE_SIZE }, (_, k) => Math.sqrt(-2 * Math.log((k + 0.5) / NOISE_SIZE)) * Math.cos(2 * Math.PI * ((k * 0.6180339887) % 1)));

/** Deterministic Gaussian numbers (xorshift, Marsaglia 2003). */
function gaussian(seed: number): () => number {
  let state = (seed * 2654435761) | 1;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return NOISE[state & (NOISE_SIZE - 1)];
  };
}

const ENCODED_SIZE = 1 << 14;
/** sRGB encoding of 0..1 in 255ths, finer than the noise. */
const ENCODED = Uint8Array.from({ length: ENCODED_SIZE + 1 }, (_, k) => Math.round(255 * linearToSrgb(k / ENCODED_SIZE)));

/** Light that reaches the sensor plane from the scene, before the lens: sum of all lights, per exposure. */
function sceneLight(room: Layers, shot: Exposure): Plane[] {
  const planes = [0, 1, 2].map(() => createPlane(room.width, room.height));
  const perArea = (SENSITIVITY * shot.iso) / 100 / shot.aperture ** 2;
  const add = (name: string, strength: number): void => {
    const layer = room.layers.get(name);
    if (!layer) throw new Error(`Room has no light ${name}: it has ${[...room.layers.keys()].join(', ')}.`);
    for (let i = 0; i < planes[0].data.length; i++) for (let c = 0; c < 3; c++) planes[c].data[i] += layer[i * 3 + c] * strength;
  };
  for (const [name, strength] of Object.entries(shot.steady)) add(name, strength * perArea * shot.seconds);
  // A flash is over before the shutter closes: its light does not depend on the time.
  for (const [name, power] of Object.entries(shot.flashes)) add(name, power * perArea * FLASH_SECONDS);
  return planes;
}

/** Stray light in the lens: a faint wide and a faint narrow glow. */
function bloom(plane: Plane): Plane {
  const wide = boxBlur(boxBlur(plane, 40), 30);
  const narrow = boxBlur(boxBlur(plane, 5), 4);
  const out = createPlane(plane.width, plane.height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = 0.99 * plane.data[i] + 0.004 * wide.data[i] + 0.006 * narrow.data[i];
  return out;
}

function bilinear(plane: Plane, x: number, y: number): number {
  const u = Math.min(plane.width - 1.001, Math.max(0, x));
  const v = Math.min(plane.height - 1.001, Math.max(0, y));
  const i = Math.floor(v) * plane.width + Math.floor(u);
  const fx = u - Math.floor(u);
  const fy = v - Math.floor(v);
  const upper = plane.data[i] + fx * (plane.data[i + 1] - plane.data[i]);
  const lower = plane.data[i + plane.width] + fx * (plane.data[i + plane.width + 1] - plane.data[i + plane.width]);
  return upper + fy * (lower - upper);
}

/**
 * Takes one frame of a rendered room: 8-bit sRGB-like RGB of FRAME_WIDTH x FRAME_HEIGHT with the lens's errors, noise
 * and clipping. The room's picture is larger than the frame all round, so that the camera can move.
 */
export function simulateFrame(room: Layers, shot: Exposure, lens: CameraLens): Uint8Array {
  const planes = sceneLight(room, shot).map(bloom);
  const margin: Homography = [1, 0, (room.width - FRAME_WIDTH) / 2, 0, 1, (room.height - FRAME_HEIGHT) / 2, 0, 0, 1];
  const toRoom = compose(margin, shot.toReference);
  const random = gaussian(shot.seed);
  const out = new Uint8Array(FRAME_WIDTH * FRAME_HEIGHT * 3);
  const cx = (FRAME_WIDTH - 1) / 2;
  const cy = (FRAME_HEIGHT - 1) / 2;
  const half = (FRAME_WIDTH ** 2 + FRAME_HEIGHT ** 2) / 4;
  const electrons = (FULL_WELL * 100) / shot.iso;
  const gains = [shot.balance[0], 1, shot.balance[1]];
  const fringes = [lens.red, 0, lens.blue];
  const h = toRoom;
  for (let y = 0, at = 0; y < FRAME_HEIGHT; y++) {
    for (let x = 0; x < FRAME_WIDTH; x++) {
      const r2 = ((x - cx) ** 2 + (y - cy) ** 2) / half;
      // As `freeOfLens`, written out: this runs for every pixel and colour.
      const bend = 1 + lens.k1 * r2 + lens.k2 * r2 * r2;
      const light = 1 - lens.falloff * r2;
      for (let c = 0; c < 3; c++, at++) {
        const s = bend * (1 + fringes[c] * r2);
        const u = cx + (x - cx) * s;
        const v = cy + (y - cy) * s;
        const w = h[6] * u + h[7] * v + h[8];
        const value = bilinear(planes[c], (h[0] * u + h[1] * v + h[2]) / w, (h[3] * u + h[4] * v + h[5]) / w) * light;
        const noisy = value + (random() * Math.sqrt(Math.max(0, value) * electrons + READ_NOISE ** 2)) / electrons;
        const developed = Math.min(1, noisy) * gains[c];
        out[at] = ENCODED[developed <= 0 ? 0 : developed >= 1 ? ENCODED_SIZE : (developed * ENCODED_SIZE + 0.5) | 0];
      }
    }
  }
  return out;
}

/** Median sensor value, green, of steady light in one second at f/8 and ISO 100: what a light meter reads. */
export function meter(room: Layers, steady: Exposure['steady']): number {
  const [, green] = sceneLight(room, { seconds: 1, aperture: 8, iso: 100, steady, flashes: {}, toReference: [1, 0, 0, 0, 1, 0, 0, 0, 1], balance: [1, 1], seed: 1 });
  const values = green.data.filter((_, i) => i % 17 === 0).sort();
  return values[values.length >> 1];
}

/** A small movement: shift in pixels, turn in radians about the middle, and scale. */
export function movement(dx: number, dy: number, turn: number, scale = 1): Homography {
  const cx = (FRAME_WIDTH - 1) / 2;
  const cy = (FRAME_HEIGHT - 1) / 2;
  const cos = Math.cos(turn) * scale;
  const sin = Math.sin(turn) * scale;
  return [cos, -sin, cx - cos * cx + sin * cy + dx, sin, cos, cy - sin * cx - cos * cy + dy, 0, 0, 1];
}

/** Reference pixel to frame pixel, as the project's documents state alignments. */
export const referenceToFrame = (shot: Exposure): Homography => invert(shot.toReference);
