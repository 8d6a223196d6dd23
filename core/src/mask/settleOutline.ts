import type { OutlineNode } from '@zaddle/document';
import type { Plane } from '../image/plane';
import { edgeStrip, settledOn, stripOf, type EdgeStrip, type StripPiece } from './edgeStrip';
import { joinSegments, segmentFrom, type Segment } from './joinSegments';

/** A piece of a strip as several frames show it, log2 luminance, the same frames each time. */
export type LookAlong = (piece: StripPiece) => Promise<readonly Plane[]>;

async function lookAt(strip: EdgeStrip, look: LookAlong): Promise<Plane[]> {
  const pieces: (readonly Plane[])[] = [];
  // One after the other: pixels of one piece need not lie beside those of the next.
  for (const piece of strip.pieces) pieces.push(await look(piece));
  return pieces[0].map((_, frame) => stripOf(strip, pieces.map((planes) => planes[frame])));
}

/**
 * A closed outline that lies on edges as coarse pixels show them, moved to the middle of these edges in finer ones: only narrow
 * strips along its straight segments are looked at, since a whole picture at full size is more than there is room for.
 * Bent segments stay.
 * @param ring reference pixels. @param pixel reference pixels to a pixel that is looked at
 * @param whites the brightest that each of these frames shows anywhere, linear. @param reach how far a corner may go, reference pixels
 */
export async function settleOutline(ring: readonly OutlineNode[], pixel: number, whites: readonly number[], reach: number, look: LookAlong): Promise<OutlineNode[]> {
  const segments: Segment[] = [];
  for (let k = 0; k < ring.length; k++) {
    const segment = segmentFrom(ring, k);
    if ('curve' in segment) segments.push(segment);
    else {
      const strip = edgeStrip(...segment.line, pixel);
      segments.push({ line: settledOn(strip, await lookAt(strip, look), whites) });
    }
  }
  return joinSegments(ring, segments, reach);
}
