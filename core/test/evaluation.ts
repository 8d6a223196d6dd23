import type { FrameUse, Mix, Quad } from '@zaddle/document';
import { neutralTable, type ColourTables } from '../src/finish/colourTable';
import type { Found } from '../src/found/found';
import { Heap } from '../src/graph/heap';
import { Keep } from '../src/graph/keep';
import { placeMix } from '../src/graph/placeMix';
import { placedBytes, type OutputGrid, type PlacedSource } from '../src/graph/placedMix';
import { readyMix } from '../src/graph/readyMix';
import { RowRenderer } from '../src/graph/rowRenderer';
import { createPlane, mapPlane, type Pixels } from '../src/image/plane';
import { Arena } from '../src/kernels/arena';
import { seeded, testKernels, testTools } from './kernelMemory';

/* Pictures to be mixed, and a renderer of any grid. */

export const [W, H] = [480, 320];

/** A smooth picture with some edges, so that levels can agree. */
function picture(seed: number): Pixels {
  const next = seeded(seed);
  const waves = Array.from({ length: 5 }, () => [next() * 0.05, next() * 0.05, next() * 6, 20 + next() * 25]);
  const box = [80 + next() * 200, 60 + next() * 120, 60 + next() * 120, 50 + next() * 90];
  const data = new Uint8Array(W * H * 3);
  for (let y = 0; y < H; y++) for (let x = 0; x < W; x++) for (let c = 0; c < 3; c++) {
    const inside = x > box[0] && x < box[0] + box[2] && y > box[1] && y < box[1] + box[3];
    data[(y * W + x) * 3 + c] = Math.max(4, Math.min(250, 120 + (inside ? 60 : 0) + waves.reduce((sum, [fx, fy, phase, size], k) => sum + size * Math.sin(fx * x + fy * y + phase + c * k), 0)));
  }
  return { width: W, height: H, data };
}
export const IDS = ['a', 'b', 'c'];
export const PICTURES = new Map(IDS.map((id, k) => [id, picture(k + 3)]));
export const use = (k: number): FrameUse => ({ width: W, height: H, homography: k === 0 ? [1, 0, 0, 0, 1, 0, 0, 0, 1] : [1, 0.002 * k, 1.3 * k, -0.001 * k, 1, -0.8 * k, 0, 1e-6 * k, 1], mesh: null, stops: -k, balance: [1, 1 + 0.05 * k, 1 - 0.04 * k] });
const SHARE = mapPlane(createPlane(120, 80), (_, i) => (Math.sin((i % 120) / 9) + 1) / 2);
export const FOUND: Found = {
  reference: 'a', share: () => SHARE,
  edgeFound: () => ({ a: mapPlane(createPlane(120, 80), (_, i) => (i % 120 > 30 && i % 120 < 34 ? 0.3 : 0)), b: mapPlane(createPlane(120, 80), (_, i) => (i % 120 >= 34 && i % 120 < 80 ? 1 : i % 120 > 30 && i % 120 < 34 ? 0.9 : 0)), top: 10, bottom: 70 }),
};

export const tools = testTools(48 << 20);
/** A colour table that passes may name. */
export const DIGEST = 'd'.repeat(64);
const neutral = neutralTable(7);
const TABLES: ColourTables = new Map([[DIGEST, { ...neutral, values: neutral.values.map((v, i) => (i % 3 === 0 ? 0.1 + 0.85 * v : i % 3 === 1 ? v ** 1.2 : 0.9 * v)) }]]);
export const ready = (mix: Mix) => readyMix(tools, mix, FOUND, PICTURES, undefined, TABLES).prepared;
export const BYTES = 160 << 20;
export const kernels = testKernels(BYTES);
export const HALF = BYTES / 2;
export const pixelsIn = new Map<string, PlacedSource>();
export const sourceArena = new Arena(kernels.memory.buffer, 1024, HALF);
for (const [id, { data }] of PICTURES) pixelsIn.set(id, { at: sourceArena.placeBytes(data as Uint8Array), width: W, height: H, depth: 8, name: 'whole' });

/** Renders rows of a grid, encoded. @param rows which, in which order. */
export function render(prepared: ReturnType<typeof ready>, grid: OutputGrid, keep: { keep: Keep; grid: string; working: string | null } | null = null, rows = Array.from({ length: grid.height }, (_, y) => y)): Uint8Array {
  const mark = sourceArena.mark();
  keep?.keep.begin();
  const placed = placeMix(prepared, pixelsIn, grid, sourceArena, keep && { keeper: keep.keep, grid: keep.grid, working: keep.working });
  const start = sourceArena.take(placedBytes(placed));
  const renderer = new RowRenderer(kernels, new Arena(kernels.memory.buffer, start, start + placedBytes(placed)), placed);
  const at = sourceArena.take(grid.width * 3);
  const out = new Uint8Array(grid.width * grid.height * 3);
  for (const y of rows) {
    renderer.encodeRow(y, at);
    out.set(new Uint8Array(kernels.memory.buffer, at, grid.width * 3), y * grid.width * 3);
  }
  sourceArena.release(mark);
  return out;
}
export const newKeep = (bytes = HALF): Keep => new Keep(new Heap(HALF, HALF + bytes), kernels.memory.buffer);

/** Corners of a rectangle. */
export const quadAt = (x: number, y: number, w: number, h: number): Quad => [[x, y], [x + w, y], [x + w, y + h], [x, y + h]];
