import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import type { Room } from '../scene/room';
import { fillHoles } from './fillHoles';
import { GridLight } from './gridLight';
import { gridSurfaces, PER_PIXEL, type GridSurfaces } from './gridSurfaces';
import type { Light } from './lightBand';
import { PathTracer } from './pathTracer';
import type { RenderTask } from './renderThread';
import { sampleEffort } from './sampleEffort';

/** Linear radiance, interleaved RGB, of every light of a room, by the light's name. */
export interface Layers {
  readonly width: number;
  readonly height: number;
  readonly layers: ReadonlyMap<string, Float32Array>;
}

/** Name of the picture of what glossy surfaces mirror of a light. */
export const glossOf = (layer: string): string => `${layer}.gloss`;

/** Rows that a thread traces at once. */
const ROWS = 8;

type Pool = Piscina<RenderTask, Float32Array[]>;

/** Traces one kind of light on all threads, and denoises it along the surfaces. */
async function lightOf(pool: Pool, room: Room, names: readonly string[], light: Light, grid: GridSurfaces, samples: number, passes: number, contrast: number): Promise<Float32Array[]> {
  const { width, height } = grid;
  const raw = names.map(() => new Float32Array(new SharedArrayBuffer(width * height * 12)));
  const surfaces = light === 'gloss' ? grid.glossy : grid.scattering;
  const effort = sampleEffort(surfaces, width, height);
  const starts = Array.from({ length: Math.ceil(height / ROWS) }, (_, k) => k * ROWS);
  await Promise.all(starts.map(async (y0) => {
    const planes = await pool.run({ kind: 'trace', room: room.name, light, band: { width, height, y0, rows: Math.min(ROWS, height - y0), samples, effort } });
    planes.forEach((plane, k) => raw[k].set(plane, y0 * width * 3));
  }));
  const half = Math.ceil(raw.length / 2);
  const calmed = await Promise.all([raw.slice(0, half), raw.slice(half)].map((lights) => pool.run({ kind: 'denoise', lights, width, height, surfaces, passes, contrast })));
  return calmed.flat();
}

/** 1 for each pixel that shows a surface. */
const surfacesIn = (surfaces: Float32Array): Uint8Array => Uint8Array.from({ length: surfaces.length / PER_PIXEL }, (_, i) => (surfaces[i * PER_PIXEL] !== 0 || surfaces[i * PER_PIXEL + 1] !== 0 || surfaces[i * PER_PIXEL + 2] !== 0 ? 1 : 0));

/** Adds light on a coarse grid to light on a fine one, carried up along the surfaces. */
function addCoarse(to: readonly Float32Array[], fine: GridSurfaces, from: readonly Float32Array[], coarse: GridSurfaces): void {
  const on = new GridLight(coarse.width, coarse.height, coarse.scattering, true);
  const place = new Float64Array(PER_PIXEL);
  const values = new Float32Array(from.length * 3);
  for (let y = 0; y < fine.height; y++) {
    for (let x = 0; x < fine.width; x++) {
      const pixel = y * fine.width + x;
      for (let k = 0; k < PER_PIXEL; k++) place[k] = fine.scattering[pixel * PER_PIXEL + k];
      if (place[0] === 0 && place[1] === 0 && place[2] === 0) continue;
      on.locate(((x + 0.5) * coarse.width) / fine.width - 0.5, ((y + 0.5) * coarse.height) / fine.height - 0.5, place);
      on.read(from, values);
      for (let k = 0; k < to.length; k++) for (let c = 0; c < 3; c++) to[k][pixel * 3 + c] += values[k * 3 + c];
    }
  }
}

/**
 * Traces the light of a room on a grid and denoises each, on several threads: what arrives at surfaces, and what glossy ones
 * mirror (`glossOf`). Reflectance, edges, mirrors and the view are not in it: they are evaluated at the size of a picture.
 * What surfaces send each other is smooth, and traced on half the grid.
 * @param samples a pixel; more where it shows a narrow thing
 */
export async function renderRoom(room: Room, width: number, height: number, samples: number, threads: number): Promise<Layers> {
  const scene = new PathTracer(room);
  const names = scene.layers.map((layer) => layer.name);
  const pool: Pool = new Piscina({ filename: fileURLToPath(new URL('./renderThread.ts', import.meta.url)), maxThreads: threads, execArgv: ['--import', import.meta.resolve('tsx')] });
  const fine = gridSurfaces(scene, room.view, width, height);
  const coarse = gridSurfaces(scene, room.view, width >> 1, height >> 1);
  const lights = await lightOf(pool, room, names, 'direct', fine, samples, 3, 0.2);
  const spread = await lightOf(pool, room, names, 'indirect', coarse, samples, 5, 0.5);
  const mirrored = await lightOf(pool, room, names, 'gloss', fine, Math.ceil(samples / 2), 2, 0.4);
  await pool.destroy();
  addCoarse(lights, fine, spread, coarse);
  for (const [pictures, surfaces] of [[lights, fine.scattering], [mirrored, fine.glossy]] as const) {
    const has = surfacesIn(surfaces);
    for (const picture of pictures) fillHoles(picture, width, height, has);
  }
  return { width, height, layers: new Map(names.flatMap((name, k) => [[name, lights[k]] as const, [glossOf(name), mirrored[k]] as const])) };
}
