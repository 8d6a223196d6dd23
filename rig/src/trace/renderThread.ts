import { ROOMS } from '../scene/millRooms';
import { denoise, neighbourWeights } from './denoise';
import { traceBand, type LightBand } from './lightBand';
import { PathTracer } from './pathTracer';

/** One band of rows to trace, or one light to denoise. */
export type RenderTask =
  | { readonly kind: 'trace'; readonly room: string; readonly width: number; readonly height: number; readonly y0: number; readonly rows: number; readonly samples: number }
  | { readonly kind: 'denoise'; readonly light: Float32Array; readonly width: number; readonly height: number; readonly surfaces: Float32Array; readonly passes: number; readonly contrast: number };

const scenes = new Map<string, PathTracer>();

export default function render(task: RenderTask): LightBand | Float32Array {
  if (task.kind === 'denoise') return denoise(task.light, task, neighbourWeights(task), task.passes, task.contrast);
  const room = ROOMS.find((r) => r.name === task.room)!;
  let scene = scenes.get(room.name);
  if (!scene) scenes.set(room.name, (scene = new PathTracer(room)));
  return traceBand(scene, room.view, task.width, task.height, task.y0, task.rows, task.samples);
}
