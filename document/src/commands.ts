import { InvalidMix, openMix } from './openMix';
import type { FrameUse, MixDocument, Pass } from './mixDocument';

/** What may change in a pass; its kind and id may not. */
export type PassChanges = Partial<Record<'name' | 'why' | 'on' | 'opacity' | 'mask' | 'exposure' | 'balance' | 'source' | 'alignment' | 'mode' | 'brightness' | 'colour' | 'contrast' | 'highlights' | 'shadows' | 'saturation', unknown>>;

/** Everything that a person or a method can do to a mix. Each has an inverse of the same kind of thing. */
export type Command =
  | { readonly kind: 'addPass'; readonly pass: Pass; readonly index: number }
  | { readonly kind: 'removePass'; readonly id: string }
  | { readonly kind: 'movePass'; readonly id: string; readonly index: number }
  | { readonly kind: 'changePass'; readonly id: string; readonly changes: PassChanges }
  /** Lets passes use a frame that could not be lined up automatically. */
  | { readonly kind: 'addFrame'; readonly id: string; readonly use: FrameUse }
  | { readonly kind: 'removeFrame'; readonly id: string }
  | { readonly kind: 'changeFrame'; readonly id: string; readonly changes: FrameChanges }
  | { readonly kind: 'changeMix'; readonly changes: MixChanges };

/** What may change in how a frame is used by all passes. */
export type FrameChanges = Partial<Pick<FrameUse, 'homography' | 'mesh' | 'stops' | 'balance'>>;
/** What may change for the whole mix at once. */
export type MixChanges = Partial<Omit<MixDocument, 'version'>>;

export interface Applied {
  readonly document: MixDocument;
  /** Applying this gives the document before. */
  readonly inverse: Command;
}

const FORBIDDEN = new Set(['id', 'kind']);

function indexOf(document: MixDocument, id: string): number {
  const index = document.passes.findIndex((pass) => pass.id === id);
  if (index < 0) throw new InvalidMix(`There is no pass ${id} in this mix: it may have been removed meanwhile.`);
  return index;
}

/** The values that changes would overwrite. */
const before = <T extends object>(thing: T, changes: Partial<T>): Partial<T> => Object.fromEntries(Object.keys(changes).map((key) => [key, thing[key as keyof T]])) as Partial<T>;

const clampIndex = (index: number, length: number): number => Math.max(0, Math.min(length, Math.trunc(index)));

function inserted(passes: readonly Pass[], pass: Pass, index: number): Pass[] {
  return [...passes.slice(0, index), pass, ...passes.slice(index)];
}

function change(document: MixDocument, id: string, changes: PassChanges): Applied {
  const index = indexOf(document, id);
  const pass = document.passes[index];
  for (const key of Object.keys(changes)) {
    if (FORBIDDEN.has(key) || !(key in pass)) throw new InvalidMix(`A pass of kind ${pass.kind} has no ${key} to change.`);
  }
  const passes = document.passes.map((p, i) => (i === index ? ({ ...p, ...changes } as Pass) : p));
  return { document: { ...document, passes }, inverse: { kind: 'changePass', id, changes: before(pass as unknown as Record<string, unknown>, changes) as PassChanges } };
}

/**
 * Applies a command to a document, leaving the given one as it is.
 * @throws InvalidMix when the command does not fit, or its result would be no valid document.
 */
export function applyCommand(document: MixDocument, command: Command): Applied {
  const applied = applyUnchecked(document, command);
  openMix(applied.document);
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
    case 'movePass': {
      const from = indexOf(document, command.id);
      const rest = document.passes.filter((_, i) => i !== from);
      return { document: { ...document, passes: inserted(rest, document.passes[from], clampIndex(command.index, rest.length)) }, inverse: { kind: 'movePass', id: command.id, index: from } };
    }
    case 'changePass':
      return change(document, command.id, command.changes);
    case 'addFrame': {
      if (command.id in document.frames) throw new InvalidMix(`Frame ${command.id} is in this mix already.`);
      return { document: { ...document, frames: { ...document.frames, [command.id]: command.use } }, inverse: { kind: 'removeFrame', id: command.id } };
    }
    case 'removeFrame': {
      const { [command.id]: use, ...frames } = document.frames;
      if (!use) throw new InvalidMix(`This mix has no frame ${command.id}.`);
      return { document: { ...document, frames }, inverse: { kind: 'addFrame', id: command.id, use } };
    }
    case 'changeFrame': {
      const { id, changes } = command;
      const use = document.frames[id];
      if (!use) throw new InvalidMix(`This mix has no frame ${id}.`);
      return { document: { ...document, frames: { ...document.frames, [id]: { ...use, ...changes } } }, inverse: { kind: 'changeFrame', id, changes: before(use, changes) } };
    }
    case 'changeMix':
      return { document: { ...document, ...command.changes }, inverse: { kind: 'changeMix', changes: before(document, command.changes) } };
  }
}
