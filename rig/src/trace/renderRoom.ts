import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import { Builder } from '../scene/builder';
import type { Room } from '../scene/room';
import { denoise, keepEdges } from './denoise';
import type { TraceTask } from './renderThread';
import type { Band } from './tracer';

/** Linear radiance, interleaved RGB, of every light of a room, by the light's name. */
export interface Layers {
  readonly width: number;
  readonly height: number;
  readonly layers: ReadonlyMap<string, Float32Array>;
}

/** Rows that a thread traces at once. */
const ROWS = 8;

/** Traces a room on several threads and denoises each light. @param samples a pixel; a square number. */
export async function renderRoom(room: Room, width: number, height: number, samples: number, threads: number): Promise<Layers> {
  const names = room.furnish(new Builder()).map((layer) => layer.name);
  const n = width * height;
  const irradiance = names.map(() => new Float32Array(n * 3));
  const direct = names.map(() => new Float32Array(n * 3));
  const reflected = names.map(() => new Float32Array(n * 3));
  const mixed = new Uint8Array(n);
  const albedo = new Float32Array(n * 3);
  const feature = new Float32Array(n * 4);
  const store = (band: Band): void => {
    const at = band.y0 * width;
    names.forEach((_, k) => {
      irradiance[k].set(band.irradiance[k], at * 3);
      direct[k].set(band.direct[k], at * 3);
      reflected[k].set(band.reflected[k], at * 3);
    });
    albedo.set(band.albedo, at * 3);
    feature.set(band.feature, at * 4);
    mixed.set(band.mixed, at);
  };
  const pool = new Piscina<TraceTask, Band>({ filename: fileURLToPath(new URL('./renderThread.ts', import.meta.url)), maxThreads: threads, execArgv: ['--import', import.meta.resolve('tsx')] });
  const starts = Array.from({ length: Math.ceil(height / ROWS) }, (_, k) => k * ROWS);
  await Promise.all(starts.map(async (y0) => store(await pool.run({ room: room.name, width, height, y0, rows: Math.min(ROWS, height - y0), samples }))));
  await pool.destroy();
  const features = { width, height, feature, albedo };
  const layers = new Map<string, Float32Array>();
  names.forEach((name, k) => {
    const light = denoise(irradiance[k], features, 4, 0.35);
    const mirrored = denoise(direct[k], features, 1, 0.25);
    for (let i = 0; i < light.length; i++) light[i] *= albedo[i];
    keepEdges(light, reflected[k], mixed, width, height);
    for (let i = 0; i < light.length; i++) light[i] += mirrored[i];
    layers.set(name, light);
  });
  return { width, height, layers };
}
