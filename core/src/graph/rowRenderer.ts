import { areaEvaluation } from '../area/areas';
import type { Arena } from '../kernels/arena';
import type { Kernels, Pointer } from '../kernels/kernels';
import { passEvaluation } from '../pass/passes';
import type { PlacedMix, PlacedPass } from './placedMix';
import { NOTHING, RowSources } from './rowSources';

/**
 * Evaluates a placed mix row by row, at whatever level its grid has: guide, screen, 1:1 and delivery alike. Nothing is
 * allocated. One renderer belongs to one thread.
 */
export class RowRenderer {
  private readonly work: RowSources;

  constructor(private readonly kernels: Kernels, arena: Arena, private readonly mix: PlacedMix) {
    this.work = new RowSources(kernels, arena, mix);
  }

  /** Renders row y to 8-bit RGB at `out`. */
  encodeRow(y: number, out: Pointer): void {
    this.renderRow(y);
    const { s } = this.work;
    this.kernels.encodeRow(s.below, s.plane, this.mix.width, this.mix.outMatrix, this.mix.outTable, out);
  }

  /** Renders row y and says where its three planes of working light lie, and how far apart. @param passes how many, from underneath; all where left out. */
  renderRow(y: number, passes = this.mix.passes.length): { at: Pointer; plane: number } {
    const { work } = this;
    const { s } = work;
    work.beginRow(y);
    const { from, keep } = this.mix;
    let k = 0;
    if (from && from.index <= passes && work.isMade(from.rows, y)) {
      work.copyRow(from.rows.at + y * from.rows.rowBytes, s.below, 3);
      k = from.index;
    } else work.belowView.fill(0);
    for (; k < passes; k++) {
      if (k === from?.index) work.keepRow(from.rows, y, s.below, 3);
      if (k === keep?.index) work.keepRow(keep.rows, y, s.below, 3);
      this.renderPass(this.mix.passes[k], y);
    }
    return { at: s.below, plane: s.plane };
  }

  /** Renders row y of log2 luminance below a pass to `out`. */
  logRow(y: number, passes: number, out: Pointer): void {
    const { at, plane } = this.renderRow(y, passes);
    this.kernels.logLuminanceRow(at, plane, this.mix.width, out);
  }

  /** Renders row y of one pass's mask, before opacity, and says where it lies. */
  maskRow(index: number, y: number): Pointer {
    this.work.beginRow(y);
    this.foldAreas(this.mix.passes[index], y);
    return this.work.s.mask;
  }

  private renderPass(pass: PlacedPass, y: number): void {
    if (this.mask(pass, y)) passEvaluation(pass.kind).row(pass.placed, this.work, y);
  }

  /** Builds the mask of a pass and flags its chunks as wanted; false when nothing of it is left in this row. */
  private mask(pass: PlacedPass, y: number): boolean {
    const { work, mix, kernels } = this;
    const { s } = work;
    if (pass.mask.length === 0 && pass.opacity >= NOTHING) {
      work.maskView.fill(pass.opacity);
      work.wanted.set(work.all);
      return true;
    }
    this.foldAreas(pass, y);
    if (!kernels.finishMaskRow(s.mask, s.ones, mix.width, pass.opacity)) return false;
    kernels.chunksRow(s.mask, mix.width, 0, s.flags);
    work.wanted.set(work.flagView);
    return true;
  }

  /** The mask of a pass before opacity. */
  private foldAreas(pass: PlacedPass, y: number): void {
    const { work, mix, kernels } = this;
    const { s } = work;
    const kept = pass.maskKept;
    if (kept && work.isMade(kept, y)) {
      work.copyRow(kept.at + y * kept.rowBytes, s.mask, 1);
      return;
    }
    work.maskView.fill(pass.mask.length > 0 && (pass.mask[0].how & 3) === 0 ? 0 : 1);
    for (const { kind, placed, how } of pass.mask) {
      if (placed === null) work.areaView.fill(0);
      else areaEvaluation(kind).row(placed, work, y);
      kernels.foldRow(s.mask, s.area, mix.width, how);
    }
    if (kept) work.keepRow(kept, y, s.mask, 1);
  }
}
