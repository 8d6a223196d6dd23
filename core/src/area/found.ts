import type { FoundArea, FrameId } from '@zaddle/document';
import type { FoundEdge } from '../found/found';
import { planePosition } from '../geometry/composedMap';
import type { Plane } from '../image/plane';
import type { AreaEvaluation } from '../kind/areaEvaluation';
import { identity } from '../kind/keeper';
import { guidedEdgeRow, type PlacedGuidedEdge } from './guidedEdge';
import type { PlacedPlane, Placing } from '../kind/placing';

type Edged = Exclude<FoundArea['what'], 'lit'>;
/** A share of light, read from its plane; or something with an edge, by the guided filter's model over the luminance of a frame. */
type Prepared = { readonly what: 'lit'; readonly plane: Plane } | ({ readonly what: Edged; readonly edge: FrameId } & FoundEdge);
interface PlacedEdged {
  readonly what: Edged;
  readonly edge: PlacedGuidedEdge;
  readonly top: number;
  readonly bottom: number;
}
type Placed = { readonly what: 'lit'; readonly plane: PlacedPlane } | PlacedEdged;

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
    const found = findings.edgeFound(area);
    return found && { what: area.what, edge: area.edge, ...found };
  },
  key: keyOf,
  place(prepared, placing) {
    if (prepared.what === 'lit') return { what: 'lit', plane: placing.onFound(prepared.plane) };
    const edge = placing.frame(prepared.edge);
    return { what: prepared.what, edge: { a: placing.onFound(prepared.a), b: placing.onFound(prepared.b), frame: edge, matrix: placing.frameMatrix(edge) }, top: prepared.top, bottom: prepared.bottom };
  },
  row(placed, work, y) {
    if (placed.what === 'lit') return work.plane(placed.plane, y, work.s.area);
    const [, v] = planePosition(placed.edge.a.map, work.width / 2, y);
    if (v < placed.top || v > placed.bottom) work.areaView.fill(0);
    else guidedEdgeRow(placed.edge, work, y);
  },
};
