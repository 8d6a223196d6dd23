import type { HealFeatures } from './healLook';

/** Pixels about a piece in which it must fit what lies there. */
const RING = 3;
/** Pixels by which a piece is moved at most, each way. */
const REACH = 2;
/** Pixels of such a ring that are looked at, at most. */
const MOST = 600;

/** Where a piece is taken from, in pixels that may be broken. */
export interface Offset {
  readonly dx: number;
  readonly dy: number;
}

/** Pixels outside a piece, near it, that are known or filled. */
function ringOf(labels: Int16Array, label: number, open: Uint8Array, width: number): number[] {
  const height = labels.length / width;
  const seen = new Uint8Array(labels.length);
  const ring: number[] = [];
  for (let i = 0; i < labels.length; i++) {
    if (labels[i] !== label) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    // Only what lies on its edge has others near it.
    if (x > 0 && x + 1 < width && y > 0 && y + 1 < height && labels[i - 1] === label && labels[i + 1] === label && labels[i - width] === label && labels[i + width] === label) continue;
    for (let v = Math.max(0, y - RING); v <= Math.min(height - 1, y + RING); v++) {
      for (let k = v * width + Math.max(0, x - RING); k <= v * width + Math.min(width - 1, x + RING); k++) {
        if (seen[k] || labels[k] === label || (labels[k] < 0 && !open[k])) continue;
        seen[k] = 1;
        ring.push(k);
      }
    }
  }
  const step = Math.ceil(ring.length / MOST);
  return ring.filter((_, k) => k % step === 0);
}

/** The lowest point of a parabola through three values a pixel apart, -0.5..0.5. */
const vertex = (before: number, at: number, after: number): number => (before + after - 2 * at > 1e-12 ? Math.max(-0.5, Math.min(0.5, (before - after) / (2 * (before + after - 2 * at)))) : 0);

/**
 * Moves each piece by a pixel or two, so that it fits those about it.
 * @param labels which offset each pixel of the hole is taken by, -1 outside; @param finest whether to go on to parts of a pixel
 */
export function refineLabels({ width, height, logs }: HealFeatures, labels: Int16Array, open: Uint8Array, offsets: readonly Offset[], finest: boolean): Offset[] {
  const now = offsets.map(({ dx, dy }) => ({ dx: Math.round(dx), dy: Math.round(dy) }));
  const sourceOf = (i: number, { dx, dy }: Offset): number => {
    const [x, y] = [(i % width) + dx, Math.floor(i / width) + dy];
    return x < 0 || y < 0 || x >= width || y >= height ? -1 : y * width + x;
  };
  const refined: Offset[] = now.map((offset) => offset);
  now.forEach((offset, label) => {
    const ring = ringOf(labels, label, open, width);
    const costAt = (u: number, v: number): number => {
      let [n, q] = [0, 0];
      const s = [0, 0, 0];
      for (const i of ring) {
        const j = sourceOf(i, { dx: offset.dx + u, dy: offset.dy + v });
        const shown = labels[i] < 0 ? i : sourceOf(i, now[labels[i]]);
        if (j < 0 || shown < 0 || !open[j]) continue;
        n++;
        for (let c = 0; c < 3; c++) {
          const d = logs[c][j] - logs[c][shown];
          s[c] += d;
          q += d * d;
        }
      }
      return n < 0.5 * ring.length || n === 0 ? Infinity : (q - (s[0] ** 2 + s[1] ** 2 + s[2] ** 2) / n) / n;
    };
    let best = { u: 0, v: 0, cost: costAt(0, 0) };
    for (let v = -REACH; v <= REACH; v++) for (let u = -REACH; u <= REACH; u++) {
      const cost = costAt(u, v);
      if (cost < best.cost - 1e-9) best = { u, v, cost };
    }
    now[label] = { dx: offset.dx + best.u, dy: offset.dy + best.v };
    const { dx, dy } = now[label];
    const part = finest && best.cost < Infinity ? [vertex(costAt(best.u - 1, best.v), best.cost, costAt(best.u + 1, best.v)), vertex(costAt(best.u, best.v - 1), best.cost, costAt(best.u, best.v + 1))] : [0, 0];
    refined[label] = { dx: dx + (Number.isFinite(part[0]) ? part[0] : 0), dy: dy + (Number.isFinite(part[1]) ? part[1] : 0) };
  });
  return refined;
}
