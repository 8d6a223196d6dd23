import { checkChange } from './checkChange';
import { InvalidMix } from './invalidMix';
import { blockStart } from './bundles';
import type { Area } from './area/areas';
import type { Stroke } from './area/brush';
import type { MixDocument } from './mixDocument';
import { ADJUST_LEFT_OUT } from './pass/adjustPass';
import type { Pass } from './pass/passes';
import type { FrameUse } from './values';

/** What may change in a pass; its kind and id may not. */
export type PassChanges = Partial<Record<'name' | 'why' | 'on' | 'opacity' | 'mask' | 'exposure' | 'balance' | 'source' | 'alignment' | 'matched' | 'mode' | 'brightness' | 'colour' | 'contrast' | 'highlights' | 'shadows' | 'saturation' | 'curve' | 'bands' | 'muted' | 'evenness' | 'localContrast' | 'veil' | 'glow' | 'table' | 'tied' | 'tone' | 'ramp' | 'around' | 'patches' | 'softness', unknown>>;

/** Everything that a person or a method can do to a mix. Each has an inverse of the same kind of thing. */
export type Command =
  | { readonly kind: 'addPass'; readonly pass: Pass; readonly index: number }
  | { readonly kind: 'removePass'; readonly id: string }
  /** A bundle moves with all that it holds; the index is where the lowest of them then lies. `within`: into another bundle, or out of all (null). */
  | { readonly kind: 'movePass'; readonly id: string; readonly index: number; readonly within?: string | null }
  | { readonly kind: 'changePass'; readonly id: string; readonly changes: PassChanges }
  | { readonly kind: 'addArea'; readonly pass: string; readonly area: Area; readonly index: number }
  | { readonly kind: 'removeArea'; readonly pass: string; readonly area: string }
  /** One more stroke of a brush area: what was painted before is not sent again. Without an index it comes last. */
  | { readonly kind: 'addStroke'; readonly pass: string; readonly area: string; readonly stroke: Stroke; readonly index?: number }
  | { readonly kind: 'removeStroke'; readonly pass: string; readonly area: string; readonly index: number }
  /** Several changes as one step. */
  | { readonly kind: 'several'; readonly commands: readonly Command[] }
  /** Lets passes use a frame that could not be lined up automatically. */
  | { readonly kind: 'addFrame'; readonly id: string; readonly use: FrameUse }
  | { readonly kind: 'removeFrame'; readonly id: string }
  | { readonly kind: 'changeFrame'; readonly id: string; readonly changes: FrameChanges }
  | { readonly kind: 'changeMix'; readonly changes: MixChanges };

/** What may change in how a frame is used by all passes. */
export type FrameChanges = Partial<Pick<FrameUse, 'homography' | 'mesh' | 'stops' | 'balance' | 'own' | 'ownStops'>>;
/** What may change for the whole mix at once. */
export type MixChanges = Partial<Omit<MixDocument, 'version'>>;

export interface Applied {
  readonly document: MixDocument;
  /** Applying this gives the document before. */
  readonly inverse: Command;
}

const FORBIDDEN = new Set(['id', 'kind', 'within']);
/** What passes that were made earlier do not have, and may be given. */
const LEFT_OUT: Partial<Record<Pass['kind'], readonly string[]>> = { adjust: Object.keys(ADJUST_LEFT_OUT) };

function indexOf(document: MixDocument, id: string): number {
  const index = document.passes.findIndex((pass) => pass.id === id);
  if (index < 0) throw new InvalidMix(`There is no pass ${id} in this mix: it may have been removed meanwhile.`);
  return index;
}

/** The values that changes would overwrite. */
const before = <T extends object>(thing: T, changes: Partial<T>): Partial<T> => Object.fromEntries(Object.keys(changes).map((key) => [key, thing[key as keyof T] ?? null])) as Partial<T>;

const clampIndex = (index: number, length: number): number => Math.max(0, Math.min(length, Math.trunc(index)));

function inserted(passes: readonly Pass[], pass: Pass, index: number): Pass[] {
  return [...passes.slice(0, index), pass, ...passes.slice(index)];
}

function change(document: MixDocument, id: string, changes: PassChanges): Applied {
  const index = indexOf(document, id);
  const pass = document.passes[index];
  for (const key of Object.keys(changes)) {
    if (FORBIDDEN.has(key) || !(Object.hasOwn(pass, key) || LEFT_OUT[pass.kind]?.includes(key))) throw new InvalidMix(`A pass of kind ${pass.kind} has no ${key} to change.`);
  }
  const passes = document.passes.map((p, i) => (i === index ? ({ ...p, ...changes } as Pass) : p));
  return { document: { ...document, passes }, inverse: { kind: 'changePass', id, changes: before(pass as unknown as Record<string, unknown>, changes) as PassChanges } };
}

function move(document: MixDocument, { id, index, within }: Extract<Command, { kind: 'movePass' }>): Applied {
  const { passes } = document;
  const last = indexOf(document, id);
  const from = blockStart(passes, last);
  const own = passes[last];
  const block = passes.slice(from, last + 1).map((pass) => (pass.id === id && within !== undefined ? { ...pass, within } : pass));
  const rest = [...passes.slice(0, from), ...passes.slice(last + 1)];
  const at = clampIndex(index, rest.length);
  const inverse: Command = { kind: 'movePass', id, index: from, ...(within === undefined ? {} : { within: own.within }) };
  return { document: { ...document, passes: [...rest.slice(0, at), ...block, ...rest.slice(at)] }, inverse };
}

/** The document with one pass's areas changed. */
function withMask(document: MixDocument, index: number, mask: readonly Area[]): MixDocument {
  return { ...document, passes: document.passes.map((pass, i) => (i === index ? { ...pass, mask } : pass)) };
}

function areaIndex(pass: Pass, area: string): number {
  const index = pass.mask.findIndex((a) => a.id === area);
  if (index < 0) throw new InvalidMix(`Pass “${pass.name}” has no such area: it may have been removed meanwhile.`);
  return index;
}

function changeArea(document: MixDocument, command: Extract<Command, { kind: 'addArea' | 'removeArea' }>): Applied {
  const at = indexOf(document, command.pass);
  const { mask, name } = document.passes[at];
  if (command.kind === 'addArea') {
    if (mask.some((a) => a.id === command.area.id)) throw new InvalidMix(`Pass “${name}” has an area ${command.area.id} already.`);
    const index = clampIndex(command.index, mask.length);
    return { document: withMask(document, at, [...mask.slice(0, index), command.area, ...mask.slice(index)]), inverse: { kind: 'removeArea', pass: command.pass, area: command.area.id } };
  }
  const index = areaIndex(document.passes[at], command.area);
  return { document: withMask(document, at, mask.filter((_, i) => i !== index)), inverse: { kind: 'addArea', pass: command.pass, area: mask[index], index } };
}

function changeStrokes(document: MixDocument, command: Extract<Command, { kind: 'addStroke' | 'removeStroke' }>): Applied {
  const at = indexOf(document, command.pass);
  const pass = document.passes[at];
  const k = areaIndex(pass, command.area);
  const area = pass.mask[k];
  if (area.kind !== 'brush') throw new InvalidMix(`This area of “${pass.name}” is not painted, so it has no strokes.`);
  const put = (strokes: readonly Stroke[]): MixDocument => withMask(document, at, pass.mask.map((a, i) => (i === k ? { ...area, strokes } : a)));
  if (command.kind === 'addStroke') {
    const index = clampIndex(command.index ?? area.strokes.length, area.strokes.length);
    return { document: put([...area.strokes.slice(0, index), command.stroke, ...area.strokes.slice(index)]), inverse: { kind: 'removeStroke', pass: command.pass, area: command.area, index } };
  }
  const stroke = area.strokes[command.index];
  if (!stroke) throw new InvalidMix('This stroke is not there any more.');
  return { document: put(area.strokes.filter((_, i) => i !== command.index)), inverse: { kind: 'addStroke', pass: command.pass, area: command.area, stroke, index: command.index } };
}

function changeSeveral(document: MixDocument, commands: readonly Command[]): Applied {
  const back: Command[] = [];
  for (const command of commands) {
    const applied = applyUnchecked(document, command);
    document = applied.document;
    back.unshift(applied.inverse);
  }
  return { document, inverse: { kind: 'several', commands: back } };
}

/**
 * Applies a command to a document, leaving the given one as it is.
 * @throws InvalidMix when the command does not fit, or its result would be no valid document.
 */
export function applyCommand(document: MixDocument, command: Command): Applied {
  const applied = applyUnchecked(document, command);
  checkChange(applied.document, command);
  return applied;
}

/** What a command would make of a document, unchecked: for the middle of a drag, where checking every point of every stroke is too slow. @throws InvalidMix when it names what is not there. */
export const draftOf = (document: MixDocument, command: Command): MixDocument => applyUnchecked(document, command).document;

function applyUnchecked(document: MixDocument, command: Command): Applied {
  switch (command.kind) {
    case 'addPass': {
      const index = clampIndex(command.index, document.passes.length);
      return { document: { ...document, passes: inserted(document.passes, command.pass, index) }, inverse: { kind: 'removePass', id: command.pass.id } };
    }
    case 'removePass': {
      const index = indexOf(document, command.id);
      const passes = document.passes.filter((_, i) => i !== index);
      return { document: { ...document, passes }, inverse: { kind: 'addPass', pass: document.passes[index], index } };
    }
    case 'movePass':
      return move(document, command);
    case 'changePass':
      return change(document, command.id, command.changes);
    case 'addArea':
    case 'removeArea':
      return changeArea(document, command);
    case 'addStroke':
    case 'removeStroke':
      return changeStrokes(document, command);
    case 'several':
      return changeSeveral(document, command.commands);
    case 'addFrame': {
      if (Object.hasOwn(document.frames, command.id)) throw new InvalidMix(`Frame ${command.id} is in this mix already.`);
      return { document: { ...document, frames: { ...document.frames, [command.id]: command.use } }, inverse: { kind: 'removeFrame', id: command.id } };
    }
    case 'removeFrame': {
      if (!Object.hasOwn(document.frames, command.id)) throw new InvalidMix(`This mix has no frame ${command.id}.`);
      const { [command.id]: use, ...frames } = document.frames;
      return { document: { ...document, frames }, inverse: { kind: 'addFrame', id: command.id, use } };
    }
    case 'changeFrame': {
      const { id, changes } = command;
      const use = Object.hasOwn(document.frames, id) ? document.frames[id] : null;
      if (!use) throw new InvalidMix(`This mix has no frame ${id}.`);
      return { document: { ...document, frames: { ...document.frames, [id]: { ...use, ...changes } } }, inverse: { kind: 'changeFrame', id, changes: before(use, changes) } };
    }
    case 'changeMix':
      return { document: { ...document, ...command.changes }, inverse: { kind: 'changeMix', changes: before(document, command.changes) } };
  }
}
