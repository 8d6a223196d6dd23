import { blockStart, hostOf, linksOf, type Area, type HueBand, type MixDocument, type Pass } from '@zaddle/document';
import { frameOnly } from '../engine/frameOnly';
import type { Look } from '../store/deskSlice';

/** One pass by itself, with all that it holds, and with its host where it is tied to one. */
function alone(passes: readonly Pass[], index: number): Pass[] {
  const pass = passes[index];
  const host = pass.kind === 'adjust' && pass.tied ? hostOf(passes, index) : null;
  const end = host ? passes.indexOf(host) : index;
  const block = passes.slice(blockStart(passes, end), end + 1);
  const shown = [...block.map((p) => (p === (host ?? pass) ? { ...p, on: true, within: null } : p)), ...(host ? [{ ...pass, on: true, within: null }] : [])];
  // Masks that are linked to others need those, unseen.
  if (shown.every((p) => linksOf(p).length === 0)) return shown;
  return [...shown, ...passes.filter((p) => !block.includes(p) && p !== pass).map((p) => ({ ...p, on: false }))];
}

/** The mix that is on the screen: all of it, one pass by itself, all but the selected one, or the reference as shot. */
export function lookedAt(mix: MixDocument, look: Look, solo: string | null, selected: string | null): MixDocument {
  if (look === 'before') return frameOnly(mix, mix.reference);
  if (look === 'without') return without(mix, selected);
  const index = mix.passes.findIndex((p) => p.id === solo);
  return index < 0 ? mix : { ...mix, passes: alone(mix.passes, index) };
}

/** The mix with a pass limited to what a band of hues hits, so that its mask shows just that. */
export function showingBand(mix: MixDocument, id: string, { hue, width, softness }: HueBand): MixDocument {
  const hit = (mask: readonly Area[]): Area => ({ id: 'hit', kind: 'hues', join: mask.length > 0 ? 'intersect' : 'add', inverted: false, of: { kind: 'below' }, hue, width, softness, chroma: 0.03 });
  return { ...mix, passes: mix.passes.map((pass) => (pass.id === id ? { ...pass, mask: [...pass.mask, hit(pass.mask)] } : pass)) };
}

/** The picture without one pass, what it holds and what is tied to it. */
export const without = (mix: MixDocument, id: string | null): MixDocument => ({ ...mix, passes: mix.passes.map((pass) => (pass.id === id ? { ...pass, on: false } : pass)) });
