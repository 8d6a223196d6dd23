import { MOST_RINGS, type Area, type FrameId, type OutlineNode } from '@zaddle/document';
import { pixelsOfPane } from '../window/fitPane';
import type { Analysis } from './analyseShot';
import { beforeFrame } from './beforeFrame';

/** The area of panes with straight sides, by name. */
export const PANES = 'panes';
/** Share of the glass that must lie in panes with straight sides for these to bound it. */
const IN_PANES = 0.95;
/** How soft their edge is, in longer sides of the reference. */
const PANE_SOFTNESS = 0.0007;

/** The glass as a mask: its panes by their straight sides, without what stands before them; or as it was found, where it has other shapes. */
export function glassMask({ findings, guides, mix }: Analysis, edge: FrameId): Area[] {
  const { plane, panes, before } = findings.panes();
  const inPanes = new Uint8Array(plane.data.length);
  for (const pane of panes) pixelsOfPane(pane, guides.width, guides.height, (i) => (inPanes[i] = 1));
  const [all, bound] = plane.data.reduce(([sum, inside], v, i) => (v > 0 ? [sum + 1, inside + inPanes[i]] : [sum, inside]), [0, 0]);
  if (panes.length === 0 || panes.length > MOST_RINGS || bound < IN_PANES * all) return [{ id: 'glass', kind: 'found', what: 'glass', join: 'add', inverted: false, edge }];
  const scale = mix.width / guides.width;
  const unit = Math.max(mix.width, mix.height);
  const at = (v: number): number => Math.round(((v + 0.5) * scale - 0.5) * (1e6 / unit)) / 1e6;
  const rings = panes.map((pane) => pane.map(([x, y]): OutlineNode => ({ at: [at(x), at(y)], before: null, after: null })));
  const outline: Area = { id: PANES, kind: 'outline', join: 'add', inverted: false, rings, softness: PANE_SOFTNESS };
  return before.data.some((v) => v > 0) ? [outline, { id: 'before', kind: 'found', what: 'before', join: 'subtract', inverted: false, edge: beforeFrame(guides, plane, before) ?? edge }] : [outline];
}
