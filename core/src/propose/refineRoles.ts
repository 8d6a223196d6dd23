import type { FrameFacts, Role } from '../intake/frameFacts';
import { findLamps, lampsIntact } from '../light/findLamps';
import { flashLight } from '../light/flashLight';
import { placeInWords, whereBrightest } from '../light/whereBrightest';
import type { GuideSet } from '../mix/guides';
import type { FrameId, FrameUse } from '@zaddle/document';
import type { Findings } from '../found/findings';
import { findChanges } from '../found/findChanges';
import { flashPurpose, flashReach } from './flashPurpose';
import { viewQuality } from './guessRoles';

export interface RoleGuess {
  readonly role: Role;
  readonly why: string;
}
type Guesses = ReadonlyMap<FrameId, RoleGuess>;

/** Exposures closer than this, stops, repeat each other. */
const REPEATS = 0.5;
/** Lamps kept beyond what the reference keeps, as a share, that make a frame one for the lamps. */
const KEEPS = 0.3;
/** Linear light below which a flash's own light is noise. */
const LEAST = 0.003;

/** What ambient frames of one light say of each other. */
export interface AmbientOddities {
  /** Frames taken to have the picture without something. */
  readonly plates: ReadonlySet<FrameId>;
  /** Frames that are not to be joined with the others: what they show or lack would leave a ghost. */
  readonly apart: ReadonlySet<FrameId>;
  /** A frame of the same exposure as the reference, without what the reference alone has before it; null where all is well. */
  readonly betterReference: FrameId | null;
}

/**
 * Plates, and frames that somebody walked into. A plate is of an exposure that was there before, or outside of the bracket,
 * and lacks a thing that the others show.
 * @param ambient frames by the room's own light, the reference among them.
 */
export function ambientOddities(guides: GuideSet, uses: Readonly<Record<FrameId, FrameUse>>, ambient: readonly FrameId[], facts: ReadonlyMap<FrameId, FrameFacts>, reference: FrameId): AmbientOddities {
  const stops = Object.fromEntries(ambient.map((id) => [id, uses[id].stops]));
  const changes = findChanges(guides, stops, ambient, null);
  const plates = new Set<FrameId>();
  const apart = new Set<FrameId>();
  let betterReference: FrameId | null = null;
  const repeats = (id: FrameId): FrameId[] => ambient.filter((other) => other !== id && Math.abs(stops[other] - stops[id]) < REPEATS);
  for (const { frame, what } of changes) {
    const again = repeats(frame);
    if (what === 'lacks') {
      if (frame === reference || (again.length === 0 && (facts.get(frame)!.bracketed || !ambient.some((id) => facts.get(id)!.bracketed)))) continue;
      plates.add(frame);
      apart.add(frame);
      continue;
    }
    // Nothing is lost without a frame whose exposure another has.
    const clean = again.find((id) => !changes.some((c) => c.frame === id));
    if (!clean) continue;
    apart.add(frame);
    if (frame === reference) betterReference = clean;
    if (!facts.get(clean)!.bracketed && (facts.get(clean)!.takenAt ?? 0) > (facts.get(frame)!.takenAt ?? 0) && ambient.length === 2) plates.add(clean);
  }
  return { plates, apart, betterReference };
}

/** What a short exposure outside of the bracket was for: the lamps, or the view. */
function shortPurpose(guides: GuideSet, findings: Findings, uses: Readonly<Record<FrameId, FrameUse>>, ambient: readonly FrameId[], id: FrameId, reference: FrameId): RoleGuess {
  const lamps = findLamps(guides, findings.own(), findings.pane(), ambient);
  const kept = lampsIntact(guides, lamps, id) - lampsIntact(guides, lamps, reference);
  const servesView = (frame: FrameId): boolean => {
    const { usable, median } = viewQuality(guides.frames.get(frame)!, findings.panePlaces(), findings.own(), uses[frame].stops);
    return usable > 0.8 && median > 0.04 && median < 0.75;
  };
  const onlyView = servesView(id) && ![...guides.frames.keys()].some((other) => other !== id && servesView(other));
  if (onlyView) return { role: 'view', why: 'short, and the only frame that shows the outside well' };
  if (lamps.length > 0 && kept > KEEPS) return { role: 'lamp', why: `short: ${Math.round(100 * kept)} % more of the lamps keep their shape than in the reference` };
  return { role: 'lamp', why: 'short, and outside the bracket: lamps keep their shape' };
}

/**
 * Roles by what frames show beside each other, once all are lined up: which flash was for the view or plays the sun and
 * where the others fall, which short exposure is for the lamps.
 * @param first roles by each frame's own light. @param ambient frames by the room's own light.
 */
export function refineRoles(guides: GuideSet, findings: Findings, uses: Readonly<Record<FrameId, FrameUse>>, first: Guesses, ambient: readonly FrameId[], reference: FrameId): Map<FrameId, RoleGuess> {
  const byFlash = [...first].filter(([, { role }]) => role === 'flash' || role === 'view').map(([id]) => id);
  const lights = new Map(byFlash.map((id) => [id, flashLight(guides, id, uses[id].stops, LEAST)]));
  const refined = new Map(first);
  for (const [id, guess] of first) {
    if (guess.role === 'lamp') refined.set(id, shortPurpose(guides, findings, uses, ambient, id, reference));
    if (lights.has(id)) {
      const purpose = flashPurpose(flashReach(guides, id, uses[id].stops, findings.pane()), guess.role === 'flash');
      if (guess.role === 'view' || purpose.role === 'sun') refined.set(id, purpose);
    }
    const light = lights.get(id);
    if (!light || refined.get(id)!.role !== 'flash') continue;
    const where = whereBrightest(light, byFlash.filter((other) => other !== id && first.get(other)!.role === 'flash').map((other) => lights.get(other)!));
    if (where) refined.set(id, { role: 'flash', why: `${refined.get(id)!.why}; it falls mostly on the ${placeInWords(where)}` });
  }
  return refined;
}
