import type { Plane } from '../image/plane';
import type { FrameId } from '@zaddle/document';
import type { Analysis } from './analyseShot';

/** Share of a flash's light that others must give too before it can be done without. */
const REPLACED = 0.75;

/**
 * Pops that somebody or something stands in, as far as the picture can do without them: the others light the same.
 * @param pops where each flash lights well, 0..1 on the guide.
 */
export function spoiltPops({ findings, roles }: Analysis, pops: readonly { readonly id: FrameId; readonly lit: Plane }[]): Set<FrameId> {
  const flashes = [...roles].filter(([, { role }]) => role === 'flash').map(([id]) => id);
  const spoilt = new Set(findings.intrudersAmong(flashes).map((c) => c.frame));
  for (const { id, lit } of pops) {
    if (!spoilt.has(id)) continue;
    const others = pops.filter((p) => !spoilt.has(p.id));
    let [all, replaced] = [0, 0];
    for (let i = 0; i < lit.data.length; i++) {
      let most = 0;
      for (const other of others) most = Math.max(most, other.lit.data[i]);
      all += lit.data[i];
      replaced += Math.min(lit.data[i], most);
    }
    if (replaced < REPLACED * all) spoilt.delete(id);
  }
  return spoilt;
}
