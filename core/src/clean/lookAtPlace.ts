import { framesOfPass, type Area, type FrameId } from '@zaddle/document';
import type { Found } from '../found/found';
import type { OutputGrid, PlacedSource } from '../graph/placedMix';
import { prepareMix, type PreparedMix } from '../graph/prepareMix';
import { createLight, createPlane, type Light, type Plane } from '../image/plane';
import type { Tools } from '../kernels/tools';
import { putRow, renderLight, rendering, wholeMix } from './renderPlace';
import { frameAlone } from '../pass/frameAlone';

/** Part of the reference, whole pixels. */
export interface PlaceBox {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** A frame at a place: balanced working light in its own exposure, 1 being its white, and where the frame has the place at all. */
export interface FrameLook {
  readonly light: Light;
  readonly cover: Plane;
}

/** One place of a shot as the picture and each frame show it, on one grid. */
export interface PlaceLooks {
  /** Pixels of the reference to one of the grid, and where the middle of its first one lies, reference pixels. */
  readonly pixel: number;
  readonly left: number;
  readonly top: number;
  /** What is meant, 0..1. */
  readonly coverage: Plane;
  /** The picture so far, working light. */
  readonly picture: Light;
  readonly frames: ReadonlyMap<FrameId, FrameLook>;
}

/** How much is looked at about a place, as a share of its longer side, and grid pixels at least. */
const ABOUT = 0.45;
const LEAST_ABOUT = 12;
/** Grid pixels of the longer side of what is looked at. */
const SIDE = 136;

/** The grid for a place: about it, straight, not finer than the reference. */
export function placeGrid({ width, height }: { readonly width: number; readonly height: number }, box: PlaceBox): { grid: OutputGrid; pixel: number; left: number; top: number } {
  const longer = Math.max(box.right - box.left, box.bottom - box.top, 1);
  const pixel = Math.max(1, (longer * (1 + 2 * ABOUT)) / SIDE);
  const about = Math.max(longer * ABOUT, LEAST_ABOUT * pixel);
  const [left, top] = [Math.max(0, box.left - about), Math.max(0, box.top - about)];
  const [right, bottom] = [Math.min(width - 1, box.right + about), Math.min(height - 1, box.bottom + about)];
  const across = (from: number, to: number): number => Math.max(4, Math.ceil((to - from) / pixel) + 1);
  return { grid: { width: across(left, right), height: across(top, bottom), toOutput: [pixel, 0, left, 0, pixel, top, 0, 0, 1] }, pixel, left, top };
}

/**
 * Looks at one place in the picture and in every frame: lined up, on one grid about the place.
 * @param prepared the mix whose picture is meant, its wide context worked out; @param areas what is meant; @param box what these cover, reference pixels
 * @param sourcesFor pixels of frames for a scale (grid pixel to reference pixel).
 */
export function lookAtPlace(tools: Tools, prepared: PreparedMix, found: Found, areas: readonly Area[], box: PlaceBox, frames: readonly FrameId[], sourcesFor: (frames: readonly FrameId[], scale: number) => ReadonlyMap<FrameId, PlacedSource>): PlaceLooks {
  const { mix } = prepared;
  const { grid, pixel, left, top } = placeGrid(mix.frames[mix.reference], box);
  const { width, height } = grid;
  const sources = sourcesFor([...new Set([...frames, ...prepared.passes.flatMap(({ pass }) => framesOfPass(mix, pass))])], 1 / pixel);
  const picture = renderLight(tools, { ...prepared, mix: wholeMix(mix, mix.passes) }, sources, grid);
  const single = prepareMix(wholeMix(mix, frames.map((frame, k) => frameAlone(frame, k === 0 ? areas : []))), found);
  return rendering(tools, single, sources, grid, (renderer, _, floats) => {
    const coverage = createPlane(width, height);
    const looks = new Map(frames.map((frame) => [frame, { light: createLight(width, height), cover: createPlane(width, height) }] as const));
    for (let y = 0; y < height; y++) {
      coverage.data.set(floats(renderer.maskRow(0, y)), y * width);
      frames.forEach((frame, k) => {
        const { light, cover } = looks.get(frame)!;
        const row = renderer.frameRow(k, y);
        putRow(light, y, row.at, row.plane, floats);
        cover.data.set(floats(row.cover), y * width);
      });
    }
    return { pixel, left, top, coverage, picture, frames: looks };
  });
}
