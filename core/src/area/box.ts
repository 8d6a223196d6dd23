import type { BoxArea } from '@zaddle/document';
import type { AreaEvaluation } from '../kind/areaEvaluation';
import { outline } from './outline';
import { placeOutline, type PlacedOutline } from './outlineEdges';

/** What lies between four corners: an outline of straight segments. */
export const box: AreaEvaluation<BoxArea, BoxArea, PlacedOutline> = {
  prepare: (area) => area,
  key: () => '',
  place: ({ corners, softness }, placing) => placeOutline([corners.map((at) => ({ at, before: null, after: null }))], softness, placing),
  row: outline.row,
};
