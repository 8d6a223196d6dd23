import { closeMask } from '../image/closeMask';
import { createPlane, mapPlane, quantile, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import { flashAcrossRim, goesOn, rimOf, rimStep } from './regionRim';
import { flashEvidence, outsideByAll } from './flashEvidence';
import { labelRegions, type Region } from './labelRegions';
import type { Exposures } from './ownRadiance';

/** Radiance, in white of the reference, that starts a view and that it may fall to, where flashes tell inside from outside. */
const SEED_LEVEL = 0.8;
const GROW_LEVEL = 0.1;
/** The same where only brightness can tell. */
const SEED_WITHOUT_FLASH = 1.8;
const GROW_WITHOUT_FLASH = 0.9;
/** How much a pixel must look like outside to start a view, to belong to it, and to belong within its outline. */
const OUTSIDE_SEED = 0.5;
const OUTSIDE_GROW = 0.62;
const OUTSIDE_WITHIN = 0.55;
const OUTSIDE_GLARE = 0.45;
const LEVEL_WITHIN = 0.3;
/** Flash light inside, as a share of that about it, above which a region is a lit surface. */
const DROP = 0.6;
/** Stops by which brightness must jump at the rim of a view. */
const LEAST_STEP = 0.12;
/** A pane smaller and dimmer than these shares of the largest one is a reflection of it. */
const REFLECTION_SIZE = 0.15;
const REFLECTION_LEVEL = 0.6;
/** Parts of a pane that lie closer than this, in guide pixels, are judged together. */
const GAP = 1;
/** Panes that lie closer than this belong to one window. */
const BAR = 5;
/** Enclosed holes up to this share of the picture may be glare on the pane. */
const GLARE = 0.004;
/** Share of a part of the view that must be sure panes. */
const SURE = 0.1;

/** A small and very warm region is a lamp, not a view. */
function isLamp(pixels: readonly number[], guides: GuideSet): boolean {
  const warmth = pixels.map((i) => guides.merge.r[i] / Math.max(1e-4, guides.merge.b[i]));
  return pixels.length / (guides.width * guides.height) < 0.012 && quantile(warmth, 0.5) > 1.5;
}

/** Calls back for every pixel between the leftmost and the rightmost of each row, and the topmost and lowest of each column, of a region. */
function fillOutline(pixels: readonly number[], width: number, visit: (i: number) => void): void {
  const across = new Map<number, [number, number]>();
  const down = new Map<number, [number, number]>();
  const widen = (spans: Map<number, [number, number]>, line: number, at: number): void => {
    const span = spans.get(line);
    if (!span) spans.set(line, [at, at]);
    else {
      span[0] = Math.min(span[0], at);
      span[1] = Math.max(span[1], at);
    }
  };
  for (const i of pixels) {
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

interface Appearance {
  /** In white of the reference. */
  readonly radiance: Plane;
  /** How much the pixel looks like outside by all flashes, about 0..1, or NaN where none can tell. */
  readonly outside: Plane;
  /** 2 where a view may start, 1 where it may go on, 0 elsewhere. */
  readonly candidate: Plane;
}

/** What every pixel looks like, by itself. */
function appearance(guides: GuideSet, own: Plane, evidence: ReturnType<typeof flashEvidence>): Appearance {
  const witnesses = createPlane(guides.width, guides.height);
  for (const { cover } of guides.frames.values()) for (let i = 0; i < witnesses.data.length; i++) witnesses.data[i] += cover.data[i];
  // Clipped in every frame: at least white.
  const radiance = mapPlane(own, (v, i) => (!Number.isNaN(v) ? v : evidence.length > 0 && witnesses.data[i] > 1 ? Math.max(1, guides.merge.g[i]) : guides.merge.g[i]));
  const outside = mapPlane(own, (_, i) => outsideByAll(evidence, i));
  const candidate = mapPlane(radiance, (v, i) => {
    const o = outside.data[i];
    // Clipped in every frame, flashes and all: it may belong to a view but proves none.
    if (evidence.length > 0 && Number.isNaN(own.data[i])) return v > GROW_WITHOUT_FLASH ? 1 : 0;
    if (Number.isNaN(o)) return v > SEED_WITHOUT_FLASH ? 2 : v > GROW_WITHOUT_FLASH ? 1 : 0;
    return v > SEED_LEVEL && o > OUTSIDE_SEED ? 2 : v > GROW_LEVEL && o > OUTSIDE_GROW ? 1 : 0;
  });
  return { radiance, outside, candidate };
}

/** Leaves out small dim panes beside a large bright one: its reflections in glossy surfaces, which no flash reaches either. */
function withoutReflections(panes: readonly Region[], radiance: Plane): Region[] {
  const level = (pane: Region): number => quantile(pane.pixels.map((i) => radiance.data[i]), 0.5);
  const largest = panes.reduce<Region | null>((best, pane) => (best && best.pixels.length >= pane.pixels.length ? best : pane), null);
  if (!largest) return [];
  const bright = level(largest);
  return panes.filter((pane) => pane.pixels.length > REFLECTION_SIZE * largest.pixels.length || level(pane) > REFLECTION_LEVEL * bright);
}

/** Fills enclosed bright holes that most flashes call outside: there one of them, or its patch on the ceiling, is mirrored in the pane. */
function fillGlare(glass: Plane, { outside, radiance }: Appearance): void {
  for (const hole of labelRegions(mapPlane(glass, (v) => 1 - v))) {
    if (hole.pixels.length > GLARE * glass.data.length) continue;
    const bright = hole.pixels.filter((i) => radiance.data[i] > LEVEL_WITHIN && outside.data[i] > OUTSIDE_GLARE);
    if (bright.length > hole.pixels.length / 2) for (const i of hole.pixels) glass.data[i] = 1;
  }
}

/**
 * The view through glass on the guide grid, 1 inside and 0 outside: bright by itself, and no brighter when a flash
 * fires, since no flash reaches the outside. Without any flash only brightness can tell, and more of it is asked for.
 * @param exposures of all frames in `guides`; at least the ambient ones; @param own from `ownRadiance`.
 */
export function findGlass(guides: GuideSet, exposures: Exposures, own: Plane): Plane {
  const evidence = flashEvidence(guides, exposures, own);
  const looks = appearance(guides, own, evidence);
  const { radiance, outside, candidate } = looks;
  // Nothing that could start a view: what may go on has nothing to go on from.
  if (!candidate.data.includes(2)) return createPlane(guides.width, guides.height);
  const least = 0.0006 * candidate.data.length;
  const parts = labelRegions(closeMask(mapPlane(candidate, (v) => (v === 2 ? 1 : 0)), GAP));
  const fading = new Uint8Array(candidate.data.length);
  const ended = parts.filter((part) => {
    if (part.pixels.length < least || isLamp(part.pixels, guides)) return false;
    const rim = rimOf(part, guides.width, guides.height);
    const ends = rimStep(rim, guides) >= LEAST_STEP;
    if (!ends) for (const i of part.pixels) fading[i] = 1;
    return ends && !(flashAcrossRim(rim, evidence) > DROP);
  });
  const panes = withoutReflections(ended.filter((part) => !goesOn(part, guides, fading)), radiance);
  const rejected = createPlane(guides.width, guides.height);
  for (const part of parts) if (part.pixels.length >= least && !panes.includes(part)) for (const i of part.pixels) rejected.data[i] = 1;
  const sure = createPlane(guides.width, guides.height);
  for (const pane of panes) for (const i of pane.pixels) sure.data[i] = 1;
  // Dark parts of the view start nothing, but go on with what is sure.
  const view = createPlane(guides.width, guides.height);
  for (const part of labelRegions(mapPlane(candidate, (v, i) => (sure.data[i] || (v > 0 && !rejected.data[i]) ? 1 : 0)))) {
    const seeds = part.pixels.reduce((sum, i) => sum + sure.data[i], 0);
    if (seeds > SURE * part.pixels.length) for (const i of part.pixels) view.data[i] = 1;
  }
  const out = createPlane(guides.width, guides.height);
  for (const group of labelRegions(closeMask(view, BAR))) {
    const pixels = group.pixels.filter((i) => view.data[i] > 0);
    for (const i of pixels) out.data[i] = 1;
    fillOutline(pixels, guides.width, (i) => {
      if (rejected.data[i] || !(radiance.data[i] > LEVEL_WITHIN)) return;
      if (outside.data[i] > OUTSIDE_WITHIN) out.data[i] = 1;
    });
  }
  fillGlare(out, looks);
  return closeMask(out, 1);
}
