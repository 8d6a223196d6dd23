import { coordCount, writeRowCoords, type ComposedMap } from '../geometry/composedMap';
import { mapPoint } from '../geometry/homography';
import type { Arena } from '../kernels/arena';
import { PADDING, type Kernels, type Pointer } from '../kernels/kernels';
import type { PlacedArea, PlacedMix, PlacedPass } from './placeMix';

/** Row buffers of one thread. */
interface Scratch {
  readonly plane: number;
  readonly below: Pointer;
  readonly source: Pointer;
  readonly merge: Pointer;
  readonly mergeCover: Pointer;
  readonly mask: Pointer;
  readonly area: Pointer;
  readonly a: Pointer;
  readonly b: Pointer;
  readonly logY: Pointer;
  readonly ones: Pointer;
  readonly zeros: Pointer;
  readonly coords: Pointer;
  readonly coordView: Float64Array;
  readonly codes: readonly Pointer[];
  readonly covers: readonly Pointer[];
}

/** Bytes that a renderer for this many frames takes from its arena. */
export const rendererBytes = (width: number, frames: number): number => (width * 4 + PADDING * 3) * (20 + frames * 4) + 65536;

/**
 * Evaluates a placed mix row by row: every frame is interpolated once, masks and tone come from guide planes,
 * and nothing is allocated. One renderer belongs to one thread.
 */
export class RowRenderer {
  private readonly s: Scratch;
  private readonly warped: Uint8Array;
  private merged = false;

  constructor(private readonly kernels: Kernels, arena: Arena, private readonly mix: PlacedMix) {
    const plane = Math.ceil((mix.width * 4 + PADDING) / 64) * 64;
    const coords = arena.take(coordCount(mix.width) * 8);
    this.s = {
      plane,
      below: arena.take(plane * 3),
      source: arena.take(plane * 3),
      merge: arena.take(plane * 4),
      mergeCover: arena.take(plane),
      mask: arena.take(plane),
      area: arena.take(plane),
      a: arena.take(plane),
      b: arena.take(plane),
      logY: arena.take(plane),
      ones: arena.take(plane),
      zeros: arena.take(plane),
      coords,
      coordView: new Float64Array(arena.buffer, coords, coordCount(mix.width)),
      codes: mix.frames.map(() => arena.take(plane * 3)),
      covers: mix.frames.map(() => arena.take(plane)),
    };
    arena.floats(this.s.ones, mix.width + 8).fill(1);
    arena.floats(this.s.zeros, mix.width + 8).fill(0);
    this.warped = new Uint8Array(mix.frames.length);
  }

  /** Renders row y to 8-bit RGB at `out`. */
  encodeRow(y: number, out: Pointer): void {
    this.renderRow(y);
    const { s, mix } = this;
    this.kernels.encodeRow(s.below, s.plane, mix.width, mix.outMatrix, mix.outTable, out);
  }

  /** Renders row y and says where its three planes of working light lie, and how far apart. */
  renderRow(y: number): { at: Pointer; plane: number } {
    const { s, mix } = this;
    this.warped.fill(0);
    this.merged = false;
    this.float(s.below, (s.plane * 3) / 4).fill(0);
    for (const pass of mix.passes) this.renderPass(pass, y);
    return { at: s.below, plane: s.plane };
  }

  private float(at: Pointer, length: number): Float32Array {
    return new Float32Array(this.kernels.memory.buffer, at, length);
  }

  private coords(map: ComposedMap, y: number): Pointer {
    writeRowCoords(map, 0, y, this.mix.width, this.s.coordView);
    return this.s.coords;
  }

  /** Makes sure that frame k is interpolated for this row. */
  private warp(k: number, y: number): void {
    if (this.warped[k]) return;
    this.warped[k] = 1;
    const { source, map } = this.mix.frames[k];
    const coords = this.coords(map, y);
    const kernel = source.depth === 8 ? this.kernels.warpRow8 : this.kernels.warpRow16;
    kernel(source.at, source.width, source.height, coords, this.mix.width, this.mix.phases, this.s.codes[k], this.s.plane, this.s.covers[k]);
  }

  private light(k: number, y: number, matrix: Pointer, out: Pointer): void {
    this.warp(k, y);
    this.kernels.lineariseRow(this.s.codes[k], this.s.plane, this.mix.width, this.mix.tables, matrix, out, this.s.plane);
  }

  private ensureMerge(y: number): void {
    if (this.merged) return;
    this.merged = true;
    const { s, mix, kernels } = this;
    this.float(s.merge, s.plane).fill(0);
    for (const member of mix.merge) {
      this.light(member.frame, y, member.matrix, s.source);
      kernels.accumulateRow(s.codes[member.frame], s.plane, s.covers[member.frame], mix.width, member.weights, s.source, s.plane, s.merge, s.plane);
    }
    kernels.normaliseRow(s.merge, s.plane, mix.width, s.mergeCover);
  }

  private plane(placed: { at: Pointer; map: ComposedMap }, y: number, out: Pointer): void {
    this.kernels.planeRow(placed.at, placed.map.width, placed.map.height, this.coords(placed.map, y), this.mix.width, out);
  }

  /** Writes one area's coverage; false when it is 0 along the whole row. */
  private area(area: PlacedArea, y: number): boolean {
    const { s, mix, kernels } = this;
    if (area.kind === 'plane') {
      this.plane(area.plane, y, s.area);
    } else {
      const left = mapPoint(mix.guideMap.plane, 0, y)[1];
      const right = mapPoint(mix.guideMap.plane, mix.width - 1, y)[1];
      if (Math.max(left, right) < area.top || Math.min(left, right) > area.bottom) return false;
      this.light(area.edge, y, mix.frames[area.edge].matrix, s.source);
      kernels.logLuminanceRow(s.source, s.plane, mix.width, s.logY);
      this.plane(area.a, y, s.a);
      this.plane(area.b, y, s.b);
      kernels.guidedRow(s.a, s.b, s.logY, mix.width, s.area);
    }
    return true;
  }

  /** Builds the mask of a pass; false when nothing of it is left in this row. */
  private mask(pass: PlacedPass, y: number): boolean {
    const { s, mix, kernels } = this;
    const mask = this.float(s.mask, mix.width + 4);
    mask.fill(pass.mask.length > 0 && pass.mask[0].how === 0 ? 0 : 1);
    for (const area of pass.mask) {
      const any = this.area(area, y);
      const coverage = this.float(s.area, mix.width + 4);
      if (!any) coverage.fill(0);
      if (area.inverted) for (let i = 0; i < coverage.length; i++) coverage[i] = 1 - coverage[i];
      kernels.foldRow(s.mask, s.area, mix.width, area.how);
    }
    return kernels.finishMaskRow(s.mask, s.ones, mix.width, pass.opacity) === 1;
  }

  private renderPass(pass: PlacedPass, y: number): void {
    const { s, mix, kernels } = this;
    if (!this.mask(pass, y)) return;
    const n = mix.width;
    const { what } = pass;
    if (what.kind === 'adjust') {
      kernels.logLuminanceRow(s.below, s.plane, n, s.logY);
      if (what.gains.some((g) => g !== 1)) kernels.balanceRow(s.below, s.plane, s.mask, n, ...what.gains);
      if (what.tone) {
        this.plane(what.tone.a, y, s.a);
        this.plane(what.tone.b, y, s.b);
      }
      kernels.gainRow(s.below, s.plane, s.logY, what.tone ? s.a : s.zeros, what.tone ? s.b : s.zeros, s.mask, n, what.slope, what.lift, what.saturation);
      return;
    }
    let cover: Pointer;
    if (what.kind === 'frame') {
      this.light(what.frame, y, what.matrix, s.source);
      cover = s.covers[what.frame];
    } else {
      // The merge uses the source buffer on its way, so it comes first.
      this.ensureMerge(y);
      cover = s.mergeCover;
      if (what.kind === 'merge') {
        this.float(s.source, (s.plane * 3) / 4).set(this.float(s.merge, (s.plane * 3) / 4));
      } else {
        this.light(what.frame, y, mix.frames[what.frame].matrix, s.source);
        kernels.subtractRow(s.source, s.plane, s.merge, s.plane, n, what.share);
        cover = s.covers[what.frame];
      }
      if (what.gains.some((g) => g !== 1)) kernels.balanceRow(s.source, s.plane, s.ones, n, ...what.gains);
    }
    if (kernels.finishMaskRow(s.mask, cover, n, 1)) kernels.mixRow(s.below, s.plane, s.source, s.plane, s.mask, n, what.mode, what.brightness, what.colour);
  }
}
