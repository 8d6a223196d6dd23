import { followedBy, framesOfArea } from '../area/areas';
import { byKind } from '../fields';
import { adjustPass, type AdjustPass } from './adjustPass';
import type { PassKind } from './passKind';
import { sourcePass, type SourcePass } from './sourcePass';

/** Every kind of pass, by its name. */
export interface PassKinds {
  readonly light: SourcePass;
  readonly view: SourcePass;
  readonly inset: SourcePass;
  readonly adjust: AdjustPass;
}
export type Pass = PassKinds[keyof PassKinds];

export const PASSES: { readonly [K in keyof PassKinds]: PassKind<PassKinds[K]> } = { light: sourcePass, view: sourcePass, inset: sourcePass, adjust: adjustPass };

/** Joi schema of a pass of any kind. */
export const passSchema = byKind(Object.fromEntries(Object.entries(PASSES).map(([kind, { schema }]) => [kind, schema])));

const kindOf = (pass: Pass): PassKind<Pass> => PASSES[pass.kind];

/** Whether a pass takes pixels, or light to subtract, from the merge. */
export const usesMerge = (pass: Pass): boolean => kindOf(pass).usesMerge(pass);

/** Frames that a pass names as its source, and those that its mask names. */
export const namedBy = (pass: Pass): { readonly source: readonly string[]; readonly mask: readonly string[] } => ({ source: kindOf(pass).frames(pass), mask: pass.mask.flatMap(framesOfArea) });

/** Frames whose pixels a pass needs to be at hand. */
export const framesOfPass = (mix: { readonly merge: readonly string[] }, pass: Pass): string[] => [...new Set([...pass.mask.flatMap(followedBy), ...kindOf(pass).frames(pass), ...(usesMerge(pass) ? mix.merge : [])])];
