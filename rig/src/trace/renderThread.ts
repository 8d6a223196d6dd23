import { ROOMS } from '../scene/house';
import { denoise } from './denoise';
import { traceBand, type Band, type Light } from './lightBand';
import { PathTracer } from './pathTracer';

/** Rows to trace, or lights to denoise. */
export type RenderTask =
  | { readonly kind: 'trace'; readonly room: string; readonly light: Light; readonly band: Band }
  | { readonly kind: 'denoise'; readonly lights: readonly Float32Array[]; readonly width: number; readonly height: number; readonly surfaces: Float32Array; readonly passes: number; readonly contrast: number };

const scenes = new Map<string, PathTracer>();

export default function render(task: RenderTask): Float32Array[] {
  if (task.kind === 'denoise') return denoise(task.lights, task, task.passes, task.contrast);
  const room = ROOMS.find((r) => r.name === task.room)!;
  let scene = scenes.get(room.name);
  if (!scene) scenes.set(room.name, (scene = new PathTracer(room)));
  return traceBand(scene, room.view, task.light, task.band);
}
