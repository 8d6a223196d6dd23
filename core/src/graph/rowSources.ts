import { coordCount, fallsOff, showsFringe, writeRowCoords, writeRowGains, type ComposedMap } from '../geometry/composedMap';
import type { Arena } from '../kernels/arena';
import { CHUNK, SEGMENT, type Kernels, type Pointer } from '../kernels/kernels';
import type { KeptRows } from '../kind/keeper';
import type { PlacedPlane } from '../kind/placing';
import { codePlane, nextChunk, rowPlane, type Chunks, type FrameRow, type Scratch } from '../kind/rowScratch';
import type { RowWork } from '../kind/rowWork';
import type { PlacedMix } from './placedMix';
import { newFrameRow, newScratch } from './rowBuffers';

/** Marks chunks of the merge that are being joined. */
const JOINING = 2;

/** Shares below this are nothing. */
export const NOTHING = 1 / 255;

/**
 * Brings what a row is made of: every frame is interpolated once and only where it is needed, the bracket joined likewise;
 * what is kept from an earlier evaluation is read instead of made, and what is to be kept is made whole. Nothing is
 * allocated. Belongs to one thread.
 */
export class RowSources implements RowWork {
  readonly s: Scratch;
  private readonly frames: readonly FrameRow[];
  private readonly merged: Chunks;
  readonly wanted: Chunks;
  private readonly asked: Chunks;
  readonly all: Chunks;
  readonly flagView: Chunks;
  private readonly bytes: Uint8Array;
  private readonly coordView: Float64Array;
  private readonly fringeView: Float64Array;
  readonly belowView: Float32Array;
  private readonly mergeView: Float32Array;
  readonly maskView: Float32Array;
  private readonly restView: Float32Array;
  readonly areaView: Float32Array;
  readonly strokeView: Float32Array;
  readonly memory: Float32Array;
  private readonly codePlane: number;
  /** Where the merged row at hand lies: three planes and its cover. */
  mergeAt: Pointer;
  gathered: Pointer;
  /** Layers that are open, and whether a pass is being changed by those tied to it. */
  private depth = 0;
  private holding = false;
  runStart = 0;
  readonly width: number;

  /** @param elsewhere brings rows of what is below a pass as it is seen elsewhere */
  constructor(readonly kernels: Kernels, arena: Arena, private readonly mix: PlacedMix, readonly elsewhere: RowWork['elsewhere']) {
    this.width = mix.width;
    const plane = rowPlane(mix.width);
    this.codePlane = codePlane(mix.width);
    const chunks = Math.ceil(mix.width / CHUNK);
    this.s = newScratch(arena, mix.width);
    const floats = (at: Pointer, planes: number): Float32Array => arena.floats(at, (plane * planes) / 4);
    floats(this.s.ones, 1).fill(1);
    floats(this.s.zeros, 1).fill(0);
    floats(this.s.logY, 1).fill(0);
    this.belowView = floats(this.s.below, 3);
    this.mergeView = floats(this.s.merge, 4);
    this.maskView = floats(this.s.mask, 1);
    this.restView = floats(this.s.rest, 1);
    this.areaView = floats(this.s.area, 1);
    this.strokeView = floats(this.s.stroke, 1);
    this.memory = new Float32Array(arena.buffer, 0, Math.floor(arena.buffer.byteLength / 4));
    this.mergeAt = this.s.merge;
    [this.gathered] = this.s.layers;
    this.fringeView = new Float64Array(arena.buffer, this.s.fringeCoords, coordCount(mix.width));
    this.coordView = new Float64Array(arena.buffer, this.s.coords, coordCount(mix.width));
    this.bytes = new Uint8Array(arena.buffer);
    this.flagView = new Uint8Array(arena.buffer, this.s.flags, chunks);
    [this.merged, this.wanted, this.asked, this.all] = [0, 0, 0, 1].map((v) => new Uint8Array(chunks).fill(v));
    this.frames = mix.frames.map(() => newFrameRow(arena, mix.width));
  }

  beginRow(y: number): void {
    for (let k = 0; k < this.frames.length; k++) {
      const row = this.frames[k];
      const { kept } = this.mix.frames[k];
      row.located = false;
      row.made = kept !== null && this.isMade(kept, y);
      row.warped.fill(row.made ? 1 : 0);
      row.codes = kept ? kept.at + y * kept.rowBytes : row.ownCodes;
      row.cover = kept ? row.codes + this.codePlane * 3 : row.ownCover;
    }
    this.merged.fill(0);
    this.mergeAt = this.s.merge;
    this.depth = 0;
    this.holding = false;
  }

  clearRow(at: Pointer, planes: number): void {
    this.bytes.fill(0, at, at + this.s.plane * planes);
  }

  /** Begins layers that nothing covers yet. */
  open(count: number): void {
    for (; count > 0; count--) {
      this.clearRow(this.s.layers[this.depth++], 4);
    }
  }

  /** Ends the innermost layer: it is what a bundle has gathered. */
  close(): void {
    this.gathered = this.s.layers[--this.depth];
  }

  /** Where the innermost open layer lies; null: none is open. */
  layer(): Pointer | null {
    return this.depth > 0 ? this.s.layers[this.depth - 1] : null;
  }

  /** Puts a source aside while passes that are tied to it change it, and back. */
  hold(on: boolean): void {
    const { s } = this;
    this.copyRow(on ? s.source : s.tied, on ? s.tied : s.source, 3);
    this.holding = on;
  }

  /** Lets masks look at the source at hand as what is below. */
  lookAtSource(): void {
    this.hold(true);
  }

  underRow(): Pointer {
    const { s } = this;
    if (this.holding) return s.tied;
    if (this.depth === 0) return s.below;
    this.copyRow(s.below, s.under, 3);
    for (let level = 0; level < this.depth; level++) this.kernels.overRow(s.under, s.plane, s.layers[level], s.plane, this.mix.width);
    return s.under;
  }

  copyBytes(from: Pointer, to: Pointer, count: number): void {
    this.bytes.copyWithin(to, from, from + count);
  }

  isMade(rows: KeptRows, y: number): boolean {
    return this.bytes[rows.ready + y] === 1;
  }

  /** Copies a row of planes. */
  copyRow(from: Pointer, to: Pointer, planes: number): void {
    this.bytes.copyWithin(to, from, from + this.s.plane * planes);
  }

  keepRow(rows: KeptRows, y: number, from: Pointer, planes: number): void {
    if (this.isMade(rows, y)) return;
    this.copyRow(from, rows.at + y * rows.rowBytes, planes);
    this.bytes[rows.ready + y] = 1;
  }

  /** First pixel and length of the next run of flagged chunks from chunk `from` on; length 0 when there is none. */
  nextRun(chunks: Chunks, from: number): number {
    let c = from;
    while (c < chunks.length && !chunks[c]) c++;
    this.runStart = c * CHUNK;
    const first = c;
    while (c < chunks.length && chunks[c]) c++;
    return Math.min((c - first) * CHUNK, this.mix.width - this.runStart);
  }

  /** Makes sure that frame k is interpolated in these chunks; in all of them where its row is to be kept. */
  private warp(k: number, y: number, asked: Chunks): void {
    const { source, map, kept } = this.mix.frames[k];
    const row = this.frames[k];
    if (row.made) return;
    const chunks = kept ? this.all : asked;
    const kernel = source.depth === 8 ? this.kernels.warpRow8 : this.kernels.warpRow16;
    for (let c = 0; c < chunks.length; c++) {
      if (!chunks[c] || row.warped[c]) continue;
      if (!row.located) this.locate(row, map, y);
      const first = c;
      while (c < chunks.length && chunks[c] && !row.warped[c]) row.warped[c++] = 1;
      const x = first * CHUNK;
      const n = Math.min(c * CHUNK, this.mix.width) - x;
      kernel(source.at, source.width, source.height, row.coords + x, n, this.mix.phases, row.codes + x * 2, this.codePlane, row.cover + x * 4);
      for (let each = first; each < c; each++) this.warpFringes(k, y, each);
      c--;
    }
    if (kept) {
      row.made = true;
      this.bytes[kept.ready + y] = 1;
    }
  }

  /** Takes red and blue of a chunk from where the lens put them, if that shows there: told chunk by chunk, so that it does not depend on what else was asked for. */
  private warpFringes(k: number, y: number, chunk: number): void {
    const { map } = this.mix.frames[k];
    const x = chunk * CHUNK;
    const n = Math.min(CHUNK, this.mix.width - x);
    if (!showsFringe(map, this.frames[k].coordView, x / SEGMENT, Math.ceil((x + n) / SEGMENT))) return;
    this.warpFringe(k, y, x, n, map.lens.red, 0);
    this.warpFringe(k, y, x, n, map.lens.blue, 2);
  }

  /** Where row y lies in the frame, and how much light was lost there. */
  private locate(row: FrameRow, map: ComposedMap, y: number): void {
    writeRowCoords(map, 0, y, this.mix.width, row.coordView);
    if (fallsOff(map)) writeRowGains(map, row.coordView, this.mix.width, row.gainView);
    row.located = true;
  }

  /** Interpolates n pixels from x on once more, where one colour's own picture lies, and takes that colour from there. */
  private warpFringe(k: number, y: number, x: number, n: number, fringe: number, channel: 0 | 2): void {
    if (fringe === 0) return;
    const { source, map } = this.mix.frames[k];
    const { s, kernels } = this;
    const kernel = source.depth === 8 ? kernels.warpRow8 : kernels.warpRow16;
    writeRowCoords(map, x, y, n, this.fringeView, fringe);
    kernel(source.at, source.width, source.height, s.fringeCoords, n, this.mix.phases, s.fringe, this.codePlane, s.stroke);
    const offset = this.codePlane * channel;
    this.bytes.copyWithin(this.frames[k].codes + offset + x * 2, s.fringe + offset, s.fringe + offset + n * 2);
  }

  /** Makes sure that frame k's codes are there in these chunks, and what undoes its fall-off of light. @returns whether there is such. */
  private prepare(k: number, y: number, chunks: Chunks): boolean {
    this.warp(k, y, chunks);
    const { map } = this.mix.frames[k];
    const shaded = fallsOff(map);
    if (shaded && !this.frames[k].located) this.locate(this.frames[k], map, y);
    return shaded;
  }

  /** Light of frame k in these chunks, into the source buffer. */
  light(k: number, y: number, matrix: Pointer, chunks: Chunks): void {
    const shaded = this.prepare(k, y, chunks);
    const { s, mix, kernels } = this;
    for (let n = this.nextRun(chunks, 0); n > 0; n = this.nextRun(chunks, nextChunk(this.runStart + n))) {
      kernels.lineariseRow(this.frames[k].codes + this.runStart * 2, this.codePlane, n, mix.tables, matrix, s.source + this.runStart * 4, s.plane);
      if (shaded) kernels.shadeRow(s.source + this.runStart * 4, s.plane, n, this.frames[k].gains + (this.runStart / SEGMENT) * 4);
    }
  }

  /** Joins the ambient frames in these chunks; in all of them where the row is to be kept. Says where it lies in `mergeAt`. */
  ensureMerge(y: number, chunks: Chunks): void {
    const kept = this.mix.mergeKept;
    if (kept) this.mergeAt = kept.at + y * kept.rowBytes;
    if (kept && this.isMade(kept, y)) return;
    this.joinMembers(y, kept ? this.all : chunks);
    if (!kept) return;
    this.copyRow(this.s.merge, this.mergeAt, 4);
    this.bytes[kept.ready + y] = 1;
  }

  /** Each frame is asked only where the brighter ones left something over. */
  private joinMembers(y: number, chunks: Chunks): void {
    const { s, mix, kernels, asked } = this;
    let any = false;
    for (let c = 0; c < chunks.length; c++) {
      asked[c] = chunks[c] && !this.merged[c] ? 1 : 0;
      if (!asked[c]) continue;
      any = true;
      this.merged[c] = JOINING;
    }
    if (!any) return;
    for (let n = this.nextRun(asked, 0); n > 0; n = this.nextRun(asked, nextChunk(this.runStart + n))) {
      const x = this.runStart;
      // Kernels work in fours: what they touch behind the row is defined, too.
      const to = x + ((n + 3) & ~3);
      this.restView.fill(1, x, to);
      for (let p = 0; p < 4; p++) this.mergeView.fill(0, (p * s.plane) / 4 + x, (p * s.plane) / 4 + to);
    }
    for (const member of mix.merge) {
      const row = this.frames[member.frame];
      const shaded = this.prepare(member.frame, y, asked);
      for (let n = this.nextRun(asked, 0); n > 0; n = this.nextRun(asked, nextChunk(this.runStart + n))) {
        const x = this.runStart;
        kernels.joinRow(row.codes + x * 2, this.codePlane, row.cover + x * 4, n, member.weights, mix.tables, member.matrix, shaded ? row.gains + (x / SEGMENT) * 4 : 0, s.merge + x * 4, s.plane, s.rest + x * 4);
      }
      kernels.chunksRow(s.rest, mix.width, NOTHING, s.flags);
      any = false;
      for (let c = 0; c < asked.length; c++) {
        asked[c] &= this.flagView[c];
        if (asked[c]) any = true;
      }
      if (!any) break;
    }
    for (let c = 0; c < chunks.length; c++) asked[c] = this.merged[c] === JOINING ? (this.merged[c] = 1) : 0;
    for (let n = this.nextRun(asked, 0); n > 0; n = this.nextRun(asked, nextChunk(this.runStart + n))) {
      // The sum of weights makes room for the cover: each value is read before it is written.
      kernels.normaliseRow(s.merge + this.runStart * 4, s.plane, n, s.merge + s.plane * 3 + this.runStart * 4);
    }
  }

  coverOf(frame: number): Pointer {
    return this.frames[frame].cover;
  }

  referenceCoords(y: number): void {
    writeRowCoords(this.mix.referenceMap, 0, y, this.mix.width, this.coordView);
  }

  plane(placed: PlacedPlane, y: number, out: Pointer): void {
    writeRowCoords(placed.map, 0, y, this.mix.width, this.coordView);
    this.kernels.planeRow(placed.at, placed.map.width, placed.map.height, this.s.coords, this.mix.width, out);
  }
}
