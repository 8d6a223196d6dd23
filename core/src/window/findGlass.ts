import { boxBlur } from '../image/boxBlur';
import { createPlane, luminance, mapPlane, quantile, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import type { FrameId } from '../mix/mix';
import { labelRegions, type Region } from './labelRegions';

/** Frames that the search compares, with their exposure against the reference in stops. */
export type Exposures = Readonly<Record<FrameId, number>>;

/** Radiance, in white of the reference, that starts a view and that it may fall to, where flashes tell inside from outside. */
const SEED_LEVEL = 0.85;
const GROW_LEVEL = 0.2;
/** The same where only brightness can tell. */
const SEED_WITHOUT_FLASH = 1.8;
const GROW_WITHOUT_FLASH = 0.9;
/** Flash light, as a share of what the flash gives the room's middle, above which a place is inside. */
const INSIDE = 0.13;
/** Inside an outline that was found, more is forgiven: a flash mirrored in the pane, a dark tree outside. */
const INSIDE_OUTLINE = 0.8;
const OUTLINE_LEVEL = 0.5;
/** Stops by which brightness must jump at the rim of a view. */
const LEAST_STEP = 0.12;
/** Guide pixels by which the finding falls short of the joinery. */
const RIM = 2;
/** Panes and parts that lie closer than this, in guide pixels, are judged together. */
const BAR = 4;
/** Relative error of exposure and white balance between frames. */
const TOLERANCE = 0.1;

/** What each guide pixel gives off by itself, in white of the reference: the least that any frame that can tell shows. NaN where none can. */
export function ownRadiance(guides: GuideSet, exposures: Exposures): Plane {
  const out = createPlane(guides.width, guides.height, new Float32Array(guides.width * guides.height).fill(Infinity));
  for (const [id, guide] of guides.frames) {
    const y = boxBlur(luminance(guide.light), 1);
    const scale = 2 ** -exposures[id];
    for (let i = 0; i < out.data.length; i++) {
      // What is clipped or nearly black in a frame carries no evidence.
      if (guide.top.data[i] > 0.965 || guide.cover.data[i] === 0 || y.data[i] < 0.004) continue;
      out.data[i] = Math.min(out.data[i], y.data[i] * scale);
    }
  }
  return mapPlane(out, (v) => (v === Infinity ? NaN : v));
}

/** Light that each flash added to each pixel, as a share of what it added to the room's middle; frames without flash are left out. */
function flashShares(guides: GuideSet, exposures: Exposures, own: Plane): Plane[] {
  const shares: Plane[] = [];
  for (const [id, guide] of guides.frames) {
    const y = boxBlur(luminance(guide.light), 1);
    const scale = 2 ** exposures[id];
    const added = mapPlane(y, (v, i) => (guide.cover.data[i] === 0 || Number.isNaN(own.data[i]) ? NaN : v - scale * own.data[i]));
    const known = added.data.filter((v, i) => i % 7 === 0 && !Number.isNaN(v));
    const middle = quantile(known, 0.6);
    // Less than this is drift of the camera, not a flash.
    if (!(middle > 0.02) || !(quantile(known.map((v) => v / middle), 0.3) > 0.15)) continue;
    // A clipped place got at least that much.
    shares.push(mapPlane(added, (v, i) => (Number.isNaN(v) ? 0 : (v - TOLERANCE * y.data[i]) / middle)));
  }
  return shares;
}

/** How much the flashes lit a place: the second most of three or more, since one may be mirrored in the glass. */
function insideEvidence(shares: readonly Plane[], i: number): number {
  let first = -Infinity;
  let second = -Infinity;
  for (const { data } of shares) {
    if (data[i] > first) {
      second = first;
      first = data[i];
    } else if (data[i] > second) second = data[i];
  }
  return shares.length >= 3 ? second : first;
}

/** A small and very warm region is a lamp, not a view. */
function isLamp(region: Region, guides: GuideSet): boolean {
  const warmth = region.pixels.map((i) => guides.merge.r[i] / Math.max(1e-4, guides.merge.b[i]));
  const share = region.pixels.length / (guides.width * guides.height);
  return share < 0.012 && quantile(warmth, 0.5) > 1.5;
}

/** Morphological closing by a square: dilation, then erosion, by counting in windows. */
function close(plane: Plane, radius: number): Plane {
  const grown = mapPlane(boxBlur(plane, radius), (v) => (v > 1e-4 ? 1 : 0));
  return mapPlane(boxBlur(grown, radius), (v) => (v > 1 - 1e-4 ? 1 : 0));
}

/**
 * How sharply a region ends, in stops: for each of its four sides the median step of brightness across its rim, in
 * whichever frame shows that side unclipped and sharpest; the least of the four. Joinery ends a view all round; light
 * that fades along a wall or a ceiling leaves a side without end.
 */
function rimStep(region: Region, guides: GuideSet, luminances: ReadonlyMap<string, Plane>): number {
  const { width } = guides;
  const inside = new Set(region.pixels);
  const sides = [-1, 1, -width, width].map((by) => {
    let best = NaN;
    for (const [id, guide] of guides.frames) {
      const y = luminances.get(id)!.data;
      const steps: number[] = [];
      let clipped = 0;
      for (const i of region.pixels) {
        const inner = i - 2 * by;
        const outer = i + 4 * by;
        if (inside.has(i + by) || !inside.has(inner) || inside.has(outer) || outer < 0 || outer >= y.length || guide.cover.data[outer] === 0) continue;
        if (guide.top.data[inner] > 0.97) clipped++;
        else steps.push(Math.abs(Math.log2(Math.max(0.002, y[inner]) / Math.max(0.002, y[outer]))));
      }
      if (steps.length > 10 && clipped < 2 * steps.length) best = Math.max(Number.isNaN(best) ? 0 : best, quantile(steps, 0.5));
    }
    return best;
  });
  const known = sides.filter((step) => !Number.isNaN(step));
  return known.length === 0 ? Infinity : Math.min(...known);
}

/** Calls back for every pixel between the leftmost and the rightmost of each row, and the topmost and lowest of each column, of a region. */
function fillOutline(region: Region, width: number, visit: (i: number) => void): void {
  const across = new Map<number, [number, number]>();
  const down = new Map<number, [number, number]>();
  const widen = (spans: Map<number, [number, number]>, line: number, at: number): void => {
    const span = spans.get(line);
    if (!span) spans.set(line, [at, at]);
    else spans.set(line, [Math.min(span[0], at), Math.max(span[1], at)]);
  };
  for (const i of region.pixels) {
    widen(across, Math.floor(i / width), i % width);
    widen(down, i % width, Math.floor(i / width));
  }
  for (const [y, [from, to]] of across) {
    for (let x = from; x <= to; x++) {
      const span = down.get(x);
      if (span && y >= span[0] && y <= span[1]) visit(y * width + x);
    }
  }
}

/**
 * The view through glass on the guide grid, 1 inside and 0 outside: bright by itself, and no brighter when a flash
 * fires, since no flash reaches the outside. Without any flash only brightness can tell, and more of it is asked for.
 * @param exposures of all frames in `guides`; at least the ambient ones.
 */
export function findGlass(guides: GuideSet, exposures: Exposures): Plane {
  const own = ownRadiance(guides, exposures);
  const shares = flashShares(guides, exposures, own);
  const merged = luminance(guides.merge);
  const [seed, grow] = shares.length > 0 ? [SEED_LEVEL, GROW_LEVEL] : [SEED_WITHOUT_FLASH, GROW_WITHOUT_FLASH];
  const witnesses = createPlane(guides.width, guides.height);
  for (const { cover } of guides.frames.values()) for (let i = 0; i < witnesses.data.length; i++) witnesses.data[i] += cover.data[i];
  const radiance = mapPlane(own, (v, i) => (!Number.isNaN(v) ? v : shares.length > 0 && witnesses.data[i] > 1 ? Math.max(1, merged.data[i]) : merged.data[i]));
  const lit = mapPlane(own, (_, i) => (shares.length > 0 ? insideEvidence(shares, i) : 0));
  const candidate = mapPlane(radiance, (v, i) => (v < grow || lit.data[i] > INSIDE ? 0 : v > seed ? 2 : 1));
  const luminances = new Map([...guides.frames].map(([id, guide]) => [id, luminance(guide.light)]));
  const out = createPlane(guides.width, guides.height);
  const least = 0.0012 * out.data.length;
  for (const group of labelRegions(close(mapPlane(candidate, (v) => (v === 2 ? 1 : 0)), BAR))) {
    const pixels = group.pixels.filter((i) => candidate.data[i] > 0);
    const seeds = pixels.reduce((sum, i) => sum + (candidate.data[i] === 2 ? 1 : 0), 0);
    if (seeds < least || isLamp({ ...group, pixels }, guides) || rimStep(group, guides, luminances) < LEAST_STEP) continue;
    for (const i of pixels) out.data[i] = 1;
    fillOutline({ ...group, pixels }, guides.width, (i) => {
      if (radiance.data[i] > OUTLINE_LEVEL && lit.data[i] < INSIDE_OUTLINE) out.data[i] = 1;
    });
  }
  // Next to joinery the evidence is mixed; the rim is left to the edge-aware filter, which needs to see both sides.
  return mapPlane(boxBlur(close(out, 1), RIM), (v) => (v > 1e-4 ? 1 : 0));
}
