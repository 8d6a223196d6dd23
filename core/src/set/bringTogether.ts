import { LUMA } from '../image/plane';
import type { AdjustPass, Command, Mix, Pass, Triple } from '@zaddle/document';
import { FINISH_PASS } from '../propose/starts';
import { commonOf, companions, type Common, type SetMember } from './setReadings';

/** What is made alike. */
export interface Wanted {
  readonly light: boolean;
  readonly colour: boolean;
  /** 0..1 */
  readonly strength: number;
}

/** Stops and gains that take a look the whole way are held within these: a room that is meant to be dark is not lit by its neighbours. */
const MOST_STOPS = 1.5;
const MOST_GAIN = 0.5;
/** Changes below these are none. */
const LEAST_STOPS = 0.02;
const LEAST_GAIN = 0.003;

const held = (value: number, most: number): number => Math.max(-most, Math.min(most, value));

/** Gains that bring one paint towards another, a grey keeping its luminance. */
function gainsTowards(paint: Triple, common: Triple, strength: number): Triple {
  const gains = paint.map((v, c) => 2 ** (strength * held(Math.log2(common[c] / v), MOST_GAIN))) as unknown as Triple;
  const y = gains.reduce((sum, gain, c) => sum + gain * LUMA[c], 0);
  return gains.map((gain) => gain / y) as unknown as Triple;
}

function freeId(passes: readonly Pass[]): string {
  for (let k = 1; ; k++) if (!passes.some(({ id }) => id === `together-${k}`)) return `together-${k}`;
}

const isTone = (pass: Pass): pass is AdjustPass => pass.kind === 'adjust' && pass.id === FINISH_PASS;

/**
 * The step that brings a picture to what its set has in common, by exposure and balance of its Tone pass; its own light, as it falls, stays.
 * @returns null: it is as the others are. @throws Error in words where it has no Tone pass that could do it
 */
export function bringTowards(mix: Mix, { look }: SetMember, common: Common, { light, colour, strength }: Wanted): Command | null {
  const stops = light ? strength * held(common.light - look.light, MOST_STOPS) : 0;
  const gains: Triple = colour && look.paint && common.paint ? gainsTowards(look.paint, common.paint, strength) : [1, 1, 1];
  const balances = gains.some((gain) => Math.abs(gain - 1) > LEAST_GAIN);
  if (Math.abs(stops) < LEAST_STOPS && !balances) return null;
  const tone = mix.passes.find(isTone);
  const within = (value: number): number => Math.max(-12, Math.min(12, value));
  if (tone && tone.on && tone.opacity === 1 && tone.mask.length === 0) {
    return { kind: 'changePass', id: tone.id, changes: { ...(stops !== 0 ? { exposure: within(tone.exposure + stops) } : {}), ...(balances ? { balance: tone.balance.map((gain, c) => gain * gains[c]) } : {}) } };
  }
  // Somebody limited or took out the tone pass: what is changed lies on top, and says so.
  const pass: AdjustPass = { id: freeId(mix.passes), kind: 'adjust', name: 'Like the set', why: 'brings this picture’s level and white to those of its set', on: true, opacity: 1, within: null, mask: [], exposure: stops, balance: gains, contrast: 1, highlights: 0, shadows: 0, saturation: 1, curve: [], tied: false };
  return { kind: 'addPass', pass, index: mix.passes.length };
}

/** What each picture is brought towards: what its room has in common; where it is the only one of its room, the shoot's level, and its own paint. */
export const targetsOf = (members: readonly SetMember[]): ReadonlyMap<string, Common> => new Map(members.map((member) => {
  const { of, room } = companions(members, member);
  const common = commonOf(of.map(({ look }) => look));
  return [member.id, room ? common : { ...common, paint: null }];
}));
