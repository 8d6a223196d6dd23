import type { Mix } from '@zaddle/document';
import type { Extent } from '../geometry/composedMap';
import { lensFactor } from '../geometry/lens';
import { mapThroughMesh } from '../geometry/mesh';
import { outputToReference } from './outputToReference';
import { withHealed, type Healed } from './healedFrom';

/** A part of the output picture, full-size pixels, and how often it is halved. */
export interface Region {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** 0: as large as it is; each further level is half as large. */
  readonly level: number;
}

/** Deepest level that frames are served at. */
const LAST_LEVEL = 3;
/** Pixels, of the level, beyond the region that interpolation and lens error may ask for. */
const MARGIN = 8;

/** The level whose pixels are at least as fine as those of a screen. @param scale screen pixels to a pixel of the picture. */
export const levelFor = (scale: number): number => Math.max(0, Math.min(LAST_LEVEL, Math.floor(Math.log2(1 / scale) + 1e-6)));

/** The box of a stored frame, full-size pixels, that a region of the output needs. */
function fullBox(mix: Mix, frame: string, region: Region, margin: number, far: Healed): { x: number; y: number; w: number; h: number } {
  const use = mix.frames[frame];
  const reference = mix.frames[mix.reference];
  // A pass may read the frame through a map of its own.
  const maps = [use.homography, ...mix.passes.flatMap((pass) => ('source' in pass && pass.alignment && 'frame' in pass.source && pass.source.frame === frame ? [pass.alignment] : []))];
  const cx = (use.width - 1) / 2;
  const cy = (use.height - 1) / 2;
  const half = (use.width ** 2 + use.height ** 2) / 4;
  const xs: number[] = [];
  const ys: number[] = [];
  const seen: [number, number][] = [];
  for (let i = 0; i <= 4; i++) for (let j = 0; j <= 4; j++) seen.push(outputToReference(mix, region.x + (region.width * i) / 4, region.y + (region.height * j) / 4));
  for (const at of far === 'none' ? seen : withHealed(mix, seen, far)) {
    for (const map of maps) {
      const [u, v] = mapThroughMesh(map, map === use.homography ? use.mesh : null, reference.width, reference.height, ...at);
      const s = lensFactor(mix.lens, ((u - cx) ** 2 + (v - cy) ** 2) / half);
      xs.push(cx + (u - cx) * s);
      ys.push(cy + (v - cy) * s);
    }
  }
  const x = Math.max(0, Math.floor(Math.min(...xs)) - margin);
  const y = Math.max(0, Math.floor(Math.min(...ys)) - margin);
  return { x, y, w: Math.min(use.width, Math.ceil(Math.max(...xs)) + margin) - x, h: Math.min(use.height, Math.ceil(Math.max(...ys)) + margin) - y };
}

/**
 * The box of a frame, pixels of the region's level, that a region of the output needs. Levels are as large as the server makes them: halves, rounded up.
 * @param healed which of the places that are healed there from elsewhere bring that along
 */
export function regionBox(mix: Mix, frame: string, region: Region, healed: Healed = 'near'): { level: number; box: { x: number; y: number; w: number; h: number }; whole: Extent } {
  const { width, height } = mix.frames[frame];
  const k = 2 ** region.level;
  const { x, y, w, h } = fullBox(mix, frame, region, MARGIN * k, healed);
  const [levelWidth, levelHeight] = [Math.max(1, Math.ceil(width / k)), Math.max(1, Math.ceil(height / k))];
  const left = Math.min(levelWidth - 1, Math.floor(x / k));
  const top = Math.min(levelHeight - 1, Math.floor(y / k));
  const box = { x: left, y: top, w: Math.max(1, Math.min(levelWidth, Math.ceil((x + w) / k)) - left), h: Math.max(1, Math.min(levelHeight, Math.ceil((y + h) / k)) - top) };
  return { level: region.level, box, whole: { width: levelWidth, height: levelHeight, x: left, y: top } };
}
