import { ROOMS } from '../scene/millRooms';
import { PathTracer } from '../trace/pathTracer';
import { DetailBand, type RoomLight } from './detailBand';

export interface DetailTask {
  readonly room: string;
  /** Shared memory. */
  readonly light: RoomLight;
  readonly width: number;
  readonly height: number;
  readonly y0: number;
  readonly rows: number;
}

let band: { room: string; detail: DetailBand } | null = null;

export default function evaluate({ room: name, light, width, height, y0, rows }: DetailTask): Float32Array[] {
  if (band?.room !== name) {
    const room = ROOMS.find((r) => r.name === name)!;
    band = { room: name, detail: new DetailBand(new PathTracer(room), room.view, light) };
  }
  return band.detail.rows(width, height, y0, rows);
}
