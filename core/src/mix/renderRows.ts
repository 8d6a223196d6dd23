import { coordCount, fallsOff, planePosition, showsFringe, writeRowCoords, writeRowGains, type ComposedMap } from '../geometry/composedMap';
import type { Arena } from '../kernels/arena';
import { CHUNK, PADDING, SEGMENT, type Kernels, type Pointer } from '../kernels/kernels';
import type { PlacedArea, PlacedMix, PlacedPass } from './placeMix';
import type { Chunks, FrameRow, Scratch } from './rowScratch';

/** Masks and shares below this are nothing. */
const NOTHING = 1 / 255;

/**
 * Evaluates a placed mix row by row: every frame is interpolated once and only where it is needed, masks and tone come
 * from guide planes, and nothing is allocated. One renderer belongs to one thread.
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
  private readonly sourceView: Float32Array;
  private readonly maskView: Float32Array;
  private readonly restView: Float32Array;
  private readonly areaView: Float32Array;

  constructor(private readonly kernels: Kernels, arena: Arena, private readonly mix: PlacedMix) {
    const plane = Math.ceil((mix.width * 4 + PADDING) / 64) * 64;
    const chunks = Math.ceil(mix.width / CHUNK);
    const coords = arena.take(coordCount(mix.width) * 8);
    const take = (planes: number): Pointer => arena.take(plane * planes);
    this.s = {
      plane, coords,
      below: take(3), source: take(3), merge: take(4), mergeCover: take(1), rest: take(1), mask: take(1), area: take(1), a: take(1), b: take(1),
      logY: take(1), ones: take(1), zeros: take(1), flags: arena.take(chunks), fringe: take(3), fringeCoords: arena.take(coordCount(mix.width) * 8),
    };
    const floats = (at: Pointer, planes: number): Float32Array => arena.floats(at, (plane * planes) / 4);
    floats(this.s.ones, 1).fill(1);
    floats(this.s.zeros, 1).fill(0);
    floats(this.s.logY, 1).fill(0);
    this.belowView = floats(this.s.below, 3);
    this.mergeView = floats(this.s.merge, 4);
    this.sourceView = floats(this.s.source, 3);
    this.maskView = floats(this.s.mask, 1);
    this.restView = floats(this.s.rest, 1);
    this.areaView = floats(this.s.area, 1);
    this.fringeView = new Float64Array(arena.buffer, this.s.fringeCoords, coordCount(mix.width));
    this.coordView = new Float64Array(arena.buffer, coords, coordCount(mix.width));
    this.bytes = new Uint8Array(arena.buffer);
    this.flagView = new Uint8Array(arena.buffer, this.s.flags, chunks);
    [this.merged, this.wanted, this.asked, this.all] = [0, 0, 0, 1].map((v) => new Uint8Array(chunks).fill(v));
    this.frames = mix.frames.map(() => {
      const at = arena.take(coordCount(mix.width) * 8);
      const gains = arena.take(coordCount(mix.width) * 2);
      return { coords: at, coordView: new Float64Array(arena.buffer, at, coordCount(mix.width)), gains, gainView: arena.floats(gains, coordCount(mix.width) / 2), codes: take(3), cover: take(1), warped: new Uint8Array(chunks), located: false };
    });
  }

  /** Renders row y to 8-bit RGB at `out`. */
  encodeRow(y: number, out: Pointer): void {
    this.renderRow(y);
    const { s, mix } = this;
    this.kernels.encodeRow(s.below, s.plane, mix.width, mix.outMatrix, mix.outTable, out);
  }

  /** Renders row y and says where its three planes of working light lie, and how far apart. */
  renderRow(y: number): { at: Pointer; plane: number } {
    for (const frame of this.frames) {
      frame.warped.fill(0);
      frame.located = false;
    }
    this.merged.fill(0);
    this.belowView.fill(0);
    for (const pass of this.mix.passes) this.renderPass(pass, y);
    return { at: this.s.below, plane: this.s.plane };
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

  /** Makes sure that frame k is interpolated in these chunks. */
  private warp(k: number, y: number, chunks: Chunks): void {
    const { source, map } = this.mix.frames[k];
    const row = this.frames[k];
    const kernel = source.depth === 8 ? this.kernels.warpRow8 : this.kernels.warpRow16;
    for (let c = 0; c < chunks.length; c++) {
      if (!chunks[c] || row.warped[c]) continue;
      if (!row.located) this.locate(row, map, y);
      const first = c;
      while (c < chunks.length && chunks[c] && !row.warped[c]) row.warped[c++] = 1;
      const x = first * CHUNK;
      const n = Math.min(c * CHUNK, this.mix.width) - x;
      kernel(source.at, source.width, source.height, row.coords + x, n, this.mix.phases, row.codes + x * 2, this.s.plane, row.cover + x * 4);
      if (showsFringe(map, row.coordView, x / SEGMENT, Math.ceil((x + n) / SEGMENT))) {
        this.warpFringe(k, y, x, n, map.lens.red, 0);
        this.warpFringe(k, y, x, n, map.lens.blue, 2);
      }
      c--;
    }
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
    kernel(source.at, source.width, source.height, s.fringeCoords, n, this.mix.phases, s.fringe, s.plane, s.area);
    const offset = s.plane * channel;
    this.bytes.copyWithin(this.frames[k].codes + offset + x * 2, s.fringe + offset, s.fringe + offset + n * 2);
  }

  /** Light of frame k in these chunks, into the source buffer. */
  private light(k: number, y: number, matrix: Pointer, chunks: Chunks): void {
    this.warp(k, y, chunks);
    const { s, mix, kernels } = this;
    const { map } = mix.frames[k];
    for (let n = this.nextRun(chunks, 0); n > 0; n = this.nextRun(chunks, Math.ceil((this.runStart + n) / CHUNK))) {
      kernels.lineariseRow(this.frames[k].codes + this.runStart * 2, s.plane, n, mix.tables, matrix, s.source + this.runStart * 4, s.plane);
      if (fallsOff(map)) kernels.shadeRow(s.source + this.runStart * 4, s.plane, n, this.frames[k].gains + (this.runStart / SEGMENT) * 4);
    }
  }

  /** Joins the ambient frames in these chunks: each frame is asked only where the brighter ones left something over. */
  private ensureMerge(y: number, chunks: Chunks): void {
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
        kernels.accumulateRow(row.codes + x * 2, s.plane, row.cover + x * 4, n, member.weights, s.source + x * 4, s.plane, s.merge + x * 4, s.plane, s.rest + x * 4);
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
      kernels.normaliseRow(s.merge + x * 4, s.plane, Math.min(CHUNK, mix.width - x), s.mergeCover + x * 4);
    }
  }

  private plane(placed: { at: Pointer; map: ComposedMap }, y: number, out: Pointer): void {
    writeRowCoords(placed.map, 0, y, this.mix.width, this.coordView);
    this.kernels.planeRow(placed.at, placed.map.width, placed.map.height, this.s.coords, this.mix.width, out);
  }

  /** Writes one area's coverage. */
  private area(area: PlacedArea, y: number): void {
    const { s, mix, kernels } = this;
    if (area.kind === 'plane') {
      this.plane(area.plane, y, s.area);
      return;
    }
    const [, v] = this.guidePosition(y);
    if (v < area.top || v > area.bottom) {
      this.areaView.fill(0);
      return;
    }
    this.plane(area.a, y, s.a);
    this.plane(area.b, y, s.b);
    // Only at its edge does the area depend on the frame's pixels.
    if (kernels.chunksRow(s.a, mix.width, 1e-6, s.flags)) {
      this.light(area.edge, y, mix.frames[area.edge].matrix, this.flagView);
      for (let n = this.nextRun(this.flagView, 0); n > 0; n = this.nextRun(this.flagView, Math.ceil((this.runStart + n) / CHUNK))) {
        kernels.logLuminanceRow(s.source + this.runStart * 4, s.plane, n, s.logY + this.runStart * 4);
      }
    }
    kernels.guidedRow(s.a, s.b, s.logY, mix.width, s.area);
  }

  /** Guide position of the middle of row y. */
  private guidePosition(y: number): readonly [number, number] {
    return planePosition(this.mix.guideMap, this.mix.width / 2, y);
  }

  /** Builds the mask of a pass and flags its chunks as wanted; false when nothing of it is left in this row. */
  private mask(pass: PlacedPass, y: number): boolean {
    const { s, mix, kernels } = this;
    if (pass.mask.length === 0 && pass.opacity >= NOTHING) {
      this.maskView.fill(pass.opacity);
      this.wanted.set(this.all);
      return true;
    }
    this.maskView.fill(pass.mask.length > 0 && (pass.mask[0].how & 3) === 0 ? 0 : 1);
    for (const area of pass.mask) {
      this.area(area, y);
      kernels.foldRow(s.mask, s.area, mix.width, area.how);
    }
    if (!kernels.finishMaskRow(s.mask, s.ones, mix.width, pass.opacity)) return false;
    kernels.chunksRow(s.mask, mix.width, 0, s.flags);
    this.wanted.set(this.flagView);
    return true;
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
    let cover = s.mergeCover;
    if (what.kind === 'frame') {
      this.light(what.frame, y, what.matrix, wanted);
      cover = this.frames[what.frame].cover;
    } else {
      // The merge uses the source buffer on its way, so it comes first.
      this.ensureMerge(y, wanted);
      if (what.kind === 'merge') this.sourceView.set(this.mergeView.subarray(0, this.sourceView.length));
      else {
        this.light(what.frame, y, mix.frames[what.frame].matrix, wanted);
        cover = this.frames[what.frame].cover;
      }
    }
    for (let n = this.nextRun(wanted, 0); n > 0; n = this.nextRun(wanted, Math.ceil((this.runStart + n) / CHUNK))) {
      const x = this.runStart * 4;
      if (what.kind === 'flash') kernels.subtractRow(s.source + x, s.plane, s.merge + x, s.plane, n, what.share);
      if (what.kind !== 'frame' && what.gains.some((g) => g !== 1)) kernels.balanceRow(s.source + x, s.plane, s.ones, n, ...what.gains);
      if (kernels.finishMaskRow(s.mask + x, cover + x, n, 1)) kernels.mixRow(s.below + x, s.plane, s.source + x, s.plane, s.mask + x, n, what.mode, what.brightness, what.colour);
    }
  }
}
