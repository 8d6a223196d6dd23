import { cpus } from 'node:os';
import { fileURLToPath } from 'node:url';
import { Piscina } from 'piscina';
import type { Room } from '../scene/room';
import { gridSurfaces } from '../trace/gridSurfaces';
import { PathTracer } from '../trace/pathTracer';
import { glossOf, type Layers } from '../trace/renderRoom';
import type { DetailTask } from './detailThread';

const ROWS = 16;
const THREADS = Math.min(4, cpus().length);

const shared = (length: number): Float32Array => new Float32Array(new SharedArrayBuffer(length * 4));

/**
 * Pictures of a room's lights at any size, from their light on a grid: surfaces, edges, mirrors and the view are looked at
 * anew, so they are as sharp as the size allows. Only lights that the grid has are in it. The pictures lie in shared memory.
 */
export async function evaluateRoom(room: Room, grid: Layers, width: number, height: number): Promise<Layers> {
  const scene = new PathTracer(room);
  const names = scene.layers.map((layer) => layer.name);
  const onGrid = (name: string): Float32Array => {
    const light = shared(grid.width * grid.height * 3);
    const known = grid.layers.get(name);
    if (known) light.set(known);
    return light;
  };
  const light = { surfaces: gridSurfaces(scene, room.view, grid.width, grid.height), light: names.map(onGrid), gloss: names.map((name) => onGrid(glossOf(name))) };
  const pool = new Piscina<DetailTask, void>({ filename: fileURLToPath(new URL('./detailThread.ts', import.meta.url)), maxThreads: THREADS, execArgv: ['--import', import.meta.resolve('tsx')] });
  const layers = names.map(() => shared(width * height * 3));
  const starts = Array.from({ length: Math.ceil(height / ROWS) }, (_, k) => k * ROWS);
  await Promise.all(starts.map((y0) => pool.run({ room: room.name, light, layers, width, height, y0, rows: Math.min(ROWS, height - y0) })));
  await pool.destroy();
  return { width, height, layers: new Map(names.flatMap((name, k) => (grid.layers.has(name) ? [[name, layers[k]] as const] : []))) };
}
