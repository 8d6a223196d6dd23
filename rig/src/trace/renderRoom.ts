import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import type { Room } from '../scene/room';
import { gridSurfaces } from './gridSurfaces';
import type { LightBand } from './lightBand';
import { PathTracer } from './pathTracer';
import type { RenderTask } from './renderThread';

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

/**
 * Traces the light of a room on a grid and denoises each, on several threads: what arrives at surfaces, and what glossy ones
 * mirror (`glossOf`). Reflectance, edges, mirrors and the view are not in it: they are evaluated at the size of a picture.
 * @param samples a pixel
 */
export async function renderRoom(room: Room, width: number, height: number, samples: number, threads: number): Promise<Layers> {
  const scene = new PathTracer(room);
  const names = scene.layers.map((layer) => layer.name);
  const raw = (): Float32Array[] => names.map(() => new Float32Array(new SharedArrayBuffer(width * height * 12)));
  const [light, gloss] = [raw(), raw()];
  const pool = new Piscina<RenderTask, LightBand | Float32Array>({ filename: fileURLToPath(new URL('./renderThread.ts', import.meta.url)), maxThreads: threads, execArgv: ['--import', import.meta.resolve('tsx')] });
  const starts = Array.from({ length: Math.ceil(height / ROWS) }, (_, k) => k * ROWS);
  await Promise.all(starts.map(async (y0) => {
    const band = (await pool.run({ kind: 'trace', room: room.name, width, height, y0, rows: Math.min(ROWS, height - y0), samples })) as LightBand;
    names.forEach((_, k) => {
      light[k].set(band.light[k], y0 * width * 3);
      gloss[k].set(band.gloss[k], y0 * width * 3);
    });
  }));
  const seen = gridSurfaces(scene, room.view, width, height);
  const calmed = async (picture: Float32Array, surfaces: Float32Array, passes: number, contrast: number): Promise<Float32Array> =>
    (await pool.run({ kind: 'denoise', light: picture, width, height, surfaces, passes, contrast })) as Float32Array;
  const lights = await Promise.all(names.map((_, k) => calmed(light[k], seen.scattering, 5, 0.3)));
  const mirrored = await Promise.all(names.map((_, k) => calmed(gloss[k], seen.glossy, 2, 0.4)));
  await pool.destroy();
  return { width, height, layers: new Map(names.flatMap((name, k) => [[name, lights[k]] as const, [glossOf(name), mirrored[k]] as const])) };
}
