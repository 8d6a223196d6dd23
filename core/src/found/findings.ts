import { luminance, mapPlane, type Light, type Plane } from '../image/plane';
import { lightsLikeOthers } from '../light/lightsLikeOthers';
import { litBy, roomLight, shareAmong, type RoomLight } from '../light/litBy';
import { matteEdges } from '../mask/matteEdges';
import { USUAL_FOCAL } from '../mix/frameMix';
import type { Guide, GuideSet } from '../mix/guides';
import type { EdgedThing, FrameId, Mix } from '@zaddle/document';
import { findChanges, type Change } from './findChanges';
import { findGlare, type Glare } from './findGlare';
import { findSky } from './findSky';
import { findSurfaces, type Surfaces } from './findSurfaces';
import { findIntruders } from './findIntruders';
import { findGlass, type Glass } from '../window/findGlass';
import { ownRadiance } from '../window/ownRadiance';
import type { Found, FoundEdge } from './found';

/** Mean of where a frame's flash lights well, from which it lights the room. */
const LIGHTS = 0.03;
/** Flashes that are looked at beside the room's own light, for its surfaces. */
const OTHER_LIGHTS = 3;
/** Guide rows beyond what was found that its edge may reach. */
const EDGE_REACH = 8;
/** Guide pixels on either side of an edge where what was found is not trusted, and about it that tell what either side looks like. */
const BAND = 2;
const AROUND = 6;

/** log2 luminance as the kernel computes it. */
export const logLuminance = (light: Light): Plane => mapPlane(luminance(light), (v) => Math.log2(Math.max(1 / 4096, v)));

function once<T>(known: Map<string, T>, key: string, find: () => T): T {
  let found = known.get(key);
  if (found === undefined) known.set(key, (found = find()));
  return found;
}

/** Detections of a shot, each made once, when it is first asked for. */
export class Findings implements Found {
  private glassFound: Glass | null = null;
  private skyFound: Plane | null = null;
  private surfacesFound: Surfaces | null = null;
  private ownPlane: Plane | null = null;
  private room: RoomLight | null = null;
  private readonly lit = new Map<FrameId, Plane>();
  private trust: Map<FrameId, Plane> | null = null;
  private readonly shares = new Map<string, Plane>();
  private readonly edges = new Map<string, FoundEdge>();
  private readonly changes = new Map<string, readonly Change[]>();
  private readonly glares = new Map<string, readonly Glare[]>();

  constructor(readonly guides: GuideSet, private readonly frames: Mix['frames'], readonly reference: FrameId, private readonly otherLamps: ReadonlySet<FrameId> = new Set(), private readonly focal = USUAL_FOCAL) {}

  private exposures(): Record<FrameId, number> {
    return Object.fromEntries([...this.guides.frames.keys()].map((id) => [id, this.frames[id].stops]));
  }

  /** The view through glass, 0 or 1. */
  pane(): Plane {
    return this.panes().plane;
  }

  /** The same, with those of its panes that have straight sides. */
  panes(): Glass {
    return (this.glassFound ??= findGlass(this.guides, this.exposures(), this.own()));
  }

  edgeFound(what: EdgedThing, edge: FrameId): FoundEdge {
    const key = `${what} ${edge}`;
    let found = this.edges.get(key);
    if (!found) {
      const [thing, tells] = this.thing(what);
      this.edges.set(key, (found = this.edgeOf(thing, edge, tells)));
    }
    return found;
  }

  /** Where something is, and the places that tell of its edge; null: all do. */
  private thing(what: EdgedThing): readonly [Plane, Plane | null] {
    if (what === 'ceiling' || what === 'walls') return [this.surfaces()[what], null];
    const { plane, before } = this.panes();
    if (what === 'sky') return [(this.skyFound ??= findSky(this.guides, plane)), null];
    // What stands before a pane mostly goes on beyond it; there nothing is told of it.
    return what === 'glass' ? [plane, null] : [before, mapPlane(plane, (v, i) => Math.max(v, before.data[i]))];
  }

  /** Painted surfaces, by the room's own light and by that of some flashes; what is seen through glass is none. */
  private surfaces(): Surfaces {
    if (this.surfacesFound) return this.surfacesFound;
    const flashes = this.flashes();
    const some = flashes.filter((_, k) => k % Math.max(1, Math.ceil(flashes.length / OTHER_LIGHTS)) === 0);
    const { ceiling, walls } = findSurfaces([{ light: this.guides.merge }, ...some.map(([, guide]) => guide)], this.focal);
    const pane = this.pane();
    return (this.surfacesFound = { ceiling, walls: mapPlane(walls, (v, i) => (pane.data[i] > 0 ? 0 : v)) });
  }

  private edgeOf(found: Plane, edge: FrameId, tells: Plane | null): FoundEdge {
    const { a, b } = matteEdges(logLuminance(this.guides.frames.get(edge)!.light), found, BAND, AROUND, tells);
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
    if (!plane) this.shares.set(key, (plane = shareAmong(this.trusted(frame), among.map((id) => this.trusted(id)))));
    return plane;
  }

  /** Who or what stands in single ones of these flash frames. */
  intrudersAmong(flashes: readonly FrameId[]): readonly Change[] {
    return once(this.changes, `flashes ${[...flashes].sort().join()}`, () => findIntruders(this.guides, this.exposures(), flashes, this.panes().sure));
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

  /** The same, less where it alone has a hot spot or a hard shadow. */
  private trusted(frame: FrameId): Plane {
    this.trust ??= this.trustAll();
    const trust = this.trust.get(frame);
    const lit = this.litBy(frame);
    return trust ? mapPlane(lit, (v, i) => v * trust.data[i]) : lit;
  }

  /** Frames whose flash lights the room. */
  private flashes(): readonly (readonly [FrameId, Guide])[] {
    return [...this.guides.frames].filter(([id]) => this.litBy(id).data.reduce((sum, v) => sum + v, 0) > LIGHTS * this.guides.merge.r.length);
  }

  private trustAll(): Map<FrameId, Plane> {
    const flashes = this.flashes();
    const planes = lightsLikeOthers(flashes.map(([, guide]) => guide));
    return new Map(flashes.map(([id], k) => [id, planes[k]]));
  }
}
