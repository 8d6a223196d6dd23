import type { PlacedPlane } from '../kind/placing';
import { nextChunk } from '../kind/rowScratch';
import type { RowWork } from '../kind/rowWork';

/** Changes each colour of what was brought by gains that go from place to place. @param planes by how much they lie above 1, a plane a channel */
export function matchRow(planes: readonly PlacedPlane[], work: RowWork, y: number): void {
  const { s, kernels, wanted } = work;
  for (let c = 0; c < 3; c++) {
    work.plane(planes[c], y, s.a);
    for (let n = work.nextRun(wanted, 0); n > 0; n = work.nextRun(wanted, nextChunk(work.runStart + n))) {
      const x = work.runStart * 4;
      kernels.balanceRow(s.source + x, s.plane, s.a + x, n, c === 0 ? 2 : 1, c === 1 ? 2 : 1, c === 2 ? 2 : 1);
    }
  }
}
