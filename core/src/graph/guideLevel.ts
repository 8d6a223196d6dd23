import type { Area, FrameId, Mix, Pass } from '@zaddle/document';
import { changeBorder, type Bordered } from '../area/border';
import { castField, type CastField } from '../colour/castField';
import { glowOver } from '../finish/glow';
import { toneBase, type ToneBase } from '../finish/localTone';
import type { Extent } from '../geometry/composedMap';
import { rescale } from '../geometry/homography';
import { fillAround } from '../image/fillAround';
import { cutLight, cutPlane, partWhere, type Part } from '../image/nearMask';
import { createLight, createPlane, mapPlane, type Light, type Plane } from '../image/plane';
import { rounded, roundedLight } from '../image/quantize';
import { shrunkSize } from '../image/shrink';
import { Arena } from '../kernels/arena';
import type { Kernels, Pointer } from '../kernels/kernels';
import type { Tools } from '../kernels/tools';
import type { AroundMask } from '../kind/passEvaluation';
import { RIM, rimGains } from '../light/rimGains';
import { GUIDE_SIDE } from '../mix/guides';
import { clearsVeil, evensCast, fromAround, letsGlow, tonesOf } from '../pass/passes';
import { placeMix } from './placeMix';
import { placedBytes, type Keeping, type OutputGrid, type PlacedArea, type PlacedMix, type PlacedSource } from './placedMix';
import { rowPlane } from '../kind/rowScratch';
import type { PreparedArea, PreparedMix } from './prepareMix';
import { RowRenderer } from './rowRenderer';
import { toneOf, veilOf } from './broadTones';
import type { StoredWide, WideResults } from './storedWide';
import { newWideContext, type Toned, type WideContext } from './wideContext';

/** The same mix seen whole and straight: the grid of the guide covers all of the reference, whatever the crop. */
function uncropped(prepared: PreparedMix): { prepared: PreparedMix; grid: OutputGrid } {
  const { mix } = prepared;
  const { width, height } = mix.frames[mix.reference];
  const size = shrunkSize(width, height, GUIDE_SIDE);
  const whole: Mix = { ...mix, geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width, height, corrects: { ...mix.corrects, distortion: true } };
  return { prepared: { ...prepared, mix: whole }, grid: { ...size, toOutput: rescale(size.width, size.height, width, height) } };
}

/** Rows of what lies below a pass that several threads may render: its log2 luminance, `stride` bytes from row to row, or its light, three planes of `stride` bytes a row. */
export interface RowsBelow {
  readonly what: 'log' | 'light';
  readonly placed: PlacedMix;
  readonly passes: number;
  readonly out: Pointer;
  readonly stride: number;
  /** Where threads may take their row buffers from. */
  readonly arena: Arena;
}

/** Coverage of a mask up to which what lies there counts as around it. */
const AROUND = 0.004;

/** Guide pixels about a mask that tell what lies around it. */
const NEAR = 12;
/** Share of a frame's white from which on it may be clipped. */
const CLIPPED = 0.9;
/** A part of the guide for a mask that covers nothing. */
const NOWHERE: Part = { left: 0, top: 0, right: 2, bottom: 2 };
const wholeOf = ({ width, height }: Plane, { left, top }: Part): Extent => ({ width, height, x: left, y: top });

/** Borders that were changed before, by their area and what names everything that they depend on. */
const borders = new WeakMap<Area, { readonly name: string; readonly bordered: Bordered }>();
const hasBorder = ({ of, linked }: PreparedArea): boolean => of.border !== undefined || (linked?.some(hasBorder) ?? false);

/** Names the light that a pass changes: what lies below it, what its bundle holds so far, or the light of the pass that it is tied to. */
const keyBelow = ({ passes }: PreparedMix, placed: PlacedMix, index: number): string => `${placed.belowKeys[index]} ${passes[index].pass.within ?? ''} ${passes[index].tied}`;

/** What the light of a pass depends on besides what is below it. */
const ownLight = (pass: Pass): string => JSON.stringify({ ...pass, mask: null, name: null, why: null, opacity: null });

/** A pass as its light is brought to what lies around: that of a healed place comes from the picture, and what is added to it is meant to be seen. */
const asMatched = (pass: Pass): Pass => (pass.kind === 'heal' ? { ...pass, exposure: 0, balance: [1, 1, 1] } : pass);

/**
 * A mix on the guide level: what wide context is worked out on. The same evaluator as on every other level. What comes out is
 * rounded as it is kept, so that it is the same whether it was kept or is worked out anew.
 * @param keeping where rows are kept for the next time, if at all. @param wide what was worked out before, kept along.
 * @param onThreads renders rows on several threads; else it is done here. @param stored what was worked out elsewhere, if anything
 */
export class GuideLevel implements Tools {
  constructor(readonly kernels: Kernels, readonly arena: Arena, private readonly sources: ReadonlyMap<FrameId, PlacedSource>, private readonly keeping: Keeping | null = null, private readonly wide: WideContext = newWideContext(), private readonly onThreads: ((job: RowsBelow) => void) | null = null, private readonly stored: StoredWide | null = null) {}

  /** What lies below a pass by name, and its mask. */
  private names(prepared: PreparedMix, index: number): { readonly below: string; readonly mask: string } {
    const { prepared: whole, grid } = uncropped(prepared);
    const mark = this.arena.mark();
    try {
      const placed = placeMix(whole, this.sources, grid, this.arena, this.keeping, { namesOnly: true });
      return { below: keyBelow(prepared, placed, index), mask: placed.maskKeys[index] };
    } finally {
      this.arena.release(mark);
    }
  }

  private on<T>(prepared: PreparedMix, work: (renderer: RowRenderer, placed: PlacedMix) => T): T {
    const { prepared: whole, grid } = uncropped(prepared);
    const mark = this.arena.mark();
    try {
      const placed = placeMix(whole, this.sources, grid, this.arena, this.keeping);
      const bytes = placedBytes(placed);
      const start = this.arena.take(bytes);
      return work(new RowRenderer(this.kernels, new Arena(this.arena.buffer, start, start + bytes), placed), placed);
    } finally {
      this.arena.release(mark);
    }
  }

  private namesOf(prepared: PreparedMix, index: number): string {
    const { below, mask } = this.names(prepared, index);
    return `${below} ${mask}`;
  }

  /** log2 luminance of what lies below a pass. */
  private logBelow(prepared: PreparedMix, index: number): Plane {
    return this.on(prepared, (renderer, placed) => {
      const { width, height } = placed;
      const stride = rowPlane(width);
      const out = this.arena.take(height * stride);
      if (this.onThreads) this.onThreads({ what: 'log', placed, passes: index, out, stride, arena: this.arena });
      else for (let y = 0; y < height; y++) renderer.logRow(y, index, out + y * stride);
      const logY = createPlane(width, height);
      for (let y = 0; y < height; y++) logY.data.set(this.arena.floats(out + y * stride, width), y * width);
      return logY;
    });
  }

  /** The picture as it is below a pass, or all of it: working light before the display curve. @param rows from the first to before the last that are made; the others are black */
  picture(prepared: PreparedMix, passes = prepared.passes.length, rows: readonly [number, number] = [0, Infinity]): Light {
    return this.on(prepared, (renderer, placed) => {
      const { width, height } = placed;
      const light = createLight(width, height);
      if (this.onThreads && rows[0] <= 0 && rows[1] >= height) {
        const stride = rowPlane(width);
        const out = this.arena.take(height * 3 * stride);
        this.onThreads({ what: 'light', placed, passes, out, stride, arena: this.arena });
        for (let y = 0; y < height; y++) [light.r, light.g, light.b].forEach((channel, c) => channel.set(this.arena.floats(out + (3 * y + c) * stride, width), y * width));
        return light;
      }
      for (let y = Math.max(0, rows[0]); y < Math.min(height, rows[1]); y++) {
        const { at, plane } = renderer.renderRow(y, passes);
        light.r.set(this.arena.floats(at, width), y * width);
        light.g.set(this.arena.floats(at + plane, width), y * width);
        light.b.set(this.arena.floats(at + 2 * plane, width), y * width);
      }
      return light;
    });
  }

  /** The mask of one pass, before opacity. */
  mask(prepared: PreparedMix, index: number): Plane {
    return this.on(prepared, (renderer, { width, height }) => {
      const mask = createPlane(width, height);
      for (let y = 0; y < height; y++) mask.data.set(this.arena.floats(renderer.maskRow(index, y), width), y * width);
      return mask;
    });
  }

  /** Broad light below a pass. @param exact false takes that of last time for this pass, if there is one. */
  private baseOf(prepared: PreparedMix, index: number, exact: boolean): ToneBase {
    const known = (): string | null => (this.keeping ? this.names(prepared, index).below : null);
    return this.wide.bases.take(prepared.passes[index].pass.id, exact, known, () => toneBase(this, this.logBelow(prepared, index)));
  }

  /** How a pass changes broad light below it. @param exact false takes that of last time with these strengths, if there is one */
  private tonedBy(prepared: PreparedMix, index: number, exact: boolean, known: WideResults | null): Toned {
    const { pass } = prepared.passes[index];
    const [wanted, clears] = [tonesOf(pass), clearsVeil(pass)];
    const strengths = `${JSON.stringify(wanted)} ${clears}`;
    const own = `${pass.id} ${strengths}`;
    const make = (): Toned => {
      const base = this.baseOf(prepared, index, exact);
      return { tone: wanted && toneOf(this, base, wanted), veil: clears ? veilOf(base) : null };
    };
    // Strengths that a drag goes through are not remembered: others would be forgotten for them.
    if (!exact) return this.wide.tones.last(own) ?? make();
    const key = (): string | null => (this.keeping ? `${this.names(prepared, index).below} ${strengths}` : null);
    return this.wide.tones.take(own, true, key, () => (known && (!wanted || known.tone) && (!clears || known.veil) ? { tone: known.tone, veil: known.veil } : make()));
  }

  /** What lies around a pass's mask, carried into it, or what its own light takes to join that. */
  private around(prepared: PreparedMix, index: number, exact: boolean, known: WideResults | null): AroundMask {
    const { pass } = prepared.passes[index];
    const gains = fromAround(pass) === 'gains';
    const key = (): string => `${this.namesOf(prepared, index)} ${gains ? ownLight(pass) : ''}`;
    return this.wide.fills.take(pass.id, exact, key, () => known?.around ?? (gains ? this.newGains(prepared, index) : this.newFill(prepared, index)));
  }

  /** How the colour of light goes over paint below a pass, within its mask; for one that is tied to another, in the picture with that, since light on paint is what the room has. */
  private castOf(prepared: PreparedMix, index: number, exact: boolean, known: WideResults | null): CastField {
    const { pass, mask } = prepared.passes[index];
    const make = (): CastField => {
      const { red, blue } = castField(this.picture(prepared, index), mask.length > 0 ? this.mask(prepared, index) : null);
      return { red: rounded(red), blue: rounded(blue) };
    };
    return this.wide.casts.take(pass.id, exact, () => this.namesOf(prepared, index), () => known?.cast ?? make());
  }

  /** What the bright places below a pass throw over what lies around them. */
  private glowOf(prepared: PreparedMix, index: number, exact: boolean, known: WideResults | null): Light {
    return this.wide.glows.take(prepared.passes[index].pass.id, exact, () => this.names(prepared, index).below, () => known?.glow ?? roundedLight(glowOver(this.picture(prepared, index))));
  }

  private newFill(prepared: PreparedMix, index: number): AroundMask {
    // What is taken away from the mask is kept as it is, but it tells nothing: a rim about a window is filled from outside.
    const filled = prepared.passes.map((each, k) => (k === index ? { ...each, mask: each.mask.filter(({ of }) => of.join !== 'subtract') } : each));
    const known = mapPlane(this.mask({ ...prepared, passes: filled }, index), (v) => (v <= AROUND ? 1 : 0));
    // Only what lies near the mask counts for it. Where the mask is everywhere, nothing lies around it: the picture stays.
    const part = partWhere(known, (v) => v === 0, NEAR) ?? NOWHERE;
    const light = cutLight(this.picture(prepared, index, [part.top, part.bottom]), part);
    const near = cutPlane(known, part);
    return { light: roundedLight(near.data.some((v) => v > 0) ? fillAround(light, near) : light), whole: wholeOf(known, part) };
  }

  /** By how much gains lie above 1 that bring the light of a pass to what lies around its mask. */
  private newGains(prepared: PreparedMix, index: number): AroundMask {
    const pass = asMatched(prepared.passes[index].pass);
    const coverage = this.mask(prepared, index);
    const part = partWhere(coverage, (v) => v > AROUND, 2 * RIM) ?? NOWHERE;
    const rows = { ...part, top: 0, bottom: part.bottom - part.top };
    const { under, own } = this.ownAndUnder({ ...prepared, passes: prepared.passes.map((each, k) => (k === index ? { ...each, pass } : each)) }, index, part);
    // A frame's white, after the gains that the pass has of its own.
    const brightest = CLIPPED * Math.min(...pass.balance) * 2 ** pass.exposure;
    const gains = rimGains(cutLight(under, rows), cutLight(own, rows), cutPlane(coverage, part), brightest);
    for (const channel of [gains.r, gains.g, gains.b]) for (let i = 0; i < channel.length; i++) channel[i] -= 1;
    return { light: roundedLight(gains), whole: wholeOf(coverage, part) };
  }

  /** Rows of the light that a pass brings, and of all that it is laid over. */
  private ownAndUnder(prepared: PreparedMix, index: number, { top, bottom }: Part): { readonly under: Light; readonly own: Light } {
    return this.on(prepared, (renderer, { width }) => {
      const lights = { under: createLight(width, bottom - top), own: createLight(width, bottom - top) };
      for (let y = top; y < bottom; y++) {
        const rows = renderer.ownAndUnder(index, y);
        for (const which of ['under', 'own'] as const) {
          const { at, plane } = rows[which];
          [lights[which].r, lights[which].g, lights[which].b].forEach((channel, c) => channel.set(this.arena.floats(at + c * plane, width), (y - top) * width));
        }
      }
      return lights;
    });
  }

  /** What an area covers on this level, before its border is changed, and log luminance of the frame that it is to follow. */
  private coverage(prepared: PreparedMix, index: number, path: readonly number[]): { key: string; coverage: () => Plane; guidance: () => Plane | null } {
    const at = ({ passes }: PlacedMix): PlacedArea => path.slice(1).reduce((area, k) => area.linked![k], passes[index].mask[path[0]]);
    const plane = (row: (renderer: RowRenderer, area: PlacedArea, y: number, out: Pointer) => Pointer): Plane =>
      this.on(prepared, (renderer, placed) => {
        const { width, height } = placed;
        const made = createPlane(width, height);
        const out = this.arena.take(rowPlane(width));
        for (let y = 0; y < height; y++) made.data.set(this.arena.floats(row(renderer, at(placed), y, out), width), y * width);
        return made;
      });
    const { key, snap } = this.on(prepared, (_, placed) => at(placed).border!);
    return {
      key,
      coverage: () => plane((renderer, area, y) => renderer.areaRow(index, area, y)),
      guidance: () => (snap < 0 ? null : plane((renderer, area, y, out) => (renderer.frameLogRow(area.border!.snap, y, out), out))),
    };
  }

  /** Changes the borders of a pass's areas, and of those that they are linked to. */
  private workOutBorders(prepared: PreparedMix, index: number, known: WideResults | null): readonly PreparedArea[] {
    const change = (area: PreparedArea, path: readonly number[]): PreparedArea => {
      const linked = area.linked?.some(hasBorder) ? area.linked.map((each, k) => change(each, [...path, k])) : area.linked;
      const { border } = area.of;
      if (!border) return { ...area, linked };
      const { key, coverage, guidance } = this.coverage(prepared, index, path);
      const name = `${key} ${JSON.stringify(border)}`;
      const last = borders.get(area.of);
      const stored = path.length === 1 ? known?.borders[path[0]] : null;
      const bordered = last?.name === name ? last.bordered : stored ?? changeBorder(coverage(), border, guidance());
      borders.set(area.of, { name, bordered });
      return { ...area, linked, bordered };
    };
    return prepared.passes[index].mask.map((area, k) => change(area, [k]));
  }

  /** Works out what has a wide context, from underneath to on top: borders that are changed, what lies around masks, how the colour of light goes, and local tones. @param exact false, in the middle of a drag: broad light below may be taken as it was last time. */
  workOut(prepared: PreparedMix, exact = true): PreparedMix {
    const stored = exact ? this.stored?.of(prepared) : null;
    let passes = prepared.passes;
    passes.forEach(({ pass }, index) => {
      const known = stored?.[index] ?? null;
      if (passes[index].mask.some(hasBorder)) {
        const mask = this.workOutBorders({ ...prepared, passes }, index, known);
        passes = passes.map((p, k) => (k === index ? { ...p, mask } : p));
      }
      if (fromAround(pass)) {
        const around = this.around({ ...prepared, passes }, index, exact, known);
        passes = passes.map((p, k) => (k === index ? { ...p, around } : p));
      }
      if (evensCast(pass)) {
        const cast = this.castOf({ ...prepared, passes }, index, exact, known);
        passes = passes.map((p, k) => (k === index ? { ...p, cast } : p));
      }
      if (letsGlow(pass)) {
        const glow = this.glowOf({ ...prepared, passes }, index, exact, known);
        passes = passes.map((p, k) => (k === index ? { ...p, glow } : p));
      }
      if (!tonesOf(pass) && !clearsVeil(pass)) return;
      const { tone, veil } = this.tonedBy({ ...prepared, passes }, index, exact, known);
      passes = passes.map((p, k) => (k === index ? { ...p, tone, veil } : p));
    });
    return { ...prepared, passes };
  }
}
