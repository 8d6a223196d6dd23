import type { Framing, FrameUse, Mix, Point } from '@zaddle/document';
import { coveredRegion, type Region } from '../geometry/coveredRegion';
import { fitWithin, largestWithin, type Frame } from '../geometry/cropWithin';
import { compose, invert, mapPoint, type Homography } from '../geometry/homography';
import { freeOfLens } from '../geometry/lens';
import { straightenMap } from '../geometry/straightenMap';

/** The part of a mix that says how its output lies in the reference. */
export type Framed = Required<Pick<Mix, 'geometry' | 'width' | 'height' | 'framing'>>;

/** Focal length, in longer sides, that is believed where frames do not tell: what rooms are mostly taken with. */
export const USUAL_FOCAL = 0.7;
/** Ragged edges of single frames up to this share of the picture are left: they are faded out, and cutting costs picture. */
const TOLERABLE = 0.006;
/** Pixels that an interpolated picture stays inside of what is there. */
const INSET = 1;
/** What rounding may take of a pixel. */
const TRACE = 0.01;
/** A straightened picture is shown whole up to this many times the reference's size each way. */
const MOST_SEEN = 2;

const unitOf = ({ width, height }: FrameUse): number => Math.max(width, height);
const referenceOf = ({ frames, reference }: Mix): FrameUse => frames[reference];

/** Nothing straightened, the largest picture. */
export const asShot = (focal: number = USUAL_FOCAL): Framing => ({ roll: 0, pitch: 0, yaw: 0, focal, strength: 1, turn: 0, stretch: 1, lines: [], ratio: null, crop: null });

/** How a mix is framed, also where that was written before framings were: its crop is kept then. */
export function framingOf(mix: Mix): Framing {
  if (mix.framing) return mix.framing;
  const { width, height } = referenceOf(mix);
  const unit = Math.max(width, height);
  const [x, y] = mapPoint(mix.geometry, (mix.width - 1) / 2, (mix.height - 1) / 2);
  const isWhole = mix.width === width && mix.height === height && Math.hypot(x - (width - 1) / 2, y - (height - 1) / 2) < 0.5;
  return { ...asShot(), crop: isWhole ? null : { at: [x / unit, y / unit], width: mix.width / unit, height: mix.height / unit } };
}

const isStraightened = ({ roll, pitch, yaw, strength, turn, stretch }: Framing): boolean => roll !== 0 || (strength !== 0 && (pitch !== 0 || yaw !== 0)) || turn !== 0 || stretch !== 1;

/** Where a stored pixel of a frame lies in the reference as the output has it. */
function inReference({ lens, corrects }: Mix, { width, height, homography }: FrameUse): (x: number, y: number) => readonly [number, number] {
  const back = invert(homography);
  return (x, y) => mapPoint(back, ...(corrects.distortion ? freeOfLens(lens, width, height, x, y) : ([x, y] as const)));
}

/** What is surely covered once straightened: by the reference, and by frames that light the picture as wholes and lie more than a little off it. */
export function regionOf(mix: Mix, framing: Framing): Region {
  const reference = referenceOf(mix);
  const map = straightenMap(framing, reference);
  const sure = (use: FrameUse, inset: number): Region => {
    const place = inReference(mix, use);
    return coveredRegion(use.width, use.height, (x, y) => mapPoint(map, ...place(x, y)), -inset);
  };
  const inset = isStraightened(framing) ? INSET : 0;
  // What a lens has stored beyond the corners of the picture is no part of it.
  const home = [...sure(reference, inset), ...coveredRegion(reference.width, reference.height, (x, y) => mapPoint(map, x, y), -inset)];
  const place = inReference(mix, reference);
  const corners = [[0, 0], [1, 0], [0, 1], [1, 1]].map(([u, v]) => mapPoint(map, ...place(u * reference.width - 0.5, v * reference.height - 0.5)));
  const lighting = new Set(mix.passes.flatMap((pass) => (pass.kind === 'light' && pass.on && 'frame' in pass.source && pass.source.frame !== mix.reference ? [pass.source.frame] : [])));
  const ragged = [...lighting].flatMap((id) => sure(mix.frames[id], INSET)).filter(({ nx, ny, d }) => corners.some(([x, y]) => nx * x + ny * y - d > TOLERABLE * unitOf(reference)));
  return [...home, ...ragged];
}

/** Whole pixels of a rectangle: those whose areas lie in it. */
function pixelsOf({ x, y, width, height }: Frame): { left: number; top: number; width: number; height: number } {
  const [left, top] = [Math.ceil(x - width / 2 + 0.5 - TRACE), Math.ceil(y - height / 2 + 0.5 - TRACE)];
  return { left, top, width: Math.max(1, Math.floor(x + width / 2 + 0.5 + TRACE) - left), height: Math.max(1, Math.floor(y + height / 2 + 0.5 + TRACE) - top) };
}

const framedBy = (map: Homography, frame: Frame): Pick<Framed, 'geometry' | 'width' | 'height'> => {
  const { left, top, width, height } = pixelsOf(frame);
  return { geometry: compose(invert(map), [1, 0, left, 0, 1, top, 0, 0, 1]), width, height };
};

/** The crop that a framing comes to, pixels of the straightened picture: as wished, brought inside what is covered; without a wish the largest of its ratio. */
export function cropOf(mix: Mix, framing: Framing, region: Region = regionOf(mix, framing)): Frame {
  const reference = referenceOf(mix);
  const unit = unitOf(reference);
  const map = straightenMap(framing, reference);
  if (!framing.crop) return largestWithin(region, framing.ratio ?? reference.width / reference.height, mapPoint(map, (reference.width - 1) / 2, (reference.height - 1) / 2));
  const { at, width, height } = framing.crop;
  const [x, y] = mapPoint(map, at[0] * unit, at[1] * unit);
  return fitWithin(region, { x, y, width: width * unit, height: height * unit });
}

/**
 * How the output lies in the reference with a framing: one homography, so that nothing is interpolated twice.
 * @throws Error where straightening leaves nothing of the picture.
 */
export function frameMix(mix: Mix, framing: Framing): Framed {
  return { ...framedBy(straightenMap(framing, referenceOf(mix)), cropOf(mix, framing)), framing };
}

/** Share of the reference's area that an output shows. */
export function shareShown(mix: Mix): number {
  const corners = [[0, 0], [mix.width, 0], [mix.width, mix.height], [0, mix.height]].map(([x, y]) => mapPoint(mix.geometry, x - 0.5, y - 0.5));
  const area = corners.reduce((sum, [x, y], k) => sum + (x * corners[(k + 1) % 4][1] - corners[(k + 1) % 4][0] * y) / 2, 0);
  const { width, height } = referenceOf(mix);
  return area / (width * height);
}

/** A crop as a framing keeps it, from a rectangle of the straightened picture, pixels. */
export function keptCrop(mix: Mix, framing: Framing, { x, y, width, height }: Frame): NonNullable<Framing['crop']> {
  const reference = referenceOf(mix);
  const unit = unitOf(reference);
  const [u, v] = mapPoint(invert(straightenMap(framing, reference)), x, y);
  return { at: [u / unit, v / unit] as Point, width: width / unit, height: height / unit };
}

/** What the straightened picture covers with all that lies beyond its crop, pixels as straightened. */
export function seenBox(mix: Mix, framing: Framing): Frame {
  const reference = referenceOf(mix);
  const map = straightenMap(framing, reference);
  const place = inReference(mix, reference);
  const rim = Array.from({ length: 17 }, (_, i) => i / 16).flatMap((t) => [[t, 0], [t, 1], [0, t], [1, t]].map(([u, v]) => mapPoint(map, ...place(u * reference.width - 0.5, v * reference.height - 0.5))));
  const crop = cropOf(mix, framing);
  const most = (MOST_SEEN * unitOf(reference)) / 2;
  const span = (values: readonly number[], middle: number, size: number): [number, number] => [Math.max(middle - most, Math.min(middle - size / 2, ...values)), Math.min(middle + most, Math.max(middle + size / 2, ...values))];
  const [left, right] = span(rim.map(([x]) => x), crop.x, crop.width);
  const [top, bottom] = span(rim.map(([, y]) => y), crop.y, crop.height);
  return { x: (left + right) / 2, y: (top + bottom) / 2, width: right - left, height: bottom - top };
}

/** The straightened picture within a box, whatever its crop, as an output. */
export const uncropped = (mix: Mix, framing: Framing, box: Frame): Pick<Framed, 'geometry' | 'width' | 'height'> => framedBy(straightenMap(framing, referenceOf(mix)), box);
