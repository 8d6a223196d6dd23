import type { SourcePass, Triple } from '@zaddle/document';
import { scaleMatrix, SRGB_TO_WORKING } from '../colour/primaries';
import type { Pointer } from '../kernels/kernels';
import type { BringingPass } from '../kind/passEvaluation';
import { identity } from '../kind/keeper';
import type { PlacedPlane, Placing } from '../kind/placing';
import { nextChunk } from '../kind/rowScratch';
import type { RowWork } from '../kind/rowWork';
import { noteClipped, whitenClipped } from './clippedWhite';
import { applyGains, gainsOf } from './gains';
import { matchRow } from './matchRow';
import { placeAround } from './placeAround';

type PlacedFrom =
  | { readonly kind: 'frame'; readonly frame: number; readonly matrix: Pointer }
  | { readonly kind: 'merge'; readonly gains: Triple }
  | { readonly kind: 'below'; readonly gains: Triple }
  /** `share` of the merge is what the frame recorded of the ambient light. */
  | { readonly kind: 'flash'; readonly frame: number; readonly matrix: Pointer; readonly share: number; readonly gains: Triple }
  /** `share` of the light of another frame is what both recorded. */
  | { readonly kind: 'switched'; readonly frame: number; readonly matrix: Pointer; readonly without: number; readonly withoutMatrix: Pointer; readonly share: number; readonly gains: Triple };

interface PlacedSourcePass {
  readonly from: PlacedFrom;
  /** What brings its light to that around its mask, less 1: a plane a channel; null: it stays as it comes. */
  readonly matching: readonly PlacedPlane[] | null;
}

function placeFrom(pass: SourcePass, placing: Placing): { from: PlacedFrom; key: string } {
  const { source } = pass;
  if (source.kind === 'merge' || source.kind === 'below') return { from: { kind: source.kind, gains: gainsOf(pass) }, key: '' };
  const use = placing.mix.frames[source.frame];
  // A pass that is lined up by itself reads its frame through a map of its own.
  const frame = pass.alignment ? placing.placeFrame(source.frame, { ...use, homography: pass.alignment, mesh: null }) : placing.frame(source.frame);
  const key = `${placing.frameKey(frame)} ${use.balance.join()} ${use.stops}`;
  if (source.kind === 'flash') return { from: { kind: 'flash', frame, matrix: placing.frameMatrix(frame), share: 2 ** use.stops, gains: gainsOf(pass) }, key };
  if (source.kind === 'switched') {
    const [without, other] = [placing.frame(source.without), placing.mix.frames[source.without]];
    return { from: { kind: 'switched', frame, matrix: placing.frameMatrix(frame), without, withoutMatrix: placing.frameMatrix(without), share: 2 ** (use.stops - other.stops), gains: gainsOf(pass) }, key: `${key} ${placing.frameKey(without)} ${other.balance.join()} ${other.stops}` };
  }
  return { from: { kind: 'frame', frame, matrix: placing.once(scaleMatrix(SRGB_TO_WORKING, gainsOf(pass), use.balance)) }, key };
}

/** Brings a row of the source into `s.source`, without its gains, and says where its cover lies. */
function sourceRow(from: PlacedFrom, work: RowWork, y: number): Pointer {
  if (from.kind === 'below') {
    work.copyRow(work.underRow(), work.s.source, 3);
    return work.s.ones;
  }
  // The merge uses the source buffer on its way, so it comes first.
  if (from.kind === 'merge' || from.kind === 'flash') work.ensureMerge(y, work.wanted);
  if (from.kind === 'merge') {
    work.copyRow(work.mergeAt, work.s.source, 3);
    return work.mergeAt + work.s.plane * 3;
  }
  const { s } = work;
  if (from.kind === 'switched') {
    work.light(from.without, y, from.withoutMatrix, work.wanted);
    work.copyRow(s.source, s.pieces, 3);
  }
  work.light(from.frame, y, from.matrix, work.wanted);
  if (from.kind !== 'switched') return work.coverOf(from.frame);
  noteClipped(work);
  // Only what both frames have tells what the one has more.
  work.kernels.multiply(work.coverOf(from.frame), work.coverOf(from.without), work.width, s.pieces + 3 * s.plane);
  return s.pieces + 3 * s.plane;
}

/** A pass that brings a frame, the merge, what is below it, or what one frame has more than others. */
export const sourcePass: BringingPass<SourcePass, PlacedSourcePass> = {
  does: 'brings',
  gathers: false,
  fromAround: (pass) => (pass.matched && pass.mask.length > 0 ? 'gains' : null),
  place(pass, placing, around) {
    const { from, key } = placeFrom(pass, placing);
    return around ? { placed: { from, matching: placeAround(around, placing) }, key: `${key} ${identity(around)}` } : { placed: { from, matching: null }, key };
  },
  row({ from, matching }, work, y) {
    const { s, kernels, wanted } = work;
    const cover = sourceRow(from, work, y);
    if (from.kind === 'flash' || from.kind === 'switched') {
      const other = from.kind === 'flash' ? work.mergeAt : s.pieces;
      for (let n = work.nextRun(wanted, 0); n > 0; n = work.nextRun(wanted, nextChunk(work.runStart + n))) {
        const x = work.runStart * 4;
        kernels.subtractRow(s.source + x, s.plane, other + x, s.plane, n, from.share);
      }
    }
    if (from.kind !== 'frame') applyGains(from.gains, work);
    if (from.kind === 'switched') whitenClipped(work);
    if (matching) matchRow(matching, work, y);
    return cover;
  },
};
