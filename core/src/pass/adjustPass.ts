import type { AdjustPass, Triple } from '@zaddle/document';
import { identity } from '../kind/keeper';
import type { PassEvaluation } from '../kind/passEvaluation';
import type { PlacedPlane } from '../kind/placing';

interface PlacedAdjust {
  /** Gains on red, green, blue, or null where they change nothing. */
  readonly gains: Triple | null;
  readonly tone: { readonly a: PlacedPlane; readonly b: PlacedPlane } | null;
  /** Contrast about middle grey, as log2 gain over log2 luminance. */
  readonly slope: number;
  readonly lift: number;
  readonly saturation: number;
}

/** log2 of middle grey, about which contrast turns. */
const MIDDLE = Math.log2(0.18);

export const adjustPass: PassEvaluation<AdjustPass, PlacedAdjust> = {
  tones: (pass) => (pass.highlights !== 0 || pass.shadows !== 0 ? pass : null),
  place(pass, tone, placing) {
    const slope = pass.contrast - 1;
    const placed = tone && { a: placing.onReference(tone.a), b: placing.onReference(tone.b) };
    const gains = pass.balance.every((g) => g === 1) ? null : pass.balance;
    return { placed: { gains, tone: placed, slope, lift: pass.exposure - slope * MIDDLE, saturation: pass.saturation }, key: tone ? `${identity(tone.a)}` : '' };
  },
  row({ gains, tone, slope, lift, saturation }, work, y) {
    const { s, kernels, width: n } = work;
    kernels.logLuminanceRow(s.below, s.plane, n, s.logY);
    if (gains) kernels.balanceRow(s.below, s.plane, s.mask, n, gains[0], gains[1], gains[2]);
    if (tone) {
      work.plane(tone.a, y, s.a);
      work.plane(tone.b, y, s.b);
    }
    kernels.gainRow(s.below, s.plane, s.logY, tone ? s.a : s.zeros, tone ? s.b : s.zeros, s.mask, n, slope, lift, saturation);
  },
};
