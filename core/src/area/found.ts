import type { FoundArea, FrameId } from '@zaddle/document';
import type { GlassEdge } from '../found/found';
import { planePosition } from '../geometry/composedMap';
import type { Plane } from '../image/plane';
import type { Pointer } from '../kernels/kernels';
import type { AreaEvaluation } from '../kind/areaEvaluation';
import { identity } from '../kind/keeper';
import type { PlacedPlane, Placing } from '../kind/placing';
import { nextChunk } from '../kind/rowScratch';
import type { RowWork } from '../kind/rowWork';

/** A share of light, read from its plane; or glass, by the guided filter's model over the luminance of a frame. */
type Prepared = { readonly what: 'lit'; readonly plane: Plane } | ({ readonly what: 'glass'; readonly edge: FrameId } & GlassEdge);
interface PlacedGlass {
  readonly what: 'glass';
  readonly a: PlacedPlane;
  readonly b: PlacedPlane;
  readonly edge: number;
  readonly matrix: Pointer;
  readonly top: number;
  readonly bottom: number;
}
type Placed = { readonly what: 'lit'; readonly plane: PlacedPlane } | PlacedGlass;

/** Glass and its edge: only there does it depend on the frame's pixels. He et al. 2013, "Guided Image Filtering". */
function glassRow({ a, b, edge, matrix, top, bottom }: PlacedGlass, work: RowWork, y: number): void {
  const { s, kernels, width, flagView } = work;
  const [, v] = planePosition(a.map, width / 2, y);
  if (v < top || v > bottom) {
    work.areaView.fill(0);
    return;
  }
  work.plane(a, y, s.a);
  work.plane(b, y, s.b);
  if (kernels.chunksRow(s.a, width, 1e-6, s.flags)) {
    work.light(edge, y, matrix, flagView);
    for (let n = work.nextRun(flagView, 0); n > 0; n = work.nextRun(flagView, nextChunk(work.runStart + n))) {
      kernels.logLuminanceRow(s.source + work.runStart * 4, s.plane, n, s.logY + work.runStart * 4);
    }
  }
  kernels.guidedRow(s.a, s.b, s.logY, width, s.area);
}

function keyOf(prepared: Prepared, placing: Placing): string {
  if (prepared.what === 'lit') return `${identity(prepared.plane)}`;
  const { frames, response } = placing.mix;
  return `${identity(prepared.a)} ${placing.frameKey(placing.frame(prepared.edge))} ${frames[prepared.edge].balance.join()} ${response.join()}`;
}

export const found: AreaEvaluation<FoundArea, Prepared, Placed> = {
  prepare(area, findings) {
    if (area.what === 'lit') {
      const plane = findings.share(area.frame, area.among);
      return plane && { what: 'lit', plane };
    }
    const glass = findings.glass(area.edge);
    return glass && { what: 'glass', edge: area.edge, ...glass };
  },
  key: keyOf,
  place(prepared, placing) {
    if (prepared.what === 'lit') return { what: 'lit', plane: placing.onFound(prepared.plane) };
    const edge = placing.frame(prepared.edge);
    return { what: 'glass', a: placing.onFound(prepared.a), b: placing.onFound(prepared.b), edge, matrix: placing.frameMatrix(edge), top: prepared.top, bottom: prepared.bottom };
  },
  row(placed, work, y) {
    if (placed.what === 'lit') work.plane(placed.plane, y, work.s.area);
    else glassRow(placed, work, y);
  },
};
