import type { Triple } from '@zaddle/document';
import { boxAround, halfLook, healFeatures, meanNear, placesOf, withoutBroad, type HealFeatures, type HealLook } from './healLook';
import { PatchLabels } from './labelPatches';
import { patchOffsets } from './patchOffsets';
import { pieceGains } from './pieceGains';
import { refineLabels, type Offset } from './refineLabels';
import { finerShifts, rimShifts, type Shift } from './rimShifts';

/** What each pixel of a hole is taken by, on one grid: an index of `offsets`, -1 outside. */
export interface HealLabels {
  readonly labels: Int16Array;
  readonly width: number;
  /** Pixels of the finest grid to one of this. */
  readonly scale: number;
  /** Pixels of the finest grid. */
  readonly offsets: readonly Offset[];
  /** What brings each piece to the light of those beside it. */
  readonly gains: readonly Triple[];
}

/** Pixels of the longer side on which offsets are looked for. */
const COARSE = 132;
/** Longer side of a place, finest pixels, up to which it is taken as a whole. */
const SMALL = 56;
/** Offsets that pixels may be taken by, and pieces that are left in the end. */
const REPEATING = 24;
const WHOLE = 8;
const WHOLE_AMONG = 5;
/** How often each is tried, on the coarsest grid and on finer ones. */
const ROUNDS = 2;
const FINER_ROUNDS = 1;
const MOST_PIECES = 10;
/** Share of the broad course of light that need not fit. */
const BROAD = 0.6;
/** Pixels of a hole up to which its seams are worked out once more on a finer grid. */
const FINER = 12_000;
/** Stops a pixel below which nothing is rough. */
const STILL = 0.03;
/** How many results there are to choose from. */
const RESULTS = 3;

interface Level {
  readonly look: HealLook;
  readonly features: HealFeatures;
}

/** The same place from fine to coarse. */
function levelsOf(look: HealLook): Level[] {
  const levels: Level[] = [{ look, features: healFeatures(look) }];
  for (;;) {
    const { look: last } = levels[levels.length - 1];
    if (Math.max(last.picture.width, last.picture.height) <= COARSE) return levels;
    const half = halfLook(last);
    levels.push({ look: half, features: healFeatures(half) });
  }
}

function longerSide({ hole, picture: { width } }: HealLook): number {
  const { left, right, top, bottom } = boxAround(placesOf(hole), width);
  return Math.max(right - left, bottom - top) + 1;
}

/** All of a place from one other. */
const whole = ({ look: { hole, picture: { width } } }: Level, { dx, dy }: Offset): HealLabels => ({ labels: Int16Array.from(hole, (h) => (h ? 0 : -1)), width, scale: 1, offsets: [{ dx, dy }], gains: [[1, 1, 1]] });

/** 1 where a square about a pixel is known. */
function knownSquares({ look: { hole, open, picture: { width, height } } }: Level, half: number): Uint8Array {
  const known = new Uint8Array(hole.length);
  for (let y = half; y < height - half; y++) for (let x = half; x < width - half; x++) {
    let all = 1;
    for (let v = -half; v <= half && all; v++) for (let u = -half; u <= half && all; u++) all = open[(y + v) * width + x + u] && !hole[(y + v) * width + x + u] ? 1 : 0;
    known[y * width + x] = all;
  }
  return known;
}

/** Labels with no more offsets than a document takes, those that are used. */
function fewer(labels: Int16Array, offsets: readonly Offset[]): { kept: number[]; offsets: Offset[] } {
  const counts = new Array<number>(offsets.length).fill(0);
  for (const label of labels) if (label >= 0) counts[label] += 1;
  const kept = counts.map((n, label) => ({ n, label })).filter(({ n }) => n > 0).sort((a, b) => b.n - a.n).slice(0, MOST_PIECES).map(({ label }) => label);
  return { kept, offsets: kept.map((label) => offsets[label]) };
}

/** Each pixel's label on a grid twice as fine, as far as the hole goes there. */
function finerLabels(labels: Int16Array, width: number, { look: { hole, picture } }: Level): Int16Array {
  const finer = new Int16Array(hole.length).fill(-1);
  const height = labels.length / width;
  for (const i of placesOf(hole)) {
    const [x, y] = [Math.min(width - 1, (i % picture.width) >> 1), Math.min(height - 1, Math.floor(i / picture.width) >> 1)];
    finer[i] = Math.max(0, labels[y * width + x]);
  }
  return finer;
}

/** A hole put together from pieces. @param offsets what they may be taken by, coarsest pixels, the best for all of it first; null: it cannot be filled so */
function pieced(levels: readonly Level[], offsets: readonly Offset[]): HealLabels | null {
  let depth = levels.length - 1;
  const solve = (k: number, those: readonly Offset[], start: Int16Array | null = null): PatchLabels => {
    const { look, features } = levels[k];
    const known = Uint8Array.from(look.hole, (h, i) => (h || !look.open[i] ? 0 : 1));
    const about = Math.max(4, Math.round(longerSide(look) / 4));
    const logs = withoutBroad(features, known, about, BROAD);
    const rough = features.rough.map((v) => Math.log2(v + STILL));
    const usual = { logs: logs.map((log) => meanNear(look.picture, log, known, about)), rough: meanNear(look.picture, rough, known, about) };
    return new PatchLabels({ size: look.picture, logs, rough, usual, hole: look.hole, open: look.open }, those, start);
  };
  const first = solve(depth, offsets);
  const chosen = fewer(first.solve(ROUNDS), offsets);
  let few = chosen.offsets;
  let patches = solve(depth, few);
  let labels = patches.solve(ROUNDS);
  if (!patches.isWhole()) return null;
  let { width } = levels[depth].look.picture;
  let [at, scale] = [labels, 2 ** depth];
  few = refineLabels(levels[depth].features, labels, levels[depth].look.open, few, depth === 0);
  // Offsets are refined down to the finest grid; seams as far as that pays.
  for (let grid = { labels, width }; depth > 0; ) {
    depth -= 1;
    const level = levels[depth];
    few = few.map(({ dx, dy }) => ({ dx: dx * 2, dy: dy * 2 }));
    labels = finerLabels(grid.labels, grid.width, level);
    few = refineLabels(level.features, labels, level.look.open, few, depth === 0);
    if (placesOf(level.look.hole).length <= FINER && scale === 2 ** (depth + 1)) {
      patches = solve(depth, few.map(({ dx, dy }) => ({ dx: Math.round(dx), dy: Math.round(dy) })), labels);
      const solved = patches.solve(FINER_ROUNDS);
      if (patches.isWhole()) {
        labels = solved;
        [at, width, scale] = [labels, level.look.picture.width, 2 ** depth];
      }
    }
    grid = { labels, width: level.look.picture.width };
  }
  const { look, features } = levels[Math.log2(scale)];
  const gains = pieceGains(features, at, look.open, few.map(({ dx, dy }) => ({ dx: dx / scale, dy: dy / scale })));
  return { labels: at, width, scale, offsets: few, gains };
}

/**
 * Ways to heal a place from the picture about it, the best first: small ones are taken as a whole from where their rim fits; larger ones are put
 * together from pieces, by the offsets at which the picture repeats itself, along the seams that show least. Each is worked out when it is asked for.
 */
export function* healLabels(look: HealLook): Generator<HealLabels> {
  const levels = levelsOf(look);
  const coarsest = levels[levels.length - 1];
  const shifts = rimShifts(coarsest.features, coarsest.look.hole, coarsest.look.open, WHOLE);
  const asWhole = (count: number): HealLabels[] => {
    const finest = levels.slice(0, -1).reverse().reduce((found: readonly Shift[], { features, look: { hole, open } }) => finerShifts(features, hole, open, found), shifts.slice(0, 2 * count));
    return [...finest].sort((a, b) => a.cost - b.cost).slice(0, count).map((shift) => whole(levels[0], shift));
  };
  const small = longerSide(look) <= SMALL ? asWhole(RESULTS) : [];
  if (small.length > 0) return yield* small;
  const repeating = patchOffsets(coarsest.features, coarsest.features.logs, knownSquares(coarsest, 3), REPEATING);
  const offsets: Offset[] = [...shifts.slice(0, WHOLE_AMONG), ...repeating];
  if (offsets.length === 0) return;
  const best = pieced(levels, offsets);
  if (best) yield best;
  // Another that does without what the first took most of.
  const main = best ? mainOffset(best) : null;
  const reach = 0.4 * longerSide(coarsest.look);
  const scale = 2 ** (levels.length - 1);
  const others = main ? offsets.filter(({ dx, dy }) => Math.hypot(dx - main.dx / scale, dy - main.dy / scale) > reach) : [];
  const second = others.length > 0 ? pieced(levels, others) : null;
  if (second) yield second;
  yield* asWhole(RESULTS - (best ? 1 : 0) - (second ? 1 : 0));
}

/** The offset by which most of it is taken. */
function mainOffset({ labels, offsets }: HealLabels): Offset {
  const counts = new Array<number>(offsets.length).fill(0);
  for (const label of labels) if (label >= 0) counts[label] += 1;
  return offsets[counts.indexOf(Math.max(...counts))];
}
