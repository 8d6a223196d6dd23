import { framesOfPass, type Area, type FrameId, type Point } from '@zaddle/document';
import type { PlaceBox } from '../clean/lookAtPlace';
import { renderLight, rendering, wholeMix } from '../clean/renderPlace';
import { frameAlone } from '../pass/frameAlone';
import type { Found } from '../found/found';
import { mapPoint, type Homography } from '../geometry/homography';
import { throughFour } from '../geometry/throughFour';
import type { OutputGrid, PlacedSource } from '../graph/placedMix';
import { prepareMix, type PreparedMix } from '../graph/prepareMix';
import type { Tools } from '../kernels/tools';
import { RIM } from '../light/rimGains';
import { GUIDE_SIDE } from '../mix/guides';
import type { HealLook } from './healLook';
import type { HealGrid } from './healPatches';

/** How much is looked at about a place: so many of its longer sides, more about small ones; and reference pixels at least. */
const ABOUT_SMALL = 2.6;
const ABOUT_LARGE = 1.1;
const SMALL_PIXELS = 120;
const LARGE_PIXELS = 400;
const LEAST_ABOUT = 40;
/** Grid pixels of the longer side, at most. */
const SIDE = 512;
/** Guide pixels beyond a place that pieces reach, so that its light can be compared with that around it. */
const BEYOND = RIM + 3;
/** Coverage from which on a pixel is to be replaced. */
const COVERED = 0.02;
/** How far corners may lie off those of a box seen straight on, as a share of its sides, for its plane to count as seen straight. */
const STRAIGHT = 0.04;

interface Size {
  readonly width: number;
  readonly height: number;
}

/** A grid about a place, and how it lies on the reference. */
export interface PlacedHealGrid extends HealGrid {
  readonly grid: OutputGrid;
}

const beyondOf = (full: number): number => (BEYOND * full) / GUIDE_SIDE;

function aboutOf(longer: number, full: number): number {
  const t = Math.max(0, Math.min(1, (longer - SMALL_PIXELS) / (LARGE_PIXELS - SMALL_PIXELS)));
  return Math.max(longer * (ABOUT_SMALL + t * (ABOUT_LARGE - ABOUT_SMALL)), beyondOf(full) * 1.5, LEAST_ABOUT);
}

/** The grid for a place seen straight. @param box reference pixels */
function straightGrid({ width, height }: Size, box: PlaceBox): PlacedHealGrid {
  const full = Math.max(width, height);
  const about = aboutOf(Math.max(box.right - box.left, box.bottom - box.top, 1), full);
  // Whole pixels: at full size each is one of the reference.
  const [left, top] = [Math.max(0, Math.floor(box.left - about)), Math.max(0, Math.floor(box.top - about))];
  const [right, bottom] = [Math.min(width - 1, Math.ceil(box.right + about)), Math.min(height - 1, Math.ceil(box.bottom + about))];
  const pixel = Math.max(1, (Math.max(right - left, bottom - top) + 1) / SIDE);
  const toReference: Homography = [pixel, 0, left, 0, pixel, top, 0, 0, 1];
  const across = (from: number, to: number): number => Math.max(8, Math.floor((to - from) / pixel) + 1);
  return { grid: { width: across(left, right), height: across(top, bottom), toOutput: toReference }, toReference, pixel, full, beyond: beyondOf(full) / pixel };
}

/** The plane that four corners lie on, as seen from the front; null where it is seen so already, or they lie on no plane. */
function planeGrid({ width, height }: Size, corners: readonly Point[]): PlacedHealGrid | null {
  const full = Math.max(width, height);
  const c = corners.map(([x, y]) => [x * full, y * full] as const);
  const side = (a: number, b: number): number => Math.hypot(c[a][0] - c[b][0], c[a][1] - c[b][1]);
  const [w, h] = [(side(0, 1) + side(2, 3)) / 2, (side(1, 2) + side(3, 0)) / 2];
  const slant = Math.max(Math.abs(c[0][1] - c[1][1]) / w, Math.abs(c[2][1] - c[3][1]) / w, Math.abs(c[1][0] - c[2][0]) / h, Math.abs(c[3][0] - c[0][0]) / h);
  if (!(Math.min(w, h) > 2) || slant < STRAIGHT) return null;
  // As much about it as the plane allows without running away, and as the picture holds.
  for (let about = aboutOf(Math.max(w, h), full); about > 8; about *= 0.7) {
    const pixel = Math.max(1, (Math.max(w, h) + 2 * about) / SIDE);
    const size = { width: Math.ceil((w + 2 * about) / pixel), height: Math.ceil((h + 2 * about) / pixel) };
    const [x, y, u, v] = [about / pixel, about / pixel, (about + w) / pixel, (about + h) / pixel];
    const toReference = throughFour([[x, y], [u, y], [u, v], [x, v]], c);
    if (!toReference) return null;
    const weights = [[0, 0], [size.width, 0], [size.width, size.height], [0, size.height]].map(([a, b]) => toReference[6] * a + toReference[7] * b + 1);
    if (Math.min(...weights) > 0.4 && Math.max(...weights) < 2.5) return { grid: { ...size, toOutput: toReference }, toReference, pixel: null, full, beyond: beyondOf(full) / pixel };
  }
  return null;
}

/** The grid on which a place is healed: straight, or in the plane of a box whose corners say that it is seen at an angle, so that tiles and boards keep their course. */
export function healGrid(reference: Size, areas: readonly Area[], box: PlaceBox): PlacedHealGrid {
  const [area] = areas;
  return (areas.length === 1 && area.kind === 'box' ? planeGrid(reference, area.corners) : null) ?? straightGrid(reference, box);
}

/**
 * Looks at a place that is to be healed.
 * @param prepared the mix whose picture is healed, its wide context worked out; @param sourcesFor pixels of frames for a scale (grid pixel to reference pixel).
 */
export function lookToHeal(tools: Tools, prepared: PreparedMix, found: Found, areas: readonly Area[], { grid, toReference }: PlacedHealGrid, sourcesFor: (frames: readonly FrameId[], scale: number) => ReadonlyMap<FrameId, PlacedSource>): HealLook {
  const { mix } = prepared;
  const { width, height } = grid;
  const scale = 1 / Math.sqrt(Math.abs(toReference[0] * toReference[4] - toReference[1] * toReference[3]));
  const sources = sourcesFor([...new Set([mix.reference, ...prepared.passes.flatMap(({ pass }) => framesOfPass(mix, pass))])], scale);
  const picture = renderLight(tools, { ...prepared, mix: wholeMix(mix, mix.passes) }, sources, grid);
  const home = mix.frames[mix.reference];
  const hole = new Uint8Array(width * height);
  rendering(tools, prepareMix(wholeMix(mix, [frameAlone(mix.reference, areas)]), found), sources, grid, (renderer, _, floats) => {
    for (let y = 0; y < height; y++) floats(renderer.maskRow(0, y)).forEach((v, x) => (hole[y * width + x] = v > COVERED ? 1 : 0));
  });
  const open = new Uint8Array(width * height);
  for (let i = 0; i < open.length; i++) {
    const [x, y] = mapPoint(toReference, i % width, Math.floor(i / width));
    // Where no frame reaches there is nothing to take.
    open[i] = x >= 0 && y >= 0 && x <= home.width - 1 && y <= home.height - 1 && picture.r[i] + picture.g[i] + picture.b[i] > 0 ? 1 : 0;
  }
  return { picture, hole, open };
}
