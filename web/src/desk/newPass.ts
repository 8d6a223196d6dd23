import { blockStart, frameOfSource, hostOf, holders, type AdjustPass, type BundlePass, type FillPass, type Area, type MixDocument, type Pass, type Source, type SourcePass } from '@zaddle/document';
import { freshUuid } from '../frame/freshUuid';
import type { Frame } from '../store/api';

export const freshId = (kind: string): string => `${kind}-${freshUuid().slice(0, 13)}`;

/** A painted area without a stroke: nothing, until something is painted. */
const nothingYet = (): Area => ({ id: freshId('area'), kind: 'brush', join: 'add', inverted: false, strokes: [] });

/** A pass that takes its pixels from a source as they are. @param hidden nothing of it shows until it is painted in */
export const passFrom = (source: Source, name: string, hidden: boolean): SourcePass => ({
  id: freshId('pass'), name, within: null, why: '', kind: 'light', on: true, opacity: 1, mask: hidden ? [nothingYet()] : [], exposure: 0, balance: [1, 1, 1],
  source, alignment: null, mode: source.kind === 'flash' || source.kind === 'switched' ? 'add' : 'normal', brightness: 1, colour: 1,
});

const plain = (name: string) => ({ id: freshId('pass'), name, within: null, why: '', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1] }) as const;
const NORMAL = { mode: 'normal', brightness: 1, colour: 1 } as const;

/** A pass that changes tones, and does nothing yet. */
export const tonePass = (): AdjustPass => ({ ...plain('Tone'), kind: 'adjust', contrast: 1, highlights: 0, shadows: 0, curve: [], tied: false, saturation: 1 });
/** A part of the picture that is found, and toned by itself. */
export type FoundPart = 'sky' | 'ceiling' | 'walls' | 'surface';
const PART_NAMES: Readonly<Record<FoundPart, string>> = { sky: 'Sky', ceiling: 'Ceiling', walls: 'Walls', surface: 'Surface' };
/** What is done to a surface at once: much of what lamps, daylight and floors do to paint from place to place is taken away; a ceiling, mostly white, keeps part of its colour. */
const CALMED: Readonly<Record<FoundPart, Partial<AdjustPass>>> = { sky: {}, ceiling: { evenness: 0.6, saturation: 0.6 }, walls: { evenness: 0.6 }, surface: { evenness: 0.6 } };

/** A pass that changes tones of a part of the picture: paint is calmed, the sky left as it is until something is set. A surface is nothing before it is pointed at. @param edge the frame that its edge follows */
export const partPass = (what: FoundPart, edge: string): AdjustPass => ({ ...tonePass(), name: PART_NAMES[what], ...CALMED[what], mask: [what === 'surface' ? nothingYet() : { id: freshId('area'), kind: 'found', what, join: 'add', inverted: false, edge }] });
/** Middle grey, everywhere. */
export const fillPass = (): FillPass => ({ ...plain('Fill'), ...NORMAL, kind: 'fill', tone: [0.18, 0.18, 0.18], ramp: null, around: false });
export const bundlePass = (name: string, within: string | null): BundlePass => ({ ...plain(name), ...NORMAL, kind: 'bundle', within });

/** The same pass once more, with ids of its own. */
const once = (pass: Pass, id: string, name: string): Pass => ({ ...pass, id, name: name.slice(0, 120), mask: pass.mask.map((area) => ({ ...area, id: freshId('area') })) });

/** A pass once more, with all that it holds, from underneath to on top: the pass itself comes last. */
export function copiesOf(passes: readonly Pass[], index: number): Pass[] {
  const block = passes.slice(blockStart(passes, index), index + 1);
  const ids = new Map(block.map(({ id }) => [id, freshId('pass')]));
  return block.map((pass) => ({ ...once(pass, ids.get(pass.id)!, pass === passes[index] ? `${pass.name}, copy` : pass.name), within: pass.within !== null ? (ids.get(pass.within) ?? pass.within) : null }));
}

/** Frame whose thumbnail stands for a pass. */
export function faceOf(mix: MixDocument, pass: Pass): string | null {
  if (!('source' in pass) || pass.source.kind === 'below') return null;
  return frameOfSource(pass.source) ?? mix.reference;
}

/** Why nothing of a pass would be seen, whatever is painted on it; null: it can be seen. */
export function whyUnseen(mix: MixDocument, pass: Pass, solo: string | null): string | null {
  if (!pass.on) return 'it is muted';
  const hidden = holders(mix.passes, pass).find(({ on, opacity }) => !on || opacity === 0);
  if (hidden) return `its bundle “${hidden.name}” is not seen`;
  if (pass.kind === 'adjust' && pass.tied && !hostOf(mix.passes, mix.passes.indexOf(pass))) return 'it is tied to a pass under it, and there is none';
  if (solo && solo !== pass.id && mix.passes.some((p) => p.id === solo)) return 'another pass is seen alone';
  if (pass.opacity === 0) return 'its opacity is 0 %';
  if ('mode' in pass && pass.brightness === 0 && pass.colour === 0) return 'neither its brightness nor its colour is taken';
  return null;
}

/** Lights that were switched on or off between the reference and frames that are not joined with it: what each has more than the other. */
export const switchedSources = (mix: MixDocument, frames: readonly Frame[]): { readonly source: Source; readonly label: string }[] =>
  frames.filter((f) => (f.role === 'ambient' || f.role === 'lamp') && f.id in mix.frames && f.id !== mix.reference && !mix.merge.includes(f.id)).flatMap((f) => [
    { source: { kind: 'switched' as const, frame: f.id, without: mix.reference }, label: `Lamps of ${f.name}` },
    { source: { kind: 'switched' as const, frame: mix.reference, without: f.id }, label: `Lamps that ${f.name} lacks` },
  ]);

/** Stops by which a frame was exposed more than the reference: what was dark there is well exposed here. */
const brighter = (mix: MixDocument, id: string): number => mix.frames[id].stops - mix.frames[mix.reference].stops;
const STOP = 0.7;

/** In a few words, what a frame gives a picture. */
export function goodFor(mix: MixDocument, frame: Frame): string {
  if (frame.id === mix.reference) return 'the reference';
  if (frame.role === 'flash') return 'light, true colours';
  if (frame.role === 'view') return 'the view';
  if (frame.role === 'plate') return 'what others cover';
  if (frame.role !== 'ambient') return '';
  const more = brighter(mix, frame.id);
  return more > STOP ? 'dark corners' : more < -STOP ? 'windows, bright lamps' : 'light as it was';
}
