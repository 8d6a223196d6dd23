import type { FrameId, Mix } from '@zaddle/document';

/** Frames that are asked where edges run, the reference among them: more say little more. */
const WITNESSES = 6;

/** The frames that are asked where edges run: the reference, and others from the darkest to the brightest. */
export function edgeWitnesses({ frames, reference }: Pick<Mix, 'frames' | 'reference'>): FrameId[] {
  const others = Object.keys(frames).filter((id) => id !== reference).sort((a, b) => frames[a].stops - frames[b].stops);
  const count = Math.min(WITNESSES - 1, others.length);
  return [reference, ...Array.from({ length: count }, (_, k) => others[Math.floor(((k + 0.5) * others.length) / count)])];
}
