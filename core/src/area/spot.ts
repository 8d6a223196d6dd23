import type { SpotArea } from '@zaddle/document';
import type { AreaEvaluation } from '../kind/areaEvaluation';

interface PlacedSpot {
  /** Centre, pixels of the reference. */
  readonly at: readonly [number, number];
  /** What the distance from the centre is measured with along each axis: 1 at the rim. */
  readonly u: readonly [number, number];
  readonly v: readonly [number, number];
  /** Where it is nothing, and over which distance it rises to all. */
  readonly end: number;
  readonly width: number;
}

/** An ellipse with a soft rim, exact on every grid; the rim is at least one pixel of the grid wide. */
export const spot: AreaEvaluation<SpotArea, SpotArea, PlacedSpot> = {
  prepare: (area) => area,
  key: () => '',
  place({ at, rim, ratio, softness }, { shapes: { full, pixel } }) {
    const [dx, dy] = [(rim[0] - at[0]) * full, (rim[1] - at[1]) * full];
    // Never thinner than can be seen.
    const length = Math.max(0.35 * pixel, Math.hypot(dx, dy));
    const [cos, sin] = dx === 0 && dy === 0 ? [1, 0] : [dx / Math.hypot(dx, dy), dy / Math.hypot(dx, dy)];
    const across = length * ratio;
    const rimPixel = pixel / Math.min(length, across);
    return { at: [at[0] * full, at[1] * full], u: [cos / length, sin / length], v: [-sin / across, cos / across], end: 1 + 0.5 * rimPixel, width: softness + rimPixel };
  },
  row({ at, u, v, end, width }, work, y) {
    work.referenceCoords(y);
    work.kernels.spotRow(work.s.coords, work.width, at[0], at[1], u[0], u[1], v[0], v[1], end, width, work.s.area);
  },
};
