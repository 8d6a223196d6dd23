import { snapOutline } from '@zaddle/core/mask/snapOutline';
import type { Area, MixDocument, OutlineNode, Point } from '@zaddle/document';
import type { Session } from './session';

/** Pixels of the longer side of the picture that edges are looked for in. */
const SIDE = 1500;

const scaled = (nodes: readonly OutlineNode[], k: number): OutlineNode[] => nodes.map(({ at, before, after }) => {
  const place = ([x, y]: Point): Point => [x * k, y * k];
  return { at: place(at), before: before && place(before), after: after && place(after) };
});
const rounded = ([x, y]: Point): Point => [Math.round(x * 1e5) / 1e5, Math.round(y * 1e5) / 1e5];
const finished = (nodes: readonly OutlineNode[]): OutlineNode[] => nodes.map(({ at, before, after }) => ({ at: rounded(at), before: before && rounded(before), after: after && rounded(after) }));

/** An outline or a box, moved onto the edges of the reference; other areas stay as they are. */
export function snapArea(session: Session, mix: MixDocument, area: Area): Area {
  if (area.kind !== 'outline' && area.kind !== 'box') return area;
  const log = session.logLuminance(mix, mix.reference, SIDE);
  const side = Math.max(log.width, log.height);
  const snapped = (ring: readonly OutlineNode[]): OutlineNode[] => finished(scaled(snapOutline(log, scaled(ring, side)), 1 / side));
  if (area.kind === 'outline') return { ...area, rings: area.rings.map(snapped) };
  const corners = snapped(area.corners.map((at) => ({ at, before: null, after: null }))).map(({ at }) => at);
  return { ...area, corners: corners as unknown as typeof area.corners };
}
