import type { Pass, PassKinds } from '@zaddle/document';
import type { BroadTones, PassEvaluation } from '../kind/passEvaluation';
import { adjustPass } from './adjustPass';
import { bundlePass } from './bundlePass';
import { fillPass } from './fillPass';
import { healPass } from './healPass';
import { sourcePass } from './sourcePass';

const EVALUATIONS: { readonly [K in keyof PassKinds]: PassEvaluation<PassKinds[K], unknown> } = { light: sourcePass, view: sourcePass, inset: sourcePass, adjust: adjustPass, fill: fillPass, heal: healPass, bundle: bundlePass };

/** How passes of a kind are evaluated. */
export const passEvaluation = (kind: Pass['kind']): PassEvaluation<Pass, unknown> => EVALUATIONS[kind];

/** What a pass has to know of what lies around its mask. */
export function fromAround(pass: Pass): 'light' | 'gains' | null {
  const evaluation = passEvaluation(pass.kind);
  return evaluation.does === 'brings' ? (evaluation.fromAround?.(pass) ?? null) : null;
}

/** How a pass changes tones by what lies around them, if it does. */
export function tonesOf(pass: Pass): BroadTones | null {
  const evaluation = passEvaluation(pass.kind);
  return evaluation.does === 'changes' ? evaluation.tones(pass) : null;
}

/** Whether a pass takes a veil away. */
export function clearsVeil(pass: Pass): boolean {
  const evaluation = passEvaluation(pass.kind);
  return evaluation.does === 'changes' && evaluation.clears(pass);
}

/** Whether a pass evens out the colour of light. */
export function evensCast(pass: Pass): boolean {
  const evaluation = passEvaluation(pass.kind);
  return evaluation.does === 'changes' && evaluation.evens(pass);
}

/** Whether a pass lets bright light glow. */
export function letsGlow(pass: Pass): boolean {
  const evaluation = passEvaluation(pass.kind);
  return evaluation.does === 'changes' && evaluation.glows(pass);
}
