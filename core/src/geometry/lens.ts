import type { Optics } from '@zaddle/document';

export type { Optics };

/** Radial lens error: a stored pixel p is freed of it by u = c + (p - c)(1 + k1 r² + k2 r⁴), r the distance of p from the centre over half the diagonal. Brown 1971. */
export interface Lens {
  readonly k1: number;
  readonly k2: number;
}

export const NO_DISTORTION: Lens = { k1: 0, k2: 0 };
export const NO_LENS: Optics = { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] };

/** A stored pixel position, freed of lens error. Sizes in pixels of the picture that the positions belong to. */
export function freeOfLens(lens: Lens, width: number, height: number, x: number, y: number): [number, number] {
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  const half = (width * width + height * height) / 4;
  const r2 = ((x - cx) ** 2 + (y - cy) ** 2) / half;
  const scale = 1 + lens.k1 * r2 + lens.k2 * r2 * r2;
  return [cx + (x - cx) * scale, cy + (y - cy) * scale];
}

/**
 * The factor s with p - c = s (u - c), for u's squared distance over half the diagonal: the inverse of
 * `freeOfLens` along the radius, by Newton's method.
 * @param fringe lateral colour of the channel: p is then where that channel stored what green stores at `fringe` 0.
 */
export function lensFactor(lens: Lens, u2: number, fringe = 0): number {
  if (lens.k1 === 0 && lens.k2 === 0 && fringe === 0) return 1;
  const target = Math.sqrt(u2);
  if (target < 1e-9) return 1;
  // (1 + k1 r² + k2 r⁴)(1 + f r²); the term in r⁶ is below any pixel.
  const a = lens.k1 + fringe;
  const b = lens.k2 + lens.k1 * fringe;
  let r = target;
  for (let i = 0; i < 4; i++) {
    const r2 = r * r;
    const value = r * (1 + a * r2 + b * r2 * r2) - target;
    r -= value / (1 + 3 * a * r2 + 5 * b * r2 * r2);
  }
  return r / target;
}

/** Steps of a table of lens factors for each unit of squared distance; straight lines between them are within 1e-9 of the factor. */
const STEPS = 4096;
const FURTHEST = 1.5;

interface FactorTable {
  readonly k1: number;
  readonly k2: number;
  readonly fringe: number;
  readonly factors: Float64Array;
}

/** Tables of the lenses used last. */
const tables: FactorTable[] = [];

function factorsOf(lens: Lens, fringe: number): Float64Array {
  for (let i = 0; i < tables.length; i++) if (tables[i].k1 === lens.k1 && tables[i].k2 === lens.k2 && tables[i].fringe === fringe) return tables[i].factors;
  const factors = Float64Array.from({ length: FURTHEST * STEPS + 2 }, (_, i) => lensFactor(lens, i / STEPS, fringe));
  tables.unshift({ k1: lens.k1, k2: lens.k2, fringe, factors });
  tables.length = Math.min(tables.length, 8);
  return factors;
}

/** Bends n positions (x, y) in place as `lensFactor` says, read from a table. @param half squared half diagonal */
export function bendPositions(positions: Float64Array, n: number, lens: Lens, cx: number, cy: number, half: number, fringe: number): void {
  const factors = factorsOf(lens, fringe);
  for (let i = 0; i < n; i++) {
    const dx = positions[2 * i] - cx;
    const dy = positions[2 * i + 1] - cy;
    const u2 = (dx * dx + dy * dy) / half;
    const at = u2 * STEPS;
    const k = Math.floor(at);
    const s = u2 < FURTHEST ? factors[k] + (at - k) * (factors[k + 1] - factors[k]) : lensFactor(lens, u2, fringe);
    positions[2 * i] = cx + dx * s;
    positions[2 * i + 1] = cy + dy * s;
  }
}

/** What light at a stored place is multiplied by to undo the fall-off; r2: squared distance from the centre over half the diagonal. */
export function falloffGain({ falloff: [a, b] }: Optics, r2: number): number {
  // A corner that got next to nothing would only bring up noise.
  return 1 / Math.max(0.2, 1 - a * r2 - b * r2 * r2);
}
