import type { BundlePass, Triple } from '@zaddle/document';
import type { BringingPass } from '../kind/passEvaluation';
import { applyGains, gainsOf } from './gains';

/** What the passes within it made of an empty layer (W3C "Compositing and Blending Level 1", isolated groups). */
export const bundlePass: BringingPass<BundlePass, Triple> = {
  does: 'brings',
  gathers: true,
  place: (pass) => ({ placed: gainsOf(pass), key: '' }),
  row(gains, work) {
    work.copyRow(work.gathered, work.s.source, 3);
    applyGains(gains, work);
    return work.gathered + work.s.plane * 3;
  },
};
