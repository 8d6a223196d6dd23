import type { FillPass, Triple } from '@zaddle/document';
import type { BringingPass } from '../kind/passEvaluation';
import { gainsOf } from './gains';

interface PlacedFill {
  readonly from: Triple;
  readonly to: Triple;
  /** Where the ramp begins, and how far it goes, pixels of the reference. */
  readonly ramp: { readonly at: readonly [number, number]; readonly by: readonly [number, number] } | null;
}

/** One tone, or a ramp of tones: linear light between its ends, as evenly as light falls. */
export const fillPass: BringingPass<FillPass, PlacedFill> = {
  does: 'brings',
  gathers: false,
  place(pass, { shapes: { full } }) {
    const gains = gainsOf(pass);
    const lit = (tone: Triple): Triple => tone.map((v, c) => v * gains[c]) as unknown as Triple;
    const { tone, ramp } = pass;
    return { placed: { from: lit(tone), to: lit(ramp?.tone ?? tone), ramp: ramp && { at: [ramp.from[0] * full, ramp.from[1] * full], by: [(ramp.to[0] - ramp.from[0]) * full, (ramp.to[1] - ramp.from[1]) * full] } }, key: '' };
  },
  row({ from, to, ramp }, work, y) {
    const { s, kernels, width } = work;
    if (ramp) {
      work.referenceCoords(y);
      kernels.rampRow(s.coords, width, ramp.at[0], ramp.at[1], ramp.by[0], ramp.by[1], s.a);
    }
    kernels.fillRow(s.source, s.plane, width, ramp ? s.a : s.zeros, from[0], from[1], from[2], to[0], to[1], to[2]);
    return s.ones;
  },
};
