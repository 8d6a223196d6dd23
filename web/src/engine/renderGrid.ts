import { localStructure } from '@zaddle/core/align/structure';
import { createPlane, type Plane } from '@zaddle/core/image/plane';
import { Arena } from '@zaddle/core/kernels/arena';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import { placeMix, type OutputGrid, type PlacedSource } from '@zaddle/core/mix/placeMix';
import type { PreparedMix } from '@zaddle/core/mix/prepareMix';
import { RowRenderer } from '@zaddle/core/mix/renderRows';
import { rendererBytes } from '@zaddle/core/mix/rowScratch';

/** What becomes of the pictures: shown, shown with white and black marked, or two of them subtracted. */
export type Finish = 'plain' | 'clipping' | 'difference';

/** Neighbourhood, pixels, in which brightness and contrast are taken out before a difference, and noise that is no structure. */
const NEIGHBOURHOOD = 10;
const NOISE = 5;
/** Structure, in local deviations, that shows white. */
const FULL = 1.6;

/** What two pictures differ in beyond their light: black where they lie on each other, whatever flash was fired. */
function structureDifference(first: Uint8Array, second: Uint8Array, { width, height }: OutputGrid): Uint8Array {
  const structure = (rgb: Uint8Array): Plane => {
    const grey = createPlane(width, height);
    for (let i = 0, p = 0; i < grey.data.length; i++, p += 3) grey.data[i] = 0.3 * rgb[p] + 0.6 * rgb[p + 1] + 0.1 * rgb[p + 2];
    return localStructure(grey, NEIGHBOURHOOD, NOISE);
  };
  const [a, b] = [structure(first).data, structure(second).data];
  return Uint8Array.from(a, (v, i) => Math.min(255, (255 * Math.abs(v - b[i])) / FULL));
}

/** Renders an output grid into packed RGB. */
function renderRgb(kernels: Kernels, prepared: PreparedMix, sources: ReadonlyMap<string, PlacedSource>, grid: OutputGrid, arena: Arena): Uint8Array {
  const mark = arena.mark();
  const mix = placeMix(prepared, sources, grid, arena);
  const scratch = arena.mark();
  const renderer = new RowRenderer(kernels, new Arena(arena.buffer, scratch, scratch + rendererBytes(grid.width, mix.frames.length)), mix);
  const row = new Arena(arena.buffer, scratch + rendererBytes(grid.width, mix.frames.length)).take(grid.width * 3);
  const view = new Uint8Array(arena.buffer, row, grid.width * 3);
  const out = new Uint8Array(grid.width * grid.height * 3);
  for (let y = 0; y < grid.height; y++) {
    renderer.encodeRow(y, row);
    out.set(view, y * grid.width * 3);
  }
  arena.release(mark);
  return out;
}

/** Renders an output grid for a canvas. @param layers one prepared mix, or two to subtract. */
export function renderGrid(kernels: Kernels, layers: readonly PreparedMix[], sources: ReadonlyMap<string, PlacedSource>, grid: OutputGrid, arena: Arena, finish: Finish): ImageData {
  const [first, second] = layers.map((prepared) => renderRgb(kernels, prepared, sources, grid, arena));
  const image = new ImageData(grid.width, grid.height);
  const out = new Uint32Array(image.data.buffer);
  if (second) {
    structureDifference(first, second, grid).forEach((v, i) => (out[i] = 0xff000000 | (v << 16) | (v << 8) | v));
    return image;
  }
  for (let i = 0, p = 0; i < out.length; i++, p += 3) {
    const [r, g, b] = [first[p], first[p + 1], first[p + 2]];
    if (finish === 'clipping' && Math.max(r, g, b) >= 254) out[i] = 0xff2020e0;
    else if (finish === 'clipping' && Math.max(r, g, b) <= 1) out[i] = 0xffe06020;
    else out[i] = 0xff000000 | (b << 16) | (g << 8) | r;
  }
  return image;
}
