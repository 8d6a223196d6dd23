/** How often each thing was changed from here: an answer from before a change must not come after it. */
export class Changes {
  private readonly counts = new Map<string, number>();

  /** A change to this thing was answered. */
  add(id: string): void {
    this.counts.set(id, (this.counts.get(id) ?? 0) + 1);
  }

  /** Asks until no change was answered meanwhile: what is on its way while something changes may be older than the change. */
  async freshAnswer<T>(id: string, ask: () => T | PromiseLike<T>): Promise<T> {
    for (;;) {
      const before = this.counts.get(id);
      const answer = await ask();
      if (this.counts.get(id) === before) return answer;
    }
  }
}
