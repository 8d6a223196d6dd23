import type { OutlineArea } from '@zaddle/document';
import type { AreaEvaluation } from '../kind/areaEvaluation';
import { placeOutline, type PlacedOutline } from './outlineEdges';

/** What lies inside closed outlines, exact on every grid; the edge is at least one pixel of the grid wide. */
export const outline: AreaEvaluation<OutlineArea, OutlineArea, PlacedOutline> = {
  prepare: (area) => area,
  key: () => '',
  place: ({ rings, softness }, placing) => placeOutline(rings, softness, placing),
  row({ edges, count, width }, work, y) {
    work.referenceCoords(y);
    work.kernels.outlineRow(work.s.coords, work.width, edges, count, width, work.s.area);
  },
};
