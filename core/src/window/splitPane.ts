import { bilinear, quantile, type Plane } from '../image/plane';
import type { PaneQuad } from './fitPane';
import { placeIn, sidesOf } from './placeIn';

/** Pixels around a window that are looked at, too: its sides are lines like its bars. */
const AROUND = 5;
/** Step of log luminance a pixel that most of a line must have, and how much it must stand out from what lies beside it. */
const LEAST_STEP = 0.1;
const STANDS_OUT = 4;
/** Pixels within which one line is one. */
const APART = 2;
/** Pixels of the widest bar, and how much less it looks like outside. */
const WIDEST_BAR = 9;
const LESS_OUTSIDE = 0.05;
/** Share of the window that its frame and reveal may take at a side. */
const SIDE = 0.12;
/** The same of a window that no flash tells of, as far as that is of one paint. */
const SIDE_UNSURE = 0.2;
/** Paint: at most so much of log luminance lies between most of it; and how much a bar must differ from both of its sides, which do so alike. */
const ONE_PAINT = 0.3;
const BAR_STEP = 0.4;
const OTHER_TONE = 0.3;
/** log2 luminance from which a frame may be clipped, and tells nothing. */
export const NEARLY_CLIPPED = -0.2;
/** Least pixels of a pane. */
const SHORTEST = 5;
/** How much a pane looks like outside, in the middle of its pixels. */
const OUTSIDE = 0.5;

/** Four corners moved outwards by pixels. */
function widened(quad: PaneQuad, by: number): PaneQuad {
  const [across, down] = sidesOf(quad).map((side) => by / side);
  return [placeIn(quad, -across, -down), placeIn(quad, 1 + across, -down), placeIn(quad, 1 + across, 1 + down), placeIn(quad, -across, 1 + down)];
}

/** Shares across a quad where straight lines run all the way down, in any of the pictures: what a view shows is no line of such length. */
function linesAcross(quad: PaneQuad, logs: readonly Plane[], turned: boolean): number[] {
  const [wide, high] = sidesOf(quad);
  const [columns, rows] = (turned ? [high, wide] : [wide, high]).map((v) => Math.max(3, Math.round(v)));
  const steps = new Float32Array(columns);
  const down = Array.from({ length: Math.min(rows, 60) }, (_, k) => 0.1 + (0.8 * (k + 0.5)) / Math.min(rows, 60));
  const step = 1 / columns;
  for (const log of logs) {
    for (let x = 0; x < columns; x++) {
      const s = (x + 0.5) * step;
      const off = down.map((t) => {
        const [a, b] = turned ? [placeIn(quad, t, s - step), placeIn(quad, t, s + step)] : [placeIn(quad, s - step, t), placeIn(quad, s + step, t)];
        return (bilinear(log, ...b) - bilinear(log, ...a)) / 2;
      });
      // All the way it is brighter on the same side.
      steps[x] = Math.max(steps[x], Math.abs(quantile(off, 0.5)));
    }
  }
  const usual = quantile(steps, 0.5);
  const lines: number[] = [];
  for (let x = 0; x < columns; x++) {
    const v = steps[x];
    if (v < LEAST_STEP || v < STANDS_OUT * usual) continue;
    let highest = true;
    for (let k = Math.max(0, x - APART); k <= Math.min(columns - 1, x + APART); k++) if (steps[k] > v || (steps[k] === v && k < x)) highest = false;
    if (highest) lines.push((x + 0.5) * step);
  }
  return lines;
}

/** A part of a window, shares across or down it. */
type Interval = readonly [number, number];

/** Panes between lines, the bars between them, and where paint at either side was told to end. */
interface Told {
  readonly panes: readonly Interval[];
  readonly bars: readonly Interval[];
  readonly painted: readonly [number | null, number | null];
}

/** What intervals of a window look like. */
interface Looks {
  /** How much like outside. */
  outside(from: number, to: number): number;
  /** Whether one paint is all that a frame shows of it, and each that shows it has another tone in what lies before or behind it: an even sky goes on. */
  isPainted(from: number, to: number, onwards: 1 | -1): boolean;
  /** Whether it is of one paint, and brighter, or darker, than what lies to either side of it: in some frame. */
  standsApart(from: number, to: number): boolean;
}

/** Quantiles of log luminance in an interval. */
interface Tones {
  readonly low: number;
  readonly middle: number;
  readonly high: number;
}
const isPaint = ({ low, middle, high }: Tones): boolean => high - low < ONE_PAINT && middle < NEARLY_CLIPPED;

/** @param tonesIn tones of an interval, for each frame */
function looksOf(outside: Looks['outside'], tonesIn: (from: number, to: number) => readonly Tones[]): Looks {
  return {
    outside,
    isPainted: (from, to, onwards) => {
      const by = to - from;
      const [own, next] = [tonesIn(from, to), onwards > 0 ? tonesIn(to, to + by) : tonesIn(from - by, from)];
      return own.some(isPaint) && own.every(({ middle }, k) => middle >= NEARLY_CLIPPED || Math.abs(middle - next[k].middle) > OTHER_TONE);
    },
    standsApart: (from, to) => {
      const by = to - from;
      const [before, own, after] = [tonesIn(from - 2 * by, from - 0.5 * by), tonesIn(from, to), tonesIn(to + 0.5 * by, to + 2 * by)];
      return own.some((tones, k) => {
        const [first, second] = [tones.middle - before[k].middle, tones.middle - after[k].middle];
        return isPaint(tones) && first * second > 0 && Math.min(Math.abs(first), Math.abs(second)) > BAR_STEP;
      });
    },
  };
}

/**
 * Panes between bars: a bar is narrow, between two lines, and looks less like outside than what lies on either side of it, since
 * lines in a view part nothing.
 * @param unsure whether no flash tells: then sides lie further in also where a frame or a reveal looks as much like outside, and bars are told by their paint
 * @param beside what was told of panes beside these
 */
function panesBetween(lines: readonly number[], length: number, { outside: looks, isPainted, standsApart }: Looks, unsure: boolean, beside: readonly Told[] = []): Told {
  const margin = AROUND / length;
  const nearest = (to: number): number => lines.filter((at) => Math.abs(at - to) < margin).sort((a, b) => Math.abs(a - to) - Math.abs(b - to))[0] ?? to;
  const frameAt = (from: number, to: number, beyond: number): boolean => unsure || looks(Math.min(from, to), Math.max(from, to)) < looks(Math.min(to, beyond), Math.max(to, beyond)) - LESS_OUTSIDE;
  const first = lines.filter((at) => at < margin + SIDE && frameAt(margin, at, at + SIDE)).at(-1) ?? nearest(margin);
  const last = lines.find((at) => at > 1 - margin - SIDE && frameAt(1 - margin, at, at - SIDE)) ?? nearest(1 - margin);
  const startHere = lines.find((at) => unsure && at > first && at < margin + SIDE_UNSURE && isPainted(first, at, 1)) ?? first;
  const endHere = lines.findLast((at) => unsure && at < last && at > 1 - margin - SIDE_UNSURE && isPainted(at, last, -1)) ?? last;
  const painted: Told['painted'] = [unsure && (startHere - margin) * length > APART && isPainted(margin, startHere, 1) ? startHere : null, unsure && (1 - margin - endHere) * length > APART && isPainted(endHere, 1 - margin, -1) ? endHere : null];
  const start = Math.max(startHere, ...beside.map((told) => told.painted[0] ?? 0));
  const end = Math.min(endHere, ...beside.map((told) => told.painted[1] ?? 1));
  const inside = lines.filter((at) => at > start && at < end);
  const goesOn = (a: number, b: number): boolean => beside.some(({ bars }) => bars.some((bar) => Math.max(Math.abs(bar[0] - a), Math.abs(bar[1] - b)) * length < APART));
  const panes: Interval[] = [];
  const bars: Interval[] = [];
  let from = start;
  for (let k = 0; k + 1 < inside.length; k++) {
    const [a, b] = [inside[k], inside[k + 1]];
    const differs = looks(a, b) <= Math.min(looks(Math.max(start, a - 3 * (b - a)), a), looks(b, Math.min(end, b + 3 * (b - a)))) - LESS_OUTSIDE;
    if ((b - a) * length > WIDEST_BAR || !(differs || (unsure && standsApart(a, b)) || goesOn(a, b))) continue;
    panes.push([from, a]);
    bars.push([a, b]);
    from = b;
    k++;
  }
  panes.push([from, end]);
  return { panes: panes.filter(([a, b]) => (b - a) * length >= SHORTEST && !(looks(a, b) <= OUTSIDE)), bars, painted };
}

/**
 * A window taken apart into its panes by the straight lines that run through all of it, bars and sides, in whichever picture
 * shows them: where a view is clipped, and by flash alone bars look much like it, only lines tell.
 * @param quad the window, places of the planes. @param logs log2 luminance of frames, of one size; @param outside how much each place looks like outside.
 * @param unsure whether the window may hold its frame and reveal, too
 * @returns its panes, or the window itself where no lines part it
 */
export function splitPane(quad: PaneQuad, logs: readonly Plane[], outside: Plane, unsure: boolean): PaneQuad[] {
  const wide = widened(quad, AROUND);
  const [across, down] = sidesOf(wide);
  const looksIn = (s0: number, s1: number, t0: number, t1: number): number => {
    const found: number[] = [];
    for (let k = 1; k < 12; k++) for (let l = 1; l < 12; l++) found.push(bilinear(outside, ...placeIn(wide, s0 + ((s1 - s0) * k) / 12, t0 + ((t1 - t0) * l) / 12)));
    return quantile(found, 0.5);
  };
  const tonesIn = (s0: number, s1: number, t0: number, t1: number): Tones[] => logs.map((log) => {
    const found: number[] = [];
    for (let k = 2; k < 11; k++) for (let l = 2; l < 11; l++) found.push(bilinear(log, ...placeIn(wide, s0 + ((s1 - s0) * k) / 12, t0 + ((t1 - t0) * l) / 12)));
    return { low: quantile(found, 0.2), middle: quantile(found, 0.5), high: quantile(found, 0.8) };
  });
  const [top, bottom] = [AROUND / down, 1 - AROUND / down];
  const columns = panesBetween(linesAcross(wide, logs, false), across, looksOf((from, to) => looksIn(from, to, top, bottom), (from, to) => tonesIn(from, to, top, bottom)), unsure).panes;
  const told = columns.map(([s0, s1]) => ({
    lines: linesAcross([placeIn(wide, s0, 0), placeIn(wide, s1, 0), placeIn(wide, s1, 1), placeIn(wide, s0, 1)], logs, true),
    looks: looksOf((from, to) => looksIn(s0, s1, from, to), (from, to) => tonesIn(s0, s1, from, to)),
  }));
  // Bars mostly run through all of a window, and its head and sill do: what is told in one column counts in the others.
  const beside = told.map(({ lines, looks }) => panesBetween(lines, down, looks, unsure));
  const panes = columns.flatMap(([s0, s1], k) => {
    const rows = panesBetween(told[k].lines, down, told[k].looks, unsure, beside).panes;
    return rows.map(([t0, t1]): PaneQuad => [placeIn(wide, s0, t0), placeIn(wide, s1, t0), placeIn(wide, s1, t1), placeIn(wide, s0, t1)]);
  });
  return panes.length > 0 ? panes : [quad];
}
