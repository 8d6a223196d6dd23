import type { Area, FrameId, Mix, Pass } from '@zaddle/document';
import { areaEvaluation } from '../area/areas';
import type { Found } from '../found/found';
import type { ToneModel } from '../finish/localTone';

/** An area ready for any grid. */
export interface PreparedArea {
  readonly of: Area;
  /** What it refers to, as its kind wants it; null: not found yet, so it is nothing until it is. */
  readonly prepared: unknown;
}

export interface PreparedPass {
  readonly pass: Pass;
  readonly mask: readonly PreparedArea[];
  /** For passes that change broad tones, once that is worked out. */
  readonly tone: ToneModel | null;
}

/** A mix with what its passes refer to. */
export interface PreparedMix {
  readonly mix: Mix;
  /** The reference that planes of what was found lie on. */
  readonly foundOn: FrameId;
  readonly passes: readonly PreparedPass[];
}

/** The passes that are to be seen, with what they refer to; tones of wide context are still to be worked out (`workOutTones`). */
export function prepareMix(mix: Mix, found: Found): PreparedMix {
  const prepareArea = (of: Area): PreparedArea => ({ of, prepared: areaEvaluation(of.kind).prepare(of, found) });
  const passes = mix.passes.filter((pass) => pass.on && pass.opacity > 0).map((pass): PreparedPass => ({ pass, mask: pass.mask.map(prepareArea), tone: null }));
  return { mix, foundOn: found.reference, passes };
}
