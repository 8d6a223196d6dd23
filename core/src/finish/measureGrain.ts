import { GRAIN_TONES, type Grain } from '@zaddle/document';
import type { Pixels } from '../image/plane';

/** Side of the places that are measured, pixels, and how many at most. */
const SIDE = 16;
const MOST = 3000;
/** How far the tone of a place may be from the one that it counts for, and how far where there are too few. */
const NEAR = 0.06;
const FAR = 0.125;
const LEAST = 40;
/** The calmest share of places counts: others have texture. By how much their median lies lower than grain is, where all are plain. */
const CALMEST = 0.2;
const LOWER = 0.94;
/** Shares of white within which nothing is clipped. */
const [DARKEST, LIGHTEST] = [0.01, 0.985];
/** Numbers that a plane through a place takes of its freedom. */
const FITTED = 3;
/** Share of each channel of sRGB in brightness. */
const LUMA = [0.2126, 0.7152, 0.0722] as const;
/** Shares of white that no grain is beyond. */
const COARSEST = 0.2;

interface Place {
  readonly tone: number;
  readonly brightness: number;
  readonly colour: number;
}

/** Deviation of values about the plane that fits them best; values: SIDE × SIDE of them. */
function deviation(values: Float64Array): number {
  const half = (SIDE - 1) / 2;
  let [sum, across, down, spread] = [0, 0, 0, 0];
  for (let i = 0; i < values.length; i++) {
    sum += values[i];
    across += values[i] * ((i % SIDE) - half);
    down += values[i] * (Math.floor(i / SIDE) - half);
  }
  const mean = sum / values.length;
  for (const v of values) spread += (v - mean) ** 2;
  // Of the squares of distances from the middle along one side, all over.
  const squares = (values.length * (SIDE * SIDE - 1)) / 12;
  return Math.sqrt(Math.max(0, spread - (across ** 2 + down ** 2) / squares) / (values.length - FITTED));
}

/** What one place tells; null where something is clipped. */
function measured({ width, data }: Pixels, left: number, top: number, white: number, [l, u, v]: readonly Float64Array[]): Place | null {
  let tone = 0;
  for (let y = 0, i = 0; y < SIDE; y++) {
    let p = ((top + y) * width + left) * 3;
    for (let x = 0; x < SIDE; x++, i++, p += 3) {
      const [r, g, b] = [data[p] / white, data[p + 1] / white, data[p + 2] / white];
      if (Math.min(r, g, b) < DARKEST || Math.max(r, g, b) > LIGHTEST) return null;
      l[i] = LUMA[0] * r + LUMA[1] * g + LUMA[2] * b;
      u[i] = r - l[i];
      v[i] = b - l[i];
      tone += l[i];
    }
  }
  return { tone: tone / (SIDE * SIDE), brightness: deviation(l), colour: Math.hypot(deviation(u), deviation(v)) / Math.SQRT2 };
}

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1];

/** What the places of about one tone tell, by those of them that are calmest in brightness; null where there are too few. */
function grainAt(places: readonly Place[], tone: number): { readonly brightness: number; readonly colour: number } | null {
  const within = (reach: number): Place[] => places.filter((place) => Math.abs(place.tone - tone) <= reach);
  const near = within(NEAR);
  const alike = near.length < LEAST ? within(FAR) : near;
  if (alike.length < LEAST) return null;
  // Compressed files have colour in larger spots than places are: chosen by colour, they would be the ones that lost all of it.
  const calm = alike.sort((a, b) => a.brightness - b.brightness).slice(0, Math.ceil(CALMEST * alike.length));
  return { brightness: Math.min(COARSEST, median(calm.map(({ brightness }) => brightness)) / LOWER), colour: Math.min(COARSEST, median(calm.map(({ colour }) => colour))) };
}

/**
 * How grainy a picture is, by its calmest places of each tone: the lower envelope of deviations about a plane (noise level function:
 * Liu, Freeman, Szeliski, Kang 2006). Tones without places have that of the nearest that has some.
 * @param pixels encoded RGB at full size, 8 or 16 bit
 * @returns null where nothing is plain enough, or everything is clipped
 */
export function measureGrain(pixels: Pixels): Grain | null {
  const { width, height, data } = pixels;
  const [columns, rows] = [Math.floor(width / SIDE), Math.floor(height / SIDE)];
  const every = Math.max(1, Math.ceil(Math.sqrt((columns * rows) / MOST)));
  const white = data instanceof Uint16Array ? 65535 : 255;
  const room = [0, 1, 2].map(() => new Float64Array(SIDE * SIDE));
  const places: Place[] = [];
  for (let y = 0; y < rows; y += every) {
    for (let x = 0; x < columns; x += every) {
      const place = measured(pixels, x * SIDE, y * SIDE, white, room);
      if (place) places.push(place);
    }
  }
  const told = GRAIN_TONES.map((tone) => grainAt(places, tone));
  const nearest = (k: number): NonNullable<(typeof told)[number]> | undefined => told.map((value, at) => ({ value, far: Math.abs(at - k) })).filter(({ value }) => value).sort((a, b) => a.far - b.far)[0]?.value ?? undefined;
  const all = told.map((_, k) => nearest(k));
  if (all.some((value) => !value)) return null;
  return { brightness: all.map((value) => value!.brightness), colour: all.map((value) => value!.colour) };
}
