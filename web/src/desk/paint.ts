import type { Area, Command, Pass, Point, Stroke } from '@zaddle/document';
import type { DrawnKind } from '../area/areas';
import { roundedPoint } from '../area/areaView';

/** Points that are too close to tell apart are dropped, so that a stroke stays small. */
function thinned(stroke: Stroke): Stroke {
  const { points, pressures, radius } = stroke;
  const kept = [0];
  points.forEach((p, k) => {
    const last = points[kept[kept.length - 1]];
    if (Math.hypot(p[0] - last[0], p[1] - last[1]) >= radius / 12) kept.push(k);
  });
  return { ...stroke, points: kept.map((k) => roundedPoint(points[k])), ...(pressures ? { pressures: kept.map((k) => Math.round(pressures[k] * 100) / 100) } : {}) };
}

/**
 * One more stroke on a pass's mask. It goes into the brush area that lies on top; where there is none, more begins an
 * adding one, less a subtracting one. On a pass that is everywhere, more starts from nothing: only what is painted stays.
 * @param fresh id for an area that is begun.
 */
export function strokeCommand(pass: Pass, stroke: Stroke, fresh: string): Command {
  const thin = thinned(stroke);
  const last = pass.mask[pass.mask.length - 1];
  // A brush area holds strokes of more and of less alike; in a subtracting one they swap.
  if (last?.kind === 'brush' && !last.inverted) return { kind: 'addStroke', pass: pass.id, area: last.id, stroke: last.join === 'subtract' ? { ...thin, reveal: !thin.reveal } : thin };
  const area: Area = { id: fresh, kind: 'brush', join: stroke.reveal ? 'add' : 'subtract', inverted: false, strokes: [{ ...thin, reveal: true }] };
  return { kind: 'addArea', pass: pass.id, area, index: pass.mask.length };
}

/** An area drawn by one drag, or pointed at, on a pass's mask. A single one limits what is there, and drawn again it replaces the one before; others add to what is there. */
export function drawnCommand(pass: Pass, { kind, single, byDrag }: DrawnKind, from: Point, to: Point, reference: string, fresh: string): Command {
  const others = single ? pass.mask.filter((area) => area.kind !== kind) : pass.mask;
  const area = { id: fresh, join: single && others.length > 0 ? 'intersect' : 'add', inverted: false, ...byDrag(from, to, reference) } as Area;
  const out = pass.mask.filter((a) => !others.includes(a)).map((a): Command => ({ kind: 'removeArea', pass: pass.id, area: a.id }));
  const add: Command = { kind: 'addArea', pass: pass.id, area, index: others.length };
  return out.length === 0 ? add : { kind: 'several', commands: [...out, add] };
}
