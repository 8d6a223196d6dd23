import type { AdjustPass, FramingPart, Method, Mix, MixChanges, MixDocument, PartName, Pass, PassChanges, SourcePass } from '@zaddle/document';
import { USUAL_SHARPENING } from '../finish/sharpen';
import type { ToldStance } from '../geometry/estimateStance';
import { frameMix, framingOf } from '../mix/frameMix';
import { FALL_PASS, FINISH_PASS, PAINT_PASS } from '../propose/starts';
import { straightened } from '../propose/proposeFraming';
import { settingBetween } from './blendSettings';

/** A method, how much of it, and which of its parts not. */
export interface MethodChoice {
  readonly method: Method;
  /** 0..1 */
  readonly strength: number;
  readonly off: readonly PartName[];
}
/** A part that a shot has no use for, or not yet, and why. */
export interface Lacking {
  readonly part: PartName;
  readonly why: string;
}
/** A pass that a method puts in, and where. */
export interface PutIn {
  /** What it is to the method, which it is known by later. */
  readonly slot: string;
  readonly pass: Pass;
  /** Right above this pass, right under it, or on top of all. */
  readonly at: { readonly above: string } | { readonly under: string } | 'top';
}
/** What a method makes of a mix. */
export interface PlacedMethod {
  readonly passes: Readonly<Record<string, PassChanges>>;
  readonly mix: MixChanges;
  readonly putIn: readonly PutIn[];
  readonly lacking: readonly Lacking[];
}

const MOST_STOPS = 12;
const stops = (value: number): number => Math.max(-MOST_STOPS, Math.min(MOST_STOPS, value));

const NEUTRAL_TONE: AdjustPass = { id: FINISH_PASS, kind: 'adjust', name: 'Tone', why: '', on: true, opacity: 1, within: null, mask: [], exposure: 0, balance: [1, 1, 1], contrast: 1, highlights: 0, shadows: 0, saturation: 1, curve: [], tied: false };

/** Passes that bring a flash, and the ambient. */
export const isFlash = (pass: Pass): pass is SourcePass => pass.kind === 'light' && (pass.source.kind === 'frame' || pass.source.kind === 'flash');
export const isAmbient = (pass: Pass): pass is SourcePass => pass.kind === 'light' && pass.source.kind === 'merge';

/** What comes together of a placed method. */
interface Work {
  readonly mix: Mix;
  readonly strength: number;
  readonly passes: Record<string, PassChanges>;
  readonly putIn: PutIn[];
  lack(part: PartName, why: string): void;
}

/** Changes of a pass, brought as far as the strength says. */
function change({ passes, strength }: Work, pass: Pass, wished: PassChanges): void {
  const now = pass as unknown as Record<string, unknown>;
  passes[pass.id] = { ...passes[pass.id], ...Object.fromEntries(Object.entries(wished).map(([key, value]) => [key, settingBetween(key, now[key], value, strength)])) };
}

/** The fall of light over the flashes: there it is set, and where somebody took it out it is put in. */
function placeFall(work: Work, fall: { readonly brightness: number; readonly colour: number }): void {
  const { mix: { passes }, strength, putIn } = work;
  const there = passes.find(({ id, kind }) => id === FALL_PASS && kind === 'light');
  if (there) return change(work, there, fall);
  const top = passes.filter((pass) => isFlash(pass) && pass.within === null).at(-1);
  const ambient = passes.find(isAmbient);
  if (!top) return work.lack('light', 'no flash lights this shot: its light stays as the room gave it');
  if (!ambient) return work.lack('light', 'no ambient is in this mix, which light could fall by');
  const pass: SourcePass = { ...ambient, id: FALL_PASS, name: 'Fall of light', why: 'the ambient’s brightness over the flash’s colour, so that light falls as it did in the room', on: true, opacity: 1, within: null, mask: [], mode: 'normal', brightness: fall.brightness * strength, colour: fall.colour * strength };
  putIn.push({ slot: FALL_PASS, pass, at: { above: top.id } });
}

/** How much the colour of light is evened out: set where a pass does so, else by a pass of its own under all tone. */
function placeEvenness(work: Work, evenness: number): void {
  const { mix: { passes }, strength } = work;
  const there = passes.find(({ id, kind }) => id === PAINT_PASS && kind === 'adjust');
  if (there) return change(work, there, { evenness });
  const above = passes.find((pass) => (pass.kind === 'adjust' || pass.kind === 'view' || pass.id === 'joinery') && pass.within === null && !('tied' in pass && pass.tied));
  work.putIn.push({ slot: PAINT_PASS, pass: { ...NEUTRAL_TONE, id: PAINT_PASS, name: 'Even light', evenness: evenness * strength }, at: above ? { under: above.id } : 'top' });
}

function placeLight(work: Work, { fall, flash, ambient, evenness }: NonNullable<Method['parts']['light']>): void {
  const { passes } = work.mix;
  if (fall) placeFall(work, fall);
  const shift = (which: readonly Pass[], by: number): void => which.forEach((pass) => change(work, pass, { exposure: stops(pass.exposure + by) }));
  const flashes = passes.filter(isFlash);
  if (flash && flashes.length === 0) work.lack('light', 'no flash lights this shot');
  else if (flash) shift(flashes, flash);
  if (evenness !== undefined) placeEvenness(work, evenness);
  if (ambient) shift(passes.filter(isAmbient), ambient);
}

function placeTone(work: Work, tone: NonNullable<Method['parts']['tone']>): void {
  const { passes } = work.mix;
  const there = passes.find(({ id, kind }) => id === FINISH_PASS && kind === 'adjust');
  if (there) return change(work, there, tone);
  const made = Object.fromEntries(Object.entries(tone).map(([key, value]) => [key, settingBetween(key, NEUTRAL_TONE[key as keyof AdjustPass], value, work.strength)]));
  const view = passes.find((pass) => (pass.kind === 'view' || pass.id === 'joinery') && pass.within === null);
  work.putIn.push({ slot: FINISH_PASS, pass: { ...NEUTRAL_TONE, ...made }, at: view ? { under: view.id } : 'top' });
}

/** The method's own passes, each as strong as the method. */
function placePasses(work: Work, own: readonly Pass[]): void {
  const taken = new Set(work.mix.passes.map(({ id }) => id));
  let count = 0;
  const fresh = (): string => {
    do count++; while (taken.has(`method-${count}`));
    return `method-${count}`;
  };
  own.forEach((pass, k) => work.putIn.push({ slot: `own-${k}`, pass: { ...pass, id: fresh(), within: null, opacity: pass.opacity * work.strength }, at: 'top' }));
}

/** How the picture lies with a method: as strong as the part itself says, since a picture is not half level. */
function placeFraming(work: Work, { straighten, strength, ratio }: FramingPart, stance: ToldStance | null): MixChanges {
  const { mix } = work;
  const now = framingOf(mix);
  if (now.lines.length > 0 || now.turn !== 0 || now.crop || now.ownCrops) {
    work.lack('framing', 'straightened or cropped by hand here, which stays');
    return {};
  }
  const told = stance?.frame === mix.reference && stance.plumb ? stance : null;
  if (straighten !== 'leave' && !told) work.lack('framing', 'too few straight edges tell how the camera stood');
  const straight = straighten !== 'leave' && told ? straightened(mix, told, told.focal, { yaw: straighten === 'facing' ? 'nearly' : 'never', strength }) : now;
  return { ...frameMix(mix, { ...straight, ratio: ratio ?? now.ratio }) };
}

/**
 * What a method makes of a mix, as values of its settings and passes to put in. Settings of passes go as far as the strength
 * says; straightening, crop and lens are taken whole. It looks for passes by what they are, not by their order, establishes what it
 * needs where that can be had, and says what is missing.
 * @param mix without any method @param stance how the camera stood, where that was told
 */
export function placeMethod(mix: MixDocument, { method: { parts }, strength, off }: MethodChoice, stance: ToldStance | null): PlacedMethod {
  const lacking: Lacking[] = [];
  const work: Work = { mix, strength, passes: {}, putIn: [], lack: (part, why) => void lacking.push({ part, why }) };
  const on = <K extends PartName>(part: K): (typeof parts)[K] | undefined => (off.includes(part) ? undefined : parts[part]);
  const [lens, light, view, tone, own, framing, noise, sharpening] = [on('lens'), on('light'), on('view'), on('tone'), on('passes'), on('framing'), on('noise'), on('sharpening')];
  let whole: MixChanges = {};
  if (own) placePasses(work, own);
  if (light) placeLight(work, light);
  const views = mix.passes.filter(({ kind }) => kind === 'view');
  if (view && views.length === 0) work.lack('view', 'nothing is seen through glass here');
  else if (view) views.forEach((pass) => change(work, pass, { exposure: stops(pass.exposure + view.exposure) }));
  if (tone) placeTone(work, tone);
  if (lens) whole = { ...whole, corrects: lens };
  if (framing) whole = { ...whole, ...placeFraming({ ...work, mix: { ...mix, ...whole } }, framing, stance) };
  if (noise && !mix.noise) work.lack('noise', 'the noise of its frames was not measured: nothing in them is plain enough');
  else if (noise) {
    const between = (key: 'brightness' | 'colour'): number => settingBetween(key, mix.noise![key], noise[key], strength) as number;
    whole = { ...whole, noise: { ...mix.noise!, brightness: between('brightness'), colour: between('colour') } };
  }
  if (sharpening) {
    const now = mix.sharpening ?? { ...USUAL_SHARPENING, amount: 0 };
    whole = { ...whole, sharpening: Object.fromEntries(Object.entries(sharpening).map(([key, value]) => [key, settingBetween(key, now[key as keyof typeof now], value, strength)])) as unknown as typeof sharpening };
  }
  return { passes: work.passes, mix: whole, putIn: work.putIn, lacking };
}
