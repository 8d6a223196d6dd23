/** 0 up to `low`, 1 from `high` on, smooth between. */
export function smoothstep(low: number, high: number, v: number): number {
  const t = Math.min(1, Math.max(0, (v - low) / (high - low)));
  return t * t * (3 - 2 * t);
}
