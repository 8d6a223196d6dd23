import { boxBlur } from '../image/boxBlur';
import { createPlane, type Pixels, type Plane } from '../image/plane';
import type { Pointer } from '../kernels/kernels';
import type { Tools } from '../kernels/tools';

/** Encoded grey of a proxy at several scales, each half the one before; values 0..255. */
export interface GreyPyramid {
  readonly levels: readonly Plane[];
  /** Locally normalised picture for the coarse search, at the smallest level. */
  readonly structure: Plane;
}

const LEVELS = 4;
/** Rough luma of encoded values. */
const LUMA = [0.3, 0.6, 0.1] as const;
const CLIP_LOW = 3;
const CLIP_HIGH = 250;

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

/** Kernel memory, in bytes, that `greyPyramid` takes for a proxy of this size. */
export const pyramidBytes = (width: number, height: number): number => width * height * 9 + 65536;

/** Where a level lies in kernel memory. */
interface PlacedLevel {
  readonly at: Pointer;
  readonly width: number;
  readonly height: number;
}

/** Grey of a proxy and its halves, in kernel memory. */
function placeLevels({ kernels, arena }: Tools, { width, height, data }: Pixels): PlacedLevel[] {
  const levels: PlacedLevel[] = [{ at: arena.take(width * height * 4), width, height }];
  kernels.greyRow8(arena.placeBytes(data as Uint8Array), width * height, ...LUMA, levels[0].at);
  for (let last = levels[0]; levels.length < LEVELS && Math.min(last.width, last.height) >= 64; ) {
    const [w, h] = [last.width >> 1, last.height >> 1];
    const next = { at: arena.take(w * h * 4), width: w, height: h };
    for (let y = 0; y < h; y++) kernels.halveRow(last.at + 2 * y * last.width * 4, last.at + (2 * y + 1) * last.width * 4, w, next.at + y * w * 4);
    levels.push(next);
    last = next;
  }
  return levels;
}

const copyOut = ({ arena }: Tools, { at, width, height }: PlacedLevel): Plane => createPlane(width, height, arena.floats(at, width * height).slice());
const structureOf = (smallest: Plane): Plane => localStructure(smallest, 5, 3);

/** Builds what lining up needs of one proxy (interleaved 8-bit RGB). */
export function greyPyramid(tools: Tools, pixels: Pixels): GreyPyramid {
  const mark = tools.arena.mark();
  const levels = placeLevels(tools, pixels).map((level) => copyOut(tools, level));
  tools.arena.release(mark);
  return { levels, structure: structureOf(levels[levels.length - 1]) };
}

/** The structure of one proxy by itself: what frames are sorted by. */
export function proxyStructure(tools: Tools, pixels: Pixels): Plane {
  const mark = tools.arena.mark();
  const smallest = copyOut(tools, placeLevels(tools, pixels).at(-1)!);
  tools.arena.release(mark);
  return structureOf(smallest);
}
