/** Chance that follows from a seed: the same campaign can be run again. */
export class Dice {
  private readonly next: () => number;

  constructor(seed: number) {
    let state = (Math.abs(Math.trunc(seed)) % 2147483646) + 1;
    // Park and Miller 1988.
    this.next = () => (state = (state * 48271) % 2147483647) / 2147483647;
  }

  /** A number from `least` to before `most`. */
  between(least: number, most: number): number {
    return least + (most - least) * this.next();
  }

  /** One of a list. @throws RangeError of an empty one */
  pick<T>(list: readonly T[]): T {
    if (list.length === 0) throw new RangeError('There is nothing to pick from.');
    return list[Math.min(list.length - 1, Math.floor(this.next() * list.length))];
  }
}

export const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
