import { quantile, luminance } from '@zaddle/core/image/plane';
import { prepareMix } from '@zaddle/core/graph/prepareMix';
import type { MixDocument, SourcePass } from '@zaddle/document';
import type { Session } from './session';

/** A look at how one frame lies on the reference. */
export interface Check {
  readonly kind: 'through' | 'difference' | 'alone';
  readonly frame: string;
  /** The frame as this pass has it, or as it lies for all. */
  readonly pass: string | null;
}

const layer = (frame: string, exposure: number, opacity: number, alignment: SourcePass['alignment']): SourcePass => ({
  id: `check-${frame}-${opacity}`, name: 'Check', within: null, why: '', kind: 'light', on: true, opacity, mask: [], exposure, balance: [1, 1, 1], source: { kind: 'frame', frame }, alignment, mode: 'normal', brightness: 1, colour: 1,
});

/** Exposure, in stops, that brings a frame to the brightness of the reference where both have it. */
function exposureLike(session: Session, mix: MixDocument, frame: string): number {
  const level = session.guideLevel(mix);
  const light = (id: string): Float32Array => luminance(level.picture(prepareMix({ ...mix, passes: [layer(id, 0, 1, null)] }, session.found))).data;
  const [a, b] = [light(mix.reference), light(frame)];
  const ratios: number[] = [];
  for (let i = 0; i < a.length; i += 7) if (a[i] > 0.004 && b[i] > 0.004 && a[i] < 0.9 && b[i] < 0.9) ratios.push(a[i] / b[i]);
  return ratios.length < 50 ? 0 : Math.log2(quantile(ratios, 0.5));
}

/** The pictures that a check is made of: one to show, or two to subtract. */
export function checkMix(session: Session, mix: MixDocument, check: Check): readonly MixDocument[] {
  const pass = mix.passes.find((p) => p.id === check.pass);
  const alignment = pass && 'source' in pass ? pass.alignment : null;
  const frame = layer(check.frame, Math.max(-8, Math.min(8, exposureLike(session, mix, check.frame))), check.kind === 'through' ? 0.5 : 1, alignment);
  const reference = layer(mix.reference, 0, 1, null);
  if (check.kind === 'alone') return [{ ...mix, passes: [frame] }];
  if (check.kind === 'through') return [{ ...mix, passes: [reference, frame] }];
  return [{ ...mix, passes: [reference] }, { ...mix, passes: [frame] }];
}
