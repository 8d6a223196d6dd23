import type { Pointer } from '../kernels/kernels';
import type { PlacedPlane } from '../kind/placing';
import { nextChunk } from '../kind/rowScratch';
import type { RowWork } from '../kind/rowWork';

/** A linear model of coverage over the log luminance of a frame: the guided filter's, He et al. 2013, "Guided Image Filtering". */
export interface PlacedGuidedEdge {
  readonly a: PlacedPlane;
  readonly b: PlacedPlane;
  readonly frame: number;
  readonly matrix: Pointer;
}

/** Writes row y of it into the area's buffer, at the size asked for. Only at the edge, where `a` is not nothing, it depends on the frame's pixels. */
export function guidedEdgeRow({ a, b, frame, matrix }: PlacedGuidedEdge, work: RowWork, y: number): void {
  const { s, kernels, width, flagView } = work;
  work.plane(a, y, s.a);
  work.plane(b, y, s.b);
  if (kernels.chunksRow(s.a, width, 1e-6, s.flags)) {
    work.light(frame, y, matrix, flagView);
    for (let n = work.nextRun(flagView, 0); n > 0; n = work.nextRun(flagView, nextChunk(work.runStart + n))) {
      kernels.logLuminanceRow(s.source + work.runStart * 4, s.plane, n, s.logY + work.runStart * 4);
    }
  }
  kernels.guidedRow(s.a, s.b, s.logY, width, s.area);
}
