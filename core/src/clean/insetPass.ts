import { MOST_RINGS, type Mix, type OutlineNode, type SourcePass, type Triple } from '@zaddle/document';
import { distanceFrom } from '../image/distance';
import { LUMA, mapPlane, quantile, type Light, type Plane } from '../image/plane';
import { rimGains } from '../light/rimGains';
import { leastSeam } from './leastSeam';
import type { PlaceLooks } from './lookAtPlace';
import type { Candidate } from './rateCandidates';
import { traceOutline } from './traceOutline';

/** How far beyond what is meant the seam may run, as a share of the root of its area, and grid pixels at least. */
const ROOM = 0.22;
const LEAST_ROOM = 4;
/** Grid pixels that an outline may lie off its seam, and over which it is soft. */
const TOLERANCE = 0.7;
const SOFT = 1.5;
/** Points of an outline: a person may move them. */
const MOST_POINTS = 200;
/** Shares of the picture's usual light here that are black. */
const BLACK = 0.02;
/** Value of a frame's white from which on it may be clipped. */
const CLIPPED = 0.93;

/** A frame's light at a place, brought to what lies around it in the picture as the inset will be. */
function matched({ picture, coverage }: PlaceLooks, own: Light): Light {
  const gains = rimGains(picture, own, coverage, CLIPPED);
  return { ...own, r: own.r.map((v, i) => v * gains.r[i]), g: own.g.map((v, i) => v * gains.g[i]), b: own.b.map((v, i) => v * gains.b[i]) };
}

/** Where a seam may run. */
export interface SeamLimits {
  /** Above 0.5 where it must not. */
  readonly keptOut?: Plane;
  /** Grid pixels beyond what is meant; else by its size. */
  readonly room?: number;
}

/** The mask of an inset: what is meant, grown to the seam that shows least. 0 or 1 on the grid of the looks. */
function seamMask(looks: PlaceLooks, light: Light, { keptOut, room }: SeamLimits): Plane {
  const inner = mapPlane(looks.coverage, (v) => (v > 0.5 ? 1 : 0));
  const area = inner.data.reduce((sum, v) => sum + v, 0);
  const distance = distanceFrom(inner);
  const most = room ?? Math.max(LEAST_ROOM, ROOM * Math.sqrt(area));
  const outer = mapPlane(distance, (v, i) => (v > most || (keptOut && keptOut.data[i] > 0.5) ? 1 : 0));
  return leastSeam(looks.picture, light, inner, outer, Math.max(1e-4, BLACK * quantile(looks.picture.g, 0.5)));
}

/** Outlines with no more points, and no more of them, than a document takes: the longest, followed less closely where need be. */
function fewPoints(mask: Plane): ReturnType<typeof traceOutline> {
  for (let tolerance = TOLERANCE; ; tolerance *= 1.5) {
    const rings = traceOutline(mask, tolerance).sort((a, b) => b.length - a.length).slice(0, MOST_RINGS);
    if (rings.every(({ length }) => length <= MOST_POINTS)) return rings;
  }
}

/**
 * An inset that takes a place from a frame: outlined by the seam that shows least, its light brought to that of the rim. Exposure and white balance
 * do most of that, and are there to be changed; what is left goes from place to place (`matched`).
 */
export function insetPass(looks: PlaceLooks, { frame, gains }: Pick<Candidate, 'frame' | 'gains'>, mix: Mix, { id, name, why }: Pick<SourcePass, 'id' | 'name' | 'why'>, limits: SeamLimits = {}): SourcePass {
  const { width, height } = mix.frames[mix.reference];
  const full = Math.max(width, height);
  const share = (v: number): number => Math.round((v / full) * 1e6) / 1e6;
  const light = matched(looks, looks.frames.get(frame)!.light);
  const rings = fewPoints(seamMask(looks, light, limits)).map((ring) => ring.map(([x, y]): OutlineNode => ({ at: [share(looks.left + x * looks.pixel), share(looks.top + y * looks.pixel)], before: null, after: null })));
  const level = gains.reduce((sum, g, c) => sum + g * LUMA[c], 0);
  return {
    id, name, why, within: null, kind: 'inset', on: true, opacity: 1, matched: true,
    mask: [{ id: `${id}-seam`, kind: 'outline', join: 'add', inverted: false, rings, softness: share(Math.max(1, SOFT * looks.pixel)) }],
    exposure: Math.round(Math.log2(level) * 1000) / 1000, balance: gains.map((g) => Math.round((g / level) * 1e5) / 1e5) as unknown as Triple,
    source: { kind: 'frame', frame }, alignment: null, mode: 'normal', brightness: 1, colour: 1,
  };
}

