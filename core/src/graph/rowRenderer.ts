import { areaEvaluation } from '../area/areas';
import { borderRow } from '../area/border';
import { BLEND_MODE_CODES } from '../blend/blendModes';
import type { Arena } from '../kernels/arena';
import type { Kernels, Pointer } from '../kernels/kernels';
import { nextChunk } from '../kind/rowScratch';
import { passEvaluation } from '../pass/passes';
import type { KeptBelow, PlacedArea, PlacedMix, PlacedPass } from './placedMix';
import { NOTHING, RowSources } from './rowSources';

/** Where three planes of working light lie, and how far apart. */
export interface LightRow {
  readonly at: Pointer;
  readonly plane: number;
}

/**
 * Evaluates a placed mix row by row, at whatever level its grid has: guide, screen, 1:1 and delivery alike. Nothing is
 * allocated. One renderer belongs to one thread.
 */
export class RowRenderer {
  private readonly work: RowSources;

  constructor(private readonly kernels: Kernels, arena: Arena, private readonly mix: PlacedMix) {
    const others = mix.elsewhere.map((each) => new RowRenderer(kernels, arena, each));
    this.work = new RowSources(kernels, arena, mix, (index, row) => others[index].under(row));
  }

  /** Renders row y of the picture so far, with what its bundles hold so far. */
  private under(y: number): LightRow {
    const { work, mix } = this;
    work.beginRow(y);
    this.renderPasses(y, mix.passes.length);
    work.open(mix.opens);
    return { at: work.underRow(), plane: work.s.plane };
  }

  /** Renders row y to 8-bit RGB at `out`. */
  encodeRow(y: number, out: Pointer): void {
    this.renderRow(y);
    const { s } = this.work;
    this.kernels.encodeRow(s.below, s.plane, this.mix.width, this.mix.display, out);
  }

  /** Renders row y to 16-bit RGB at `out`. @param passes how many, from underneath, outside all bundles */
  encodeDeepRow(y: number, passes: number, out: Pointer): void {
    const { s } = this.work;
    this.work.beginRow(y);
    this.renderPasses(y, passes);
    this.kernels.encodeDeepRow(s.below, s.plane, this.mix.width, this.mix.display, out);
  }

  /**
   * Renders row y. @param passes how many, from underneath; all where left out. What lies below a pass of a bundle is what the
   * bundle holds so far; below a tied pass, it is the light of the pass that it is tied to.
   */
  renderRow(y: number, passes = this.mix.passes.length): LightRow {
    const { work, mix } = this;
    const { s } = work;
    work.beginRow(y);
    const next = passes < mix.passes.length ? mix.passes[passes] : null;
    let end = passes;
    // What a tied pass changes is made by the pass that it belongs to.
    if (next?.tied) while (mix.passes[end].tied) end--;
    this.renderPasses(y, end);
    if (!next) return { at: s.below, plane: s.plane };
    work.open(mix.passes[end].opens);
    if (next.tied) {
      this.bring(mix.passes[end], y, passes - end - 1, end, true);
      return { at: s.source, plane: s.plane };
    }
    return { at: work.layer() ?? s.below, plane: s.plane };
  }

  private renderPasses(y: number, end: number): void {
    const { work, mix } = this;
    const { from, keep } = mix;
    let k = 0;
    if (from && from.index <= end && from.rows.every((rows) => work.isMade(rows, y))) {
      for (let level = 0; level < from.rows.length; level++) {
        if (level > 0) work.open(1);
        const rows = from.rows[level];
        work.copyRow(rows.at + y * rows.rowBytes, work.layer() ?? work.s.below, level === 0 ? 3 : 4);
      }
      k = from.index;
    } else work.belowView.fill(0);
    for (; k < end; k++) {
      if (k === from?.index) this.keepBelow(from, y);
      if (k === keep?.index) this.keepBelow(keep, y);
      work.open(mix.passes[k].opens);
      if (!mix.passes[k].tied) this.renderPass(k, y);
    }
    if (k === keep?.index) this.keepBelow(keep, y);
  }

  private keepBelow({ rows }: KeptBelow, y: number): void {
    const { work } = this;
    for (let level = 0; level < rows.length; level++) work.keepRow(rows[level], y, level === 0 ? work.s.below : work.s.layers[level - 1], level === 0 ? 3 : 4);
  }

  /** Renders row y of log2 luminance below a pass to `out`. */
  logRow(y: number, passes: number, out: Pointer): void {
    const { at, plane } = this.renderRow(y, passes);
    this.kernels.logLuminanceRow(at, plane, this.mix.width, out);
  }

  /** Renders row y of the light that one pass brings, whatever its mask, before passes that are tied to it change it; null: it brings none. */
  ownRow(index: number, y: number): LightRow | null {
    const { work, mix } = this;
    if (!mix.passes[index].blending) return null;
    work.beginRow(y);
    this.renderPasses(y, index);
    work.open(mix.passes[index].opens);
    this.bring(mix.passes[index], y, 0, index, true);
    return { at: work.s.source, plane: work.s.plane };
  }

  /** Renders row y of the light that a pass brings by itself, and of all that it is laid over, its bundle's included. */
  ownAndUnder(index: number, y: number): { readonly own: LightRow; readonly under: LightRow } {
    const { work, mix } = this;
    work.beginRow(y);
    this.renderPasses(y, index);
    work.open(mix.passes[index].opens);
    const at = work.underRow();
    this.bring(mix.passes[index], y, 0, index, true);
    return { own: { at: work.s.source, plane: work.s.plane }, under: { at, plane: work.s.plane } };
  }

  /** Renders row y of one pass's mask, before opacity, and says where it lies. */
  maskRow(index: number, y: number): Pointer {
    this.reachMask(index, y);
    this.foldAreas(this.mix.passes[index], y);
    return this.work.s.mask;
  }

  /** Renders row y of what one area of a mask covers, before its border is changed, and says where it lies. */
  areaRow(index: number, area: PlacedArea, y: number): Pointer {
    this.reachMask(index, y);
    this.coverage(area, y, 0);
    return this.work.s.area;
  }

  /** Renders row y of log2 luminance of a frame, by its place in the list, to `out`. */
  frameLogRow(frame: number, y: number, out: Pointer): void {
    const { at, plane } = this.frameRow(frame, y);
    this.kernels.logLuminanceRow(at, plane, this.mix.width, out);
  }

  /** Renders row y of a frame's light in its own exposure, by its place in the list, and says where its cover lies. */
  frameRow(frame: number, y: number): LightRow & { readonly cover: Pointer } {
    const { work, mix } = this;
    work.beginRow(y);
    work.light(frame, y, mix.frames[frame].matrix, work.all);
    return { at: work.s.source, plane: work.s.plane, cover: work.coverOf(frame) };
  }

  /** Makes what a pass's mask looks at. */
  private reachMask(index: number, y: number): void {
    const pass = this.mix.passes[index];
    if (!pass.looksBelow) {
      this.work.beginRow(y);
      return;
    }
    this.renderRow(y, index);
    if (pass.tied) this.work.lookAtSource();
  }

  private renderPass(k: number, y: number): void {
    const { work, kernels } = this;
    const { s } = work;
    const pass = this.mix.passes[k];
    // Whatever happens to it, the layer that a bundle gathered is closed.
    if (pass.gathers) work.close();
    if (!this.mask(pass, y)) return;
    const evaluation = passEvaluation(pass.kind);
    if (evaluation.does === 'changes') {
      evaluation.row(pass.placed, work, y, work.layer() ?? s.below);
      return;
    }
    const cover = this.bring(pass, y, pass.followers, k, false);
    for (let n = work.nextRun(work.wanted, 0); n > 0; n = work.nextRun(work.wanted, nextChunk(work.runStart + n))) {
      const x = work.runStart * 4;
      if (kernels.finishMaskRow(s.mask + x, cover + x, n, 1)) this.join(pass, x, n);
    }
  }

  /** Blends what a pass brought with what is below, in n pixels from byte x of the row on. */
  private join(pass: PlacedPass, x: number, n: number): void {
    const { s } = this.work;
    const { kernels, work } = this;
    const { mode, brightness, colour } = pass.blending!;
    const layer = work.layer();
    const below = (layer ?? s.below) + x;
    if (layer && mode !== BLEND_MODE_CODES.normal) for (let c = 0; c < 3; c++) work.copyBytes(s.source + s.plane * c + x, s.plain + s.plane * c + x, n * 4);
    if (mode !== BLEND_MODE_CODES.normal) kernels.blendRow(below, s.plane, s.source + x, s.plane, n, mode);
    if (layer) kernels.layerRow(below, s.plane, s.source + x, (mode === BLEND_MODE_CODES.normal ? s.source : s.plain) + x, s.plane, s.mask + x, n, brightness, colour);
    else kernels.mixRow(below, s.plane, s.source + x, s.plane, s.mask + x, n, brightness, colour);
  }

  /**
   * Brings a pass's light into `s.source`, changed by passes that are tied to it, and says where its cover lies.
   * @param followers how many of them. @param whole brings all of it, whatever its mask.
   */
  private bring(pass: PlacedPass, y: number, followers: number, k: number, whole: boolean): Pointer {
    const { work } = this;
    const { s } = work;
    if (whole) {
      if (pass.gathers) work.close();
      work.wanted.set(work.all);
    }
    const evaluation = passEvaluation(pass.kind);
    if (evaluation.does !== 'brings') return s.ones;
    const cover = evaluation.row(pass.placed, work, y);
    if (followers === 0) return cover;
    // Masks look at frames by way of the source's place, and are folded in the mask's: both wait elsewhere.
    work.copyRow(s.mask, s.hostMask, 1);
    work.hold(true);
    for (let f = 1; f <= followers; f++) {
      const tied = this.mix.passes[k + f];
      const change = passEvaluation(tied.kind);
      this.tiedMask(tied, y);
      if (change.does === 'changes') change.row(tied.placed, work, y, s.tied);
    }
    work.hold(false);
    work.copyRow(s.hostMask, s.mask, 1);
    return cover;
  }

  private tiedMask(pass: PlacedPass, y: number): void {
    const { s } = this.work;
    if (pass.mask.length === 0) this.work.maskView.fill(pass.opacity);
    else {
      this.foldAreas(pass, y);
      this.kernels.finishMaskRow(s.mask, s.ones, this.mix.width, pass.opacity);
    }
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
    const { work } = this;
    const { s } = work;
    const kept = pass.maskKept;
    if (kept && work.isMade(kept, y)) {
      work.copyRow(kept.at + y * kept.rowBytes, s.mask, 1);
      return;
    }
    this.fold(pass.mask, y, 0);
    if (kept) work.keepRow(kept, y, s.mask, 1);
  }

  /** @param links masks that wait for this one */
  private fold(areas: readonly PlacedArea[], y: number, links: number): void {
    const { work, mix, kernels } = this;
    const { s } = work;
    work.maskView.fill(areas.length > 0 && (areas[0].how & 3) === 0 ? 0 : 1);
    for (const area of areas) {
      if (area.bordered) borderRow(area.bordered, work, y);
      else this.coverage(area, y, links);
      kernels.foldRow(s.mask, s.area, mix.width, area.how);
    }
  }

  /** What an area covers, into its buffer. */
  private coverage({ linked, placed, kind }: PlacedArea, y: number, links: number): void {
    const { work } = this;
    const { s } = work;
    if (linked) {
      work.copyRow(s.mask, s.held[links], 1);
      this.fold(linked, y, links + 1);
      work.copyRow(s.mask, s.area, 1);
      work.copyRow(s.held[links], s.mask, 1);
    } else if (placed === null) work.areaView.fill(0);
    else areaEvaluation(kind).row(placed, work, y);
  }
}
