import { boxBlur } from '../image/boxBlur';
import { createPlane, type Pixels } from '../image/plane';

/** A small dark round place of a frame: its middle and radius in longer sides of the frame as it is stored. */
export type Speck = readonly [x: number, y: number, radius: number];

/** Radii that are looked for, pixels. */
const RADII = [1, 1.6, 2.5, 4] as const;
/** Stops by which a speck is darker than what lies about it. */
const LEAST = 0.045;
const MOST = 1.2;
/** How often the roughness about it. */
const STANDS_OUT = 4.5;
/** Stops of roughness that there always is. */
const CALM = 0.006;
/** Value of 255 below which brightness is noise. */
const DARK = 14;
/** Share of its depth by which it must be darker than every side. */
const ROUND = 0.55;
const SIDES = 8;
/** Specks of a frame that are told at most: those that stand out most. */
const MOST_SPECKS = 80;

/** Brightness as the eye has it, in stops. */
function brightness({ width, height, data }: Pixels): Float32Array {
  const top = data instanceof Uint16Array ? 257 : 1;
  const out = new Float32Array(width * height);
  for (let i = 0; i < out.length; i++) out[i] = 2.2 * Math.log2((0.3 * data[i * 3] + 0.6 * data[i * 3 + 1] + 0.1 * data[i * 3 + 2]) / top + 4);
  return out;
}

/** Whether it is darker than all sides alike: an edge, or the end of a line, is not. */
function isRound(y: Float32Array, i: number, width: number, reach: number, centre: number, depth: number): boolean {
  for (let k = 0; k < SIDES; k++) {
    const angle = (2 * Math.PI * k) / SIDES;
    if (y[i + Math.round(reach * Math.sin(angle)) * width + Math.round(reach * Math.cos(angle))] < centre + ROUND * depth) return false;
  }
  return true;
}

/**
 * Small dark round places on calm surfaces, which dust on a sensor makes, and much else does: only what lies at the same place of frames that show
 * something different is dust.
 * @param pixels a frame as it is stored, about 750 pixels wide
 */
export function findSpecks(pixels: Pixels): Speck[] {
  const { width, height } = pixels;
  const y = brightness(pixels);
  const plane = createPlane(width, height, y);
  const squares = createPlane(width, height, y.map((v) => v * v));
  const floor = 2.2 * Math.log2(DARK + 4);
  const found: { i: number; score: number; radius: number }[] = [];
  for (const radius of RADII) {
    const inner = Math.max(0, Math.round(0.6 * radius));
    const [near, far] = [Math.ceil(1.5 * radius) + 1, Math.ceil(2.6 * radius) + 2];
    const [centre, hole, outer, holeSquares, outerSquares] = [boxBlur(plane, inner).data, boxBlur(plane, near).data, boxBlur(plane, far).data, boxBlur(squares, near).data, boxBlur(squares, far).data];
    const [few, many] = [(2 * near + 1) ** 2, (2 * far + 1) ** 2];
    for (let v = far; v < height - far; v++) {
      for (let i = v * width + far; i < v * width + width - far; i++) {
        const ring = (outer[i] * many - hole[i] * few) / (many - few);
        const depth = ring - centre[i];
        if (depth < LEAST || depth > MOST || centre[i] < floor) continue;
        const rough = Math.sqrt(Math.max(0, (outerSquares[i] * many - holeSquares[i] * few) / (many - few) - ring * ring));
        const score = depth / (rough + CALM);
        if (score >= STANDS_OUT && isRound(y, i, width, near, centre[i], depth)) found.push({ i, score, radius });
      }
    }
  }
  found.sort((a, b) => b.score - a.score);
  const kept: typeof found = [];
  for (const speck of found) {
    if (kept.length === MOST_SPECKS) break;
    const [x, v] = [speck.i % width, Math.floor(speck.i / width)];
    if (kept.every(({ i, radius }) => Math.hypot((i % width) - x, Math.floor(i / width) - v) > 3 * Math.max(radius, speck.radius))) kept.push(speck);
  }
  const longer = Math.max(width, height);
  return kept.map(({ i, radius }): Speck => [((i % width) + 0.5) / longer, (Math.floor(i / width) + 0.5) / longer, (radius + 0.5) / longer].map((value) => Math.round(value * 1e5) / 1e5) as unknown as Speck);
}

/** How far apart the same speck may be found, longer sides. */
const SAME = 0.0025;
const meets = (a: Speck, b: Speck): boolean => Math.hypot(a[0] - b[0], a[1] - b[1]) <= SAME;

/** Specks that two frames have at one place. */
export const commonSpecks = (a: readonly Speck[], b: readonly Speck[]): Speck[] => a.filter((speck) => b.some((other) => meets(speck, other)));

/** Other compositions that must have a speck at one place for it to be dust. */
const LEAST_OTHERS = 2;

/** Specks that lie at the same place of the sensor in several shots of a visit. @param others those of each other shot by the same camera */
export const recurringSpecks = (own: readonly Speck[], others: readonly (readonly Speck[])[]): Speck[] => own.filter((speck) => others.filter((theirs) => theirs.some((other) => meets(speck, other))).length >= LEAST_OTHERS);
