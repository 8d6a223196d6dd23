interface Members {
  readonly frames: readonly string[];
}

/**
 * Gives each shot that sorting made the id of the known shot that it shares most frames with, so that a late frame, a
 * second file of an exposure or the rest of a card change a shot and do not replace it. Each id is given once, the closest
 * pairs first; what shares nothing gets a new one.
 * @param known shots as they were. @param sorted shots as they are now.
 */
export function keepShots<T extends Members>(known: readonly (Members & { readonly id: string })[], sorted: readonly T[], newId: () => string): (T & { id: string })[] {
  const home = new Map(known.flatMap(({ id, frames }) => frames.map((frame) => [frame, id] as const)));
  const size = new Map(known.map(({ id, frames }) => [id, frames.length]));
  const pairs = sorted.flatMap(({ frames }, at) => {
    const common = new Map<string, number>();
    for (const frame of frames) {
      const id = home.get(frame);
      if (id !== undefined) common.set(id, (common.get(id) ?? 0) + 1);
    }
    return [...common].map(([id, count]) => ({ at, id, count, others: frames.length + size.get(id)! - 2 * count }));
  });
  // Of equally many in common, the pair that differs least.
  pairs.sort((a, b) => b.count - a.count || a.others - b.others);
  const given = new Map<number, string>();
  const taken = new Set<string>();
  for (const { at, id } of pairs) {
    if (given.has(at) || taken.has(id)) continue;
    given.set(at, id);
    taken.add(id);
  }
  return sorted.map((shot, at) => ({ ...shot, id: given.get(at) ?? newId() }));
}
