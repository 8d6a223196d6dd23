import type { Area, FrameId } from '@zaddle/document';
import { createPlane, mapPlane, placesAbove, quantile, type Plane } from '../image/plane';
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
/** Share of what lies about a mirrored flash that two frames have to tell of to be held against each other; and how much brighter than nearly all of that another frame may be where the flash is: else it mirrors one, too. */
const BESIDE = 0.4;
const LEAST = 20;
const NO_FLASH = 1.2;
/** How many times as bright about it another frame may be, or as dark: more is no haze that can be taken off. */
const HAZY = 1.6;
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
  /** Stops by which that frame is brighter there than the first. */
  readonly brighter: number;
}

/** What a frame shows, place by place, and how it is exposed against the reference. */
interface Seen {
  readonly value: Float32Array;
  readonly scale: number;
  /** Whether it says how bright a place is: neither clipped nor nearly black. */
  readonly tells: (i: number) => boolean;
}

function seenIn(guides: GuideSet, frame: FrameId, stops: number): Seen {
  const guide = guides.frames.get(frame)!;
  const [value, top, cover] = [comparable(guide).data, guide.top.data, guide.cover.data];
  return { value, scale: 2 ** stops, tells: (i) => !(top[i] > CLIPPED || cover[i] === 0 || value[i] < DARK) };
}

/** How much more than the view's own light a frame shows at some places, as a factor; NaN where it cannot tell, and elsewhere. */
function excess(guides: GuideSet, frame: FrameId, own: Plane, stops: number, places: Int32Array): Float32Array {
  const { value, scale, tells: isSeen } = seenIn(guides, frame, stops);
  const { width, height, data: light } = own;
  const tells = (i: number): boolean => isSeen(i) && light[i] > 0;
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
        shown += value[at] / scale;
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

/** How many times as bright as the first frame another one is about a flash that the first mirrors; NaN where that mirrors one there, too, or is not to be held against it. */
function besideFlash(first: Seen, other: Seen, flash: readonly number[], about: ReadonlySet<number>, glare: ReadonlySet<number>): number {
  const around = [...about].filter((i) => !glare.has(i) && first.tells(i) && other.tells(i));
  const within = flash.filter((i) => other.tells(i));
  if (around.length < BESIDE * (about.size - glare.size) || around.length < LEAST || within.length < TOLD * flash.length) return NaN;
  const bright = (pixels: readonly number[], share: number): number => quantile(pixels.map((i) => other.value[i]), share);
  if (bright(within, 0.9) > NO_FLASH * bright(around, 0.95)) return NaN;
  const times = quantile(around.map((i) => other.value[i] / other.scale / (first.value[i] / first.scale)), 0.5);
  return times < HAZY && times > 1 / HAZY ? times : NaN;
}

/**
 * Where the glass mirrors a flash in the frame that the view is taken from, and another frame shows the view there, wherever else that is
 * clipped. Parameters as of `clearedView`. @returns null where no other frame has it
 */
function withoutFlash(guides: GuideSet, exposures: Exposures, glass: Plane, frame: FrameId, others: readonly FrameId[]): ClearedView | null {
  const { top, cover } = guides.frames.get(frame)!;
  const all = placesAbove(glass, 0).length;
  const flashes = labelRegions(mapPlane(glass, (v, i) => (v > 0 && top.data[i] > CLIPPED && cover.data[i] > 0 ? 1 : 0))).filter(({ pixels }) => pixels.length > FLASH * all);
  const first = seenIn(guides, frame, exposures[frame]);
  let best: { readonly frame: FrameId; readonly veil: Plane; readonly size: number; readonly times: readonly number[] } | null = null;
  for (const id of flashes.length > 0 ? others : []) {
    const other = seenIn(guides, id, exposures[id]);
    const veil = createPlane(glass.width, glass.height);
    const times: number[] = [];
    let size = 0;
    for (const { pixels } of flashes) {
      const glare = near(glass, pixels, GLARE);
      const beside = besideFlash(first, other, pixels, near(glass, pixels, GLARE + BEYOND), glare);
      if (Number.isNaN(beside)) continue;
      size += pixels.length;
      times.push(beside);
      for (const i of glare) veil.data[i] = 1;
    }
    if (size > (best?.size ?? 0)) best = { frame: id, veil, size, times };
  }
  return best && { frame: best.frame, share: best.size / all, brighter: Math.log2(quantile(best.times, 0.5)), area: outlineArea('veiled', 'intersect', best.veil, BEYOND, SOFT) };
}

/**
 * Where the glass mirrors the lit room in the frame that the view is taken from, and another frame, in which the flash stood
 * elsewhere, does not: mirrored light only adds, so the view's own light is the least that any frame shows.
 * @param own from `ownRadiance`. @param glass 0 or 1. @param frame that the view is taken from. @param fired whether a flash fired in it; @param others frames that show the view, too; @param partly more of them, that show some of it
 * @returns null where nothing is veiled, or no other frame is clear there.
 */
export function clearedView(guides: GuideSet, exposures: Exposures, own: Plane, glass: Plane, frame: FrameId, fired: boolean, others: readonly FrameId[], partly: readonly FrameId[]): ClearedView | null {
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
  if (!best || best.size < WORTH_IT * all) return fired ? withoutFlash(guides, exposures, glass, frame, [...others, ...partly]) : null;
  return { frame: best.frame, share: best.size / all, brighter: 0, area: outlineArea('veiled', 'intersect', best.veil, BEYOND, SOFT) };
}
