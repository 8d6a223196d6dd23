import { blockStart, type BundlePass, type Command, type HealPass, type Pass, type SourcePass } from '@zaddle/document';

/** Id of the bundle that holds what was taken from other frames to clean a picture up. */
export const CLEAN_UP = 'clean-up';

const bundle: BundlePass = { id: CLEAN_UP, name: 'Clean-up', why: 'places taken from other frames, or healed, joined to what lies around them', within: null, kind: 'bundle', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], mode: 'normal', brightness: 1, colour: 1 };

/** Where the bundle goes: over everything but the adjustments for all that lie on top. */
export function cleanUpIndex(passes: readonly Pass[]): number {
  const own = passes.findIndex(({ id, kind }) => id === CLEAN_UP && kind === 'bundle');
  if (own >= 0) return own;
  let index = passes.length;
  while (index > 0 && passes[index - 1].kind === 'adjust' && passes[index - 1].within === null) index--;
  // What is tied to a pass stays with it.
  while (index < passes.length && isTied(passes[index])) index++;
  return index;
}

const isTied = (pass: Pass): boolean => pass.kind === 'adjust' && pass.tied;

/** The change that adds insets, or a healed place, to the bundle, on top of what it holds, and the bundle itself where there is none yet. */
export function addInsetCommand(passes: readonly Pass[], ...insets: readonly (SourcePass | HealPass)[]): Command {
  const index = cleanUpIndex(passes);
  const add = insets.map((inset, k): Command => ({ kind: 'addPass', pass: { ...inset, within: CLEAN_UP }, index: index + k }));
  const commands: Command[] = passes[index]?.id === CLEAN_UP ? add : [{ kind: 'addPass', pass: bundle, index }, ...add];
  return commands.length === 1 ? commands[0] : { kind: 'several', commands };
}

/** The passes with an inset added to the bundle, on top of what it holds. */
export function withInset(passes: readonly Pass[], inset: SourcePass): Pass[] {
  const index = cleanUpIndex(passes);
  const has = passes[index]?.id === CLEAN_UP;
  return [...passes.slice(0, index), { ...inset, within: CLEAN_UP }, ...(has ? [] : [bundle]), ...passes.slice(index)];
}

/** Insets of the bundle, from underneath to on top. */
export const cleanUpInsets = (passes: readonly Pass[]): SourcePass[] => passes.filter((pass): pass is SourcePass => pass.within === CLEAN_UP && 'source' in pass);

/** The passes whose picture an inset of the bundle is laid over: what lies under the bundle, and what it holds. */
export function underCleanUp(passes: readonly Pass[]): readonly Pass[] {
  const index = cleanUpIndex(passes);
  return passes.slice(0, passes[index]?.id === CLEAN_UP ? index + 1 : index);
}

/** The bundle and what it holds left out. */
export function withoutCleanUp(passes: readonly Pass[]): readonly Pass[] {
  const index = passes.findIndex(({ id }) => id === CLEAN_UP);
  return index < 0 ? passes : [...passes.slice(0, blockStart(passes, index)), ...passes.slice(index + 1)];
}
