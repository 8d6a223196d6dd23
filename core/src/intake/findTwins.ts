import type { FrameFacts } from './frameFacts';

const stem = (name: string): string => name.replace(/\.[^.]+$/, '').toLowerCase();

/** Which file of one exposure is worked with: the one that a person wants, else a raw file, else more pixels, else a JPEG. */
function preferred(a: FrameFacts, b: FrameFacts): FrameFacts {
  if (Boolean(a.wanted) !== Boolean(b.wanted)) return a.wanted ? a : b;
  if ((a.format === 'raw') !== (b.format === 'raw')) return a.format === 'raw' ? a : b;
  const pixels = a.width * a.height - b.width * b.height;
  if (pixels !== 0) return pixels > 0 ? a : b;
  return a.format === 'jpeg' ? a : b;
}

/** Marks files that hold the same exposure (same name but for the ending, same time where both have one). */
export function findTwins(frames: readonly FrameFacts[]): FrameFacts[] {
  const byStem = new Map<string, FrameFacts[]>();
  for (const facts of frames) byStem.set(stem(facts.name), [...(byStem.get(stem(facts.name)) ?? []), facts]);
  const main = new Map<string, string>();
  for (const group of byStem.values()) {
    const best = group.reduce(preferred);
    for (const facts of group) {
      const sameTime = facts.takenAt === null || best.takenAt === null || Math.abs(facts.takenAt - best.takenAt) < 1500;
      const sameShape = Math.abs(facts.width / facts.height - best.width / best.height) < 0.02;
      if (facts !== best && sameTime && sameShape) main.set(facts.id, best.id);
    }
  }
  return frames.map((facts) => ({ ...facts, twinOf: main.get(facts.id) ?? null }));
}
