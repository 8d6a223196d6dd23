import { coordCount, fallsOff, planePosition, showsFringe, writeRowCoords, writeRowGains, type ComposedMap } from '../geometry/composedMap';
import type { Arena } from '../kernels/arena';
import { CHUNK, SEGMENT, type Kernels, type Pointer } from '../kernels/kernels';
import type { KeptRows } from './keeper';
import { codePlane, rowPlane, type PlacedArea, type PlacedMix, type PlacedPass } from './placeMix';
import { SEGMENT_FIELDS, STROKE_FIELDS } from './strokes';
import type { Chunks, FrameRow, Scratch } from './rowScratch';

/** Masks and shares below this are nothing. */
const NOTHING = 1 / 255;

/** Sentinel of a row that no stage of a brush area is kept for. */
const NO_STAGE = -1;

/**
 * Evaluates a placed mix row by row, at whatever level its grid has: guide, screen, 1:1 and delivery alike. Every frame is
 * interpolated once and only where it is needed; what is kept from an earlier evaluation is read instead of made, and what
 * is to be kept is made whole. Nothing is allocated. One renderer belongs to one thread.
 */
export class RowRenderer {
  private readonly s: Scratch;
  private readonly frames: readonly FrameRow[];
  private readonly merged: Chunks;
  private readonly wanted: Chunks;
  private readonly asked: Chunks;
  private readonly all: Chunks;
  private readonly flagView: Chunks;
  private readonly bytes: Uint8Array;
  private readonly coordView: Float64Array;
  private readonly fringeView: Float64Array;
  private readonly belowView: Float32Array;
  private readonly mergeView: Float32Array;
  private readonly maskView: Float32Array;
  private readonly restView: Float32Array;
  private readonly areaView: Float32Array;
  private readonly strokeView: Float32Array;
  private readonly floatsView: Float32Array;
  private readonly codePlane: number;
  /** Where the merged row at hand lies: three planes and its cover. */
  private mergeAt: Pointer;

  constructor(private readonly kernels: Kernels, arena: Arena, private readonly mix: PlacedMix) {
    const plane = rowPlane(mix.width);
    this.codePlane = codePlane(mix.width);
    const chunks = Math.ceil(mix.width / CHUNK);
    const coords = arena.take(coordCount(mix.width) * 8);
    const take = (planes: number): Pointer => arena.take(plane * planes);
    this.s = {
      plane, coords,
      below: take(3), source: take(3), merge: take(4), rest: take(1), mask: take(1), area: take(1), a: take(1), b: take(1),
      logY: take(1), ones: take(1), zeros: take(1), flags: arena.take(chunks), stroke: take(1), fringe: take(3), fringeCoords: arena.take(coordCount(mix.width) * 8),
    };
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
    this.floatsView = new Float32Array(arena.buffer, 0, Math.floor(arena.buffer.byteLength / 4));
    this.mergeAt = this.s.merge;
    this.fringeView = new Float64Array(arena.buffer, this.s.fringeCoords, coordCount(mix.width));
    this.coordView = new Float64Array(arena.buffer, coords, coordCount(mix.width));
    this.bytes = new Uint8Array(arena.buffer);
    this.flagView = new Uint8Array(arena.buffer, this.s.flags, chunks);
    [this.merged, this.wanted, this.asked, this.all] = [0, 0, 0, 1].map((v) => new Uint8Array(chunks).fill(v));
    this.frames = mix.frames.map(() => {
      const at = arena.take(coordCount(mix.width) * 8);
      const gains = arena.take(coordCount(mix.width) * 2);
      const [codes, cover] = [arena.take(this.codePlane * 3), take(1)];
      return { coords: at, coordView: new Float64Array(arena.buffer, at, coordCount(mix.width)), gains, gainView: arena.floats(gains, coordCount(mix.width) / 2), ownCodes: codes, ownCover: cover, codes, cover, made: false, warped: new Uint8Array(chunks), located: false };
    });
  }

  /** Renders row y to 8-bit RGB at `out`. */
  encodeRow(y: number, out: Pointer): void {
    this.renderRow(y);
    const { s, mix } = this;
    this.kernels.encodeRow(s.below, s.plane, mix.width, mix.outMatrix, mix.outTable, out);
  }

  /** Renders row y and says where its three planes of working light lie, and how far apart. @param passes how many, from underneath; all where left out. */
  renderRow(y: number, passes = this.mix.passes.length): { at: Pointer; plane: number } {
    this.beginRow(y);
    const { from, keep } = this.mix;
    let k = 0;
    if (from && from.index <= passes && this.isMade(from.rows, y)) {
      this.copyRow(from.rows.at + y * from.rows.rowBytes, this.s.below, 3);
      k = from.index;
    } else this.belowView.fill(0);
    for (; k < passes; k++) {
      if (k === from?.index) this.keepRow(from.rows, y, this.s.below, 3);
      if (k === keep?.index) this.keepRow(keep.rows, y, this.s.below, 3);
      this.renderPass(this.mix.passes[k], y);
    }
    return { at: this.s.below, plane: this.s.plane };
  }

  /** Renders row y of one pass's mask, before opacity, and says where it lies. */
  maskRow(index: number, y: number): Pointer {
    this.beginRow(y);
    this.foldAreas(this.mix.passes[index], y);
    return this.s.mask;
  }

  private beginRow(y: number): void {
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
  }

  private isMade(rows: KeptRows, y: number): boolean {
    return this.bytes[rows.ready + y] === 1;
  }

  /** Copies a row of planes. */
  private copyRow(from: Pointer, to: Pointer, planes: number): void {
    this.bytes.copyWithin(to, from, from + this.s.plane * planes);
  }

  private keepRow(rows: KeptRows, y: number, from: Pointer, planes: number): void {
    if (this.isMade(rows, y)) return;
    this.copyRow(from, rows.at + y * rows.rowBytes, planes);
    this.bytes[rows.ready + y] = 1;
  }

  /** First pixel and length of the next run of flagged chunks from chunk `from` on; length 0 when there is none. */
  private runStart = 0;
  private nextRun(chunks: Chunks, from: number): number {
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

  /** Light of frame k in these chunks, into the source buffer. */
  private light(k: number, y: number, matrix: Pointer, chunks: Chunks): void {
    this.warp(k, y, chunks);
    const { s, mix, kernels } = this;
    const { map } = mix.frames[k];
    if (fallsOff(map) && !this.frames[k].located) this.locate(this.frames[k], map, y);
    for (let n = this.nextRun(chunks, 0); n > 0; n = this.nextRun(chunks, Math.ceil((this.runStart + n) / CHUNK))) {
      kernels.lineariseRow(this.frames[k].codes + this.runStart * 2, this.codePlane, n, mix.tables, matrix, s.source + this.runStart * 4, s.plane);
      if (fallsOff(map)) kernels.shadeRow(s.source + this.runStart * 4, s.plane, n, this.frames[k].gains + (this.runStart / SEGMENT) * 4);
    }
  }

  /** Joins the ambient frames in these chunks; in all of them where the row is to be kept. Says where it lies in `mergeAt`. */
  private ensureMerge(y: number, chunks: Chunks): void {
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
      this.merged[c] = 2;
      const [from, to] = [c * CHUNK, (c + 1) * CHUNK];
      this.restView.fill(1, from, to);
      for (let p = 0; p < 4; p++) this.mergeView.fill(0, (p * s.plane) / 4 + from, (p * s.plane) / 4 + Math.min(to, s.plane / 4));
    }
    if (!any) return;
    for (const member of mix.merge) {
      const row = this.frames[member.frame];
      this.light(member.frame, y, member.matrix, asked);
      for (let n = this.nextRun(asked, 0); n > 0; n = this.nextRun(asked, Math.ceil((this.runStart + n) / CHUNK))) {
        const x = this.runStart;
        kernels.accumulateRow(row.codes + x * 2, this.codePlane, row.cover + x * 4, n, member.weights, s.source + x * 4, s.plane, s.merge + x * 4, s.plane, s.rest + x * 4);
      }
      kernels.chunksRow(s.rest, mix.width, NOTHING, s.flags);
      any = false;
      for (let c = 0; c < asked.length; c++) {
        asked[c] &= this.flagView[c];
        if (asked[c]) any = true;
      }
      if (!any) break;
    }
    for (let c = 0; c < chunks.length; c++) {
      if (this.merged[c] !== 2) continue;
      this.merged[c] = 1;
      const x = c * CHUNK;
      // The sum of weights makes room for the cover: each value is read before it is written.
      kernels.normaliseRow(s.merge + x * 4, s.plane, Math.min(CHUNK, mix.width - x), s.merge + s.plane * 3 + x * 4);
    }
  }

  private plane(placed: { at: Pointer; map: ComposedMap }, y: number, out: Pointer): void {
    writeRowCoords(placed.map, 0, y, this.mix.width, this.coordView);
    this.kernels.planeRow(placed.at, placed.map.width, placed.map.height, this.s.coords, this.mix.width, out);
  }

  /** Writes one area's coverage into the area's buffer. */
  private area(area: PlacedArea, y: number): void {
    const { s, mix, kernels } = this;
    switch (area.kind) {
      case 'nothing':
        this.areaView.fill(0);
        return;
      case 'plane':
        this.plane(area.plane, y, s.area);
        return;
      case 'ramp':
        writeRowCoords(mix.referenceMap, 0, y, mix.width, this.coordView);
        kernels.rampRow(s.coords, mix.width, area.from[0], area.from[1], area.by[0], area.by[1], s.area);
        return;
      case 'brush':
        this.brush(area, y);
        return;
      case 'edge':
        this.edge(area, y);
    }
  }

  /** The edge of something found: only there does it depend on the frame's pixels. */
  private edge(area: Extract<PlacedArea, { kind: 'edge' }>, y: number): void {
    const { s, mix, kernels } = this;
    const [, v] = this.foundPosition(y);
    if (v < area.top || v > area.bottom) {
      this.areaView.fill(0);
      return;
    }
    this.plane(area.a, y, s.a);
    this.plane(area.b, y, s.b);
    if (kernels.chunksRow(s.a, mix.width, 1e-6, s.flags)) {
      this.light(area.edge, y, mix.frames[area.edge].matrix, this.flagView);
      for (let n = this.nextRun(this.flagView, 0); n > 0; n = this.nextRun(this.flagView, Math.ceil((this.runStart + n) / CHUNK))) {
        kernels.logLuminanceRow(s.source + this.runStart * 4, s.plane, n, s.logY + this.runStart * 4);
      }
    }
    kernels.guidedRow(s.a, s.b, s.logY, mix.width, s.area);
  }

  /** Painted strokes, in order, from the last stage that is kept on. */
  private brush(area: Extract<PlacedArea, { kind: 'brush' }>, y: number): void {
    let from = 0;
    let made = NO_STAGE;
    for (let k = 0; k < area.stages.length && made === NO_STAGE; k++) if (this.isMade(area.stages[k].rows, y)) made = k;
    if (made === NO_STAGE) this.areaView.fill(0);
    else {
      const { rows, count } = area.stages[made];
      this.copyRow(rows.at + y * rows.rowBytes, this.s.area, 1);
      from = count;
    }
    writeRowCoords(this.mix.referenceMap, 0, y, this.mix.width, this.coordView);
    for (let k = from; k < area.count; k++) {
      if (area.stages.length > 0 && k === area.stages[0].count) this.keepRow(area.stages[0].rows, y, this.s.area, 1);
      this.stroke(area, k, y);
    }
  }

  /** Joins one stroke into the area's buffer. */
  private stroke(area: Extract<PlacedArea, { kind: 'brush' }>, k: number, y: number): void {
    const { s, kernels, floatsView: f } = this;
    const at = area.strokes / 4 + k * STROKE_FIELDS;
    if (y < f[at + 3] || y > f[at + 5]) return;
    // Kernels work on four pixels at a time.
    const left = f[at + 2] & ~3;
    const n = f[at + 4] + 1 - left;
    this.strokeView.fill(0, left, left + n + 3);
    const end = f[at] + f[at + 1];
    for (let segment = f[at]; segment < end; segment++) {
      const g = area.segments / 4 + segment * SEGMENT_FIELDS;
      if (y < f[g + 5] || y > f[g + 7]) continue;
      const x = f[g + 4] & ~3;
      kernels.strokeRow(s.coords, x, f[g + 6] + 1 - x, f[g], f[g + 1], f[g + 2], f[g + 3], f[at + 6], f[at + 7], f[at + 8], s.stroke);
    }
    kernels.foldRow(s.area + left * 4, s.stroke + left * 4, n, f[at + 9] === 1 ? 0 : 1);
  }

  /** Where the middle of row y lies on the planes of what was found. */
  private foundPosition(y: number): readonly [number, number] {
    return planePosition(this.mix.foundMap, this.mix.width / 2, y);
  }

  /** Builds the mask of a pass and flags its chunks as wanted; false when nothing of it is left in this row. */
  private mask(pass: PlacedPass, y: number): boolean {
    const { s, mix, kernels } = this;
    if (pass.mask.length === 0 && pass.opacity >= NOTHING) {
      this.maskView.fill(pass.opacity);
      this.wanted.set(this.all);
      return true;
    }
    this.foldAreas(pass, y);
    if (!kernels.finishMaskRow(s.mask, s.ones, mix.width, pass.opacity)) return false;
    kernels.chunksRow(s.mask, mix.width, 0, s.flags);
    this.wanted.set(this.flagView);
    return true;
  }

  /** The mask of a pass before opacity. */
  private foldAreas(pass: PlacedPass, y: number): void {
    const { s, mix, kernels } = this;
    const kept = pass.maskKept;
    if (kept && this.isMade(kept, y)) {
      this.copyRow(kept.at + y * kept.rowBytes, s.mask, 1);
      return;
    }
    this.maskView.fill(pass.mask.length > 0 && (pass.mask[0].how & 3) === 0 ? 0 : 1);
    for (const area of pass.mask) {
      this.area(area, y);
      kernels.foldRow(s.mask, s.area, mix.width, area.how);
    }
    if (kept) this.keepRow(kept, y, s.mask, 1);
  }

  private renderPass(pass: PlacedPass, y: number): void {
    if (!this.mask(pass, y)) return;
    const { what } = pass;
    if (what.kind === 'adjust') this.adjust(what, y);
    else this.mixSource(what, y);
  }

  private adjust(what: Extract<PlacedPass['what'], { kind: 'adjust' }>, y: number): void {
    const { s, mix, kernels } = this;
    const n = mix.width;
    kernels.logLuminanceRow(s.below, s.plane, n, s.logY);
    if (what.gains.some((g) => g !== 1)) kernels.balanceRow(s.below, s.plane, s.mask, n, ...what.gains);
    if (what.tone) {
      this.plane(what.tone.a, y, s.a);
      this.plane(what.tone.b, y, s.b);
    }
    kernels.gainRow(s.below, s.plane, s.logY, what.tone ? s.a : s.zeros, what.tone ? s.b : s.zeros, s.mask, n, what.slope, what.lift, what.saturation);
  }

  private mixSource(what: Exclude<PlacedPass['what'], { kind: 'adjust' }>, y: number): void {
    const { s, mix, kernels, wanted } = this;
    let cover = 0;
    if (what.kind === 'frame') {
      this.light(what.frame, y, what.matrix, wanted);
      cover = this.frames[what.frame].cover;
    } else {
      // The merge uses the source buffer on its way, so it comes first.
      this.ensureMerge(y, wanted);
      if (what.kind === 'merge') {
        this.copyRow(this.mergeAt, s.source, 3);
        cover = this.mergeAt + s.plane * 3;
      } else {
        this.light(what.frame, y, mix.frames[what.frame].matrix, wanted);
        cover = this.frames[what.frame].cover;
      }
    }
    for (let n = this.nextRun(wanted, 0); n > 0; n = this.nextRun(wanted, Math.ceil((this.runStart + n) / CHUNK))) {
      const x = this.runStart * 4;
      if (what.kind === 'flash') kernels.subtractRow(s.source + x, s.plane, this.mergeAt + x, s.plane, n, what.share);
      if (what.kind !== 'frame' && what.gains.some((g) => g !== 1)) kernels.balanceRow(s.source + x, s.plane, s.ones, n, ...what.gains);
      if (kernels.finishMaskRow(s.mask + x, cover + x, n, 1)) kernels.mixRow(s.below + x, s.plane, s.source + x, s.plane, s.mask + x, n, what.mode, what.brightness, what.colour);
    }
  }
}
