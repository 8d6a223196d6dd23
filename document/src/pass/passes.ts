import { followedBy, framesOfArea, linkOf, movedArea, type Area } from '../area/areas';
import { LONGEST_CHAIN } from '../area/same';
import { byKind } from '../fields';
import type { Move } from '../area/areaKind';
import { adjustPass, type AdjustPass } from './adjustPass';
import { bundlePass, type BundlePass } from './bundlePass';
import { fillPass, type FillPass } from './fillPass';
import { healPass, type HealPass } from './healPass';
import type { PassKind } from './passKind';
import { sourcePass, type SourcePass } from './sourcePass';

/** Every kind of pass, by its name. */
export interface PassKinds {
  readonly light: SourcePass;
  readonly view: SourcePass;
  readonly inset: SourcePass;
  readonly adjust: AdjustPass;
  readonly fill: FillPass;
  readonly heal: HealPass;
  readonly bundle: BundlePass;
}
export type Pass = PassKinds[keyof PassKinds];

export const PASSES: { readonly [K in keyof PassKinds]: PassKind<PassKinds[K]> } = { light: sourcePass, view: sourcePass, inset: sourcePass, adjust: adjustPass, fill: fillPass, heal: healPass, bundle: bundlePass };

/** Joi schema of a pass of any kind. */
export const passSchema = byKind(Object.fromEntries(Object.entries(PASSES).map(([kind, { schema }]) => [kind, schema])));

const kindOf = (pass: Pass): PassKind<Pass> => PASSES[pass.kind];

/** Whether a pass takes pixels, or light to subtract, from the merge. */
export const usesMerge = (pass: Pass): boolean => kindOf(pass).usesMerge(pass);

/** Frames that a pass names as its source, and those that its mask names. */
export const namedBy = (pass: Pass): { readonly source: readonly string[]; readonly mask: readonly string[] } => ({ source: kindOf(pass).frames(pass), mask: pass.mask.flatMap(framesOfArea) });

/** Areas that a mask consists of, those of masks that it is linked to included. */
function areasOf(passes: readonly Pass[], { mask }: Pass, chain = 0): Area[] {
  return mask.flatMap((area) => {
    const link = linkOf(area);
    const other = link !== null && chain < LONGEST_CHAIN ? passes.find((p) => p.id === link) : undefined;
    return [area, ...(other ? areasOf(passes, other, chain + 1) : [])];
  });
}

/** Frames whose pixels a pass needs to be at hand. */
export const framesOfPass = (mix: { readonly merge: readonly string[]; readonly passes: readonly Pass[] }, pass: Pass): string[] => [...new Set([...areasOf(mix.passes, pass).flatMap(followedBy), ...kindOf(pass).frames(pass), ...(usesMerge(pass) ? mix.merge : [])])];

/** The same pass on another reference: its mask and, where it knows of places, those. */
export const movedPass = (pass: Pass, move: Move): Pass => {
  const own = kindOf(pass).moved?.(pass, move) ?? pass;
  return { ...own, mask: own.mask.map((area) => movedArea(area, move)) };
};
