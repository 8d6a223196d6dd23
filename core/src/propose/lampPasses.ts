import type { FrameId, Pass } from '@zaddle/document';
import { estimateNeutral } from '../colour/estimateNeutral';
import type { Triple } from '../colour/primaries';
import { mapPlane, type Light } from '../image/plane';
import { mayHaveFlash } from '../intake/frameFacts';
import { levelled, type Analysis } from './analyseShot';
import { sourcePass } from './newPass';
import { LAMPS_PASS } from './starts';

/** How much of their colour lamps lose: white paint by their light alone is not quite white to an eye that sees the day, too. */
const LAMPS_NEUTRAL = 0.6;

/** The frame by the light of all that are joined which is exposed most like another. */
const likest = ({ mix, roles }: Analysis, id: FrameId): FrameId =>
  mix.merge.filter((each) => !mayHaveFlash(roles.get(each)!.role)).reduce((best, each) => (Math.abs(mix.frames[each].stops - mix.frames[id].stops) < Math.abs(mix.frames[best].stops - mix.frames[id].stops) ? each : best));

/** Of frames by other lamps, the one that is exposed most like the reference; null: there is none. */
export function byOtherLamps({ mix, lamps }: Analysis, than: 'more' | 'fewer'): FrameId | null {
  const ids = [...lamps].filter(([, is]) => is === than).map(([id]) => id);
  return ids.length === 0 ? null : ids.reduce((best, id) => (Math.abs(mix.frames[id].stops) < Math.abs(mix.frames[best].stops) ? id : best));
}

/**
 * Where frames were taken with lamps on and off, the lamps as a light of their own: added, where they are off in the frames that are
 * joined, in their own balance; else the room without them, muted, whose opacity turns them down.
 * @param exposure of the room's own light; @param balance its gains; @param share of the lamps, as of the rest of the room's own light
 */
export function lampPasses(analysis: Analysis, exposure: number, balance: Triple, share: number): Pass[] {
  const { guides, findings, mix } = analysis;
  const lit = byOtherLamps(analysis, 'more');
  if (lit) {
    const without = likest(analysis, lit);
    const light = addedBy(guides.frames.get(lit)!.light, guides.frames.get(without)!.light, 2 ** (mix.frames[lit].stops - mix.frames[without].stops));
    const white = estimateNeutral(light, mapPlane(findings.pane(), (v) => 1 - v));
    const own = levelled([0, 1, 2].map((c) => balance[c] ** (1 - LAMPS_NEUTRAL) * white[c] ** LAMPS_NEUTRAL) as unknown as Triple);
    const pass = sourcePass(LAMPS_PASS, 'light', { kind: 'switched', frame: lit, without }, { name: 'Lamps', why: 'what the lamps alone give, since they burn in one frame and not in the others: brightness and colour are theirs alone', exposure: exposure - mix.frames[lit].stops, balance: own });
    return [{ ...pass, mode: 'add', opacity: share }];
  }
  const off = byOtherLamps(analysis, 'fewer');
  if (!off) return [];
  const pass = sourcePass(LAMPS_PASS, 'light', { kind: 'frame', frame: off }, { name: 'Lamps off', why: 'muted: the room as it is without its lamps. Switched on, its opacity turns them down', exposure: exposure - mix.frames[off].stops, balance });
  return [{ ...pass, on: false }];
}

/** Gains that bring a frame's light to the exposure of those that are joined. */
export function brighter({ mix }: Analysis, id: FrameId): Triple {
  const gain = 2 ** -mix.frames[id].stops;
  return [gain, gain, gain];
}

/** What one light has more than a share of another. */
function addedBy(light: Light, other: Light, share: number): Light {
  const more = (c: 'r' | 'g' | 'b'): Float32Array => light[c].map((v, i) => Math.max(0, v - share * other[c][i]));
  return { width: light.width, height: light.height, r: more('r'), g: more('g'), b: more('b') };
}
