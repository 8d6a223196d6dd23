import type { FrameId, Mix, Pass } from '@zaddle/document';
import { placeMix } from '../graph/placeMix';
import { placedBytes, type OutputGrid, type PlacedMix, type PlacedSource } from '../graph/placedMix';
import type { PreparedMix } from '../graph/prepareMix';
import { RowRenderer } from '../graph/rowRenderer';
import { createLight, type Light } from '../image/plane';
import { Arena } from '../kernels/arena';
import type { Pointer } from '../kernels/kernels';
import type { Tools } from '../kernels/tools';

/** A mix seen whole and straight, with these passes: its output is the reference. */
export const wholeMix = <M extends Mix>(mix: M, passes: readonly Pass[]): M => {
  const { width, height } = mix.frames[mix.reference];
  return { ...mix, passes, geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width, height, corrects: { ...mix.corrects, distortion: true } };
};

/** Renders with a mix laid out on a grid; what it took is given back. */
export function rendering<T>({ kernels, arena }: Tools, prepared: PreparedMix, sources: ReadonlyMap<FrameId, PlacedSource>, grid: OutputGrid, work: (renderer: RowRenderer, placed: PlacedMix, floats: (at: Pointer) => Float32Array) => T): T {
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

/** Puts a row of light into a picture. */
export function putRow({ r, g, b, width }: Light, y: number, at: Pointer, plane: number, floats: (at: Pointer) => Float32Array): void {
  [r, g, b].forEach((channel, c) => channel.set(floats(at + c * plane), y * width));
}

/** The picture of a mix on a grid, all of it. */
export const renderLight = (tools: Tools, prepared: PreparedMix, sources: ReadonlyMap<FrameId, PlacedSource>, grid: OutputGrid): Light =>
  rendering(tools, prepared, sources, grid, (renderer, _, floats) => {
    const light = createLight(grid.width, grid.height);
    for (let y = 0; y < grid.height; y++) {
      const { at, plane } = renderer.renderRow(y);
      putRow(light, y, at, plane, floats);
    }
    return light;
  });
