import { exposureStops, type FrameFacts } from '../intake/frameFacts';
import { quantile } from '../image/plane';
import type { FrameStats } from './frameStats';
import type { Reading } from './readings';

/** A frame as set quality sees it. */
export interface StatedFrame {
  readonly facts: FrameFacts;
  readonly stats: FrameStats;
}

/** Encoded luma that some frame must reach in a cell for it to count as lit. */
const LIT = 42;
/** Share of a cell, per cent, that may be clipped in the frame that has it best. */
const SAFE = 25;
/** Stops between neighbouring exposures above which noise and seams are to be expected. */
const LARGE_STEP = 3.2;
/** Sharpness against the shot's sharper frames below which a frame is blurred. */
const BLURRED = 0.8;

export type CellState = 'good' | 'unlit' | 'clipped';

/** What each cell of the picture still lacks, by the frame that has it best; null when frames are of different shapes. */
export function coverage(frames: readonly StatedFrame[]): { columns: number; rows: number; cells: CellState[] } | null {
  if (frames.length === 0) return null;
  const { columns, rows } = frames[0].stats;
  const same = frames.filter(({ stats }) => stats.columns === columns && stats.rows === rows);
  const cells = Array.from({ length: columns * rows }, (_, i): CellState => {
    let lit = false;
    let seen = false;
    for (const { stats } of same) {
      if (stats.clipped[i] > SAFE) continue;
      seen = true;
      if (stats.level[i] >= LIT) lit = true;
    }
    return !seen ? 'clipped' : lit ? 'good' : 'unlit';
  });
  return { columns, rows, cells };
}

/** Share of the cells in a state, per cent, and their middle as a place in reference pixels. */
function shareOf(found: NonNullable<ReturnType<typeof coverage>>, state: CellState, width: number, height: number): { value: number; where?: [number, number] } {
  const hit = found.cells.flatMap((cell, i) => (cell === state ? [i] : []));
  if (hit.length === 0) return { value: 0 };
  const x = hit.reduce((sum, i) => sum + (i % found.columns) + 0.5, 0) / hit.length;
  const y = hit.reduce((sum, i) => sum + Math.floor(i / found.columns) + 0.5, 0) / hit.length;
  return { value: (100 * hit.length) / found.cells.length, where: [(x / found.columns) * width, (y / found.rows) * height] };
}

function stepReading(frames: readonly StatedFrame[]): Reading | null {
  const stops = [...new Set(frames.filter((f) => f.facts.bracketed).map((f) => Math.round(3 * (exposureStops(f.facts) ?? NaN)) / 3))].filter((s) => !Number.isNaN(s)).sort((a, b) => a - b);
  if (stops.length < 2) return null;
  const value = Math.max(...stops.slice(1).map((s, k) => s - stops[k]));
  if (value <= LARGE_STEP) return null;
  return { kind: 'step', value, unit: 'stops', state: 'check', text: 'A large step between exposures of the bracket: tones between them will be noisy. Shoot one in between.' };
}

function blurReading(frames: readonly StatedFrame[]): Reading | null {
  const known = frames.filter((f) => f.stats.sharpness > 0);
  if (known.length < 2) return null;
  const sharp = quantile(known.map((f) => f.stats.sharpness), 0.7);
  const blurred = known.filter((f) => f.stats.sharpness < BLURRED * sharp);
  if (blurred.length === 0) return null;
  return { kind: 'blur', value: blurred.length, unit: 'frames', state: 'check', text: `Less sharp than the others: ${blurred.map((f) => f.facts.name).join(', ')}.` };
}

/**
 * Whether a set of frames of one view can work: is every part of the picture lit in some frame and unclipped in some
 * frame, are the steps of a bracket small enough, is a frame blurred. What is in order is not mentioned.
 */
export function setQuality(frames: readonly StatedFrame[]): Reading[] {
  const found = coverage(frames);
  if (!found) return [];
  const { width, height } = frames[0].facts;
  const readings: Reading[] = [];
  const unlit = shareOf(found, 'unlit', width, height);
  if (unlit.value > 1) readings.push({ kind: 'unlit', unit: '%', state: unlit.value > 12 ? 'bad' : 'check', text: 'Dark in every frame: light it with another flash, or expose longer.', ...unlit });
  const clipped = shareOf(found, 'clipped', width, height);
  if (clipped.value > 0.8) readings.push({ kind: 'unsafe', unit: '%', state: clipped.value > 6 ? 'bad' : 'check', text: 'White in every frame: shoot a shorter exposure for the view and the lamps.', ...clipped });
  return [...readings, ...[stepReading(frames), blurReading(frames)].filter((r) => r !== null)];
}
