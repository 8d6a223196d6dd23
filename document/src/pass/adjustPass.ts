import Joi from 'joi';
import { stopsField, unitField } from '../fields';
import { hueBandSchema, MOST_BANDS, type HueBand } from './hueBand';
import { tableUseSchema, type TableUse } from './tableUse';
import { passObject, type PassBase, type PassKind } from './passKind';

/** A tone, stops about middle grey, and by how many stops it changes. */
export type TonePoint = readonly [number, number];
const MOST_POINTS = 16;

/** A pass that changes what is below. */
export interface AdjustPass extends PassBase {
  readonly kind: 'adjust';
  /** Slope of the tones about middle grey: 1 leaves them. */
  readonly contrast: number;
  /** Stops by which the brightest broad tones are lowered (negative) or raised. */
  readonly highlights: number;
  /** Stops by which the darkest broad tones are raised or lowered (negative). */
  readonly shadows: number;
  /** Changes of single tones: where, in stops of luminance about middle grey, and by how many stops; smooth in between (`core/src/finish/toneCurve`). */
  readonly curve: readonly TonePoint[];
  /** Changes only the pass right under it, not all that is below. */
  readonly tied: boolean;
  /** 1 leaves colours, 0 makes grey. */
  readonly saturation: number;
  /** Bands of hues and what becomes of them; null, or left out: none. */
  readonly bands?: readonly HueBand[] | null;
  /** Share by which muted colours grow, or fade (negative), strong ones staying as they are; null, or left out: 0. */
  readonly muted?: number | null;
  /** Share by which the colour of light that goes over painted surfaces is evened out, 0..1; null, or left out: 0. */
  readonly evenness?: number | null;
  /** By how much local contrast grows, or is taken back (negative), in multiples of the full strength; null, or left out: 0. */
  readonly localContrast?: number | null;
  /** Share of the veil of haze or flare that is taken away, 0..1; null, or left out: 0. */
  readonly veil?: number | null;
  /** How much bright light glows over what lies around it, as in a lens: shares of what a strong diffusing filter does, 0..1; null, or left out: 0. */
  readonly glow?: number | null;
  /** A colour table that colours are put through last; null, or left out: none. */
  readonly table?: TableUse | null;
}

/** Settings that may be left out, and what they are then: passes that were made earlier do not have them. */
export const ADJUST_LEFT_OUT = { bands: [], muted: 0, evenness: 0, localContrast: 0, veil: 0, glow: 0, table: null } as const satisfies Partial<AdjustPass>;

const curve = Joi.array()
  .items(Joi.array().ordered(Joi.number().min(-12).max(6).required(), Joi.number().min(-6).max(6).required()).length(2))
  .max(MOST_POINTS)
  .custom((points: TonePoint[], helpers) => (points.every(([at], k) => k === 0 || at > points[k - 1][0]) ? points : helpers.message({ custom: '{{#label}} must have its points from dark to bright, no two at one tone' })));

export const adjustPass: PassKind<AdjustPass> = {
  schema: passObject(['adjust'], { contrast: Joi.number().min(0.2).max(3).required(), highlights: stopsField.required(), shadows: stopsField.required(), curve: curve.required(), tied: Joi.boolean().required(), saturation: Joi.number().min(0).max(3).required(), bands: Joi.array().items(hueBandSchema).max(MOST_BANDS).allow(null), muted: Joi.number().min(-1).max(1.5).allow(null), evenness: unitField.allow(null), localContrast: Joi.number().min(-1).max(2).allow(null), veil: unitField.allow(null), glow: unitField.allow(null), table: tableUseSchema.allow(null) }),
  frames: () => [],
  usesMerge: () => false,
};
