import { CURRENT_VERSION, type MixDocument } from './mixDocument';
import type { Command } from './commands';
import { namedBy, type Pass } from './pass/passes';
import { checkOrder } from './bundles';
import { checkLinks } from './links';
import { InvalidMix } from './invalidMix';
import { mixSchema } from './schema';

type Step = (document: Record<string, unknown>) => Record<string, unknown>;
/** From each version to the next; the key is the version that the step starts from. */
const MIGRATIONS: Readonly<Record<number, Step>> = { 1: withWholeLens, 2: withBundles, 3: withFills };

/** Version 1 knew distortion only, a response like sRGB's, and one map a frame. */
function withWholeLens(old: Record<string, unknown>): Record<string, unknown> {
  const lens = { ...(old.lens as object), red: 0, blue: 0, falloff: [0, 0] };
  const frames = Object.fromEntries(Object.entries((old.frames ?? {}) as Record<string, object>).map(([id, use]) => [id, { ...use, mesh: null }]));
  const passes = Array.isArray(old.passes) ? (old.passes as Record<string, unknown>[]).map((pass) => (pass.kind === 'adjust' ? pass : { ...pass, alignment: null })) : old.passes;
  return { ...old, version: 2, lens, corrects: { distortion: true, fringes: true, falloff: true }, response: [], frames, passes };
}

/** Version 2 knew neither bundles nor curves. */
const withBundle = (pass: Record<string, unknown>): Record<string, unknown> => ({ within: null, ...(pass.kind === 'adjust' ? { curve: [], tied: false } : {}), ...pass });
function withBundles(old: Record<string, unknown>): Record<string, unknown> {
  const passes = Array.isArray(old.passes) ? (old.passes as Record<string, unknown>[]).map(withBundle) : old.passes;
  return { ...old, version: 3, passes };
}

/** Version 3 filled with tones only. */
const withFill = (pass: Record<string, unknown>): Record<string, unknown> => (pass.kind === 'fill' ? { around: false, ...pass } : pass);
function withFills(old: Record<string, unknown>): Record<string, unknown> {
  const passes = Array.isArray(old.passes) ? (old.passes as Record<string, unknown>[]).map(withFill) : old.passes;
  return { ...old, version: 4, passes };
}
/** A pass of any version, as it is now. */
const asNow = (pass: Pass): Pass => withFill(withBundle(pass as unknown as Record<string, unknown>)) as unknown as Pass;

/** A step of a history, whatever version of the document it was made on: passes that it brings back are as they are now. */
export function readStep(stored: unknown): Command {
  const step = stored as Command;
  if (step.kind === 'addPass') return { ...step, pass: asNow(step.pass) };
  if (step.kind === 'several') return { ...step, commands: step.commands.map(readStep) };
  if (step.kind !== 'changeMix' || !step.changes.passes) return step;
  return { ...step, changes: { ...step.changes, passes: step.changes.passes.map(asNow) } };
}

/** Every frame that the document names must be among its frames. @throws InvalidMix */
export function checkFrames(mix: MixDocument): void {
  const need = (frame: string, where: string): void => {
    if (!Object.hasOwn(mix.frames, frame)) throw new InvalidMix(`${where} names frame ${frame}, which is not among the document's frames.`);
  };
  need(mix.reference, 'The reference');
  mix.merge.forEach((frame) => need(frame, 'The merge'));
  for (const pass of mix.passes) {
    const { source, mask } = namedBy(pass);
    source.forEach((frame) => need(frame, `Pass “${pass.name}”`));
    mask.forEach((frame) => need(frame, `The mask of “${pass.name}”`));
  }
}

/** Documents that were looked through already: they never change. */
const checked = new WeakSet<object>();

/** A document that this program wrote itself, brought to the current version if need be, but not looked through again. @throws InvalidMix for a newer one */
export function readTrusted(stored: unknown): MixDocument {
  return (stored as { version?: unknown }).version === CURRENT_VERSION ? (stored as MixDocument) : openMix(stored);
}

/**
 * Reads a stored document of any known version as one of the current version.
 * @throws InvalidMix when it is none, or a newer one.
 */
export function openMix(stored: unknown): MixDocument {
  if (typeof stored !== 'object' || stored === null) throw new InvalidMix('A mix document is a JSON object.');
  let document = stored as Record<string, unknown>;
  if (typeof document.version === 'number' && document.version > CURRENT_VERSION) throw new InvalidMix(`This document has version ${document.version}; this program knows up to ${CURRENT_VERSION}. Update it.`);
  while (typeof document.version === 'number' && MIGRATIONS[document.version]) document = MIGRATIONS[document.version](document);
  if (checked.has(document)) return document as unknown as MixDocument;
  const { error, value } = mixSchema.validate(document, { convert: false });
  if (error) throw new InvalidMix(error.message);
  checkFrames(value as MixDocument);
  checkOrder(value as MixDocument);
  checkLinks(value as MixDocument);
  checked.add(value as object);
  return value as MixDocument;
}
