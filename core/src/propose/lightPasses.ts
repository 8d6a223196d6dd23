import type { Area, Pass, SourcePass } from '@zaddle/document';
import { estimateNeutral } from '../colour/estimateNeutral';
import { whitePaint } from '../colour/whitePaint';
import { luminance, mapPlane, quantile, type Light, type Plane } from '../image/plane';
import { mayHaveFlash } from '../intake/frameFacts';
import { levelled, type Analysis } from './analyseShot';
import { flashLights } from './flashLights';
import { scaled, times } from './gains';
import { clippedPlaces, heldFall } from './heldFall';
import { hotSpot } from './hotSpot';
import { brighter, byOtherLamps, lampPasses } from './lampPasses';
import { matchBalance } from './matchBalance';
import { sourcePass } from './newPass';
import { seesSky } from '../found/seesSky';
import { FALL_PASS } from './starts';

/** Where the room's middle tones go, as linear display light: the main body of tones right of centre. */
const ROOM_MIDDLE = 0.32;
/** Stops about middle grey, as the room is exposed, from which something shines by itself, and over which it comes to. */
const SHINES = 2.2;
const SHINES_SOFTLY = 1.4;

/** Exposure, in stops, that puts the room's median where it belongs. */
function roomExposure(light: Light, glass: Plane): number {
  const y = luminance(light);
  const room: number[] = [];
  for (let i = 0; i < y.data.length; i += 5) if (glass.data[i] < 0.5) room.push(y.data[i]);
  if (room.length === 0) return 0;
  return Math.max(-3, Math.min(5, Math.log2(ROOM_MIDDLE / Math.max(1e-4, quantile(room, 0.5)))));
}

/** Share of the lamps' own light over rooms that a flash opens, where the fall of light has its share, too. */
const LAMPS_SHARE = 0.6;

/** What the joined ambient is called, and what is to be said of a frame in it that is none. */
function ambientWords({ mix, roles }: Analysis): { readonly name: string; readonly more: string } {
  const own = mix.merge.filter((id) => !mayHaveFlash(roles.get(id)!.role)).length;
  return { name: own > 1 ? `Ambient, ${own} frames joined` : 'Ambient', more: own < mix.merge.length ? '; what is clipped in it comes from a darker frame' : '' };
}

/** How a room is lit. */
export interface RoomPasses {
  /** From the room's own light up. */
  readonly passes: readonly Pass[];
  /** Those of them that bring flashes. */
  readonly flashes: readonly SourcePass[];
  /** What gives the picture its colours, white being white, and where it does, 0..1: flashes; or without any the room's own light, which has no one white where lamps and daylight meet. */
  readonly colours: { readonly light: Light; readonly weight: Plane; readonly byFlash: boolean };
}

/** Passes that light the room. */
export function lightPasses(analysis: Analysis): RoomPasses {
  const { guides, findings } = analysis;
  const glass = findings.pane();
  const lamps = byOtherLamps(analysis, 'more');
  const exposure = roomExposure(lamps ? scaled(guides.frames.get(lamps)!.light, brighter(analysis, lamps)) : guides.merge, glass);
  const ambient = ambientWords(analysis);
  const flash = flashLights(analysis);
  if (!flash) {
    const room = mapPlane(glass, (v) => 1 - v);
    const roughly = estimateNeutral(guides.merge, room);
    const balanced = scaled(guides.merge, roughly);
    const neutral = seesSky(balanced, glass) ? roughly : times(whitePaint(balanced, room), roughly);
    const passes = [sourcePass('ambient', 'light', { kind: 'merge' }, { name: ambient.name, why: `no usable flash: the room’s own light, made neutral by its light-coloured surfaces${ambient.more}`, exposure, balance: levelled(neutral) }), ...lampPasses(analysis, exposure, levelled(neutral), 1)];
    return { passes, flashes: [], colours: { light: scaled(guides.merge, neutral), weight: room, byFlash: false } };
  }
  const { pops, spoilt, joined, neutral } = flash;
  const toFlash = matchBalance(guides.merge, joined.light, (i) => joined.weight.data[i] > 0.4);
  const ambientBalance = levelled(toFlash ?? neutral);
  const passes: Pass[] = [
    sourcePass('ambient', 'light', { kind: 'merge' }, { name: ambient.name, why: `the room’s own light, for what no flash reached${ambient.more}`, exposure, balance: ambientBalance }),
  ];
  const shining: Area = { id: 'shining', kind: 'tones', join: 'add', inverted: false, of: { kind: 'below' }, from: SHINES, to: 6, softness: SHINES_SOFTLY };
  passes.push(sourcePass('shining', 'light', { kind: 'merge' }, { name: 'Lamps and daylight', why: 'what shines by itself, or mirrors what does, keeps its own colour: the balance of a room by lamplight would turn it blue', exposure, balance: neutral, mask: [shining] }));
  const flashes: SourcePass[] = [];
  // Muted ones come last: no other flash leaves its share to them.
  [...pops, ...spoilt].forEach((pop, k, ordered) => {
    const mask: Area[] = [{ id: `lit-${k + 1}`, kind: 'found', what: 'lit', join: 'add', inverted: false, frame: pop.id, among: ordered.slice(0, k).map((p) => p.id) }];
    const isSpoilt = spoilt.includes(pop);
    const why = isSpoilt ? 'muted: somebody or something stands in this frame, and the other flashes light the same' : 'true colours where this flash lights the room well';
    const pass = sourcePass(`pop-${k + 1}`, 'light', { kind: 'frame', frame: pop.id }, { name: `Flash ${k + 1}`, why, exposure: pop.exposure, balance: times(pop.balance, neutral), mask });
    passes.push({ ...pass, on: !isSpoilt });
    if (!isSpoilt) flashes.push(pass);
  });
  const spots = pops.flatMap(({ id, lit }, k): Pass[] => {
    const spot = hotSpot(`hot-${k + 1}`, guides, guides.frames.get(id)!, lit, pops.filter((p) => p.id !== id).map((p) => p.lit), glass);
    return spot ? [{ ...sourcePass(`spot-${k + 1}`, 'light', { kind: 'merge' }, { name: `Hot spot of flash ${k + 1}`, why: 'this flash clips here and no other lights the place: the room’s own light, brought to what lies around', exposure, balance: ambientBalance, mask: [{ ...spot, border: { grow: 0, soften: 0, snap: id } }] }), matched: true }] : [];
  });
  const held = clippedPlaces(guides, analysis.mix.merge, pops.map((pop) => pop.lit), glass);
  passes.push(sourcePass(FALL_PASS, 'light', { kind: 'merge' }, { name: 'Fall of light', why: 'the ambient’s brightness over the flash’s colour, so that light falls as it did in the room', exposure, balance: ambientBalance }), ...(held ? [heldFall(held)] : []), ...lampPasses(analysis, exposure, ambientBalance, LAMPS_SHARE), ...spots);
  return { passes, flashes, colours: { ...joined, byFlash: true } };
}
