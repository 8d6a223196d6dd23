import type { Area, FrameId } from '@zaddle/document';
import { createPlane, mapPlane, placesAbove, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import { labelRegions } from '../window/labelRegions';
import { CLIPPED, comparable, DARK, type Exposures } from '../window/ownRadiance';
import { outlineArea } from './outlineArea';

/** How much brighter than what the view gives off by itself glass is that mirrors the room, and up to which it is clear, as factors. */
const VEILED = 1.19;
const CLEAR = 1.1;
/** Guide pixels over which that is judged: grain is no veil. */
const OVER = 2;
/** How many times darker than the first frame another one is where it rather has something before the glass, and share of the glass of which that may be so. */
const HIDDEN = 2.5;
const HIDES = 0.005;
/** Share of the glass that is to be gained at least, and each part of it. */
const WORTH_IT = 0.03;
const PART = 0.01;
/** The same of a flash that the first frame's glass mirrors, which is clipped there; guide pixels about it that its glare reaches; and share of it and what lies about it of which the other frame has to tell. */
const FLASH = 0.003;
const GLARE = 4;
const TOLD = 0.95;
/** How soft the veil's outline is, and how far beyond the veil it lies, in longer sides and guide pixels. */
const SOFT = 0.02;
const BEYOND = 4;

/** Another frame that shows the view without what the first one's glass mirrors. */
export interface ClearedView {
  readonly frame: FrameId;
  /** Where. */
  readonly area: Area;
  /** Share of the glass. */
  readonly share: number;
}

/** How much more than the view's own light a frame shows at some places, as a factor; NaN where it cannot tell, and elsewhere. */
function excess(guides: GuideSet, frame: FrameId, own: Plane, stops: number, places: Int32Array): Float32Array {
  const guide = guides.frames.get(frame)!;
  const [value, top, cover] = [comparable(guide).data, guide.top.data, guide.cover.data];
  const { width, height, data: light } = own;
  const scale = 2 ** -stops;
  const tells = (i: number): boolean => !(top[i] > CLIPPED || cover[i] === 0 || value[i] < DARK || !(light[i] > 0));
  const out = new Float32Array(light.length).fill(NaN);
  for (const i of places) {
    if (!tells(i)) continue;
    const x = i % width;
    const y = (i - x) / width;
    let [shown, alone] = [0, 0];
    for (let v = Math.max(0, y - OVER); v <= Math.min(height - 1, y + OVER); v++) {
      for (let u = Math.max(0, x - OVER); u <= Math.min(width - 1, x + OVER); u++) {
        const at = v * width + u;
        if (!tells(at)) continue;
        shown += value[at] * scale;
        alone += light[at];
      }
    }
    if (alone > 0) out[i] = shown / alone;
  }
  return out;
}

/** Guide pixels within which something lies about some places. */
function near({ width, height, data: glass }: Plane, pixels: readonly number[], reach: number): Set<number> {
  const about = new Set<number>();
  for (const i of pixels) {
    const [x0, y0] = [i % width, Math.floor(i / width)];
    for (let y = Math.max(0, y0 - reach); y <= Math.min(height - 1, y0 + reach); y++) for (let x = Math.max(0, x0 - reach); x <= Math.min(width - 1, x0 + reach); x++) if (glass[y * width + x] > 0) about.add(y * width + x);
  }
  return about;
}

/**
 * Where the glass mirrors a flash in the frame that the view is taken from, and another frame shows the view there, wherever else that is
 * clipped. Parameters as of `clearedView`. @returns null where no other frame has it
 */
function withoutFlash(guides: GuideSet, exposures: Exposures, own: Plane, glass: Plane, frame: FrameId, others: readonly FrameId[]): ClearedView | null {
  const { top, cover } = guides.frames.get(frame)!;
  const places = placesAbove(glass, 0);
  const all = places.length;
  const flashes = labelRegions(mapPlane(glass, (v, i) => (v > 0 && top.data[i] > CLIPPED && cover.data[i] > 0 ? 1 : 0))).filter(({ pixels }) => pixels.length > FLASH * all);
  let best: { readonly frame: FrameId; readonly veil: Plane; readonly size: number } | null = null;
  for (const other of flashes.length > 0 ? others : []) {
    const there = excess(guides, other, own, exposures[other], places);
    const veil = createPlane(glass.width, glass.height);
    let size = 0;
    for (const { pixels } of flashes) {
      const about = [...near(glass, pixels, GLARE + BEYOND)];
      if (about.filter((i) => there[i] < CLEAR).length < TOLD * about.length) continue;
      size += pixels.length;
      for (const i of near(glass, pixels, GLARE)) veil.data[i] = 1;
    }
    if (size > (best?.size ?? 0)) best = { frame: other, veil, size };
  }
  return best && { frame: best.frame, share: best.size / all, area: outlineArea('veiled', 'intersect', best.veil, BEYOND, SOFT) };
}

/**
 * Where the glass mirrors the lit room in the frame that the view is taken from, and another frame, in which the flash stood
 * elsewhere, does not: mirrored light only adds, so the view's own light is the least that any frame shows.
 * @param own from `ownRadiance`. @param glass 0 or 1. @param frame that the view is taken from. @param others frames that show the view, too; @param partly more of them, that show some of it
 * @returns null where nothing is veiled, or no other frame is clear there.
 */
export function clearedView(guides: GuideSet, exposures: Exposures, own: Plane, glass: Plane, frame: FrameId, others: readonly FrameId[], partly: readonly FrameId[]): ClearedView | null {
  const places = placesAbove(glass, 0);
  const shown = excess(guides, frame, own, exposures[frame], places);
  const all = places.length;
  let best: { readonly frame: FrameId; readonly veil: Plane; readonly size: number } | null = null;
  for (const other of others) {
    const there = excess(guides, other, own, exposures[other], places);
    const veiled = createPlane(glass.width, glass.height);
    let hidden = 0;
    for (const i of places) {
      if (shown[i] > VEILED && there[i] < CLEAR && shown[i] < HIDDEN * there[i]) veiled.data[i] = 1;
      // Too dark to tell, or clipped, it may hide the view, or be taken for less than that is.
      if (shown[i] >= HIDDEN * there[i] || (shown[i] > 0 && Number.isNaN(there[i]))) hidden++;
    }
    if (hidden > HIDES * all) continue;
    const veil = createPlane(glass.width, glass.height);
    let size = 0;
    for (const { pixels } of labelRegions(veiled)) {
      if (pixels.length < PART * all) continue;
      size += pixels.length;
      for (const i of pixels) veil.data[i] = 1;
    }
    if (!best || size > best.size) best = { frame: other, veil, size };
  }
  if (!best || best.size < WORTH_IT * all) return withoutFlash(guides, exposures, own, glass, frame, [...others, ...partly]);
  return { frame: best.frame, share: best.size / all, area: outlineArea('veiled', 'intersect', best.veil, BEYOND, SOFT) };
}
