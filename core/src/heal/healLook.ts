import { halfLight } from '../clean/coarserLooks';
import { boxBlur } from '../image/boxBlur';
import { createPlane, mapPlane, quantile, type Light, type Plane } from '../image/plane';

/** A place that is to be healed, on a grid about it. */
export interface HealLook {
  /** The picture that it is healed in, linear light. */
  readonly picture: Light;
  /** 1 where pixels are to be replaced. */
  readonly hole: Uint8Array;
  /** 1 where pixels may be taken from. */
  readonly open: Uint8Array;
}

export type PlaneSize = Pick<Plane, 'width' | 'height'>;

/** What places are compared by: log2 light, a plane a colour. */
export interface HealFeatures {
  readonly width: number;
  readonly height: number;
  readonly logs: readonly [Float32Array, Float32Array, Float32Array];
  /** How much brightness changes from pixel to pixel hereabouts, stops. */
  readonly rough: Float32Array;
}

/** Shares of the picture's usual light that are black. */
const BLACK = 0.02;
/** Pixels about one within which roughness is averaged. */
const HEREABOUTS = 2;

/** @param hole what lies there tells nothing of its surroundings */
export function healFeatures({ picture: { width, height, r, g, b } }: HealLook): HealFeatures {
  const floor = Math.max(1e-4, BLACK * quantile(g, 0.5));
  const logOf = (channel: Float32Array): Float32Array => {
    const log = new Float32Array(channel.length);
    for (let i = 0; i < log.length; i++) log[i] = Math.log2(Math.max(floor, channel[i]));
    return log;
  };
  const logs = [logOf(r), logOf(g), logOf(b)] as const;
  const steps = createPlane(width, height);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) steps.data[i] = (x + 1 < width ? Math.abs(logs[1][i + 1] - logs[1][i]) : 0) + (y + 1 < height ? Math.abs(logs[1][i + width] - logs[1][i]) : 0);
  return { width, height, logs, rough: boxBlur(steps, HEREABOUTS).data };
}

/** Log light without most of the broad course of its brightness, which is made to fit at the rim anyway: what must fit is what is left, and colour. What lies in the hole has no part in it. */
export function withoutBroad({ width, height, logs }: HealFeatures, known: Uint8Array, radius: number, share: number): [Float32Array, Float32Array, Float32Array] {
  const mask = createPlane(width, height, Float32Array.from(known));
  const weight = boxBlur(mask, radius).data;
  const mean = boxBlur(mapPlane(mask, (m, i) => m * logs[1][i]), radius).data;
  return logs.map((log) => log.map((v, i) => (weight[i] > 1e-3 ? v - (share * mean[i]) / weight[i] : v))) as [Float32Array, Float32Array, Float32Array];
}

/** The mean of what is known near each pixel; where nothing is, as far as it takes. */
export function meanNear({ width, height }: PlaneSize, values: Float32Array, known: Uint8Array, radius: number): Float32Array {
  const mask = createPlane(width, height, Float32Array.from(known));
  const out = new Float32Array(values.length);
  const missing = new Uint8Array(values.length).fill(1);
  for (let r = radius, left = values.length; left > 0 && r < 4 * Math.max(width, height); r *= 2) {
    const weight = boxBlur(mask, r).data;
    const sum = boxBlur(mapPlane(mask, (m, i) => m * values[i]), r).data;
    left = 0;
    for (let i = 0; i < out.length; i++) {
      if (!missing[i]) continue;
      if (weight[i] < 0.02) {
        left++;
        continue;
      }
      out[i] = sum[i] / weight[i];
      missing[i] = 0;
    }
  }
  return out;
}

/** Indices of pixels that are set. */
export const placesOf = (set: Uint8Array): number[] => {
  const places: number[] = [];
  for (let i = 0; i < set.length; i++) if (set[i]) places.push(i);
  return places;
};

/** Outermost pixels of a set. */
export interface Box {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

export function boxAround(places: ArrayLike<number>, width: number): Box {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let k = 0; k < places.length; k++) {
    const [x, y] = [places[k] % width, Math.floor(places[k] / width)];
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  return { left, top, right, bottom };
}

/** A place at half the size: a pixel is replaced where any of it is, and may be taken where all of it may. */
export function halfLook({ picture, hole, open }: HealLook): HealLook {
  const { width } = picture;
  const small = halfLight(picture);
  const gather = (set: Uint8Array, least: number): Uint8Array => {
    const out = new Uint8Array(small.width * small.height);
    for (let y = 0, k = 0; y < small.height; y++) {
      for (let x = 0; x < small.width; x++, k++) {
        const i = 2 * y * width + 2 * x;
        out[k] = set[i] + set[i + 1] + set[i + width] + set[i + width + 1] >= least ? 1 : 0;
      }
    }
    return out;
  };
  return { picture: small, hole: gather(hole, 1), open: gather(open, 4) };
}
