import type { Point } from '@zaddle/document';
import { meetingLines } from '../geometry/meetingLines';
import type { PaneQuad } from './fitPane';
import { along, beyond, isBeside, TURNS } from './liesBeside';

/** Pixels by which a side must lie further in than a neighbour's to be looked at. */
const SHORT = 2;

/** What lies between the end of a pane and the line that a pane beside it ends in: it may be a view, it is the paint of a frame or a reveal, or neither is known. */
export type Strip = 'view' | 'paint' | 'unknown';

/**
 * Panes of one window end in one line: a side that lies further in than that of a pane beside it, since the view there is dark or
 * something is mirrored in it, is moved out to that line where what lies between may be a view, too; and one that lies further out,
 * over a reveal that looked like outside, is moved in.
 * @param between what a strip at the end of a pane holds, by itself or against what lies as far within it
 */
export function evenPanes(panes: readonly PaneQuad[], between: (strip: PaneQuad, within: PaneQuad) => Strip): PaneQuad[] {
  return panes.map((pane) => {
    let out: PaneQuad = pane;
    for (const turn of TURNS) {
      const own = turn.map((k) => out[k]);
      for (const other of panes) {
        const there = turn.map((k) => other[k]);
        if (other === pane || !isBeside(own, there)) continue;
        const further = beyond(along(there[0], there[1], 0.5), own[0], own[1]);
        if (Math.abs(further) < SHORT) continue;
        const [left, right] = [meetingLines(own[0], own[3], there[0], there[1]) ?? own[0], meetingLines(own[1], own[2], there[0], there[1]) ?? own[1]];
        // Clockwise from its top left, whichever way it is moved.
        const strip: Point[] = further > 0 ? [left, right, own[1], own[0]] : [own[0], own[1], right, left];
        const within: Point[] = [strip[3], strip[2], along(strip[1], strip[2], 2), along(strip[0], strip[3], 2)];
        const asItLies = (quad: readonly Point[]): PaneQuad => TURNS[turn[0] === 0 ? 0 : 4 - turn[0]].map((k) => quad[k]) as unknown as PaneQuad;
        if (between(asItLies(strip), asItLies(within)) !== (further > 0 ? 'view' : 'paint')) continue;
        const corners = [...out] as Point[];
        corners[turn[0]] = left;
        corners[turn[1]] = right;
        out = corners as unknown as PaneQuad;
        break;
      }
    }
    return out;
  });
}
