import { DIFFERENT, likenessOf, STILL, type CoarseFit } from '../align/coarseSearch';
import { alignmentReference, chain, coarseMap, fitAlignment, lineUp, withMesh, type Alignment, type AlignmentReference } from '../align/lineUp';
import { edgePyramid } from '../align/edgePyramid';
import { greyPyramid, type GreyPyramid } from '../align/structure';
import type { Match } from '../align/fitHomography';
import { residualByPart } from '../align/misfit';
import { searchEitherSign } from '../align/searchEitherSign';
import type { Tools } from '../kernels/tools';
import { estimateLens } from '../align/estimateLens';
import { findStraightEdges } from '../geometry/findStraightEdges';
import { compose, IDENTITY, invert, rescale, type Homography } from '../geometry/homography';
import { NO_LENS, type Lens, type Optics } from '../geometry/lens';
import { estimateFringes } from '../align/estimateFringes';
import { exposureStops, type FrameFacts } from '../intake/frameFacts';
import type { Mesh } from '../geometry/mesh';
import type { Pixels } from '../image/plane';
import type { AddedLight } from './addedLight';
import { FLASH_MEDIAN } from './guessRoles';

/** A frame of a shot with its proxy. */
export interface ShotFrame {
  readonly facts: FrameFacts;
  readonly proxy: Pixels;
}

/** A shot's frame as lining up sees it. */
export interface ShotView {
  readonly frame: ShotFrame;
  readonly pyramid: GreyPyramid;
  /** Where it lies on the shot's first frame, roughly. */
  readonly coarse: CoarseFit;
}

/** Expected misalignment, pixels of the frame, in each of `PARTS`, row by row from the top left; null where it cannot be told. */
export type PartResiduals = readonly (number | null)[];

/** How one frame lies on the reference, or why it could not be told. */
export type LinedUp =
  | { readonly ok: true; readonly homography: Homography; readonly mesh: Mesh | null; readonly residualPx: number; readonly parts: PartResiduals }
  | { readonly ok: false; readonly why: string };

/** Residual, in full-size pixels of a 1500-pixel picture, above which a frame is not used unasked. */
const LIMIT = 1.5;
/** Residual and number of matches with which a direct alignment needs no second opinion. */
const SAFE = 0.6;
const MANY = 60;
/** A mesh that finds this many times the matches is right where the map alone was blind, whatever it says of itself. */
const MORE = 1.2;

/** Pyramids of a shot's own frames (twins left out) and how they roughly lie on the first. */
export function viewShot(tools: Tools, frames: readonly ShotFrame[]): ShotView[] {
  const own = frames.filter((f) => f.facts.twinOf === null);
  const pyramids = own.map((f) => greyPyramid(tools, f.proxy));
  return own.map((frame, k) => ({ frame, pyramid: pyramids[k], coarse: k === 0 ? STILL : searchEitherSign(tools, pyramids[0].structure, pyramids[k].structure) }));
}

/** Share of a proxy that is neither black nor clipped. */
function wellExposed({ data }: Pixels): number {
  let good = 0;
  // A stride that no width is a multiple of: places from all over, one channel.
  for (let i = 1; i < data.length; i += 3 * 97) if (data[i] > 20 && data[i] < 235) good++;
  return good / (data.length / (3 * 97));
}

/** What a stop away from the bracket's middle costs, in shares of the picture, and what a share with more light than elsewhere does. */
const PER_STOP = 0.06;
const PER_PATCH = 3;

/** The frames that show the view that most of them show: one of another place is no reference. */
function ofTheView(views: readonly ShotView[]): ShotFrame[] {
  const isLikeFirst = (v: ShotView, k: number): boolean => k === 0 || likenessOf(v.coarse) >= DIFFERENT;
  const [alike, apart] = [views.filter(isLikeFirst), views.filter((v, k) => !isLikeFirst(v, k))];
  return (alike.length >= apart.length ? alike : apart).map((v) => v.frame);
}

/** The frame that others are lined up to: the best exposed ambient one, a bracket's middle rather than its ends. */
export function chooseReference(views: readonly ShotView[], added: ReadonlyMap<string, AddedLight>): string {
  const own = ofTheView(views);
  // Somebody dark in one frame leaves all others a patch of more light: it counts against a frame, but does not rule it out.
  const lit = (f: ShotFrame): boolean => f.facts.flash === true || (!f.facts.bracketed && (added.get(f.facts.id)?.median ?? 0) > FLASH_MEDIAN);
  const ambient = own.filter((f) => !lit(f));
  const pool = ambient.length > 0 ? ambient : own;
  const stops = pool.map((f) => exposureStops(f.facts) ?? 0).sort((a, b) => a - b);
  const middle = stops[stops.length >> 1];
  const patch = (f: ShotFrame): number => (f.facts.bracketed ? 0 : added.get(f.facts.id)?.patch ?? 0);
  const score = (f: ShotFrame): number => wellExposed(f.proxy) - PER_STOP * Math.abs((exposureStops(f.facts) ?? 0) - middle) - PER_PATCH * patch(f);
  return pool.reduce((best, f) => (score(f) > score(best) + 1e-9 ? f : best)).facts.id;
}

/** Pictures of the reference and a frame that are lined up: their greys, or their edges. */
interface Way {
  readonly target: AlignmentReference;
  readonly pyramid: GreyPyramid;
}

interface Direct extends Way {
  readonly alignment: Alignment;
}

interface Done {
  readonly alignment: Alignment;
  readonly target: () => AlignmentReference;
}

const isSafe = (alignment: Alignment | null): boolean => alignment !== null && alignment.residual < SAFE && alignment.inliers >= MANY;

/** A second opinion on a frame that a direct alignment does not settle: by way of frames that are lined up already. */
function byWayOfOthers(tools: Tools, direct: Alignment | null, pyramid: GreyPyramid, done: readonly Done[], lens: Lens): Alignment | null {
  let best = direct;
  for (const via of done) {
    // Steps are joined as homographies: one that needs a mesh is no step.
    if (via.alignment.residual > SAFE || via.alignment.mesh) continue;
    const step = lineUp(tools, via.target(), pyramid, lens);
    if (!step || step.inliers < 40) continue;
    const whole = chain(via.alignment, step);
    if (!best || whole.residual < 0.7 * best.residual) best = whole;
    if (best.residual < 0.3) break;
  }
  return best;
}

/** Whether lens error is corrected: found from the frames, not at all, or as known for this camera and lens. */
export type LensChoice = 'find' | 'off' | Optics;

export interface ShotLineUp {
  readonly reference: string;
  readonly lens: Optics;
  readonly frames: ReadonlyMap<string, LinedUp>;
}

/**
 * Lines all frames of a shot up with a reference and finds the lens error that they share.
 * @param optics 'off' leaves the pictures as stored: homographies then relate stored pixels. A known lens is taken as it is.
 */
export function lineUpShot(tools: Tools, views: readonly ShotView[], optics: LensChoice, reference: string): ShotLineUp {
  const base = views.find((v) => v.frame.facts.id === reference)!;
  const target = alignmentReference(base.pyramid);
  const { width, height } = base.pyramid.levels[0];
  const others = views.filter((v) => v !== base);
  const home = invert(coarseMap(base.coarse, base.pyramid));
  // Most shots never need it, and one is enough for all their frames.
  let edged: AlignmentReference | null = null;
  const edges = (): AlignmentReference => (edged ??= alignmentReference(edgePyramid(target.pyramid)));
  const first = new Map(others.map((view) => [view, alignDirectly(tools, target, edges, view, home)]));
  const lens = optics === 'find' ? { ...sharedLens(base.pyramid, [...first.values()].flatMap((a) => (a ? [a.alignment.matches] : []))), ...estimateFringes(tools, base.frame.proxy, target.corners), falloff: NO_LENS.falloff } : optics === 'off' ? NO_LENS : optics;
  const done: Done[] = [];
  const out = new Map<string, LinedUp>([[reference, { ok: true, homography: IDENTITY, mesh: null, residualPx: 0, parts: [] }]]);
  for (const view of others) {
    const stored = first.get(view);
    // Where windows were followed to does not depend on the lens: only the map is fitted again.
    const bare = stored && (lens.k1 !== 0 || lens.k2 !== 0) ? fitAlignment(stored.alignment.matches, lens, width, height, 3, stored.alignment.homography) : stored?.alignment ?? null;
    const direct = stored && bare && meshed(tools, stored, bare, lens);
    // A camera that moved among near and far things: no chain of homographies tells more than the mesh.
    const alignment = isSafe(direct ?? null) || direct?.mesh ? direct : byWayOfOthers(tools, direct ?? null, view.pyramid, done, lens);
    if (alignment) {
      let made: AlignmentReference | null = null;
      done.push({ alignment, target: () => (made ??= alignmentReference(view.pyramid)) });
    }
    out.set(view.frame.facts.id, verdict(alignment, base.frame, view.frame));
  }
  return { reference, lens, frames: out };
}

/** Lines up from where the coarse search put the frame, where that fails by a search of its own against the reference, and last by edges alone. */
function alignDirectly(tools: Tools, target: AlignmentReference, edges: () => AlignmentReference, view: ShotView, home: Homography): Direct | null {
  const start = compose(coarseMap(view.coarse, view.pyramid), home);
  const grey = { target, pyramid: view.pyramid };
  let best: Direct | null = null;
  const isSettled = (way: Way, from?: Homography): boolean => {
    const alignment = lineUp(tools, way.target, way.pyramid, NO_LENS, from);
    if (alignment && (!best || alignment.residual < best.alignment.residual)) best = { ...way, alignment };
    return isSafe(best?.alignment ?? null);
  };
  if (!isSettled(grey, start) && !isSettled(grey)) isSettled({ target: edges(), pyramid: edgePyramid(view.pyramid) }, start);
  return best;
}

/** The mesh that an alignment needs, if it needs one and is the better for it. */
function meshed(tools: Tools, { target, pyramid }: Way, alignment: Alignment, lens: Lens): Alignment {
  const bent = withMesh(tools, target, pyramid, alignment, lens);
  const told = ({ parts }: Alignment): number => parts.reduce((sum, p) => sum + p.matches, 0);
  return bent.residual < alignment.residual || told(bent) > MORE * told(alignment) ? bent : alignment;
}

/** The lens of a shot, from the reference's edges and all frames' matches. */
function sharedLens({ levels }: GreyPyramid, frames: readonly (readonly Match[])[]): Lens {
  const plane = levels[Math.min(1, levels.length - 1)];
  return estimateLens({ frames, width: levels[0].width, height: levels[0].height, edges: findStraightEdges(plane), edgeWidth: plane.width, edgeHeight: plane.height });
}

/** From proxy pixels to full size, and whether the result may be used unasked. */
function verdict(alignment: Alignment | null | undefined, base: ShotFrame, frame: ShotFrame): LinedUp {
  if (!alignment) return { ok: false, why: 'could not be lined up: too little in common with the reference' };
  const up = rescale(frame.proxy.width, frame.proxy.height, frame.facts.width, frame.facts.height);
  const down = rescale(base.facts.width, base.facts.height, base.proxy.width, base.proxy.height);
  const residualPx = (alignment.residual * frame.facts.width) / frame.proxy.width;
  if (alignment.residual > LIMIT) return { ok: false, why: `could not be lined up safely: off by about ${residualPx.toFixed(1)} px` };
  const factor = frame.facts.width / frame.proxy.width;
  return {
    ok: true, homography: compose(up, compose(alignment.homography, down)), mesh: alignment.mesh && { ...alignment.mesh, shifts: alignment.mesh.shifts.map((v) => v * factor) }, residualPx,
    parts: residualByPart(alignment.parts, alignment.cornerError).map((v) => v && v * factor),
  };
}
