import { ROOMS } from '../scene/house';
import { PathTracer } from '../trace/pathTracer';
import { DetailBand, type RoomLight } from './detailBand';

/** Rows of pictures to be made; all memory is shared. */
export interface DetailTask {
  readonly room: string;
  readonly light: RoomLight;
  /** The pictures, a light after the other. */
  readonly layers: readonly Float32Array[];
  readonly width: number;
  readonly height: number;
  readonly y0: number;
  readonly rows: number;
}

let band: { room: string; detail: DetailBand } | null = null;

export default function evaluate({ room: name, light, layers, width, height, y0, rows }: DetailTask): void {
  if (band?.room !== name) {
    const room = ROOMS.find((r) => r.name === name)!;
    band = { room: name, detail: new DetailBand(new PathTracer(room), room.view, light) };
  }
  band.detail.rows(width, height, y0, rows, layers);
}
