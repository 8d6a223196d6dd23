import { LUMA } from '../image/plane';
import { smoothstep } from '../image/smoothstep';
import { nextChunk } from '../kind/rowScratch';
import type { RowWork } from '../kind/rowWork';

/** Shares of a frame's white between which its brightest colour comes to be clipped. */
const NEAR_WHITE = 0.82;
const AT_WHITE = 0.97;

/** Notes in `s.b`, where light is wanted, how far the frame in `s.source`, in its own exposure, is clipped: 0..1. */
export function noteClipped(work: RowWork): void {
  const { s, memory, wanted } = work;
  const [at, plane, out] = [s.source >> 2, s.plane >> 2, s.b >> 2];
  for (let n = work.nextRun(wanted, 0); n > 0; n = work.nextRun(wanted, nextChunk(work.runStart + n))) {
    for (let i = work.runStart; i < work.runStart + n; i++) memory[out + i] = smoothstep(NEAR_WHITE, AT_WHITE, Math.max(memory[at + i], memory[at + plane + i], memory[at + 2 * plane + i]));
  }
}

/** Takes the colour out of light in `s.source` as far as `s.b` says that it was clipped: what clips has no colour that could be told. */
export function whitenClipped(work: RowWork): void {
  const { s, memory, wanted } = work;
  const [at, plane, by] = [s.source >> 2, s.plane >> 2, s.b >> 2];
  for (let n = work.nextRun(wanted, 0); n > 0; n = work.nextRun(wanted, nextChunk(work.runStart + n))) {
    for (let i = work.runStart; i < work.runStart + n; i++) {
      const share = memory[by + i];
      if (share === 0) continue;
      const y = LUMA[0] * memory[at + i] + LUMA[1] * memory[at + plane + i] + LUMA[2] * memory[at + 2 * plane + i];
      for (let c = 0; c < 3; c++) memory[at + c * plane + i] += share * (y - memory[at + c * plane + i]);
    }
  }
}
