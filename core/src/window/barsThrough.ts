import type { Point } from '@zaddle/document';
import { bilinear, quantile, type Plane } from '../image/plane';
import type { PaneQuad } from './fitPane';
import { placeIn, sidesOf } from './placeIn';

/** Places along a bar that are looked at, and what of its length at either end belongs to the frame. */
const ALONG = 60;
const ENDS = 0.06;
/** Places a pixel across. */
const FINE = 2;
/** Pixels from a bar's middle, at least and at most, where what it parts is looked at: a bar wider than that is found by its lines. */
const [NEAR, FAR] = [3 * FINE, 7 * FINE];
/** How much less a bar looks like outside than both sides of it, along most of its length; and how much of its length, at least, shows so much less. */
const LESS = 0.16;
const EACH = 0.06;
const MOSTLY = 0.8;
/** What lies to both sides of a bar looks like outside so much. */
const VIEW = 0.5;
/** Pixels that bars of one pane lie apart from each other and from its sides, at least: closer lines are slats, or the pattern of what is seen. */
const APART = 8;
/** Pixels by which a bar is narrower at either side than evidence of flashes, which is smeared, tells of the thinnest. */
const SMEARED = 0.5;

/** How much brighter, or darker, than both of its sides some frame shows most of a bar, in log2 luminance; and pixels from its edges where these are looked at. */
const STANDS_APART = 0.08;
const MOST = 0.65;
const SIDES = 2;

/** A bar, shares of a pane's width or height. */
export type Bar = readonly [from: number, to: number];

/** Pixels by which the ends of bars are turned against each other, at most and step by step, to find how they run: what stands before a side may have led it astray. */
const TURN = 4;
const TURN_STEP = 0.5;
const TURNS = Array.from({ length: 1 + (2 * TURN) / TURN_STEP }, (_, k) => k * TURN_STEP - TURN);
/** How much deeper bars must dip than as the pane lies for these to be turned at all; and share of the deepest from which on turns tell how far. */
const CLEARLY = 1.03;
const ABOUT_DEEPEST = 0.9;
/** Places beyond either end that are looked at. */
const MARGIN = FAR + TURN * FINE;
/** Shares of its length at which a bar is looked at. */
const alongAt = (k: number): number => ENDS + ((1 - 2 * ENDS) * (k + 0.5)) / ALONG;

/** How much less like outside than both of its sides places of a pane are: rows along its bars, columns across, with `MARGIN` more of these at either end; NaN where that is not known, or these are no view. */
function dropsIn(pane: PaneQuad, outside: Plane, level: boolean): { readonly drops: readonly Float32Array[]; readonly columns: number } {
  const columns = Math.max(1, Math.round(FINE * sidesOf(pane)[level ? 1 : 0]));
  const wide = columns + 2 * MARGIN;
  const [sums, known, row] = [new Float64Array(wide + 1), new Int32Array(wide + 1), new Float32Array(wide)];
  const meanOf = (from: number, to: number): number => (sums[to + 1] - sums[from]) / (known[to + 1] - known[from]);
  const drops = Array.from({ length: ALONG }, (_, k) => {
    const t = alongAt(k);
    for (let c = 0; c < wide; c++) {
      const s = (c - MARGIN + 0.5) / columns;
      row[c] = bilinear(outside, ...(level ? placeIn(pane, t, s) : placeIn(pane, s, t)));
      const isKnown = row[c] === row[c];
      sums[c + 1] = sums[c] + (isKnown ? row[c] : 0);
      known[c + 1] = known[c] + (isKnown ? 1 : 0);
    }
    return Float32Array.from(row, (v, c) => {
      if (c < FAR || c >= wide - FAR) return NaN;
      const by = Math.min(meanOf(c - FAR, c - NEAR), meanOf(c + NEAR, c + FAR));
      return by >= VIEW ? by - v : NaN;
    });
  });
  return { drops, columns };
}

/** How deep places across dip, along most of the way, where bars are turned by pixels from end to end; 0 where not all of it is as deep. */
function dipsAlong(drops: readonly Float32Array[], columns: number, by: number): Float32Array {
  const shifts = drops.map((_, k) => MARGIN + Math.round(FINE * by * (0.5 - alongAt(k))));
  const dips = new Float32Array(columns);
  const found = new Float32Array(drops.length);
  // A bar parts a pane: along its sides lies what frames it.
  for (let c = APART * FINE; c < columns - APART * FINE; c++) {
    let [n, sum] = [0, 0];
    for (let k = 0; k < drops.length; k++) {
      const drop = drops[k][c + shifts[k]];
      if (drop !== drop) continue;
      found[n++] = drop;
      sum += drop;
    }
    if (n < ALONG / 2 || sum < EACH * n) continue;
    const told = found.subarray(0, n);
    if (quantile(told, 1 - MOSTLY) > EACH) dips[c] = quantile(told, 0.5);
  }
  return dips;
}

/** Pixels by which bars are turned from end to end where they dip deepest: the middle of the turns about it, as finely as that tells. */
function turnOf(drops: readonly Float32Array[], columns: number): number {
  const depths = TURNS.map((by) => dipsAlong(drops, columns, by).reduce((sum, dip) => sum + dip ** 2, 0));
  const deepest = Math.max(...depths);
  if (deepest <= CLEARLY * depths[TURNS.indexOf(0)]) return 0;
  const weights = depths.map((depth) => Math.max(0, depth - ABOUT_DEEPEST * deepest));
  return weights.reduce((sum, w, k) => sum + w * TURNS[k], 0) / weights.reduce((sum, w) => sum + w, 0);
}

/** Where bars lie by such dips, shares of the way across: half of its depth is where a bar ends, but for what smearing added. */
function barsOf(dips: Float32Array): Bar[] {
  const bars: Bar[] = [];
  for (let c = 0; c < dips.length; c++) {
    if (dips[c] < LESS) continue;
    let [from, to, deepest] = [c, c, 0];
    while (from > 0 && dips[from - 1] > 0) from--;
    while (to + 1 < dips.length && dips[to + 1] > 0) to++;
    for (let k = from; k <= to; k++) deepest = Math.max(deepest, dips[k]);
    const last = to;
    while (dips[from] < deepest / 2) from++;
    while (dips[to] < deepest / 2) to--;
    const less = Math.min(SMEARED * FINE, (to - from) / 2 - FINE / 4);
    bars.push([(from + less) / dips.length, (to + 1 - less) / dips.length]);
    c = last;
  }
  return bars;
}

/** A pane whose standing, or level, sides are turned by pixels from end to end. */
function turned([a, b, c, d]: PaneQuad, by: number, level: boolean): PaneQuad {
  const moved = ([x, y]: Point, sign: 1 | -1): Point => (level ? [x, y + (sign * by) / 2] : [x + (sign * by) / 2, y]);
  return level ? [moved(a, 1), moved(b, -1), moved(c, -1), moved(d, 1)] : [moved(a, 1), moved(b, 1), moved(c, -1), moved(d, -1)];
}

/** Whether some frame shows most of a bar brighter, or darker, than what lies to either side of it: an edge in the view dips, too, where frames are not quite in line, but it is none of these. */
function standsApart(pane: PaneQuad, [from, to]: Bar, logs: readonly Plane[], level: boolean): boolean {
  const by = SIDES / sidesOf(pane)[level ? 1 : 0];
  const places = Array.from({ length: ALONG }, (_, k) => [from - by, (from + to) / 2, to + by].map((s) => (level ? placeIn(pane, alongAt(k), s) : placeIn(pane, s, alongAt(k)))));
  return logs.some((log) => {
    const seen = places.map((row) => row.map(([x, y]) => bilinear(log, x, y)));
    const darker = quantile(seen.map(([a, bar, b]) => Math.min(a, b) - bar), 1 - MOST);
    const brighter = quantile(seen.map(([a, bar, b]) => bar - Math.max(a, b)), 1 - MOST);
    return Math.max(darker, brighter) > STANDS_APART;
  });
}

/**
 * Thin bars that run straight through a pane from side to side, by flashes: these lift a bar and not the view to both sides of it. It may be
 * narrower than what one pixel tells; all of its length tells together, and nothing that a view shows is lifted along a line from side to side.
 * @param outside how much each place looks like outside, NaN where that is not known. @param logs log2 luminance of frames. @param level bars that lie, else ones that stand
 * @returns the pane with sides that run as its bars do, and these, shares across (standing bars) or down (level ones), in order
 */
export function barsThrough(pane: PaneQuad, outside: Plane, logs: readonly Plane[], level: boolean): { readonly pane: PaneQuad; readonly bars: readonly Bar[] } {
  const length = sidesOf(pane)[level ? 1 : 0];
  const { drops, columns } = dropsIn(pane, outside, level);
  const by = turnOf(drops, columns);
  const asBarsRun = turned(pane, by, level);
  const bars = barsOf(dipsAlong(drops, columns, by)).filter((bar) => standsApart(asBarsRun, bar, logs, level));
  return bars.length > 0 && bars.every(([from], k) => k === 0 || (from - bars[k - 1][1]) * length > APART) ? { pane: asBarsRun, bars } : { pane, bars: [] };
}

/** Shares between bars. */
function gaps(bars: readonly Bar[]): Bar[] {
  const ends = [0, ...bars.flat(), 1];
  return Array.from({ length: bars.length + 1 }, (_, k): Bar => [ends[2 * k], ends[2 * k + 1]]);
}

/**
 * A pane taken apart by the thin bars that run through it; itself where there are none.
 * @param refined a pane with each side moved, as it runs, to where it is seen
 */
export function panesBetweenBars(pane: PaneQuad, outside: Plane, logs: readonly Plane[], refined: (pane: PaneQuad) => PaneQuad): PaneQuad[] {
  const [standing, lying] = [false, true].map((level) => barsThrough(pane, outside, logs, level));
  if (standing.bars.length + lying.bars.length === 0) return [pane];
  const whole = refined(barsThrough(standing.pane, outside, logs, true).pane);
  const [columns, rows] = [false, true].map((level) => gaps(barsThrough(whole, outside, logs, level).bars));
  return columns.flatMap(([s0, s1]) => rows.map(([t0, t1]): PaneQuad => [placeIn(whole, s0, t0), placeIn(whole, s1, t0), placeIn(whole, s1, t1), placeIn(whole, s0, t1)]));
}
