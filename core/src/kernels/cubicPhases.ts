/** Positions between two pixels that the warp tells apart. */
export const PHASES = 128;

/** Catmull-Rom (a = -1/2) weights of the four neighbours for a fraction t in 0..1. Keys, "Cubic convolution interpolation", 1981. */
export function catmullRom(t: number): [number, number, number, number] {
  const t2 = t * t;
  const t3 = t2 * t;
  return [-0.5 * t + t2 - 0.5 * t3, 1 - 2.5 * t2 + 1.5 * t3, 0.5 * t + 2 * t2 - 1.5 * t3, -0.5 * t2 + 0.5 * t3];
}

/** Rounds weights to integers that sum to `total` exactly, the rest going to the largest weight. */
function toIntegers(weights: readonly number[], total: number): number[] {
  const rounded = weights.map((w) => Math.round(w * total));
  const rest = total - rounded.reduce((sum, w) => sum + w, 0);
  rounded[rounded.indexOf(Math.max(...rounded))] += rest;
  return rounded;
}

/** The warp's table: for each phase four vertical weights summing to 128 and four horizontal ones summing to 16384. */
export function cubicPhases(): Int16Array {
  const table = new Int16Array(PHASES * 8);
  for (let phase = 0; phase < PHASES; phase++) {
    const weights = catmullRom(phase / PHASES);
    table.set(toIntegers(weights, 128), phase * 8);
    table.set(toIntegers(weights, 16384), phase * 8 + 4);
  }
  return table;
}
