import type { FrameFacts } from './frameFacts';

const stem = (name: string): string => name.replace(/\.[^.]+$/, '').toLowerCase();

/** Which file of one exposure is worked with: more pixels first, then a JPEG over others (raw files come later). */
function preferred(a: FrameFacts, b: FrameFacts): FrameFacts {
  const pixels = a.width * a.height - b.width * b.height;
  if (pixels !== 0) return pixels > 0 ? a : b;
  return /\.jpe?g$/i.test(a.name) ? a : b;
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
