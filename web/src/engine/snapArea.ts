import { mapPoint, rescale, type Homography } from '@zaddle/core/geometry/homography';
import { createPlane, type Plane } from '@zaddle/core/image/plane';
import { whiteOf } from '@zaddle/core/mask/edgeMiddle';
import { edgeWitnesses } from '@zaddle/core/mask/edgeWitnesses';
import { STRIP_ROWS, type StripPiece } from '@zaddle/core/mask/edgeStrip';
import { edgePictures, type Exposed } from '@zaddle/core/mask/edgePictures';
import { settleOutline } from '@zaddle/core/mask/settleOutline';
import { snapOutline } from '@zaddle/core/mask/snapOutline';
import { levelFor } from '@zaddle/core/mix/regionBox';
import type { Area, MixDocument, OutlineNode, Point } from '@zaddle/document';
import { frameOnly } from './frameOnly';
import { logLuminance, logRows } from './measureMix';
import type { Session } from './session';

/** Pixels of the longer side of the picture that edges are looked for in: proxies have no more. */
export const SNAP_SIDE = 1500;
/** How far a corner may go where what is nearer is looked at, pixels of that. */
const CORNER_REACH = 8;

const mapped = (nodes: readonly OutlineNode[], map: (at: Point) => Point): OutlineNode[] => nodes.map(({ at, before, after }) => ({ at: map(at), before: before && map(before), after: after && map(after) }));
const through = (h: Homography) => ([x, y]: Point): Point => mapPoint(h, x, y);

/** Reference pixels to a pixel in which edges are looked at after each other, finer each time; none where proxies are as fine as frames. */
function finerPixels(session: Session, mix: MixDocument): number[] {
  const home = mix.frames[mix.reference];
  if (!session.wantsPart(home, 1)) return [];
  const most = Math.ceil(Math.log2(Math.max(home.width, home.height) / SNAP_SIDE));
  return Array.from({ length: Math.max(1, most) }, (_, k) => 2 ** (Math.max(1, most) - 1 - k));
}

/** A piece of a strip in each of several frames, from the originals as fine as it is; from proxies where these cannot be had. */
async function lookAlong(session: Session, mix: MixDocument, frames: readonly string[], { columns, toReference }: StripPiece, pixel: number, isOver: () => boolean): Promise<Plane[]> {
  const strip = { ...mix, geometry: toReference, width: columns, height: STRIP_ROWS, corrects: { ...mix.corrects, distortion: true } };
  const region = { x: 0, y: 0, width: columns, height: STRIP_ROWS, level: levelFor(1 / pixel) };
  const own = (frame: string): MixDocument => frameOnly(strip, frame);
  await Promise.all(frames.filter((id) => !session.sources.partFor(own(id), id, region)).map((id) => session.sources.loadPart(own(id), id, region).catch(() => undefined)));
  return frames.map((frame) => {
    if (isOver()) return createPlane(columns, STRIP_ROWS);
    const whole = session.sources.copyFor(frame, mix.frames[frame], 1 / pixel);
    const part = session.sources.partFor(own(frame), frame, region);
    return logRows(session, own(frame), frame, part ? { ...part, instead: whole } : whole, columns, STRIP_ROWS);
  });
}

/**
 * An outline or a box, moved onto the edges that several frames show: found in their proxies, and settled on in the pixels of the originals.
 * @param isOver whether nobody waits for it any more. @returns other areas as they are
 */
export async function snapArea(session: Session, mix: MixDocument, area: Area, isOver: () => boolean): Promise<Area> {
  if (area.kind !== 'outline' && area.kind !== 'box') return area;
  const witnesses = edgeWitnesses(mix);
  const shown = new Map(witnesses.map((frame): [string, Exposed] => [frame, { log: logLuminance(session, mix, frame, SNAP_SIDE), stops: mix.frames[frame].stops }]));
  const steady = (frame: string): boolean => frame === mix.reference || mix.merge.includes(frame);
  const logs = edgePictures(witnesses.filter(steady).map((frame) => shown.get(frame)!), witnesses.filter((frame) => !steady(frame)).map((frame) => shown.get(frame)!));
  const whites = witnesses.map((frame) => whiteOf(shown.get(frame)!.log));
  const { width, height } = mix.frames[mix.reference];
  const side = Math.max(width, height);
  const [toPlane, toReference] = [through(rescale(width, height, logs[0].width, logs[0].height)), through(rescale(logs[0].width, logs[0].height, width, height))];
  const snapped = async (ring: readonly OutlineNode[]): Promise<OutlineNode[]> => {
    let found = mapped(snapOutline(logs, mapped(mapped(ring, ([x, y]) => [x * side, y * side]), toPlane)), toReference);
    for (const pixel of finerPixels(session, mix)) {
      if (isOver()) break;
      found = await settleOutline(found, pixel, whites, CORNER_REACH * pixel, (piece) => lookAlong(session, mix, witnesses, piece, pixel, isOver));
    }
    return mapped(found, ([x, y]) => [Math.round((x / side) * 1e6) / 1e6, Math.round((y / side) * 1e6) / 1e6]);
  };
  if (area.kind === 'outline') return { ...area, rings: await Promise.all(area.rings.map(snapped)) };
  const corners = (await snapped(area.corners.map((at) => ({ at, before: null, after: null })))).map(({ at }) => at);
  return { ...area, corners: corners as unknown as typeof area.corners };
}
