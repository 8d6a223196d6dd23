import type { Area, Pass, Stroke } from '@zaddle/document';

type Point = readonly [number, number];
type BrushArea = Extract<Area, { kind: 'brush' }>;

/** Points that are too close to tell apart are dropped, so that a stroke stays small. */
function thinned(points: readonly Point[], least: number): Point[] {
  const out: Point[] = [points[0]];
  for (const p of points.slice(1)) {
    const last = out[out.length - 1];
    if (Math.hypot(p[0] - last[0], p[1] - last[1]) >= least) out.push(p);
  }
  return out;
}

/**
 * The mask after one more stroke. Revealing paints an adding area on top; hiding a subtracting one. On a pass that is
 * everywhere, revealing starts from nothing: only what is painted stays.
 */
export function withStroke(pass: Pass, stroke: Stroke): Area[] {
  const thin: Stroke = { ...stroke, points: thinned(stroke.points, stroke.radius / 12) };
  const join: Area['join'] = stroke.reveal ? 'add' : 'subtract';
  const last = pass.mask[pass.mask.length - 1];
  if (last?.kind === 'brush' && !last.inverted) {
    // A brush area holds revealing and hiding strokes alike; in a subtracting one they swap.
    const own: Stroke = last.join === 'subtract' ? { ...thin, reveal: !thin.reveal } : thin;
    const grown: BrushArea = { ...last, strokes: [...last.strokes, own] };
    return [...pass.mask.slice(0, -1), grown];
  }
  const area: BrushArea = { id: `brush-${pass.mask.length + 1}-${Date.now().toString(36)}`, kind: 'brush', join, inverted: false, strokes: [{ ...thin, reveal: true }] };
  return [...pass.mask, area];
}

/** The mask with a ramp: a new one limits what is there; drawn again, it replaces the one drawn before. */
export function withRamp(pass: Pass, from: Point, to: Point): Area[] {
  const others = pass.mask.filter((area) => area.kind !== 'ramp');
  return [...others, { id: `ramp-${Date.now().toString(36)}`, kind: 'ramp', join: others.length === 0 ? 'add' : 'intersect', inverted: false, from, to }];
}
