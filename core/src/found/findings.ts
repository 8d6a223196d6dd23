import { createPlane, mapPlane, placesAbove, total, type Plane } from '../image/plane';
import { besideHotSpots, burntOut, leaveToOthers } from '../light/besideHotSpots';
import { lightsLikeOthers } from '../light/lightsLikeOthers';
import { litBy, roomLight, shareAmong, type RoomLight } from '../light/litBy';
import { outshines } from '../light/outshines';
import { matteEdges } from '../mask/matteEdges';
import { USUAL_FOCAL } from '../mix/frameMix';
import type { Guide, GuideSet } from '../mix/guides';
import { logLuminanceOf, luminanceOf } from '../mix/guideTones';
import type { FrameId, Mix, SurfaceArea } from '@zaddle/document';
import { invert, mapPoint, rescale } from '../geometry/homography';
import { findChanges, type Change } from './findChanges';
import { findGlare, type Glare } from './findGlare';
import { findSky } from './findSky';
import { findSurfaces, type Surfaces } from './findSurfaces';
import { findIntruders } from './findIntruders';
import { clearOf, findRestaged, type Restaged } from './findRestaged';
import { findGlass, type Glass } from '../window/findGlass';
import { ownRadiance } from '../window/ownRadiance';
import { findingKey, type EdgedFinding, type Found, type FoundEdge } from './found';
import { unturnedView, type GivenLight, type SeenView } from './straightView';
import { surfaceAt } from './surfaceAt';
import { keptShare } from './storedFound';

/** Mean of where a frame's flash lights well, from which it lights the room. */
const LIGHTS = 0.03;
/** Flashes that are looked at beside the room's own light, for its surfaces. */
const OTHER_LIGHTS = 3;
/** Share of the picture in which a flash outshines the room that shows its surfaces. */
const OUTSHINES = 0.15;
/** Guide rows beyond what was found that its edge may reach. */
const EDGE_REACH = 8;
/** Guide pixels on either side of an edge where what was found is not trusted, and about it that tell what either side looks like. */
const BAND = 2;
const AROUND = 6;

function once<T>(known: Map<string, T>, key: string, find: () => T): T {
  let found = known.get(key);
  if (found === undefined) known.set(key, (found = find()));
  return found;
}

/** Detections of a shot, each made once, when it is first asked for. */
export class Findings implements Found {
  private glassFound: Glass | null = null;
  private placesOfPane: Int32Array | null = null;
  private skyFound: Plane | null = null;
  private wallsFound: Plane | null = null;
  private surfacesFound: Surfaces | null = null;
  private asSeen: SeenView | null = null;
  private ownPlane: Plane | null = null;
  private room: RoomLight | null = null;
  private readonly lit = new Map<FrameId, Plane>();
  private trust: Map<FrameId, Plane> | null = null;
  private readonly trustedLight = new Map<FrameId, Plane>();
  private readonly shares = new Map<string, Plane>();
  private readonly edges = new Map<string, FoundEdge>();
  private readonly changes = new Map<string, readonly Change[]>();
  private restagedFound: readonly Restaged[] | null = null;
  private readonly glares = new Map<string, readonly Glare[]>();

  constructor(readonly guides: GuideSet, private readonly frames: Mix['frames'], readonly reference: FrameId, private readonly otherLamps: ReadonlySet<FrameId> = new Set(), private readonly focal = USUAL_FOCAL) {}

  private exposures(): Record<FrameId, number> {
    return Object.fromEntries([...this.guides.frames.keys()].map((id) => [id, this.frames[id].stops]));
  }

  /** The view through glass, 0 or 1. */
  pane(): Plane {
    return this.panes().plane;
  }

  /** Its guide pixels. */
  panePlaces(): Int32Array {
    return (this.placesOfPane ??= placesAbove(this.pane(), 0.5));
  }

  /** The same, with those of its panes that have straight sides. */
  panes(): Glass {
    return (this.glassFound ??= findGlass(this.guides, this.exposures(), this.own()));
  }

  edgeFound(finding: EdgedFinding): FoundEdge {
    return once(this.edges, findingKey(finding), () => {
      const [thing, tells] = this.thing(finding);
      return this.edgeOf(thing, finding.edge, tells);
    });
  }

  /** Where something is, and the places that tell of its edge; null: all do. */
  private thing(finding: EdgedFinding): readonly [Plane, Plane | null] {
    if (finding.what === 'surface') return [this.surfaceAt(finding), null];
    const { what } = finding;
    if (what === 'ceiling') return [this.ceiling(), null];
    if (what === 'walls') return [(this.wallsFound ??= this.walls()), null];
    const { plane, before } = this.panes();
    if (what === 'sky') return [(this.skyFound ??= findSky(this.guides, plane)), null];
    // What stands before a pane mostly goes on beyond it; there nothing is told of it.
    return what === 'glass' ? [plane, null] : [before, mapPlane(plane, (v, i) => Math.max(v, before.data[i]))];
  }

  /** The room's own light and that of some flashes, which show its surfaces. */
  private lightsOf(flashes: readonly Guide[]): readonly GivenLight[] {
    return [{ light: this.guides.merge }, ...flashes.filter((_, k) => k % Math.max(1, Math.ceil(flashes.length / OTHER_LIGHTS)) === 0)];
  }

  /** Painted surfaces. */
  private surfaces(): Surfaces {
    return (this.surfacesFound ??= findSurfaces(this.lightsOf(this.flashes().map(([, guide]) => guide)), this.focal));
  }

  /** One surface, by a place of it. */
  private surfaceAt({ edge, at, takes }: Pick<SurfaceArea, 'edge' | 'at' | 'takes'>): Plane {
    // Somebody waits: what flashes light is not worked out in full for it.
    this.asSeen ??= unturnedView(this.lightsOf([...this.guides.frames].filter(([id]) => outshines(this.guides, id, this.frames[id].stops) > OUTSHINES).map(([, guide]) => guide)));
    const [use, home] = [this.frames[edge], this.frames[this.reference]];
    const unit = Math.max(use.width, use.height);
    const place = mapPoint(invert(use.homography), at[0] * unit, at[1] * unit);
    return surfaceAt(this.asSeen, mapPoint(rescale(home.width, home.height, this.guides.width, this.guides.height), ...place), takes);
  }

  /** A flat painted ceiling, 0 or 1; all 0 where none is sure. */
  ceiling(): Plane {
    return this.surfaces().ceiling;
  }

  /** Painted walls; what is seen through glass is none. */
  private walls(): Plane {
    const pane = this.pane();
    return mapPlane(this.surfaces().walls(), (v, i) => (pane.data[i] > 0 ? 0 : v));
  }

  private edgeOf(found: Plane, edge: FrameId, tells: Plane | null): FoundEdge {
    const { a, b } = matteEdges(logLuminanceOf(this.guides.frames.get(edge)!.light), found, BAND, AROUND, tells);
    let top = found.height;
    let bottom = -1;
    for (let i = 0; i < found.data.length; i++) {
      if (found.data[i] === 0) continue;
      const y = Math.floor(i / found.width);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y);
    }
    return { a, b, top: top - EDGE_REACH, bottom: bottom + EDGE_REACH };
  }

  /** What each place gives off by itself, in white of the reference. */
  own(): Plane {
    return (this.ownPlane ??= ownRadiance(this.guides, this.exposures()));
  }

  share(frame: FrameId, among: readonly FrameId[]): Plane {
    const key = [frame, ...among].join();
    let plane = this.shares.get(key);
    if (!plane) this.shares.set(key, (plane = mapPlane(shareAmong(this.trusted(frame), among.map((id) => this.trusted(id))), keptShare)));
    return plane;
  }

  /** Who or what stands in single ones of these flash frames. */
  intrudersAmong(flashes: readonly FrameId[]): readonly Change[] {
    return once(this.changes, `flashes ${[...flashes].sort().join()}`, () => findIntruders(this.guides, this.exposures(), flashes, this.panes().sure));
  }

  /** What several flash frames show otherwise than the room's own light: something was moved meanwhile. */
  restaged(): readonly Restaged[] {
    return (this.restagedFound ??= findRestaged(this.guides, this.flashes().map(([id]) => id), this.panes().sure));
  }

  /** What single ones of these frames show otherwise than the others of them that are of one light. */
  changesAmong(steady: readonly FrameId[]): readonly Change[] {
    const ambient = steady.filter((id) => !this.otherLamps.has(id));
    return once(this.changes, `ambient ${[...ambient].sort().join()}`, () => findChanges(this.guides, this.exposures(), ambient, this.pane()));
  }

  /** Flash heads that these frames show, or mirror. */
  glareAmong(flashes: readonly FrameId[]): readonly Glare[] {
    return once(this.glares, [...flashes].sort().join(), () => findGlare(this.guides, this.exposures(), flashes));
  }

  /** Where a flash lights well by itself, 0..1. */
  litBy(frame: FrameId): Plane {
    let plane = this.lit.get(frame);
    if (!plane) this.lit.set(frame, (plane = litBy(this.guides, (this.room ??= roomLight(this.guides.merge)), frame, this.frames[frame].stops, this.pane())));
    return plane;
  }

  /** The same, less where it alone has a hot spot or a hard shadow, or others light what lies beside its hot spots; nothing where it shows what was moved. */
  private trusted(frame: FrameId): Plane {
    this.trust ??= this.trustAll();
    const trust = this.trust.get(frame);
    const lit = this.litBy(frame);
    if (!trust) return lit;
    let known = this.trustedLight.get(frame);
    if (!known) {
      known = createPlane(lit.width, lit.height);
      for (let i = 0; i < lit.data.length; i++) known.data[i] = lit.data[i] * trust.data[i];
      this.trustedLight.set(frame, known);
    }
    return known;
  }

  /** Frames whose flash lights the room. */
  private flashes(): readonly (readonly [FrameId, Guide])[] {
    return [...this.guides.frames].filter(([id]) => total(this.litBy(id)) > LIGHTS * this.guides.merge.r.length);
  }

  private trustAll(): Map<FrameId, Plane> {
    const flashes = this.flashes();
    const planes = lightsLikeOthers(flashes.map(([, guide]) => guide));
    const room = luminanceOf(this.guides.merge);
    const beside = flashes.map(([id, guide]) => besideHotSpots(burntOut(guide, room, 2 ** this.frames[id].stops, this.pane())));
    leaveToOthers(planes, beside, flashes.map(([id]) => this.litBy(id)));
    const trust = new Map(flashes.map(([id], k) => [id, planes[k]]));
    for (const { frames, pixels } of this.restaged()) {
      const clear = clearOf(pixels, this.guides);
      for (const frame of frames) {
        const { data } = trust.get(frame)!;
        for (let i = 0; i < data.length; i++) data[i] *= clear[i];
      }
    }
    return trust;
  }
}
