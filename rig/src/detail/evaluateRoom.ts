import { cpus } from 'node:os';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import type { Room } from '../scene/room';
import { gridSurfaces } from '../trace/gridSurfaces';
import { PathTracer } from '../trace/pathTracer';
import { glossOf, type Layers } from '../trace/renderRoom';
import type { DetailTask } from './detailThread';

const ROWS = 8;

const shared = (values: Float32Array): Float32Array => {
  const copy = new Float32Array(new SharedArrayBuffer(values.byteLength));
  copy.set(values);
  return copy;
};

/** Pictures of a room's lights at any size, from their light on a grid: surfaces, edges, mirrors and the view are looked at anew, so they are as sharp as the size allows. */
export async function evaluateRoom(room: Room, grid: Layers, width: number, height: number): Promise<Layers> {
  const scene = new PathTracer(room);
  const names = scene.layers.map((layer) => layer.name);
  const of = (name: string): Float32Array => shared(grid.layers.get(name)!);
  const light = { surfaces: gridSurfaces(scene, room.view, grid.width, grid.height), light: names.map(of), gloss: names.map((name) => of(glossOf(name))) };
  const pool = new Piscina<DetailTask, Float32Array[]>({ filename: fileURLToPath(new URL('./detailThread.ts', import.meta.url)), maxThreads: Math.min(4, cpus().length), execArgv: ['--import', import.meta.resolve('tsx')] });
  const layers = names.map(() => new Float32Array(width * height * 3));
  const starts = Array.from({ length: Math.ceil(height / ROWS) }, (_, k) => k * ROWS);
  await Promise.all(starts.map(async (y0) => {
    const rows = await pool.run({ room: room.name, light, width, height, y0, rows: Math.min(ROWS, height - y0) });
    rows.forEach((values, k) => layers[k].set(values, y0 * width * 3));
  }));
  await pool.destroy();
  return { width, height, layers: new Map(names.map((name, k) => [name, layers[k]])) };
}
