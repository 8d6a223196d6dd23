import { boxBlur } from '@zaddle/core/image/boxBlur';
import { createPlane, type Plane } from '@zaddle/core/image/plane';
import { linearToSrgb } from '@zaddle/core/colour/transfer';
import { compose, invert, type Homography } from '@zaddle/core/geometry/homography';
import type { Lens } from '@zaddle/core/geometry/lens';
import type { Layers } from '../trace/renderRoom';
import { frameSize, type FrameSize } from './house';

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

/** Light that reaches the sensor plane from the scene, before the lens: sum of all lights, per exposure, RGB. */
function sceneLight(room: Layers, shot: Exposure): Float32Array {
  const sum = new Float32Array(room.width * room.height * 3);
  const perArea = (SENSITIVITY * shot.iso) / 100 / shot.aperture ** 2;
  const add = (name: string, strength: number): void => {
    const layer = room.layers.get(name);
    if (!layer) throw new Error(`Room has no light ${name}: it has ${[...room.layers.keys()].join(', ')}.`);
    if (strength !== 0) addScaled(sum, layer, strength);
  };
  for (const [name, strength] of Object.entries(shot.steady)) add(name, strength * perArea * shot.seconds);
  // A flash is over before the shutter closes: its light does not depend on the time.
  for (const [name, power] of Object.entries(shot.flashes)) add(name, power * perArea * FLASH_SECONDS);
  return sum;
}

function addScaled(sum: Float32Array, layer: Float32Array, strength: number): void {
  for (let i = 0; i < sum.length; i++) sum[i] += layer[i] * strength;
}

/** Columns of the picture in which stray light is worked out: it is smooth. */
const STRAY_WIDTH = 540;

/** Stray light in the lens, a colour after the other, small: a faint wide and a faint narrow glow. */
function strayLight(light: Float32Array, width: number, height: number): Plane[] {
  const step = Math.max(1, Math.round(width / STRAY_WIDTH));
  const [w, h] = [Math.ceil(width / step), Math.ceil(height / step)];
  return [0, 1, 2].map((c) => {
    const small = createPlane(w, h);
    for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) small.data[y * w + x] = blockMean(light, width, height, x * step, y * step, step, c);
    const [wide, narrow] = [boxBlur(boxBlur(small, 13), 10), boxBlur(boxBlur(small, 2), 1)];
    for (let i = 0; i < small.data.length; i++) small.data[i] = 0.004 * wide.data[i] + 0.006 * narrow.data[i];
    return small;
  });
}

function blockMean(light: Float32Array, width: number, height: number, x0: number, y0: number, step: number, c: number): number {
  const [x1, y1] = [Math.min(width, x0 + step), Math.min(height, y0 + step)];
  let sum = 0;
  for (let y = y0; y < y1; y++) for (let x = x0; x < x1; x++) sum += light[(y * width + x) * 3 + c];
  return sum / ((x1 - x0) * (y1 - y0));
}

/** Bilinear value of one of `stride` interleaved colours. */
function bilinear(data: Float32Array, width: number, height: number, stride: number, c: number, x: number, y: number): number {
  const u = x < 0 ? 0 : x > width - 1.001 ? width - 1.001 : x;
  const v = y < 0 ? 0 : y > height - 1.001 ? height - 1.001 : y;
  const iu = Math.floor(u);
  const iv = Math.floor(v);
  const fx = u - iu;
  const fy = v - iv;
  const i = (iv * width + iu) * stride + c;
  const below = i + width * stride;
  const upper = data[i] + fx * (data[i + stride] - data[i]);
  const lower = data[below] + fx * (data[below + stride] - data[below]);
  return upper + fy * (lower - upper);
}

/**
 * Takes one frame of a rendered room: 8-bit sRGB-like RGB with the lens's errors, noise and clipping. The room's picture is
 * larger than the frame all round, so that the camera can move.
 */
export function simulateFrame(room: Layers, shot: Exposure, lens: CameraLens): Uint8Array {
  const { width, height } = frameSize(room);
  const light = sceneLight(room, shot);
  const stray = strayLight(light, room.width, room.height);
  const toRoom = compose([1, 0, (room.width - width) / 2, 0, 1, (room.height - height) / 2, 0, 0, 1], shot.toReference);
  const random = gaussian(shot.seed);
  const out = new Uint8Array(width * height * 3);
  for (let y = 0; y < height; y++) exposeRow(out, y, { room, width, height, light, stray, toRoom, random, lens, shot });
  return out;
}

interface Sensor {
  readonly room: Layers;
  readonly width: number;
  readonly height: number;
  readonly light: Float32Array;
  readonly stray: readonly Plane[];
  readonly toRoom: Homography;
  readonly random: () => number;
  readonly lens: CameraLens;
  readonly shot: Exposure;
}

function exposeRow(out: Uint8Array, y: number, { room, width, height, light, stray, toRoom: h, random, lens, shot }: Sensor): void {
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  const half = (width ** 2 + height ** 2) / 4;
  const electrons = (FULL_WELL * 100) / shot.iso;
  const gains = [shot.balance[0], 1, shot.balance[1]];
  const fringes = [lens.red, 0, lens.blue];
  const toStray = stray[0].width / room.width;
  for (let x = 0, at = y * width * 3; x < width; x++) {
    const r2 = ((x - cx) ** 2 + (y - cy) ** 2) / half;
    // As `freeOfLens`, written out: this runs for every pixel and colour.
    const bend = 1 + lens.k1 * r2 + lens.k2 * r2 * r2;
    const fallen = 1 - lens.falloff * r2;
    for (let c = 0; c < 3; c++, at++) {
      const s = bend * (1 + fringes[c] * r2);
      const u = cx + (x - cx) * s;
      const v = cy + (y - cy) * s;
      const w = 1 / (h[6] * u + h[7] * v + h[8]);
      const px = (h[0] * u + h[1] * v + h[2]) * w;
      const py = (h[3] * u + h[4] * v + h[5]) * w;
      const spill = bilinear(stray[c].data, stray[c].width, stray[c].height, 1, 0, (px + 0.5) * toStray - 0.5, (py + 0.5) * toStray - 0.5);
      const value = (0.99 * bilinear(light, room.width, room.height, 3, c, px, py) + spill) * fallen;
      const noisy = value + (random() * Math.sqrt(Math.max(0, value) * electrons + READ_NOISE ** 2)) / electrons;
      const developed = Math.min(1, noisy) * gains[c];
      out[at] = ENCODED[developed <= 0 ? 0 : developed >= 1 ? ENCODED_SIZE : (developed * ENCODED_SIZE + 0.5) | 0];
    }
  }
}

/** Median sensor value, green, of steady light in one second at f/8 and ISO 100: what a light meter reads. */
export function meter(room: Layers, steady: Exposure['steady']): number {
  const light = sceneLight(room, { seconds: 1, aperture: 8, iso: 100, steady, flashes: {}, toReference: [1, 0, 0, 0, 1, 0, 0, 0, 1], balance: [1, 1], seed: 1 });
  const values: number[] = [];
  // Every 17th at the smallest size; as many at any.
  const step = 3 * Math.max(1, Math.round((17 * room.width * room.height) / (1620 * 1080)));
  for (let i = 1; i < light.length; i += step) values.push(light[i]);
  values.sort((a, b) => a - b);
  return values[values.length >> 1];
}

/** A small movement: shift in pixels, turn in radians about the middle, and scale. */
export function movement({ width, height }: FrameSize, dx: number, dy: number, turn: number, scale = 1): Homography {
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  const cos = Math.cos(turn) * scale;
  const sin = Math.sin(turn) * scale;
  return [cos, -sin, cx - cos * cx + sin * cy + dx, sin, cos, cy - sin * cx - cos * cy + dy, 0, 0, 1];
}

/** Reference pixel to frame pixel, as the project's documents state alignments. */
export const referenceToFrame = (shot: Exposure): Homography => invert(shot.toReference);
