import { veilOver } from '../finish/veil';
import { localTone, type ToneBase, type ToneModel } from '../finish/localTone';
import { type Plane } from '../image/plane';
import { rounded } from '../image/quantize';
import type { Tools } from '../kernels/tools';
import type { BroadTones } from '../kind/passEvaluation';

/** Tones of a base, by their strengths. */
const tones = new WeakMap<ToneBase, Map<string, ToneModel>>();
const MOST_TONES = 8;

/** Veils, by the broad light that they were found in. */
const veils = new WeakMap<ToneBase, Plane>();

/** The veil in broad light. */
export function veilOf(base: ToneBase): Plane {
  const veil = veils.get(base) ?? rounded(veilOver(base.logY), 'root');
  veils.set(base, veil);
  return veil;
}

/** How broad light is changed by these strengths. */
export function toneOf(tools: Tools, base: ToneBase, wanted: BroadTones): ToneModel {
  const key = `${wanted.highlights} ${wanted.shadows} ${wanted.localContrast}`;
  const known = tones.get(base) ?? new Map<string, ToneModel>();
  tones.set(base, known);
  let tone = known.get(key);
  if (!tone) {
    const { a, b } = localTone(tools, base, wanted);
    known.set(key, (tone = { a: rounded(a), b: rounded(b) }));
  }
  if (known.size > MOST_TONES) known.delete(known.keys().next().value!);
  return tone;
}
