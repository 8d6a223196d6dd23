import { boxBlur } from '../image/boxBlur';
import { createPlane, type Pixels, type Plane } from '../image/plane';
import { halve } from '../image/shrink';

/** Encoded grey of a proxy at several scales, each half the one before; values 0..255. */
export interface GreyPyramid {
  readonly levels: readonly Plane[];
  /** Locally normalised picture for the coarse search, at the smallest level. */
  readonly structure: Plane;
}

const LEVELS = 4;
const CLIP_LOW = 3;
const CLIP_HIGH = 250;

/** Encoded grey (rough luma) of a proxy, 0..255. */
function grey(pixels: Pixels): Plane {
  const plane = createPlane(pixels.width, pixels.height);
  const { data } = pixels;
  for (let i = 0, p = 0; i < plane.data.length; i++, p += 3) plane.data[i] = 0.3 * data[p] + 0.6 * data[p + 1] + 0.1 * data[p + 2];
  return plane;
}

/**
 * The picture with local mean and contrast taken out, so that exposure and the place of the flash matter little;
 * 0 where a frame is clipped or flat. Units: local standard deviations.
 */
export function localStructure(plane: Plane, radius: number, noise: number): Plane {
  const mean = boxBlur(plane, radius);
  const square = createPlane(plane.width, plane.height);
  for (let i = 0; i < square.data.length; i++) square.data[i] = plane.data[i] * plane.data[i];
  const meanSquare = boxBlur(square, radius);
  const out = createPlane(plane.width, plane.height);
  for (let i = 0; i < out.data.length; i++) {
    const value = plane.data[i];
    if (value < CLIP_LOW || value > CLIP_HIGH) continue;
    const variance = Math.max(0, meanSquare.data[i] - mean.data[i] * mean.data[i]);
    const score = (value - mean.data[i]) / Math.sqrt(variance + noise * noise);
    out.data[i] = Math.max(-2.5, Math.min(2.5, score));
  }
  return out;
}

/** Builds what lining up needs of one proxy (interleaved 8-bit RGB). */
export function greyPyramid(pixels: Pixels): GreyPyramid {
  const levels = [grey(pixels)];
  while (levels.length < LEVELS && Math.min(levels[levels.length - 1].width, levels[levels.length - 1].height) >= 64) levels.push(halve(levels[levels.length - 1]));
  return { levels, structure: localStructure(levels[levels.length - 1], 5, 3) };
}
