import type { Plane } from '../image/plane';
import type { EdgedArea, FrameId, SurfaceArea } from '@zaddle/document';

/** Where something is and how its edge runs: coefficients over the log luminance of a frame, and the rows that it reaches. */
export interface FoundEdge {
  readonly a: Plane;
  readonly b: Plane;
  /** First and last row, of the planes, where there may be something. */
  readonly top: number;
  readonly bottom: number;
}

/** Something with an edge that can be found. */
export type EdgedFinding = Pick<EdgedArea, 'what' | 'edge'> | Pick<SurfaceArea, 'what' | 'edge' | 'at' | 'takes'>;

/** What tells one finding from all others of a shot. */
export const findingKey = (finding: EdgedFinding): string => (finding.what === 'surface' ? `surface ${finding.at.join()} ${finding.takes} ${finding.edge}` : `${finding.what} ${finding.edge}`);

/** What was found in a shot, as masks on a grid over the whole of the reference that it was found on. */
export interface Found {
  readonly reference: FrameId;
  /** Something and its edge; null where that was not worked out. */
  edgeFound(finding: EdgedFinding): FoundEdge | null;
  /** The part of a flash where those of `among` light too, 0..1; null where that was not worked out. */
  share(frame: FrameId, among: readonly FrameId[]): Plane | null;
}
