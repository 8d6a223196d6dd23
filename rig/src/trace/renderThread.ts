import { ROOMS } from '../scene/millRooms';
import { Tracer, type Band } from './tracer';

/** One band of rows to trace. */
export interface TraceTask {
  readonly room: string;
  readonly width: number;
  readonly height: number;
  readonly y0: number;
  readonly rows: number;
  readonly samples: number;
}

const tracers = new Map<string, Tracer>();

export default function trace({ room, width, height, y0, rows, samples }: TraceTask): Band {
  let tracer = tracers.get(room);
  if (!tracer) tracers.set(room, (tracer = new Tracer(ROOMS.find((r) => r.name === room)!)));
  return tracer.traceBand(width, height, y0, rows, samples);
}
