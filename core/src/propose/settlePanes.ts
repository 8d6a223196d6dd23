import type { Area, FrameId, Mix, OutlineArea, OutlineNode, Pass } from '@zaddle/document';
import type { Findings } from '../found/findings';
import { rendering, wholeMix } from '../clean/renderPlace';
import { frameAlone } from '../pass/frameAlone';
import { wholeGrid, type PlacedSource } from '../graph/placedMix';
import { prepareMix } from '../graph/prepareMix';
import { rowPlane } from '../kind/rowScratch';
import { createPlane, type Pixels, type Plane } from '../image/plane';
import type { Tools } from '../kernels/tools';
import { whiteOf } from '../mask/edgeMiddle';
import { stripOf, STRIP_ROWS, type StripPiece } from '../mask/edgeStrip';
import { edgeWitnesses } from '../mask/edgeWitnesses';
import { settledRing, stripsAlong } from '../mask/settleOutline';
import type { GuideSet } from '../mix/guides';
import { logLuminanceOf } from '../mix/guideTones';
import { alignSides } from '../window/alignSides';
import type { PaneQuad } from '../window/fitPane';
import type { ShotFrame } from './lineUpShot';
import { PANES } from './glassMask';

/** How far a corner of a pane may go, pixels of a proxy. */
const REACH = 6;
/** How far a side may lie off the line of others that it lay in one line with, pixels of a proxy. */
const IN_LINE = 1.5;

type Rings = readonly (readonly OutlineNode[])[];
const mapped = (nodes: readonly OutlineNode[], k: number, round: number): OutlineNode[] => nodes.map(({ at: [x, y], before, after }) => ({ at: [Math.round(x * k * round) / round, Math.round(y * k * round) / round], before, after }));

/** A piece of a strip as a frame shows it. */
function look(tools: Tools, findings: Findings, mix: Mix, frame: FrameId, source: PlacedSource, { columns, toReference }: StripPiece): Plane {
  const strip = { ...wholeMix(mix, [frameAlone(frame, [])]), geometry: toReference, width: columns, height: STRIP_ROWS };
  return rendering(tools, prepareMix(strip, findings), new Map([[frame, source]]), wholeGrid(strip, columns, STRIP_ROWS), (renderer, _, floats) => {
    const plane = createPlane(columns, STRIP_ROWS);
    const out = tools.arena.take(rowPlane(columns));
    for (let y = 0; y < STRIP_ROWS; y++) {
      renderer.logRow(y, 1, out);
      plane.data.set(floats(out), y * columns);
    }
    return plane;
  });
}

/** Works with a frame's proxy in kernel memory. */
function withProxy<T>({ arena }: Tools, { width, height, data }: Pixels, work: (source: PlacedSource) => T): T {
  const mark = arena.mark();
  try {
    return work({ at: arena.placeBytes(data as Uint8Array), width, height, depth: 8 });
  } finally {
    arena.release(mark);
  }
}

/** Outlines, reference pixels, moved to the middle of the edges that the proxies of several frames show. */
function settled(tools: Tools, frames: readonly ShotFrame[], guides: GuideSet, findings: Findings, mix: Mix, rings: Rings): OutlineNode[][] {
  const proxies = new Map(frames.map(({ facts, proxy }) => [facts.id, proxy]));
  const home = mix.frames[mix.reference];
  const pixel = home.width / proxies.get(mix.reference)!.width;
  const stripped = rings.map((ring) => stripsAlong(ring, pixel));
  const witnesses = edgeWitnesses(mix);
  // A frame after the other: there is no room for all of them.
  const shown = witnesses.map((frame) => withProxy(tools, proxies.get(frame)!, (source) => stripped.map((strips) => strips.map(({ strip }) => strip && stripOf(strip, strip.pieces.map((piece) => look(tools, findings, mix, frame, source, piece)))))));
  const whites = witnesses.map((frame) => whiteOf(logLuminanceOf(guides.frames.get(frame)!.light)));
  const each = rings.map((ring, r) => settledRing(ring, stripped[r], stripped[r].map((_, k) => shown.flatMap((frame) => frame[r][k] ?? [])), whites, REACH * pixel));
  const corners = (of: Rings): PaneQuad[] => of.map((ring) => ring.map(({ at }) => at) as unknown as PaneQuad);
  return alignSides(corners(rings), corners(each), IN_LINE * pixel).map((quad) => quad.map((at): OutlineNode => ({ at, before: null, after: null })));
}

/**
 * Panes that were found on the guide, their straight sides moved to the middle of their edges in the pixels of proxies: the
 * guide is half as fine, and a view that lies a pixel over its joinery is seen.
 */
export function settlePanes(tools: Tools, frames: readonly ShotFrame[], { mix, guides, findings }: { readonly mix: Mix; readonly guides: GuideSet; readonly findings: Findings }, passes: readonly Pass[]): Pass[] {
  const isPanes = (area: Area): area is OutlineArea => area.kind === 'outline' && area.id === PANES;
  const panes = passes.flatMap(({ mask }) => mask).filter(isPanes);
  if (panes.length === 0) return [...passes];
  const side = Math.max(mix.width, mix.height);
  // Those of all windows at once: some lie in one line with others.
  const rings = settled(tools, frames, guides, findings, mix, panes.flatMap((area) => area.rings.map((ring) => mapped(ring, side, 1e3)))).map((ring) => mapped(ring, 1 / side, 1e6));
  let taken = 0;
  const moved = new Map(panes.map((area) => [area, { ...area, rings: rings.slice(taken, (taken += area.rings.length)) }]));
  return passes.map((pass) => ({ ...pass, mask: pass.mask.map((area) => moved.get(area as OutlineArea) ?? area) }));
}
