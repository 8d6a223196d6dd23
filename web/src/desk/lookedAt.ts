import type { MixDocument, SourcePass } from '@zaddle/document';
import type { Look } from '../store/deskSlice';

/** The reference frame alone, as the camera gave it. */
function referenceOnly(mix: MixDocument): MixDocument {
  const pass: SourcePass = {
    id: 'before', name: 'Before', within: null, why: '', kind: 'light', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1],
    source: { kind: 'frame', frame: mix.reference }, alignment: null, mode: 'normal', brightness: 1, colour: 1,
  };
  return { ...mix, passes: [pass] };
}

/** The mix that is on the screen: all of it, one pass by itself, or the reference as shot. */
export function lookedAt(mix: MixDocument, look: Look, solo: string | null): MixDocument {
  if (look === 'before') return referenceOnly(mix);
  if (solo && mix.passes.some((p) => p.id === solo)) return { ...mix, passes: mix.passes.filter((p) => p.id === solo).map((p) => ({ ...p, on: true })) };
  return mix;
}
