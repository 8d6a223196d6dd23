import { framesOfPass, type Area, type FrameId, type Mix, type Pass, type SourcePass } from '@zaddle/document';
import type { Found } from '../found/found';
import { placeMix } from '../graph/placeMix';
import { placedBytes, type OutputGrid, type PlacedMix, type PlacedSource } from '../graph/placedMix';
import { prepareMix, type PreparedMix } from '../graph/prepareMix';
import { RowRenderer } from '../graph/rowRenderer';
import { createLight, createPlane, type Light, type Plane } from '../image/plane';
import { Arena } from '../kernels/arena';
import type { Pointer } from '../kernels/kernels';
import type { Tools } from '../kernels/tools';

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

/** Light of a frame by itself, where the areas say: its mask is what is meant. */
const alone = (frame: FrameId, mask: readonly Area[]): SourcePass => ({
  id: `look-${frame}`, name: 'Look', why: '', within: null, kind: 'light', on: true, opacity: 1, mask, exposure: 0, balance: [1, 1, 1],
  source: { kind: 'frame', frame }, alignment: null, mode: 'normal', brightness: 1, colour: 1,
});

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

const whole = (mix: Mix, passes: readonly Pass[]): Mix => {
  const { width, height } = mix.frames[mix.reference];
  return { ...mix, passes, geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width, height, corrects: { ...mix.corrects, distortion: true } };
};

/** Renders with a mix laid out on a grid; what it took is given back. */
function rendering<T>({ kernels, arena }: Tools, prepared: PreparedMix, sources: ReadonlyMap<FrameId, PlacedSource>, grid: OutputGrid, work: (renderer: RowRenderer, placed: PlacedMix, floats: (at: Pointer) => Float32Array) => T): T {
  const mark = arena.mark();
  try {
    const placed = placeMix(prepared, sources, grid, arena);
    const bytes = placedBytes(placed);
    const start = arena.take(bytes);
    return work(new RowRenderer(kernels, new Arena(arena.buffer, start, start + bytes), placed), placed, (at) => arena.floats(at, grid.width));
  } finally {
    arena.release(mark);
  }
}

function putRow({ r, g, b, width }: Light, y: number, at: Pointer, plane: number, floats: (at: Pointer) => Float32Array): void {
  [r, g, b].forEach((channel, c) => channel.set(floats(at + c * plane), y * width));
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
  const picture = rendering(tools, { ...prepared, mix: whole(mix, mix.passes) }, sources, grid, (renderer, _, floats) => {
    const light = createLight(width, height);
    for (let y = 0; y < height; y++) {
      const { at, plane } = renderer.renderRow(y);
      putRow(light, y, at, plane, floats);
    }
    return light;
  });
  const single = prepareMix(whole(mix, frames.map((frame, k) => alone(frame, k === 0 ? areas : []))), found);
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
