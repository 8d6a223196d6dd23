import Joi from 'joi';
import type { PassChanges, MixChanges } from './commands';
import { gainsField, stopsField, unitField, wholeText } from './fields';
import { adjustPass, type AdjustPass } from './pass/adjustPass';
import { passSchema, type Pass } from './pass/passes';
import { sharpeningSchema, type Sharpening } from './sharpening';
import type { Corrections } from './values';

/** Kinds of rooms and of light that a method is for, by which methods are ordered. */
export const METHOD_ROOMS = ['any room', 'living rooms', 'kitchens', 'bathrooms', 'bedrooms', 'halls', 'outside'] as const;
export const METHOD_LIGHTS = ['any light', 'flash', 'daylight', 'lamps', 'dusk'] as const;

/** How flash and the room's own light stand to each other. */
export interface LightPart {
  /** How much of the ambient's fall of light, and of its colour, lies over the flash, 0..1. */
  readonly fall?: { readonly brightness: number; readonly colour: number };
  /** Stops that are added to all flashes, and to the ambient under them, as proposed. */
  readonly flash?: number;
  readonly ambient?: number;
  /** How much of the light's own play of colours over paint is evened out, 0..1. */
  readonly evenness?: number;
}

/** Settings of the tone pass that every proposal has. */
export type TonePart = Partial<Pick<AdjustPass, 'exposure' | 'balance' | 'contrast' | 'highlights' | 'shadows' | 'localContrast' | 'veil' | 'glow' | 'saturation' | 'muted' | 'curve' | 'bands' | 'table'>>;

/** How the picture is straightened, as far as its edges tell, and which ratio its crop has. */
export interface FramingPart {
  /** Not at all, verticals plumb, or the faced wall level as well. */
  readonly straighten: 'leave' | 'verticals' | 'facing';
  /** Share of convergence that is undone. */
  readonly strength: number;
  /** Width over height; null leaves the crop as it is. */
  readonly ratio: number | null;
}

/** What a method decides; what it leaves out stays as it is. */
export interface MethodParts {
  readonly light?: LightPart;
  /** Stops that are added to the view as proposed. */
  readonly view?: { readonly exposure: number };
  readonly tone?: TonePart;
  /** Passes that go on top: changes of what is below, fills, and what is below blended with itself, everywhere or by tone and colour. */
  readonly passes?: readonly Pass[];
  readonly framing?: FramingPart;
  /** Shares of measured noise that are taken away. */
  readonly noise?: { readonly brightness: number; readonly colour: number };
  readonly sharpening?: Sharpening;
  readonly lens?: Corrections;
}
export type PartName = keyof MethodParts;
/** Parts in the order of the job. */
export const PART_NAMES = ['lens', 'light', 'view', 'tone', 'passes', 'framing', 'noise', 'sharpening'] as const satisfies readonly PartName[];

/** A named set of decisions that can be applied to any shot; also a file that people exchange. */
export interface Method {
  readonly format: 'zaddle-method';
  readonly version: 1;
  readonly name: string;
  /** What it does for a picture. */
  readonly what: string;
  readonly room: (typeof METHOD_ROOMS)[number];
  readonly light: (typeof METHOD_LIGHTS)[number];
  readonly parts: MethodParts;
}

/** Values of a mix by the places where they stand. */
export interface Settings {
  readonly passes: Readonly<Record<string, PassChanges>>;
  readonly mix: MixChanges;
}

/** A method that a mix was given: with it, its strength and parts can be chosen anew, and it can be taken off again. */
export interface AppliedMethod {
  readonly method: Method;
  /** 0..1 */
  readonly strength: number;
  /** Parts that are switched off. */
  readonly off: readonly PartName[];
  /** What its settings were before, and what it made of them: what is otherwise now is a person's. */
  readonly before: Settings;
  readonly set: Settings;
  /** Ids of passes that it put in, by what they are to it. */
  readonly added: Readonly<Record<string, string>>;
}

const MOST_PASSES = 16;
const PORTABLE_KINDS: ReadonlySet<string> = new Set(['adjust', 'fill', 'light']);
const PORTABLE_AREAS: ReadonlySet<string> = new Set(['tones', 'channel', 'hues']);

/** Whether a pass means the same on every shot: it names no frame and no place. */
export function isPortable(pass: Pass): boolean {
  if (!PORTABLE_KINDS.has(pass.kind) || pass.within !== null) return false;
  if (pass.kind === 'light' && (pass.source.kind !== 'below' || pass.alignment !== null)) return false;
  if (pass.kind === 'fill' && (pass.ramp !== null || pass.around)) return false;
  return pass.mask.every((area) => PORTABLE_AREAS.has(area.kind) && 'of' in area && area.of.kind === 'below' && !area.border?.snap);
}

const portable = passSchema.custom((pass: Pass, helpers) => (isPortable(pass) ? pass : helpers.message({ custom: '{{#label}} names a frame or a place of one shot, which other shots do not have' })));
const adjust = adjustPass.schema as Joi.ObjectSchema;
const toneField = (key: string): Joi.Schema => adjust.extract(key).optional();

const partsSchema = Joi.object({
  light: Joi.object({ fall: Joi.object({ brightness: unitField.required(), colour: unitField.required() }), flash: stopsField, ambient: stopsField, evenness: unitField }).min(1),
  view: Joi.object({ exposure: stopsField.required() }),
  tone: Joi.object({ exposure: stopsField, balance: gainsField, ...Object.fromEntries(['contrast', 'highlights', 'shadows', 'localContrast', 'veil', 'glow', 'saturation', 'muted', 'curve', 'bands', 'table'].map((key) => [key, toneField(key)])) }).min(1),
  passes: Joi.array().items(portable).min(1).max(MOST_PASSES),
  framing: Joi.object({ straighten: Joi.valid('leave', 'verticals', 'facing').required(), strength: unitField.required(), ratio: Joi.number().min(0.1).max(10).allow(null).required() }),
  noise: Joi.object({ brightness: unitField.required(), colour: unitField.required() }),
  sharpening: sharpeningSchema,
  lens: Joi.object({ distortion: Joi.boolean().required(), fringes: Joi.boolean().required(), falloff: Joi.boolean().required() }),
}).min(1);

/** Joi schema of a method, as a file or over the wire. */
export const methodSchema = Joi.object({
  format: Joi.valid('zaddle-method').required(),
  version: Joi.valid(1).required(),
  name: Joi.string().trim().min(1).max(60).custom(wholeText).required(),
  what: Joi.string().max(200).allow('').custom(wholeText).required(),
  room: Joi.valid(...METHOD_ROOMS).required(),
  light: Joi.valid(...METHOD_LIGHTS).required(),
  parts: partsSchema.required(),
});

const settings = Joi.object({ passes: Joi.object().pattern(Joi.string().max(200), Joi.object()).required(), mix: Joi.object().required() }).required();
/** Joi schema of a method as a mix holds it. */
export const appliedMethodSchema = Joi.object({
  method: methodSchema.required(),
  strength: unitField.required(),
  off: Joi.array().items(Joi.valid(...PART_NAMES)).unique().required(),
  before: settings,
  set: settings,
  added: Joi.object().pattern(Joi.string().max(20), Joi.string().max(200)).max(MOST_PASSES + 2).required(),
});
