import { MOST_RINGS, type Area, type FrameId, type OutlineNode } from '@zaddle/document';
import { placesAbove, type Plane } from '../image/plane';
import { pixelsOfPane, type PaneQuad } from '../window/fitPane';
import type { Analysis } from './analyseShot';
import { beforeFrame } from './beforeFrame';

/** The area of panes with straight sides, by name. */
export const PANES = 'panes';
/** Share of the glass that must lie in panes with straight sides for these to bound it. */
const IN_PANES = 0.95;
/** How soft their edge is, in longer sides of the reference. */
const PANE_SOFTNESS = 0.0007;

/** How far from a pane what stands before it is its own, guide pixels. */
const NEAR = 3;

/** Whether something stands before some panes. */
function standsBefore(before: Plane, panes: readonly PaneQuad[]): boolean {
  const corners = panes.flat();
  const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
  const isNear = (v: number, along: readonly number[]): boolean => v >= Math.min(...along) - NEAR && v <= Math.max(...along) + NEAR;
  return placesAbove(before, 0).some((i) => isNear(i % before.width, xs) && isNear(Math.floor(i / before.width), ys));
}

/**
 * Glass as a mask: panes by their straight sides, without what stands before them; or all of it as it was found, where it has other shapes.
 * @param edge frame that tells its edge best. @param wanted panes that are asked for
 */
export function glassMask({ findings, guides, mix }: Analysis, edge: FrameId, wanted: readonly PaneQuad[]): Area[] {
  const { plane, panes, before } = findings.panes();
  const inPanes = new Uint8Array(plane.data.length);
  for (const pane of panes) pixelsOfPane(pane, guides.width, guides.height, (i) => (inPanes[i] = 1));
  const [all, bound] = plane.data.reduce(([sum, inside], v, i) => (v > 0 ? [sum + 1, inside + inPanes[i]] : [sum, inside]), [0, 0]);
  if (panes.length === 0 || panes.length > MOST_RINGS || bound < IN_PANES * all) return [{ id: 'glass', kind: 'found', what: 'glass', join: 'add', inverted: false, edge }];
  const scale = mix.width / guides.width;
  const unit = Math.max(mix.width, mix.height);
  const at = (v: number): number => Math.round(((v + 0.5) * scale - 0.5) * (1e6 / unit)) / 1e6;
  const rings = wanted.map((pane) => pane.map(([x, y]): OutlineNode => ({ at: [at(x), at(y)], before: null, after: null })));
  const outline: Area = { id: PANES, kind: 'outline', join: 'add', inverted: false, rings, softness: PANE_SOFTNESS };
  return standsBefore(before, wanted) ? [outline, { id: 'before', kind: 'found', what: 'before', join: 'subtract', inverted: false, edge: beforeFrame(guides, plane, before) ?? edge }] : [outline];
}
