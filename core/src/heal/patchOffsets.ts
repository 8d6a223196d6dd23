import type { HealFeatures } from './healLook';

/** Half the side of the squares that are compared. */
const HALF = 3;
/** How often what was found is handed on and chance is tried. */
const ROUNDS = 4;
/** Offsets shorter than this share of the longer side are of a thing to itself. */
const LEAST = 1 / 15;

/** Numbers from 0 to before 1 that look like chance and are the same each time (Park, Miller 1988). */
function chance(): () => number {
  let state = 20_011;
  return () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647;
}

/**
 * For every pixel the offset to the square elsewhere that looks most like the one about it: random trials, handed on from neighbour to neighbour
 * (Barnes et al., "PatchMatch: A Randomized Correspondence Algorithm for Structural Image Editing", 2009).
 */
class OffsetField {
  private readonly best: Float32Array;
  readonly dx: Int16Array;
  readonly dy: Int16Array;
  private readonly next = chance();
  private readonly least: number;

  /** @param open 1 where squares may lie */
  constructor(private readonly features: HealFeatures, private readonly logs: readonly Float32Array[], private readonly open: Uint8Array) {
    const { width, height } = features;
    this.least = LEAST * Math.max(width, height);
    this.best = new Float32Array(width * height).fill(Infinity);
    this.dx = new Int16Array(width * height);
    this.dy = new Int16Array(width * height);
  }

  private difference(i: number, j: number, most: number): number {
    const { width } = this.features;
    const [r, g, b] = this.logs;
    let sum = 0;
    for (let v = -HALF; v <= HALF; v++) {
      for (let k = i + v * width - HALF, m = j + v * width - HALF, end = k + 2 * HALF; k <= end; k++, m++) sum += (r[k] - r[m]) ** 2 + (g[k] - g[m]) ** 2 + (b[k] - b[m]) ** 2;
      if (sum > most) return Infinity;
    }
    return sum;
  }

  private tryAt(x: number, y: number, dx: number, dy: number): void {
    const { width, height } = this.features;
    const [u, v] = [x + dx, y + dy];
    if (u < HALF || v < HALF || u >= width - HALF || v >= height - HALF || Math.hypot(dx, dy) < this.least) return;
    const [i, j] = [y * width + x, v * width + u];
    if (!this.open[j]) return;
    const difference = this.difference(i, j, this.best[i]);
    if (difference >= this.best[i]) return;
    this.best[i] = difference;
    this.dx[i] = dx;
    this.dy[i] = dy;
  }

  private search(x: number, y: number, step: 1 | -1): void {
    const { width, height } = this.features;
    const i = y * width + x;
    for (const k of [i - step, i - step * width]) if (k >= 0 && k < this.best.length && this.best[k] < Infinity) this.tryAt(x, y, this.dx[k], this.dy[k]);
    for (let reach = Math.max(width, height); reach >= 1; reach /= 2) this.tryAt(x, y, this.dx[i] + Math.round((2 * this.next() - 1) * reach), this.dy[i] + Math.round((2 * this.next() - 1) * reach));
  }

  fill(): void {
    const { width, height } = this.features;
    for (let round = 0; round < ROUNDS; round++) {
      const step = round % 2 === 0 ? 1 : -1;
      for (let k = 0; k < width * height; k++) {
        const i = step === 1 ? k : width * height - 1 - k;
        const [x, y] = [i % width, Math.floor(i / width)];
        if (this.open[i] && x >= HALF && y >= HALF && x < width - HALF && y < height - HALF) this.search(x, y, step);
      }
    }
  }

  /** How often each offset was found. */
  counts(): Float32Array {
    const { width, height } = this.features;
    const across = 2 * width + 1;
    const counts = new Float32Array(across * (2 * height + 1));
    for (let i = 0; i < this.best.length; i++) if (this.best[i] < Infinity) counts[(this.dy[i] + height) * across + this.dx[i] + width] += 1;
    return counts;
  }
}

/** Pixels about an offset that count as the same. */
const SAME = 1;

/**
 * The offsets at which a picture repeats itself most often (He, Sun, "Image Completion Approaches Using the Statistics of Similar Patches", 2014).
 * @param logs what is compared, a plane a colour; @param known 1 where the whole square about a pixel is known
 */
export function patchOffsets(features: HealFeatures, logs: readonly Float32Array[], known: Uint8Array, count: number): { dx: number; dy: number }[] {
  const field = new OffsetField(features, logs, known);
  field.fill();
  const { width, height } = features;
  const across = 2 * width + 1;
  const counts = field.counts();
  const smooth = (at: number): number => {
    let sum = 0;
    for (let v = -1; v <= 1; v++) for (let u = -1; u <= 1; u++) sum += counts[at + v * across + u] ?? 0;
    return sum;
  };
  const often = Array.from(counts, (n, at) => ({ at, n: n > 0 ? smooth(at) : 0 })).filter(({ n }) => n > 2).sort((a, b) => b.n - a.n);
  const offsets: { dx: number; dy: number }[] = [];
  for (const { at } of often) {
    if (offsets.length === count) break;
    const [dx, dy] = [(at % across) - width, Math.floor(at / across) - height];
    if (offsets.every((o) => Math.abs(o.dx - dx) > SAME || Math.abs(o.dy - dy) > SAME)) offsets.push({ dx, dy });
  }
  return offsets;
}
