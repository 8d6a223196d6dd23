import type { Edge } from './edgesBeside';

/** How likely an edge is meant: the usual distance of a rough end from it, shares of the reach, and how much more likely twice as strong a one is, as a power. */
const ROUGH = 0.45;
const BY_STRENGTH = 3;
/** How much less likely it gets for each stop that what it parts differs from what the other sides' edges part, as a natural logarithm, and the stops from which on it gets no less likely. */
const UNLIKE = 6;
const UTTERLY = 2;
/** How much less likely than the likeliest an edge further inside may be and still be taken, as a natural logarithm. */
const INSIDE_FIRST = 0.85;
/** Times that sides are asked again once the others have chosen. */
const ROUNDS = 4;

/** A side of an outline: the edges beside it, from the outermost to the innermost, and its length. */
export interface Side {
  readonly edges: readonly Edge[];
  /** 1 where the inside lies to the left of its way, else -1. */
  readonly inner: 1 | -1;
  readonly length: number;
}

/** How unlikely edges are by themselves: by where they lie and how strong they are. */
function unlikely({ edges }: Side, reach: number): number[] {
  const strongest = Math.max(...edges.map(({ strength }) => strength));
  return edges.map(({ start, end, strength }) => (start ** 2 + end ** 2) / (2 * (ROUGH * reach) ** 2) - BY_STRENGTH * Math.log(strength / strongest));
}

/** Stops by which what two edges part differs, a mean over pictures: the inside as much as the outside. */
function unlike(edge: Edge, inner: 1 | -1, other: Edge, otherInner: 1 | -1): number {
  const [inside, outside] = inner > 0 ? [edge.left, edge.right] : [edge.right, edge.left];
  const [otherInside, otherOutside] = otherInner > 0 ? [other.left, other.right] : [other.right, other.left];
  let sum = 0;
  for (let k = 0; k < inside.length; k++) sum += Math.min(UTTERLY, (Math.abs(inside[k] - otherInside[k]) + Math.abs(outside[k] - otherOutside[k])) / 2);
  return sum / inside.length;
}

/** The innermost of edges that are about as likely as the likeliest; -1 where there is none. */
function innermost({ edges, inner }: Side, costs: readonly number[]): number {
  const least = Math.min(...costs);
  const about = edges.flatMap((_, k) => (costs[k] <= least + INSIDE_FIRST ? [k] : []));
  return (inner > 0 ? about.at(-1) : about[0]) ?? -1;
}

/**
 * Of each side of an outline the edge that was meant; null where there is none. Panes and pictures are seldom bounded by one
 * edge: a reveal, a bar and what lies behind the bar follow a few pixels further out, a mount a few pixels further in, just as
 * strong. Near and strong ones are likely; those that part the same things as the edges of the other sides do are more likely
 * still (each side asked again once the others have chosen: iterated conditional modes, Besag 1986); of those that are about as
 * likely the innermost is taken: what is drawn round is the thing inside.
 * @param reach pixels to either side in which edges were looked for
 */
export function meantEdges(sides: readonly Side[], reach: number): (Edge | null)[] {
  const alone = sides.map((side) => unlikely(side, reach));
  let taken = sides.map((side, k) => innermost(side, alone[k]));
  for (let round = 0; round < ROUNDS; round++) {
    const next = sides.map((side, k) => {
      const others = sides.flatMap((other, j) => (j === k || taken[j] < 0 ? [] : [{ edge: other.edges[taken[j]], inner: other.inner, weight: other.length }]));
      const total = others.reduce((sum, { weight }) => sum + weight, 0);
      if (total === 0) return taken[k];
      const differs = (edge: Edge): number => others.reduce((sum, o) => sum + o.weight * unlike(edge, side.inner, o.edge, o.inner), 0) / total;
      return innermost(side, side.edges.map((edge, i) => alone[k][i] + UNLIKE * differs(edge)));
    });
    if (next.every((index, k) => index === taken[k])) break;
    taken = next;
  }
  return sides.map(({ edges }, k) => edges[taken[k]] ?? null);
}
