import type { Found, GlassEdge } from '../found/found';
import type { Plane } from '../image/plane';
import type { Area, FrameId, Mix, Pass } from '../mix/mix';

/** An area ready for any grid: shapes are evaluated exactly there; what was found is read from its plane, or by the guided filter's model over the luminance of a frame. */
export type PreparedArea = { readonly join: Area['join']; readonly inverted: boolean; /** What the area is; never changes. */ readonly of: Area } & (
  | { readonly kind: 'brush'; readonly of: Extract<Area, { kind: 'brush' }> }
  | { readonly kind: 'ramp'; readonly of: Extract<Area, { kind: 'ramp' }> }
  | { readonly kind: 'plane'; readonly plane: Plane }
  | ({ readonly kind: 'edge'; readonly edge: FrameId } & GlassEdge)
  /** Something that was not found yet: nothing, until it is. */
  | { readonly kind: 'missing' }
);

/** Local gain over log luminance. */
export interface ToneModel {
  readonly a: Plane;
  readonly b: Plane;
}

export interface PreparedPass {
  readonly pass: Pass;
  readonly mask: readonly PreparedArea[];
  /** For adjust passes that change broad tones, once that is worked out. */
  readonly tone: ToneModel | null;
}

/** A mix with what its passes refer to. */
export interface PreparedMix {
  readonly mix: Mix;
  /** The reference that planes of what was found lie on. */
  readonly foundOn: FrameId;
  readonly passes: readonly PreparedPass[];
}

function prepareArea(area: Area, found: Found): PreparedArea {
  const base = { join: area.join, inverted: area.inverted };
  if (area.kind === 'brush') return { ...base, of: area, kind: 'brush' };
  if (area.kind === 'ramp') return { ...base, of: area, kind: 'ramp' };
  if (area.what === 'lit') {
    const plane = found.share(area.frame, area.among);
    return plane ? { ...base, of: area, kind: 'plane', plane } : { ...base, of: area, kind: 'missing' };
  }
  const glass = found.glass(area.edge);
  return glass ? { ...base, of: area, kind: 'edge', edge: area.edge, ...glass } : { ...base, of: area, kind: 'missing' };
}

/** Whether a pass changes broad tones, so that it needs to know what lies below in a wide context. */
export const wantsTone = (pass: Pass): boolean => pass.kind === 'adjust' && (pass.highlights !== 0 || pass.shadows !== 0);

/** The passes that are to be seen, with what they refer to; tones of wide context are still to be worked out (`workOutTones`). */
export function prepareMix(mix: Mix, found: Found): PreparedMix {
  const passes = mix.passes.filter((pass) => pass.on && pass.opacity > 0).map((pass): PreparedPass => ({ pass, mask: pass.mask.map((area) => prepareArea(area, found)), tone: null }));
  return { mix, foundOn: found.reference, passes };
}
