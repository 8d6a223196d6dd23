import type { SameArea } from '@zaddle/document';
import type { AreaEvaluation } from '../kind/areaEvaluation';

/** The mask of another pass: whoever lays masks out follows the link (`linkOf`), so nothing is made here. */
export const same: AreaEvaluation<SameArea, null, null> = {
  prepare: () => null,
  key: () => '',
  place: () => null,
  row: (_, work) => void work.areaView.fill(0),
};
