import type { FillPass, Triple } from '@zaddle/document';
import { identity } from '../kind/keeper';
import type { BringingPass } from '../kind/passEvaluation';
import type { PlacedPlane } from '../kind/placing';
import { applyGains, gainsOf } from './gains';
import { placeAround } from './placeAround';

interface PlacedTones {
  readonly what: 'tones';
  readonly from: Triple;
  readonly to: Triple;
  /** Where the ramp begins, and how far it goes, pixels of the reference. */
  readonly ramp: { readonly at: readonly [number, number]; readonly by: readonly [number, number] } | null;
}
/** What lies around the mask, a plane a channel. */
interface PlacedAround {
  readonly what: 'around';
  readonly channels: readonly PlacedPlane[];
  readonly gains: Triple;
}

function placeTones(pass: FillPass, full: number): PlacedTones {
  const gains = gainsOf(pass);
  const lit = (tone: Triple): Triple => tone.map((v, c) => v * gains[c]) as unknown as Triple;
  const { tone, ramp } = pass;
  return { what: 'tones', from: lit(tone), to: lit(ramp?.tone ?? tone), ramp: ramp && { at: [ramp.from[0] * full, ramp.from[1] * full], by: [(ramp.to[0] - ramp.from[0]) * full, (ramp.to[1] - ramp.from[1]) * full] } };
}


/** One tone; a ramp of tones, linear light between its ends, as evenly as light falls; or what lies around its mask. */
export const fillPass: BringingPass<FillPass, PlacedTones | PlacedAround> = {
  does: 'brings',
  gathers: false,
  fromAround: (pass) => (pass.around ? 'light' : null),
  place: (pass, placing, around) => (around ? { placed: { what: 'around', channels: placeAround(around, placing), gains: gainsOf(pass) }, key: `${identity(around)}` } : { placed: placeTones(pass, placing.shapes.full), key: '' }),
  row(placed, work, y) {
    const { s, kernels, width } = work;
    if (placed.what === 'around') {
      for (let c = 0; c < 3; c++) work.plane(placed.channels[c], y, s.source + s.plane * c);
      applyGains(placed.gains, work);
      return s.ones;
    }
    const { from, to, ramp } = placed;
    if (ramp) {
      work.referenceCoords(y);
      kernels.rampRow(s.coords, width, ramp.at[0], ramp.at[1], ramp.by[0], ramp.by[1], s.a);
    }
    kernels.fillRow(s.source, s.plane, width, ramp ? s.a : s.zeros, from[0], from[1], from[2], to[0], to[1], to[2]);
    return s.ones;
  },
};
