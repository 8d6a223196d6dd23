import { linearSrgbToLab, applyMatrix, WORKING_TO_SRGB } from '../colour/primaries';
import { estimateNeutral } from '../colour/estimateNeutral';
import { PARTS } from '../align/misfit';
import { toneCurve } from '../finish/toneCurve';
import { luminance, mapPlane, quantile, type Light } from '../image/plane';
import type { Proposal } from '../propose/proposeMix';
import { findChanges } from './findChanges';
import type { Reading } from './readings';

const LABELS = { good: 'good', check: 'check', bad: 'bad' } as const;
const grade = (value: number, check: number, bad: number): Reading['state'] => (value >= bad ? LABELS.bad : value >= check ? LABELS.check : LABELS.good);

/** Share of the picture that the display curve leaves at white or black, in per cent. */
function clippedReading(picture: Light, scale: number): Reading {
  let clipped = 0;
  let sumX = 0;
  let sumY = 0;
  for (let i = 0; i < picture.r.length; i++) {
    const top = toneCurve(Math.max(picture.r[i], picture.g[i], picture.b[i]));
    if (top < 0.995) continue;
    clipped++;
    sumX += i % picture.width;
    sumY += Math.floor(i / picture.width);
  }
  const value = (100 * clipped) / picture.r.length;
  return {
    kind: 'clipped', value, unit: '%', state: grade(value, 1.5, 5),
    text: value < 1.5 ? 'Hardly anything is clipped.' : 'Parts of the picture are pure white: a darker frame for them would help.',
    ...(clipped > 0 ? { where: [(sumX / clipped) * scale, (sumY / clipped) * scale] as const } : {}),
  };
}

/** How far the likely whites of the finished picture are from grey, CIELAB chroma. */
function castReading(picture: Light, proposal: Proposal): Reading {
  const gains = estimateNeutral(picture, mapPlane(proposal.findings.glass(), (v) => 1 - v));
  const white = applyMatrix(WORKING_TO_SRGB, [1 / gains[0], 1 / gains[1], 1 / gains[2]]).map((v) => v * 0.6) as [number, number, number];
  const [, a, b] = linearSrgbToLab(white);
  const value = Math.hypot(a, b);
  return { kind: 'cast', value, unit: 'ΔE', state: grade(value, 4, 9), text: `Light surfaces measure a* ${a.toFixed(1)}, b* ${b.toFixed(1)}.` };
}

function viewReading(picture: Light, proposal: Proposal): Reading | null {
  const glass = proposal.findings.glass();
  const y = luminance(picture);
  const inside: number[] = [];
  const outside: number[] = [];
  for (let i = 0; i < y.data.length; i += 3) (glass.data[i] > 0.5 ? outside : inside).push(y.data[i]);
  if (outside.length < 100) return null;
  if (!proposal.mix.passes.some((pass) => pass.kind === 'view')) return { kind: 'view', value: 0, unit: 'stops', state: 'bad', text: 'No frame shows the view outside unclipped: shoot a shorter exposure.' };
  const value = Math.log2(quantile(outside, 0.5) / Math.max(1e-4, quantile(inside, 0.5)));
  return { kind: 'view', value, unit: 'stops', state: value < -0.5 || value > 2.2 ? 'check' : 'good', text: 'How far the view lies above the room.' };
}

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

/** What moved or was changed while the ambient frames were taken. */
function movedReading({ mix, guides, findings, verdicts }: Proposal, scale: number): Reading | null {
  const ambient = Object.keys(mix.frames).filter((id) => verdicts.get(id)?.role === 'ambient');
  const stops = Object.fromEntries(Object.entries(mix.frames).map(([id, use]) => [id, use.stops]));
  const [first] = findChanges(guides, stops, ambient, findings.glass());
  if (!first) return null;
  return {
    kind: 'moved', value: 100 * first.share, unit: '%', state: 'check', text: 'This frame shows something there that the other ambient frames do not: a person, a door, a prop. Leave it out, or paint from another.',
    where: [first.where[0] * scale, first.where[1] * scale], frame: first.frame,
  };
}

/** Everything that is measured about a shot as its mix stands. `picture`: the mix on the guide before the display curve. */
export function readShot(proposal: Proposal, picture: Light): Reading[] {
  const scale = proposal.mix.frames[proposal.mix.reference].width / picture.width;
  const readings: Reading[] = [misalignmentReading(proposal)];
  const lost = [...proposal.verdicts.values()].filter((v) => v.residualPx === null && v.role !== 'spare').length;
  if (lost > 0) readings.push({ kind: 'unused', value: lost, unit: 'frames', state: 'bad', text: 'Frames that could not be lined up are left out.' });
  if (proposal.verdicts.size === 1) readings.push({ kind: 'single', value: 1, unit: 'frames', state: 'check', text: 'A single frame: a test, or a picture of its own?' });
  const moved = movedReading(proposal, scale);
  if (moved) readings.push(moved);
  readings.push(clippedReading(picture, scale), castReading(picture, proposal));
  const view = viewReading(picture, proposal);
  return view ? [...readings, view] : readings;
}
