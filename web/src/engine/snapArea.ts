import { edgePictures, type Exposed } from '@zaddle/core/mask/edgePictures';
import { snapOutline } from '@zaddle/core/mask/snapOutline';
import type { Area, MixDocument, OutlineNode, Point } from '@zaddle/document';
import { logLuminance } from './measureMix';
import type { Session } from './session';

/** Pixels of the longer side of the picture that edges are looked for in: proxies have no more. */
export const SNAP_SIDE = 1500;

const scaled = (nodes: readonly OutlineNode[], k: number): OutlineNode[] => nodes.map(({ at, before, after }) => {
  const place = ([x, y]: Point): Point => [x * k, y * k];
  return { at: place(at), before: before && place(before), after: after && place(after) };
});
const rounded = ([x, y]: Point): Point => [Math.round(x * 1e5) / 1e5, Math.round(y * 1e5) / 1e5];
const finished = (nodes: readonly OutlineNode[]): OutlineNode[] => nodes.map(({ at, before, after }) => ({ at: rounded(at), before: before && rounded(before), after: after && rounded(after) }));

/** Frames that are asked where edges run, the reference among them: more say little more. */
const WITNESSES = 6;

/** The frames that are asked where edges run: the reference, and others from the darkest to the brightest. */
export function edgeWitnesses({ frames, reference }: MixDocument): string[] {
  const others = Object.keys(frames).filter((id) => id !== reference).sort((a, b) => frames[a].stops - frames[b].stops);
  const count = Math.min(WITNESSES - 1, others.length);
  return [reference, ...Array.from({ length: count }, (_, k) => others[Math.floor(((k + 0.5) * others.length) / count)])];
}

/** An outline or a box, moved onto the edges that several frames show; other areas stay as they are. */
export function snapArea(session: Session, mix: MixDocument, area: Area): Area {
  if (area.kind !== 'outline' && area.kind !== 'box') return area;
  const witnesses = edgeWitnesses(mix);
  const steady = (frame: string): boolean => frame === mix.reference || mix.merge.includes(frame);
  const shown = (frames: readonly string[]): Exposed[] => frames.map((frame) => ({ log: logLuminance(session, mix, frame, SNAP_SIDE), stops: mix.frames[frame].stops }));
  const logs = edgePictures(shown(witnesses.filter(steady)), shown(witnesses.filter((frame) => !steady(frame))));
  const side = Math.max(logs[0].width, logs[0].height);
  const snapped = (ring: readonly OutlineNode[]): OutlineNode[] => finished(scaled(snapOutline(logs, scaled(ring, side)), 1 / side));
  if (area.kind === 'outline') return { ...area, rings: area.rings.map(snapped) };
  const corners = snapped(area.corners.map((at) => ({ at, before: null, after: null }))).map(({ at }) => at);
  return { ...area, corners: corners as unknown as typeof area.corners };
}
