import { PARTS } from '../align/misfit';
import type { Light } from '../image/plane';
import type { SeenView } from '../graph/viewMasks';
import { LARGEST_SHOT, TWIN, type Proposal } from '../propose/proposeMix';
import { mayHaveFlash, type Role } from '../intake/frameFacts';
import { findLamps, lampsIntact } from '../light/findLamps';
import type { FrameId } from '@zaddle/document';
import { grade } from './grade';
import { leaningReading } from './leaningReading';
import { placeOutlines } from './placeOutlines';
import { pictureReadings } from './pictureReadings';
import type { Reading } from './readings';
import { shownGlare, shownPlaces } from './shownPlaces';

/** How well the worst frame is lined up, and in which part of the picture it is worst. */
function misalignmentReading({ mix, verdicts }: Proposal): Reading {
  const unit = 1500 / Math.max(mix.width, mix.height);
  const worst = [...verdicts].filter(([, v]) => v.residualPx !== null).reduce((a, b) => (b[1].residualPx! > a[1].residualPx! ? b : a));
  const [frame, { residualPx, parts }] = worst;
  const value = residualPx!;
  const text = 'Expected misalignment of the worst frame.';
  const known = parts.map((v, k) => [v ?? -1, k]).filter(([v]) => v >= 0);
  if (known.length === 0) return { kind: 'misalignment', value, unit: 'px', state: grade(value * unit, 0.6, 1), text };
  const [most, part] = known.reduce((a, b) => (b[0] > a[0] ? b : a));
  const [columns, rows] = PARTS;
  const { width, height } = mix.frames[mix.reference];
  const untold = parts.length - known.length;
  return {
    kind: 'misalignment', value, unit: 'px', state: grade(value * unit, 0.6, 1), frame,
    text: `${text} Its worst part is off by ${most.toFixed(2)} px${untold > 0 ? `; ${untold} of ${parts.length} parts have too little structure to tell` : ''}.`,
    where: [(((part % columns) + 0.5) * width) / columns, ((Math.floor(part / columns) + 0.5) * height) / rows],
  };
}

/** Readings of one kind that a shot shows at most: the worst ones. */
const MOST = 3;

const scaled = ([x, y]: readonly [number, number], scale: number): [number, number] => [x * scale, y * scale];

/** Who or what single frames show otherwise than the others of their light: somebody who walked in, a stand, a door, a prop. */
function movedReadings(proposal: Proposal, scale: number): Reading[] {
  const { mix, guides, findings, verdicts } = proposal;
  const ids = Object.keys(mix.frames);
  const of = (role: Role): FrameId[] => ids.filter((id) => verdicts.get(id)?.role === role);
  const ambient = findings.changesAmong([...of('ambient'), ...of('plate')]).filter((c) => c.what === 'shows').map((c) => ({ ...c, shown: verdicts.get(c.frame)!.used ? c.places : [] }));
  const flash = findings.intrudersAmong(of('flash')).map((c) => ({ ...c, shown: shownPlaces(proposal, c.frame, c.places) }));
  // What is left to do comes first, however large is what is done.
  return [...ambient, ...flash].sort((a, b) => Number(b.shown.length > 0) - Number(a.shown.length > 0) || b.share - a.share).slice(0, MOST).map(({ frame, share, where, shown }) => ({
    kind: 'moved', value: 100 * share, unit: '%', where: scaled(where, scale), frame, ...(shown.length > 0 ? { state: 'check', places: placeOutlines(shown, guides, scale) } : { state: 'good' }),
    text: `Shows something there that the other frames do not: a person, a stand, a door, a prop. ${shown.length > 0 ? 'Leave it out, or paint from another.' : 'The picture takes nothing of it there.'}`,
  }));
}

/** What several flashes show otherwise than the room's own light: the picture has it as that has. */
function restagedReadings({ findings, guides, verdicts }: Proposal, scale: number): Reading[] {
  return findings.restaged().filter(({ frames }) => frames.some((frame) => verdicts.get(frame)?.used)).slice(0, MOST).map(({ frames, pixels }) => {
    const [outline] = placeOutlines([pixels], guides, scale);
    const where = outline ? ([0, 1] as const).map((c) => outline.reduce((sum, point) => sum + point[c], 0) / outline.length) as [number, number] : undefined;
    return {
      kind: 'moved', value: frames.length, unit: 'frames', state: 'good', frame: frames[0], ...(where ? { where } : {}),
      text: 'by flash show things elsewhere: something was moved meanwhile. There the picture takes nothing of them, and has the room as its own light shows it. Where you want it as these have it, point there and take it from one.',
    };
  });
}

/** Flash heads that are seen or mirrored in the picture. */
function glareReadings(proposal: Proposal, scale: number): Reading[] {
  const { mix, guides, verdicts } = proposal;
  const flashes = Object.keys(mix.frames).filter((id) => ['flash', 'view'].includes(verdicts.get(id)!.role));
  return shownGlare(proposal, flashes).slice(0, MOST).map(({ frame, share, count, where, places }) => ({
    kind: 'glare', value: 100 * share, unit: '%', state: 'check', where: scaled(where, scale), frame, places: placeOutlines(places, guides, scale),
    text: `The flash is seen or mirrored here${count > 1 ? ` and at ${count - 1} more ${count > 2 ? 'places' : 'place'}` : ''}. Another frame may be clean there.`,
  }));
}

/** Whether lit lamps keep their shape in some frame. */
function lampReading({ mix, guides, findings, verdicts }: Proposal, scale: number): Reading | null {
  const ambient = mix.merge.filter((id) => verdicts.has(id) && !mayHaveFlash(verdicts.get(id)!.role));
  const lamps = findLamps(guides, findings.own(), findings.pane(), ambient);
  if (lamps.length === 0) return null;
  const intact = [...guides.frames.keys()].map((id) => ({ id, share: lampsIntact(guides, lamps, id) })).reduce((a, b) => (b.share > a.share ? b : a));
  const { left, right, top, bottom } = lamps[0];
  const good = intact.share > 0.7;
  return {
    kind: 'lamps', value: 100 * intact.share, unit: '%', state: good ? 'good' : 'check', where: scaled([(left + right) / 2, (top + bottom) / 2], scale), ...(good ? { frame: intact.id } : {}),
    text: good ? 'of the lit lamps keep their shape in this frame.' : 'of the lit lamps keep their shape in the best frame: shoot a shorter one for them.',
  };
}

/** Everything that is measured about a shot as its mix stands. @param picture the mix on the guide before the display curve. @param views those that it shows */
export function readShot(proposal: Proposal, picture: Light, views: readonly SeenView[]): Reading[] {
  const scale = proposal.mix.frames[proposal.mix.reference].width / picture.width;
  const readings: Reading[] = [misalignmentReading(proposal)];
  const lost = [...proposal.verdicts.values()].filter((v) => v.residualPx === null && v.role !== 'spare').length;
  if (lost > 0) readings.push({ kind: 'unused', value: lost, unit: 'frames', state: 'bad', text: 'Frames that could not be lined up are left out.' });
  const own = [...proposal.verdicts.values()].filter((v) => v.why !== TWIN).length;
  if (own > LARGEST_SHOT) readings.push({ kind: 'crowded', value: own, unit: 'frames', state: 'check', text: `More than ${LARGEST_SHOT} frames in one shot: only so many are worked with. Are they several shots? Split them.` });
  if (proposal.verdicts.size === 1) readings.push({ kind: 'single', value: 1, unit: 'frames', state: 'check', text: 'A single frame: a test, or a picture of its own?' });
  readings.push(...movedReadings(proposal, scale), ...restagedReadings(proposal, scale), ...glareReadings(proposal, scale));
  const lamps = lampReading(proposal, scale);
  if (lamps) readings.push(lamps);
  const leans = leaningReading(proposal.mix, proposal.stance);
  if (leans) readings.push(leans);
  return [...readings, ...pictureReadings(picture, proposal.findings.pane(), views, scale)];
}
