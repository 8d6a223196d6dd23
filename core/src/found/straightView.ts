import { stanceRotation, type Stance } from '../geometry/straightenMap';
import { boxBlur } from '../image/boxBlur';
import { log2Of } from '../image/log2Of';
import { createPlane, type Light, type Plane } from '../image/plane';
import { luminanceOf } from '../mix/guideTones';
import { CLIPPED } from '../window/ownRadiance';

/** One light of a room on a grid that is straightened: log2 of luminance, of red and blue over green; and where it tells nothing. */
export interface StraightLight {
  readonly y: Float32Array;
  readonly red: Float32Array;
  readonly blue: Float32Array;
  /** 1 where it is clipped, dark or not there. */
  readonly mute: Uint8Array;
}

/** Lights of a room on one grid. */
export interface SeenView {
  readonly width: number;
  readonly height: number;
  /** Row of the horizon and middle column. */
  readonly horizon: number;
  readonly middle: number;
  readonly lights: readonly StraightLight[];
}

/** What a level camera would have seen from the same place. */
export interface StraightView extends SeenView {
  /** Focal length, pixels. */
  readonly focal: number;
  /** For each column, the first row that the picture has; `height` where it has none. */
  readonly top: Int32Array;
  /** 1 where the picture has nothing. */
  readonly outside: Uint8Array;
  /** Brings a mask of this grid, by row and column as fractions, to the guide's. */
  readonly onGuide: (mask: (x: number, y: number) => number) => Plane;
}

/** A light as it is given: with the brightest encoded value and the cover, where known. */
export interface GivenLight {
  readonly light: Light;
  readonly top?: Plane;
  readonly cover?: Plane;
}

/** Linear light below which colours tell nothing, and the least that is told apart. */
const DARK = 0.004;
const LEAST = 1 / 512;

/** Values of a plane at places, bilinear; NaN beyond it. */
function sampled(plane: Plane, places: Float32Array): Float32Array {
  const { width, height, data } = plane;
  const out = new Float32Array(places.length / 2);
  for (let i = 0; i < out.length; i++) {
    const [x, y] = [places[2 * i], places[2 * i + 1]];
    if (!(x >= 0 && y >= 0 && x <= width - 1 && y <= height - 1)) {
      out[i] = NaN;
      continue;
    }
    const [x0, y0] = [Math.min(width - 2, Math.floor(x)), Math.min(height - 2, Math.floor(y))];
    const [a, b, p] = [x - x0, y - y0, y0 * width + x0];
    out[i] = (1 - b) * ((1 - a) * data[p] + a * data[p + 1]) + b * ((1 - a) * data[p + width] + a * data[p + width + 1]);
  }
  return out;
}

/** @param places where it is looked at; null: at each pixel */
function straightLight({ light, top, cover }: GivenLight, places: Float32Array | null): StraightLight {
  const { width, height, r, g, b } = light;
  const luminances = luminanceOf(light).data;
  const [muted, y, red, blue] = [createPlane(width, height), createPlane(width, height), createPlane(width, height), createPlane(width, height)];
  for (let i = 0; i < luminances.length; i++) {
    if (luminances[i] < DARK || (cover && cover.data[i] < 1) || (top && top.data[i] > CLIPPED)) muted.data[i] = 1;
    const green = log2Of(Math.max(LEAST, g[i]));
    y.data[i] = log2Of(Math.max(LEAST, luminances[i]));
    red.data[i] = log2Of(Math.max(LEAST, r[i])) - green;
    blue.data[i] = log2Of(Math.max(LEAST, b[i])) - green;
  }
  const seen = (plane: Plane): Float32Array => (places ? sampled(plane, places) : plane.data);
  const smooth = (plane: Plane): Float32Array => seen(boxBlur(plane, 1));
  const told = seen(muted);
  const mute = new Uint8Array(told.length);
  for (let i = 0; i < mute.length; i++) mute[i] = told[i] === 0 ? 0 : 1;
  return { y: smooth(y), red: smooth(red), blue: smooth(blue), mute };
}

/** Lights of a room as the camera saw them, pixel for pixel. @param lights on one grid, the room's own first */
export function unturnedView(lights: readonly GivenLight[]): SeenView {
  const { width, height } = lights[0].light;
  return { width, height, horizon: (height - 1) / 2, middle: (width - 1) / 2, lights: lights.map((light) => straightLight(light, null)) };
}

/**
 * Straightens lights of a room, so that plumb edges are columns and the horizon is a row.
 * @param lights on one grid. @param focal longer sides. @param scale guide pixels for one of the grid
 */
export function straightView(lights: readonly GivenLight[], plumb: Pick<Stance, 'roll' | 'pitch'>, focal: number, scale: number): StraightView {
  const guide = lights[0].light;
  const r = stanceRotation({ ...plumb, yaw: 0 });
  const [gx, gy, gf] = [(guide.width - 1) / 2, (guide.height - 1) / 2, focal * Math.max(guide.width, guide.height)];
  const [width, height] = [Math.round(guide.width / scale), Math.round(guide.height / scale)];
  const [middle, horizon, own] = [(width - 1) / 2, (height - 1) / 2, gf / scale];
  const places = new Float32Array(2 * width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const u = [(x - middle) / own, (y - horizon) / own];
      const depth = r[2] * u[0] + r[5] * u[1] + r[8];
      places[2 * (y * width + x)] = gx + (gf * (r[0] * u[0] + r[3] * u[1] + r[6])) / depth;
      places[2 * (y * width + x) + 1] = gy + (gf * (r[1] * u[0] + r[4] * u[1] + r[7])) / depth;
    }
  }
  const straight = lights.map((light) => straightLight(light, places));
  const outside = new Uint8Array(width * height);
  for (let i = 0; i < outside.length; i++) if (Number.isNaN(straight[0].y[i])) outside[i] = 1;
  const top = new Int32Array(width).fill(height);
  for (let i = outside.length - 1; i >= 0; i--) if (outside[i] === 0) top[i % width] = Math.floor(i / width);
  const onGuide = (mask: (x: number, y: number) => number): Plane => {
    const plane = createPlane(guide.width, guide.height);
    for (let y = 0; y < guide.height; y++) {
      for (let x = 0; x < guide.width; x++) {
        const c = [(x - gx) / gf, (y - gy) / gf];
        const depth = r[6] * c[0] + r[7] * c[1] + r[8];
        plane.data[y * guide.width + x] = mask(middle + (own * (r[0] * c[0] + r[1] * c[1] + r[2])) / depth, horizon + (own * (r[3] * c[0] + r[4] * c[1] + r[5])) / depth);
      }
    }
    return plane;
  };
  return { width, height, horizon, middle, focal: own, top, outside, lights: straight, onGuide };
}
