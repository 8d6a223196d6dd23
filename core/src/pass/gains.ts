import type { Pass, Triple } from '@zaddle/document';
import { nextChunk } from '../kind/rowScratch';
import type { RowWork } from '../kind/rowWork';

/** Gains on red, green, blue by a pass's exposure and balance. */
export const gainsOf = (pass: Pick<Pass, 'exposure' | 'balance'>): Triple => pass.balance.map((v) => v * 2 ** pass.exposure) as unknown as Triple;

/** Applies gains to what was brought, where it is wanted. */
export function applyGains(gains: Triple, work: RowWork): void {
  if (gains[0] === 1 && gains[1] === 1 && gains[2] === 1) return;
  const { s, kernels, wanted } = work;
  for (let n = work.nextRun(wanted, 0); n > 0; n = work.nextRun(wanted, nextChunk(work.runStart + n))) kernels.balanceRow(s.source + work.runStart * 4, s.plane, s.ones, n, gains[0], gains[1], gains[2]);
}
