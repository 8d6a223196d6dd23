import type { Homography } from '../geometry/homography';
import { meshMap, type Mesh } from '../geometry/mesh';
import type { Match } from './fitHomography';

/** Parts of the picture, across and down, for which misalignment is read apart. */
export const PARTS: readonly [number, number] = [4, 3];

/** How a part of the picture lies: median displacement that the map leaves, pixels of the frame, from how many matches. */
export interface PartMisfit {
  readonly u: number;
  readonly v: number;
  readonly matches: number;
}

/** Matches from which on a part's misfit can be told from noise, and the share of all matches that it takes besides. */
const ENOUGH = 6;
const SAY = 0.012;

const median = (values: number[]): number => values.sort((a, b) => a - b)[values.length >> 1];

/**
 * What a map leaves unexplained, part by part (row by row from the top left): a lens that is not known, near and far
 * things that moved differently, or a part that was not followed at all.
 * @param tolerance displacements beyond this, pixels, are wrong matches and do not count.
 */
export function misfitByPart(matches: readonly Match[], h: Homography, width: number, height: number, tolerance: number, mesh: Mesh | null = null): PartMisfit[] {
  const [columns, rows] = PARTS;
  const map = meshMap(h, mesh, width, height);
  const du: number[][] = Array.from({ length: columns * rows }, () => []);
  const dv: number[][] = Array.from({ length: columns * rows }, () => []);
  for (const m of matches) {
    const [u, v] = map(m.x, m.y);
    if (Math.hypot(m.u - u, m.v - v) > tolerance) continue;
    const column = Math.min(columns - 1, Math.max(0, Math.floor((m.x * columns) / width)));
    const row = Math.min(rows - 1, Math.max(0, Math.floor((m.y * rows) / height)));
    du[row * columns + column].push(m.u - u);
    dv[row * columns + column].push(m.v - v);
  }
  return du.map((list, k) => (list.length < ENOUGH ? { u: 0, v: 0, matches: list.length } : { u: median(list), v: median(dv[k]), matches: list.length }));
}

/** Matches that a part must have for its misfit to be told: a handful among hundreds are strays, or things of their own. */
const needed = (parts: readonly PartMisfit[]): number => Math.max(ENOUGH, SAY * parts.reduce((sum, p) => sum + p.matches, 0));

/** How many parts have matches enough to tell how they lie. */
export const partsTold = (parts: readonly PartMisfit[]): number => parts.filter((p) => p.matches >= needed(parts)).length;

/** What misalignment is to be expected in each part, pixels: noise and misfit together; null where too little was followed to tell. */
export const residualByPart = (parts: readonly PartMisfit[], noise: number): (number | null)[] => parts.map((p) => (p.matches < needed(parts) ? null : Math.hypot(noise, p.u, p.v)));

/** The worst systematic misfit of a part that has matches enough to tell, pixels. */
export const worstMisfit = (parts: readonly PartMisfit[]): number => parts.reduce((worst, p) => (p.matches >= needed(parts) ? Math.max(worst, Math.hypot(p.u, p.v)) : worst), 0);
