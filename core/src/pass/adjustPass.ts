import type { AdjustPass, Triple } from '@zaddle/document';
import { CURVE_FROM, CURVE_STEPS, toneCurveTable } from '../finish/tonePoints';
import type { Pointer } from '../kernels/kernels';
import { identity } from '../kind/keeper';
import type { ChangingPass } from '../kind/passEvaluation';
import type { PlacedPlane } from '../kind/placing';

interface PlacedAdjust {
  /** Gains on red, green, blue, or null where they change nothing. */
  readonly gains: Triple | null;
  readonly tone: { readonly a: PlacedPlane; readonly b: PlacedPlane } | null;
  /** Stops over log2 luminance, or null where there is no curve. */
  readonly curve: { readonly at: Pointer; readonly count: number } | null;
  /** Contrast about middle grey, as log2 gain over log2 luminance. */
  readonly slope: number;
  readonly lift: number;
  readonly saturation: number;
}

/** log2 of middle grey, about which contrast turns. */
const MIDDLE = Math.log2(0.18);

/** All its parts look at the luminance that comes in, and act at once. */
export const adjustPass: ChangingPass<AdjustPass, PlacedAdjust> = {
  does: 'changes',
  tones: (pass) => (pass.highlights !== 0 || pass.shadows !== 0 ? pass : null),
  place(pass, tone, placing) {
    const slope = pass.contrast - 1;
    const placed = tone && { a: placing.onReference(tone.a), b: placing.onReference(tone.b) };
    const gains = pass.balance.every((g) => g === 1) ? null : pass.balance;
    const table = pass.curve.length > 0 ? toneCurveTable(pass.curve) : null;
    const curve = table && { at: placing.once(table), count: table.length };
    return { placed: { gains, tone: placed, curve, slope, lift: pass.exposure - slope * MIDDLE, saturation: pass.saturation }, key: tone ? `${identity(tone.a)}` : '' };
  },
  row({ gains, tone, curve, slope, lift, saturation }, work, y, light) {
    const { s, kernels, width: n } = work;
    kernels.logLuminanceRow(light, s.plane, n, s.logY);
    if (gains) kernels.balanceRow(light, s.plane, s.mask, n, gains[0], gains[1], gains[2]);
    if (tone) {
      work.plane(tone.a, y, s.a);
      work.plane(tone.b, y, s.b);
    } else if (curve) work.copyRow(s.zeros, s.b, 1);
    if (curve) kernels.curveRow(s.logY, n, MIDDLE + CURVE_FROM, CURVE_STEPS, curve.at, curve.count, s.b);
    kernels.gainRow(light, s.plane, s.logY, tone ? s.a : s.zeros, tone || curve ? s.b : s.zeros, s.mask, n, slope, lift, saturation);
  },
};
