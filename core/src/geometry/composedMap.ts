import { SEGMENT } from '../kernels/kernels';
import { compose, mapPoint, type Homography } from './homography';
import { readMesh, type PlacedMesh } from './mesh';
import { bendPositions, falloffGain, type Lens, type Optics } from './lens';

/**
 * The one map from an output pixel to a stored pixel: crop and straighten, then the frame's alignment, then
 * its lens, then the size at which the frame is at hand. One interpolation follows, never two.
 */
/** The output keeps the reference's own lens error: where it lies as stored, and what frees it. */
export interface Unbent {
  readonly toReference: Homography;
  readonly lens: Lens;
  readonly centre: readonly [number, number];
  readonly half: number;
}

export interface ComposedMap {
  /** Set where the first step is no homography: then `plane` and `mesh` start from the reference. */
  readonly unbent: Unbent | null;
  /** Output pixel to lens-free pixel of the source picture. */
  readonly plane: Homography;
  readonly lens: Optics;
  /** Size of the source at hand: the whole picture or a part of it. */
  readonly width: number;
  readonly height: number;
  /** Optical centre in pixels of the source at hand, and half the diagonal squared. */
  readonly centre: readonly [number, number];
  readonly half: number;
  /** Displacements beyond what the homography says. */
  readonly mesh: PlacedMesh | null;
}

/** A part of a picture that is at hand: the whole has this size, the part starts here. */
export interface Extent {
  readonly width: number;
  readonly height: number;
  readonly x: number;
  readonly y: number;
}

/**
 * @param outputToReference output pixel to lens-free reference pixel; @param alignment reference pixel to frame pixel, both
 * at full size; @param toSource full-size frame pixel to pixel of the whole picture at the size at hand (`rescale`); width, height: of the source at hand; whole: where that lies, if it is a part.
 */
export function composeMap(outputToReference: Homography | Unbent, alignment: Homography, toSource: Homography, lens: Optics, width: number, height: number, whole: Extent = { width, height, x: 0, y: 0 }, mesh: PlacedMesh | null = null): ComposedMap {
  const shift: Homography = [1, 0, -whole.x, 0, 1, -whole.y, 0, 0, 1];
  return {
    unbent: 'lens' in outputToReference ? outputToReference : null,
    plane: compose(shift, compose(toSource, 'lens' in outputToReference ? alignment : compose(alignment, outputToReference))),
    lens, width, height, mesh,
    centre: [(whole.width - 1) / 2 - whole.x, (whole.height - 1) / 2 - whole.y],
    half: (whole.width ** 2 + whole.height ** 2) / 4,
  };
}

/** Output pixel to lens-free reference pixel. */
function freed({ toReference: h, lens, centre: [cx, cy], half }: Unbent, x: number, y: number): [number, number] {
  const w = h[6] * x + h[7] * y + h[8];
  const dx = (h[0] * x + h[1] * y + h[2]) / w - cx;
  const dy = (h[3] * x + h[4] * y + h[5]) / w - cy;
  const r2 = (dx * dx + dy * dy) / half;
  const s = 1 + lens.k1 * r2 + lens.k2 * r2 * r2;
  return [cx + dx * s, cy + dy * s];
}

/** Source position of one output pixel, lens aside. */
export function planePosition({ unbent, plane: h }: ComposedMap, x: number, y: number): [number, number] {
  return mapPoint(h, ...(unbent ? freed(unbent, x, y) : ([x, y] as const)));
}

/** Number of f64 values that `writeRowCoords` writes for a row of n pixels. */
export const coordCount = (n: number): number => (Math.ceil(n / SEGMENT) + 1) * 2;

/**
 * Writes exact source positions of pixels x0, x0 + 16, ... of an output row, as kernels expect them.
 * @param fringe lateral colour of the channel that is read there (`Optics.red`, `Optics.blue`), 0 for green.
 */
export function writeRowCoords(map: ComposedMap, x0: number, row: number, n: number, out: Float64Array, fringe = 0): void {
  const stops = Math.ceil(n / SEGMENT) + 1;
  if (map.unbent) writeFreed(map.unbent, map.plane, x0, row, stops, out);
  else writeStraight(map.plane, x0, row, stops, out);
  if (map.mesh) addMesh(map, map.mesh, x0, row, stops, out);
  if (map.lens.k1 !== 0 || map.lens.k2 !== 0 || fringe !== 0) bendPositions(out, stops, map.lens, map.centre[0], map.centre[1], map.half, fringe);
}

function writeStraight(h: Homography, x0: number, y: number, stops: number, out: Float64Array): void {
  for (let i = 0; i < stops; i++) {
    const x = x0 + i * SEGMENT;
    const w = h[6] * x + h[7] * y + h[8];
    out[2 * i] = (h[0] * x + h[1] * y + h[2]) / w;
    out[2 * i + 1] = (h[3] * x + h[4] * y + h[5]) / w;
  }
}

function writeFreed(unbent: Unbent, h: Homography, x0: number, row: number, stops: number, out: Float64Array): void {
  for (let i = 0; i < stops; i++) {
    const [x, y] = freed(unbent, x0 + i * SEGMENT, row);
    const w = h[6] * x + h[7] * y + h[8];
    out[2 * i] = (h[0] * x + h[1] * y + h[2]) / w;
    out[2 * i + 1] = (h[3] * x + h[4] * y + h[5]) / w;
  }
}

function addMesh({ unbent }: ComposedMap, mesh: PlacedMesh, x0: number, row: number, stops: number, out: Float64Array): void {
  const g = mesh.toGrid;
  for (let i = 0; i < stops; i++) {
    const [x, y] = unbent ? freed(unbent, x0 + i * SEGMENT, row) : [x0 + i * SEGMENT, row];
    const w = g[6] * x + g[7] * y + g[8];
    const gx = (g[0] * x + g[1] * y + g[2]) / w;
    const gy = (g[3] * x + g[4] * y + g[5]) / w;
    out[2 * i] += readMesh(mesh, gx, gy, 0);
    out[2 * i + 1] += readMesh(mesh, gx, gy, 1);
  }
}

/** Writes the gains that undo the fall-off of light at the positions that `writeRowCoords` wrote for a row of n pixels. */
export function writeRowGains(map: ComposedMap, coords: Float64Array, n: number, out: Float32Array): void {
  const [cx, cy] = map.centre;
  for (let i = 0; i <= Math.ceil(n / SEGMENT); i++) out[i] = falloffGain(map.lens, ((coords[2 * i] - cx) ** 2 + (coords[2 * i + 1] - cy) ** 2) / map.half);
}

/** Whether light falls off towards the corners at all. */
export const fallsOff = ({ lens }: ComposedMap): boolean => lens.falloff[0] !== 0 || lens.falloff[1] !== 0;

/** Displacement of red or blue, in source pixels, that is worth an interpolation of its own. */
const VISIBLE_FRINGE = 0.08;

/** Whether lateral colour shows between two stops of a row of positions. */
export function showsFringe({ lens, centre: [cx, cy], half }: ComposedMap, coords: Float64Array, from: number, to: number): boolean {
  const strength = Math.max(Math.abs(lens.red), Math.abs(lens.blue));
  if (strength === 0) return false;
  const far = Math.max((coords[2 * from] - cx) ** 2 + (coords[2 * from + 1] - cy) ** 2, (coords[2 * to] - cx) ** 2 + (coords[2 * to + 1] - cy) ** 2);
  return (strength * far * Math.sqrt(far)) / half > VISIBLE_FRINGE;
}
