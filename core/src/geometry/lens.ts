/** Radial lens error: a stored pixel p is freed of it by u = c + (p - c)(1 + k1 r² + k2 r⁴), r the distance of p from the centre over half the diagonal. Brown 1971. */
export interface Lens {
  readonly k1: number;
  readonly k2: number;
}

export const NO_LENS: Lens = { k1: 0, k2: 0 };

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
 */
export function lensFactor(lens: Lens, u2: number): number {
  if (lens.k1 === 0 && lens.k2 === 0) return 1;
  const target = Math.sqrt(u2);
  if (target < 1e-9) return 1;
  let r = target;
  for (let i = 0; i < 4; i++) {
    const r2 = r * r;
    const value = r * (1 + lens.k1 * r2 + lens.k2 * r2 * r2) - target;
    r -= value / (1 + 3 * lens.k1 * r2 + 5 * lens.k2 * r2 * r2);
  }
  return r / target;
}
