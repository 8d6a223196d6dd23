import type { Area, FrameId, Mix, Pass, Point, Source } from '@zaddle/document';
import { isSeen } from '../graph/prepareMix';
import { placeInWords } from '../light/whereBrightest';

/** A place of a picture that is not as the frames that light it show it: what a client may want to know. */
export interface ChangedPlace {
  /** The pass that does it. */
  readonly pass: string;
  /** Taken from another frame: the same place at another moment; filled with tones of the picture's own; or made up from other places of the picture. */
  readonly what: 'replaced' | 'filled' | 'invented';
  /** How much of the picture it is, 0..1; 0 where no shape tells. */
  readonly share: number;
  /** The frame that it was taken from, or null. */
  readonly from: FrameId | null;
  /** Outlines, reference pixels; none where it was painted or found. */
  readonly rings: readonly (readonly Point[])[];
  /** Where it lies in the picture, in words. */
  readonly where: string;
  readonly why: string;
}

const SHAPES: readonly Area['kind'][] = ['outline', 'box', 'spot', 'brush', 'ramp'];
/** Corners that stand for a round place. */
const CORNERS = 24;

/** Outline of an area in longer sides of the reference; nothing where it is no shape. */
function ringsOf(area: Area): readonly (readonly Point[])[] {
  if (area.join === 'subtract' || area.inverted) return [];
  if (area.kind === 'outline') return area.rings.map((ring) => ring.map(({ at }) => at));
  if (area.kind === 'box') return [area.corners];
  if (area.kind !== 'spot') return [];
  const [ux, uy] = [area.rim[0] - area.at[0], area.rim[1] - area.at[1]];
  return [Array.from({ length: CORNERS }, (_, k): Point => {
    const [c, s] = [Math.cos((2 * Math.PI * k) / CORNERS), Math.sin((2 * Math.PI * k) / CORNERS)];
    return [area.at[0] + c * ux - s * area.ratio * uy, area.at[1] + c * uy + s * area.ratio * ux];
  })];
}

const WHAT = { inset: 'replaced', fill: 'filled', heal: 'invented' } as const;

/** Area within a ring, by the shoelace formula. */
const areaWithin = (ring: readonly Point[]): number => Math.abs(ring.reduce((sum, [x, y], k) => sum + (x * ring[(k + 1) % ring.length][1] - ring[(k + 1) % ring.length][0] * y) / 2, 0));

/** Whether a pass changes what is seen of the property, rather than its light: an inset, or a fill of a place that somebody drew. */
const changes = (pass: Pass): pass is Pass & { kind: keyof typeof WHAT } => pass.kind === 'inset' || pass.kind === 'heal' || (pass.kind === 'fill' && pass.mask.some(({ kind }) => SHAPES.includes(kind)));

const frameOf = (source: Source): FrameId | null => ('frame' in source ? source.frame : null);

/** All such places of a mix, from underneath to on top; what is muted changes nothing. */
export function changedPlaces(mix: Mix): ChangedPlace[] {
  const { width, height } = mix.frames[mix.reference];
  const full = Math.max(width, height);
  return mix.passes.flatMap((pass, index): ChangedPlace[] => {
    if (!changes(pass) || !isSeen(mix.passes, index)) return [];
    const rings = pass.mask.flatMap(ringsOf).map((ring) => ring.map(([x, y]): Point => [x * full, y * full]));
    const points = rings.flat();
    const middle = (c: 0 | 1): number => points.reduce((sum, point) => sum + point[c], 0) / points.length;
    return [{
      pass: pass.id, what: WHAT[pass.kind], share: rings.reduce((sum, ring) => sum + areaWithin(ring), 0) / (width * height), from: 'source' in pass ? frameOf(pass.source) : null, rings,
      where: points.length > 0 ? placeInWords([middle(0) / width, middle(1) / height]) : 'where it was painted', why: pass.why,
    }];
  });
}

/** Characters of a reason that are told at most. */
const LONGEST = 200;

/** Such places as plain text for a client, one a line. @param nameOf what a frame is called */
export function disclosure(places: readonly ChangedPlace[], nameOf: (frame: FrameId) => string): string[] {
  return places.map(({ what, from, where, why }, k) => {
    const how = what === 'invented' ? 'retouched, made up from other places of the picture' : what === 'filled' ? 'filled with tones of the picture itself' : from ? `replaced by the same place in ${nameOf(from)}, another exposure of this view` : 'replaced by the same place in the ambient exposures';
    const reason = why.replace(/\s+/g, ' ').trim().slice(0, LONGEST);
    return `${k + 1}. ${where[0].toUpperCase()}${where.slice(1)}: ${how}${reason ? ` (${reason})` : ''}.`;
  });
}
