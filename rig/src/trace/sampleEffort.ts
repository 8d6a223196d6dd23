import { likeness, PER_PIXEL } from './gridSurfaces';

/** Distance between planes, metres, that a step of one grid pixel may bring. */
const PLANES = 0.006;
/** Largest effort: what a pixel deserves that shows a surface of its own. */
const MOST = 24;

/**
 * How many times the samples each pixel of a grid deserves: 1 where its neighbours show the same surface, since noise is
 * averaged over them later, up to 24 on narrow things and at edges, where there is nothing to average over.
 * @param surfaces as in `GridSurfaces`
 */
export function sampleEffort(surfaces: Float32Array, width: number, height: number): Uint8Array {
  const effort = new Uint8Array(new SharedArrayBuffer(width * height)).fill(1);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = (y * width + x) * PER_PIXEL;
      if (surfaces[i] === 0 && surfaces[i + 1] === 0 && surfaces[i + 2] === 0) continue;
      let friends = 0;
      for (let v = Math.max(0, y - 2); v <= Math.min(height - 1, y + 2); v++) {
        for (let u = Math.max(0, x - 2); u <= Math.min(width - 1, x + 2); u++) friends += likeness(surfaces, i, surfaces, (v * width + u) * PER_PIXEL, PLANES);
      }
      // A third of the neighbours missing costs little; from there on each one missing counts.
      effort[y * width + x] = Math.min(MOST, Math.max(1, Math.round((21 / friends) ** 2)));
    }
  }
  return effort;
}
