import { InvalidMix } from './invalidMix';
import type { Mix } from './mixDocument';
import { DEEPEST_BUNDLE } from './pass/bundlePass';
import type { Pass } from './pass/passes';

/** Index from which on a pass and all that it holds lie, up to the pass itself. @param index of the pass */
export function blockStart(passes: readonly Pass[], index: number): number {
  if (passes[index].kind !== 'bundle') return index;
  const held = new Set([passes[index].id]);
  let start = index;
  // From on top: a bundle comes before what it holds.
  while (start > 0 && passes[start - 1].within !== null && held.has(passes[start - 1].within!)) held.add(passes[--start].id);
  return start;
}

/** The bundles that hold a pass, from the innermost out. */
export function holders(passes: readonly Pass[], pass: Pass): Pass[] {
  const out: Pass[] = [];
  for (let id = pass.within; id !== null && out.length <= DEEPEST_BUNDLE; ) {
    const holder = passes.find((p) => p.id === id);
    if (!holder) break;
    out.push(holder);
    id = holder.within;
  }
  return out;
}

/** The pass that a tied one changes: the nearest of its bundle under it that is not tied itself; null: there is none. */
export function hostOf(passes: readonly Pass[], index: number): Pass | null {
  const { within } = passes[index];
  for (let k = index - 1; k >= 0; k = blockStart(passes, k) - 1) {
    const pass = passes[k];
    if (pass.within !== within) return null;
    if (pass.kind !== 'adjust') return pass;
    if (!pass.tied) return null;
  }
  return null;
}

/** What bundles hold lies right under them. @throws InvalidMix where it does not */
export function checkOrder({ passes }: Pick<Mix, 'passes'>): void {
  const ids = new Map(passes.map((pass) => [pass.id, pass]));
  // From on top down: the bundles whose passes may come next, the innermost last.
  const open: string[] = [];
  for (let k = passes.length - 1; k >= 0; k--) {
    const { name, within, id, kind } = passes[k];
    if (within !== null && ids.get(within)?.kind !== 'bundle') throw new InvalidMix(`“${name}” says that it lies in a bundle which is not there. It may have been dissolved meanwhile.`);
    while (open.length > 0 && open[open.length - 1] !== within) open.pop();
    if (within !== null && open.length === 0) throw new InvalidMix(`“${name}” must lie right under the bundle “${ids.get(within)!.name}” that holds it.`);
    if (kind !== 'bundle') continue;
    open.push(id);
    if (open.length > DEEPEST_BUNDLE) throw new InvalidMix(`Bundles may lie within each other ${DEEPEST_BUNDLE} deep at most. Dissolve one first.`);
  }
}
