import type { HealPatch, Mix } from '@zaddle/document';

/** All that a healed place is taken from, however far it lies; only what lies near; or nothing of that. */
export type Healed = 'all' | 'near' | 'none';

/** How much larger a box may become by one place that lies near: judged by each alone, so that what a larger region brings along holds what a smaller one does. */
const NEAR = 1.2;
/** How often a place that was healed may be what another is healed from. */
const ROUNDS = 4;

interface Box {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

function boxOf(points: readonly (readonly [number, number])[]): Box {
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  return { left: Math.min(...xs), top: Math.min(...ys), right: Math.max(...xs), bottom: Math.max(...ys) };
}

const areaOf = ({ left, top, right, bottom }: Box): number => (right - left + 1) * (bottom - top + 1);
const meet = (a: Box, b: Box): boolean => a.left <= b.right && b.left <= a.right && a.top <= b.bottom && b.top <= a.bottom;
const round = (a: Box, b: Box): Box => ({ left: Math.min(a.left, b.left), top: Math.min(a.top, b.top), right: Math.max(a.right, b.right), bottom: Math.max(a.bottom, b.bottom) });

/** Points of the reference that are seen, and those that healed places among them are taken from. Reference pixels. */
export function withHealed(mix: Mix, seen: readonly [number, number][], healed: Exclude<Healed, 'none'>): readonly [number, number][] {
  const patches = mix.passes.flatMap((pass): readonly HealPatch[] => (pass.kind === 'heal' && pass.on ? pass.patches : []));
  if (patches.length === 0) return seen;
  const { width, height } = mix.frames[mix.reference];
  const full = Math.max(width, height);
  const pixels = (points: HealPatch['to']): [number, number][] => points.map(([x, y]) => [Math.min(width - 1, Math.max(0, x * full)), Math.min(height - 1, Math.max(0, y * full))]);
  const first = boxOf(seen);
  let box = first;
  for (let k = 0; k < ROUNDS; k++) {
    const before = box;
    for (const { to, from } of patches) {
      if (!meet(boxOf(pixels(to)), before)) continue;
      const taken = boxOf(pixels(from));
      if (healed === 'all' || areaOf(round(first, taken)) <= NEAR * areaOf(first)) box = round(box, taken);
    }
    if (box === before) break;
  }
  return box === first ? seen : [...seen, [box.left, box.top], [box.right, box.top], [box.right, box.bottom], [box.left, box.bottom]];
}
