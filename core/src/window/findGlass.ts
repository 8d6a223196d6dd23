import { closeMask } from '../image/closeMask';
import { log2Plane } from '../image/log2Of';
import { createPlane, mapPlane, quantile, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import { flashAcrossRim, goesOn, rimOf, rimStep } from './regionRim';
import { evenPanes } from './evenPanes';
import { judgePanes, middleOf } from './judgePanes';
import { liesBeside } from './liesBeside';
import { centreOf, directionsOf, fitPane, type Along, pixelsOfPane, withinPane, type PaneQuad } from './fitPane';
import { fitSlantedPane } from './fitSlantedPane';
import { flashEvidence, type FlashEvidence } from './flashEvidence';
import { labelRegions, type Region } from './labelRegions';
import { comparable, crispRadiance, DARK, type Exposures } from './ownRadiance';
import { mirroredBelow } from './mirroredBelow';
import { edgePlanes, refinePane } from './refinePane';
import { polygonArea } from './polygonArea';
import { siblingPanes } from './siblingPanes';
import { NEARLY_CLIPPED, splitPane } from './splitPane';
import { panesBetweenBars } from './barsThrough';
import { backlitBefore } from './backlitBefore';
import { withoutTables } from './withoutTables';
import { withoutLamps } from './withoutLamps';
import { beforePanes } from './beforePanes';
import { appearance, LEVELS, type Appearance } from './appearance';

/** The same for what surely is a view. */
const SURELY = 0.8;
/** A region is taken in parts where these are panes of so much of it, and fit so much better. */
const IN_PARTS = 0.85;
const FITS_BETTER = 0.03;
/** How much better a pane must fit by sides that stand and lie as the picture does: somebody beside it may lead half of a side astray. */
const STRAIGHTER = 0.01;
/** How well a pane fits that is no further room, and how much less such a room looks like outside than a window in it. */
const FITS_WELL = 0.92;
const FURTHER = 0.2;
/** Middle radiance of a view, in white of the reference, below which it is a dark thing or an open door. */
const DARKEST_VIEW = 0.06;
/** Flash light inside, as a share of that about it, above which a region is a lit surface; less is asked for where it is no pane. */
const DROP = 0.35;
const DROP_UNSHAPED = 0.2;
/** Stops by which brightness must jump at the rim of a view where no flash tells, and where flashes tell of the region but not of its rim. */
const LEAST_STEP = 0.12;
const SURE_STEP = 0.24;
/** Share of a region that flashes tell of, above which they alone judge it. */
const TOLD = 0.5;
/** Share of the largest pane, and of the picture, below which a region is a speck. */
const SPECK = 0.04;
const SPECK_AT_MOST = 0.001;
/** A pane smaller and dimmer than these shares of the largest one is a reflection of it. */
const REFLECTION_SIZE = 0.15;
const REFLECTION_LEVEL = 0.6;
/** Share of a region from which on panes are all that it is. */
const MOSTLY_PANES = 0.4;
/** Share of a region from which on it is what a floor mirrors. */
const MIRRORED = 0.5;
/** Width of a sliver, as a share of the widest pane's narrower side, and how many times as long it is. */
const SLIVER = 0.35;
const LONG = 4;
/** Parts of a pane that lie closer than this, in guide pixels, are judged together. */
const GAP = 1;
/** Enclosed holes up to this share of the picture may be glare on the pane. */
const GLARE = 0.004;
const OUTSIDE_GLARE = 0.45;
const LEVEL_WITHIN = 0.3;
/** How much what lies between a pane and the line that a pane beside it ends in must look like outside. */
const OUTSIDE_STRIP = 0.4;
/** Pixels of a strip from which its paint is told, and how much of log luminance lies between most of it: a reveal is shaded, and leaves hang before it. */
const PAINT_SEEN = 30;
const STRIP_PAINT = 0.5;
const OTHER_TONE = 0.3;
/** Share of the picture's top that a view from inside does not reach. */
const SKY = 0.3;

/** A small and very warm region is a lamp, not a view. */
function isLamp(pixels: readonly number[], guides: GuideSet): boolean {
  const warmth = pixels.map((i) => guides.merge.r[i] / Math.max(1e-4, guides.merge.b[i]));
  return pixels.length / (guides.width * guides.height) < 0.012 && quantile(warmth, 0.5) > 1.5;
}

/** Leaves out, beside a large bright region, specks: lamps that were off in a frame, or what mirrors the day; and dim regions that are small or no panes: its reflections in glossy surfaces, which no flash reaches either. */
function withoutReflections(panes: readonly Region[], radiance: Plane): Region[] {
  const { width, height } = radiance;
  const level = (pane: Region): number => quantile(pane.pixels.map((i) => radiance.data[i]), 0.5);
  const largest = panes.reduce<Region | null>((best, pane) => (best && best.pixels.length >= pane.pixels.length ? best : pane), null);
  if (!largest) return [];
  const bright = level(largest);
  const isSpeck = ({ pixels }: Region): boolean => pixels.length < SPECK * largest.pixels.length && pixels.length < SPECK_AT_MOST * radiance.data.length;
  return panes.filter((pane) => !isSpeck(pane)).filter((pane) => (pane.pixels.length > REFLECTION_SIZE * largest.pixels.length && fitPane(pane, width, height)) || level(pane) > REFLECTION_LEVEL * bright);
}

/** Leaves out what is long and far narrower than the panes beside it: sunlit reveals and edges of joinery. */
function withoutSlivers(panes: readonly Region[]): Region[] {
  const narrow = ({ left, right, top, bottom }: Region): number => Math.min(right - left, bottom - top) + 1;
  const usual = Math.max(0, ...panes.map(narrow));
  return panes.filter((pane) => narrow(pane) > SLIVER * usual || Math.max(pane.right - pane.left, pane.bottom - pane.top) + 1 < LONG * narrow(pane));
}

/** Fills enclosed bright holes that most flashes call outside: there one of them, or its patch on the ceiling, is mirrored in the pane. */
function fillGlare(glass: Plane, { outside, radiance }: Appearance): void {
  for (const hole of labelRegions(mapPlane(glass, (v) => 1 - v))) {
    if (hole.pixels.length > GLARE * glass.data.length) continue;
    const bright = hole.pixels.filter((i) => radiance.data[i] > LEVEL_WITHIN && outside.data[i] > OUTSIDE_GLARE);
    if (bright.length > hole.pixels.length / 2) for (const i of hole.pixels) glass.data[i] = 1;
  }
}

/** The view through glass. */
export interface Glass {
  /** 1 inside and 0 outside, on the guide grid. */
  readonly plane: Plane;
  /** Its panes with four straight sides; the others are in the plane alone. */
  readonly panes: readonly PaneQuad[];
  /** 1 where something stands before panes. */
  readonly before: Plane;
  /** 1 where something dark stands before panes that frames show well with the view: a plant on a sill. The plane has it, no pane is there. Worked out when it is asked for: no picture needs it. */
  readonly backlit: () => Plane;
  /** 1 where the plane is and what lies there surely looks like outside in all frames: elsewhere somebody may stand before it in one of them. */
  readonly sure: Plane;
}

/** Whether a region is open to the top of the picture: the sky over something that is seen from outside. */
function isSky({ pixels }: Region, width: number): boolean {
  return pixels.reduce((sum, i) => sum + (i < width ? 1 : 0), 0) > SKY * width;
}

/** Whether flashes and frames without them tell of a region, and not flashes or brightness alone. */
function isTold({ pixels }: Region, known: Uint8Array, outside: Plane): boolean {
  return pixels.reduce((sum, i) => sum + (known[i] && !Number.isNaN(outside.data[i]) ? 1 : 0), 0) > TOLD * pixels.length;
}

/** Whether a region that looks like a view is one: by what flashes do at its rim; where these do not tell, it is a pane if it is a view, and ends all round. */
function isView(part: Region, guides: GuideSet, evidence: readonly FlashEvidence[], known: Uint8Array, { outside, radiance }: Appearance): boolean {
  if (isLamp(part.pixels, guides) || isSky(part, guides.width)) return false;
  const rim = rimOf(part, guides.width, guides.height);
  const across = flashAcrossRim(rim, evidence);
  const told = isTold(part, known, outside);
  const isPane = fitPane(part, guides.width, guides.height) !== null;
  // A further room that hardly any flash reaches has other shapes.
  if (told && !Number.isNaN(across)) return across <= (isPane ? DROP : DROP_UNSHAPED) && quantile(part.pixels.map((i) => radiance.data[i]), 0.5) > DARKEST_VIEW;
  // A view that is mirrored in a floor looks like outside, but it hardly ends.
  return isPane && rimStep(rim, guides, known, outside) >= (told ? SURE_STEP : LEAST_STEP) && !(across > DROP);
}

/** Connected parts of a region, or of the whole picture, where a plane lies above a level; gaps of single pixels do not part them. */
function regionsAbove(plane: Plane, level: number, within: Region | null): Region[] {
  if (!within) return labelRegions(closeMask(mapPlane(plane, (v) => (v >= level ? 1 : 0)), GAP));
  // Only what lies about the region is looked at.
  const { left, top } = within;
  const [width, height] = [within.right - left + 1, within.bottom - top + 1];
  const above = createPlane(width, height);
  for (const i of within.pixels) {
    const [x, y] = [i % plane.width, Math.floor(i / plane.width)];
    if (plane.data[i] >= level) above.data[(y - top) * width + x - left] = 1;
  }
  return labelRegions(closeMask(above, GAP)).map((part) => ({
    left: part.left + left, right: part.right + left, top: part.top + top, bottom: part.bottom + top,
    pixels: part.pixels.map((i) => (Math.floor(i / width) + top) * plane.width + (i % width) + left),
  }));
}

/**
 * Either a view as one region, or the panes that it is made of: bars between panes look a little less like outside than these, and
 * far less does a further room that no flash reaches, with a window in it.
 */
function taken(whole: Region, parts: readonly Region[], { likely }: Appearance): readonly Region[] {
  if (parts.length === 0) return [whole];
  const { width, height } = likely;
  const covered = parts.reduce((sum, { pixels }) => sum + pixels.length, 0);
  const fitOf = (region: Region): number => (fitPane(region, width, height) ?? fitSlantedPane(region, width, height))?.fit ?? 0;
  const fit = parts.reduce((sum, part) => sum + part.pixels.length * fitOf(part), 0) / covered;
  const own = fitOf(whole);
  if (fit > own + FITS_BETTER && covered > IN_PARTS * whole.pixels.length) return parts;
  if (own >= FITS_WELL || fit < own - FITS_BETTER) return [whole];
  const inParts = new Set(parts.flatMap(({ pixels }) => pixels));
  const looks = (pixels: readonly number[]): number => quantile(pixels.map((i) => likely.data[i]), 0.5);
  return looks([...inParts]) - looks(whole.pixels.filter((i) => !inParts.has(i))) > FURTHER ? parts : [whole];
}

/** Regions that lie about as close as panes of one window do. */
function ofOneWindow(region: Region, all: readonly Region[]): Region[] {
  const reach = 0.5 * Math.max(region.right - region.left, region.bottom - region.top);
  return all.filter((other) => other.left < region.right + reach && other.right > region.left - reach && other.top < region.bottom + reach && other.bottom > region.top - reach);
}

/** Sides that stand and lie as the picture does: most windows nearly do, and what stands before one may lead its own sides astray. */
const AS_THE_PICTURE: Along = { standing: 0, level: 0 };

/** Panes that a region shows, standing ones side by side, or one at a slant; none where it has another shape. @param all regions of the view */
function panesOf(region: Region, all: readonly Region[], logs: readonly Plane[], known: Uint8Array, { outside }: Appearance): { readonly standing: readonly PaneQuad[]; readonly slanted: readonly PaneQuad[] } {
  const { width, height } = outside;
  const shared = fitPane(region, width, height, directionsOf(ofOneWindow(region, all), width)) ?? fitPane(region, width, height);
  const straight = fitPane(region, width, height, AS_THE_PICTURE);
  const window = straight && straight.fit > (shared?.fit ?? 0) + STRAIGHTER ? straight : shared;
  const slant = window && window.fit >= FITS_WELL ? null : fitSlantedPane(region, width, height);
  if (slant && slant.fit > (window?.fit ?? 0) + FITS_BETTER) return { standing: [], slanted: [slant.quad] };
  return { standing: window ? splitPane(window.quad, logs, outside, !isTold(region, known, outside)) : [], slanted: [] };
}

/** Panes without those that lie in a larger one: parts of a pane may have been found by themselves. */
function eachOnce(panes: readonly PaneQuad[]): PaneQuad[] {
  const out: PaneQuad[] = [];
  for (const pane of [...panes].sort((a, b) => polygonArea(b) - polygonArea(a))) if (!out.some((other) => withinPane(other, ...centreOf(pane)))) out.push(pane);
  return out;
}

/** Whether what lies in a strip is of one paint, and of another tone than what lies within it in every frame that is not clipped there: a frame, or a reveal, and no even sky. */
function isPaint(strip: PaneQuad, within: PaneQuad, logs: readonly Plane[]): boolean {
  let even = false;
  for (const log of logs) {
    const values: number[] = [];
    pixelsOfPane(strip, log.width, log.height, (i) => values.push(log.data[i]));
    const middle = quantile(values, 0.5);
    if (values.length < PAINT_SEEN || middle >= NEARLY_CLIPPED) continue;
    if (Math.abs(middle - middleOf(within, log)) < OTHER_TONE) return false;
    even ||= quantile(values, 0.8) - quantile(values, 0.2) < STRIP_PAINT;
  }
  return even;
}

/** About the panes of a window lies a reveal, or joinery: where nothing but one flash shows it, that says nothing of it, and it is taken out of the view. Between them it stays. */
function leaveOutAround(panes: readonly PaneQuad[], regions: readonly Region[], known: Uint8Array, view: Plane): void {
  const { width, height } = view;
  const within = createPlane(width, height);
  for (const pane of panes) pixelsOfPane(pane, width, height, (i) => (within.data[i] = 1));
  for (const { pixels } of regions) {
    const inPanes = pixels.filter((i) => within.data[i] > 0);
    if (inPanes.length < MOSTLY_PANES * pixels.length) continue;
    const [columns, rows] = [inPanes.map((i) => i % width), inPanes.map((i) => Math.floor(i / width))];
    const [left, right, top, bottom] = [quantile(columns, 0), quantile(columns, 1), quantile(rows, 0), quantile(rows, 1)];
    const isAbout = (x: number, y: number): boolean => x < left || x > right || y < top || y > bottom;
    for (const i of pixels) if (!known[i] && isAbout(i % width, Math.floor(i / width))) view.data[i] = 0;
  }
}

/**
 * The view through glass: where flashes fire, it is what no flash lifts, since none reaches the outside, pane by pane with
 * straight sides. Without any flash only brightness can tell, and much of it is asked for.
 * @param exposures of all frames in `guides`; at least the ambient ones; @param own from `ownRadiance`.
 */
export function findGlass(guides: GuideSet, exposures: Exposures, own: Plane): Glass {
  const { width, height } = guides;
  const { frames: evidence, known } = flashEvidence(guides, exposures, own);
  const looks = appearance(guides, own, evidence);
  const least = 0.0005 * own.data.length;
  const fading = new Uint8Array(own.data.length);
  const isMirrored = (other: Region, views: readonly Region[]): boolean => mirroredBelow(other, views, guides, known, looks.outside);
  /** Regions that are views, and those that look like one but are none by themselves. */
  const views = (within: Region | null, level: number): { readonly own: readonly Region[]; readonly others: readonly Region[] } => {
    if (level === LEVELS.length) return { own: [], others: [] };
    const all = regionsAbove(looks.likely, LEVELS[level], within).filter(({ pixels }) => pixels.length >= least).map((part) => {
      const inParts = views(part, level + 1);
      if (!inParts.others.some((other) => isMirrored(other, [...inParts.own, ...inParts.others])) && isView(part, guides, evidence, known, looks)) return { own: taken(part, inParts.own, looks), others: inParts.others };
      if (level === 0 && inParts.own.length === 0) for (const i of part.pixels) fading[i] = 1;
      return inParts.own.length > 0 ? inParts : { own: [], others: [part, ...inParts.others] };
    });
    return { own: all.flatMap(({ own: each }) => each), others: all.flatMap(({ others }) => others) };
  };
  const { own: looking, others } = views(null, 0);
  const mirrored = createPlane(width, height);
  for (const other of others) if (isMirrored(other, looking)) for (const i of other.pixels) mirrored.data[i] = 1;
  const ended = looking.filter(({ pixels }) => pixels.reduce((sum, i) => sum + mirrored.data[i], 0) < MIRRORED * pixels.length);
  const logs = [...guides.frames.values()].map((guide) => log2Plane(comparable(guide), DARK));
  const out = createPlane(width, height);
  const seen = new Set<number>();
  const found: PaneQuad[] = [];
  const slanted: PaneQuad[] = [];
  const ending = ended.filter((part) => !goesOn(part, guides, fading));
  const regions = withoutSlivers(withoutReflections(evidence.length > 0 ? withoutLamps(ending, guides, looks.radiance) : ending, looks.radiance));
  for (const region of regions) {
    const own = panesOf(region, regions, logs, known, looks);
    found.push(...own.standing);
    slanted.push(...own.slanted);
    for (const i of region.pixels) {
      seen.add(i);
      if (own.standing.length + own.slanted.length === 0) out.data[i] = 1;
    }
  }
  // By flash, bars differ from what is mirrored in a floor, where bars are mirrored, too.
  const told = evidence.length > 0 && [...seen].reduce((sum, i) => sum + known[i], 0) > TOLD * seen.size;
  const judge = judgePanes(looks, known, logs, mirrored, told ? evidence.length : 0);
  // Beside panes that stand, one at a slant is a part of one.
  const leaning = slanted.filter((pane) => !found.some((other) => liesBeside(pane, other)));
  const edges = edgePlanes(guides.frames.values());
  const all = [...found, ...siblingPanes(found, logs, judge.proof, judge.maybe)];
  const painted = (strip: PaneQuad, within: PaneQuad): boolean => !told && isPaint(strip, within, logs);
  const even = evenPanes(all, (strip, within) => (painted(strip, within) ? 'paint' : middleOf(strip, looks.likely) < OUTSIDE_STRIP ? 'unknown' : 'view'));
  // An edge that is not the glass's own may have drawn a side back out.
  const inRows = evenPanes(even.map((pane) => refinePane(pane, edges)), (strip, within) => (painted(strip, within) ? 'paint' : 'unknown'));
  const whole = withoutTables(eachOnce([...inRows, ...leaning.map((pane) => refinePane(pane, edges))]));
  const panes = whole.flatMap((pane) => panesBetweenBars(pane, looks.outside, logs, (along) => refinePane(along, edges)));
  if (evidence.length === 1) leaveOutAround(panes, regions, known, out);
  const before = beforePanes(panes, seen, looks, evidence.length === 1);
  for (const pane of panes) pixelsOfPane(pane, width, height, (i) => (out.data[i] = 1 - before.data[i]));
  fillGlare(out, looks);
  const plane = closeMask(out, GAP);
  const backlit = (): Plane => (evidence.length > 0 ? backlitBefore(panes, looks, crispRadiance(guides, exposures)) : createPlane(width, height));
  return { plane, panes, before: mapPlane(before, (v, i) => (plane.data[i] > 0 ? 0 : v)), backlit, sure: mapPlane(plane, (v, i) => (v > 0 && looks.likely.data[i] >= SURELY ? 1 : 0)) };
}
