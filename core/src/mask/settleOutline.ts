import type { OutlineNode } from '@zaddle/document';
import type { Plane } from '../image/plane';
import { edgeStrip, settledOn, stripOf, type EdgeStrip, type StripPiece } from './edgeStrip';
import { joinSegments, segmentFrom, type Segment } from './joinSegments';

/** A segment of an outline with the strip along it; a bent one has none. */
interface Stripped {
  readonly segment: Segment;
  readonly strip: EdgeStrip | null;
}

/** The segments of an outline, with strips along the straight ones. @param pixel reference pixels to a pixel that is looked at */
export const stripsAlong = (ring: readonly OutlineNode[], pixel: number): Stripped[] => ring.map((_, k) => {
  const segment = segmentFrom(ring, k);
  return { segment, strip: 'line' in segment ? edgeStrip(...segment.line, pixel) : null };
});

/**
 * A closed outline that lies about on edges, moved to the middle of these: only narrow strips along its straight segments are
 * looked at, since a whole picture at full size is more than there is room for. Bent segments stay.
 * @param ring reference pixels. @param stripped from `stripsAlong`. @param logs log2 luminance of each strip as several frames show it
 * @param whites the brightest that each of these frames can show, linear. @param reach how far a corner may go, reference pixels
 */
export function settledRing(ring: readonly OutlineNode[], stripped: readonly Stripped[], logs: readonly (readonly Plane[])[], whites: readonly number[], reach: number): OutlineNode[] {
  return joinSegments(ring, stripped.map(({ segment, strip }, k): Segment => (strip ? { line: settledOn(strip, logs[k], whites) } : segment)), reach);
}

/** A piece of a strip as several frames show it, log2 luminance, the same frames each time. */
export type LookAlong = (piece: StripPiece) => Promise<readonly Plane[]>;

async function lookAt(strip: EdgeStrip, look: LookAlong): Promise<Plane[]> {
  const pieces: (readonly Plane[])[] = [];
  // One after the other: pixels of one piece need not lie beside those of the next.
  for (const piece of strip.pieces) pieces.push(await look(piece));
  return pieces[0].map((_, frame) => stripOf(strip, pieces.map((planes) => planes[frame])));
}

/** The same, for pixels that have to be waited for. */
export async function settleOutline(ring: readonly OutlineNode[], pixel: number, whites: readonly number[], reach: number, look: LookAlong): Promise<OutlineNode[]> {
  const stripped = stripsAlong(ring, pixel);
  const logs: Plane[][] = [];
  for (const { strip } of stripped) logs.push(strip ? await lookAt(strip, look) : []);
  return settledRing(ring, stripped, logs, whites, reach);
}
