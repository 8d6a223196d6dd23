import type { RampArea } from '@zaddle/document';
import type { AreaEvaluation } from '../kind/areaEvaluation';

/** Where it begins, and how far it goes, in pixels of the reference. */
interface PlacedRamp {
  readonly from: readonly [number, number];
  readonly by: readonly [number, number];
}

export const ramp: AreaEvaluation<RampArea, RampArea, PlacedRamp> = {
  prepare: (area) => area,
  key: () => '',
  place: ({ from, to }, { shapes: { full } }) => ({ from: [from[0] * full, from[1] * full], by: [(to[0] - from[0]) * full, (to[1] - from[1]) * full] }),
  row({ from, by }, work, y) {
    work.referenceCoords(y);
    work.kernels.rampRow(work.s.coords, work.width, from[0], from[1], by[0], by[1], work.s.area);
  },
};
