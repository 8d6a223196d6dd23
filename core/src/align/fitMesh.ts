import type { Homography } from '../geometry/homography';
import { meshMap, type Mesh, type PixelMap } from '../geometry/mesh';
import { solveCholesky } from '../geometry/solveCholesky';
import { quantile } from '../image/plane';
import type { Match } from './fitHomography';

/** Nodes across and down. */
const COLUMNS = 13;
const ROWS = 9;
const NODES = COLUMNS * ROWS;
/** How far from the mesh a window may lie, as a share of how far it may go at all: at first, and at last. */
const ALIKE = [1, 0.5, 0.25, 0.25] as const;
/** Windows' worth of: no bend from node to node, no step, no displacement. Where nothing is followed the mesh goes on straight, then levels off. */
const BEND = 0.6;
const STEP = 0.03;
const REST = 0.01;
const FEWEST = 80;
/** Cells, across and down, in which what is left is told apart, and matches from which on a cell tells. */
const CELLS = 8;
const FEW = 3;
/** A mesh is believed when it brings the error of windows that it was not fitted to down by this share, and by this many pixels. */
const BETTER = 0.75;
const WORTH = 0.1;

/** What a window adds to a map, pixels, and the four nodes about it with their shares. */
interface Residual {
  readonly du: number;
  readonly dv: number;
  readonly weight: number;
  readonly nodes: readonly [number, number, number, number];
  readonly shares: readonly [number, number, number, number];
}

function residualsOf(matches: readonly Match[], map: PixelMap, width: number, height: number): Residual[] {
  return matches.map((m) => {
    const [u, v] = map(m.x, m.y);
    const gx = Math.min(COLUMNS - 1.001, Math.max(0, (m.x * (COLUMNS - 1)) / (width - 1)));
    const gy = Math.min(ROWS - 1.001, Math.max(0, (m.y * (ROWS - 1)) / (height - 1)));
    const [i, j] = [Math.floor(gx), Math.floor(gy)];
    const [fx, fy] = [gx - i, gy - j];
    const at = j * COLUMNS + i;
    return { du: m.u - u, dv: m.v - v, weight: m.weight, nodes: [at, at + 1, at + COLUMNS, at + COLUMNS + 1], shares: [(1 - fx) * (1 - fy), fx * (1 - fy), (1 - fx) * fy, fx * fy] };
  });
}

/** Adds the square of a combination of nodes, times a weight, to a matrix. */
function addSquare(a: Float64Array, nodes: readonly number[], shares: readonly number[], weight: number): void {
  for (let p = 0; p < nodes.length; p++) for (let q = 0; q < nodes.length; q++) a[nodes[p] * NODES + nodes[q]] += weight * shares[p] * shares[q];
}

/** What is expected of a mesh before anything is seen. */
function stiffness(): Float64Array {
  const a = new Float64Array(NODES * NODES);
  for (let k = 0; k < NODES; k++) {
    addSquare(a, [k], [1], REST);
    for (const [by, ahead, place, count] of [[1, COLUMNS - 1 - (k % COLUMNS), k % COLUMNS, COLUMNS], [COLUMNS, ROWS - 1 - Math.floor(k / COLUMNS), Math.floor(k / COLUMNS), ROWS]]) {
      if (ahead > 0) addSquare(a, [k, k + by], [1, -1], STEP);
      if (place > 0 && place < count - 1) addSquare(a, [k - by, k, k + by], [1, -2, 1], BEND);
    }
  }
  return a;
}

/** The bending surface that goes nearest to the windows: iteratively reweighted least squares under Tukey's biweight, its width narrowed step by step. */
function bend(residuals: readonly Residual[], astray: number): { u: Float64Array; v: Float64Array } {
  const stiff = stiffness();
  let [u, v] = [new Float64Array(NODES), new Float64Array(NODES)];
  for (const share of ALIKE) {
    const limit = (share * astray) ** 2;
    const a = stiff.slice();
    const [bu, bv] = [new Float64Array(NODES), new Float64Array(NODES)];
    for (const { du, dv, weight, nodes, shares } of residuals) {
      let [eu, ev] = [du, dv];
      for (let k = 0; k < 4; k++) {
        eu -= shares[k] * u[nodes[k]];
        ev -= shares[k] * v[nodes[k]];
      }
      const w = weight * Math.max(0, 1 - (eu * eu + ev * ev) / limit) ** 2;
      if (w === 0) continue;
      addSquare(a, nodes, shares, w);
      for (let k = 0; k < 4; k++) {
        bu[nodes[k]] += w * shares[k] * du;
        bv[nodes[k]] += w * shares[k] * dv;
      }
    }
    solveCholesky(a.slice(), bu, NODES);
    solveCholesky(a, bv, NODES);
    [u, v] = [bu, bv];
  }
  return { u, v };
}

const added = (start: Mesh | null, { u, v }: { u: Float64Array; v: Float64Array }): Mesh => ({
  columns: COLUMNS, rows: ROWS,
  shifts: Array.from({ length: 2 * NODES }, (_, k) => (k % 2 === 0 ? u : v)[k >> 1] + (start?.shifts[k] ?? 0)),
});

/** What a map leaves of matches' displacements, pixels: the mean over cells of the picture of the median in each, so that no part is outvoted and wrong matches have no say. */
function leftOver(matches: readonly Match[], map: PixelMap, width: number, height: number): number {
  const cells = new Map<number, number[]>();
  for (const m of matches) {
    const [u, v] = map(m.x, m.y);
    const cell = Math.floor((m.y * CELLS) / height) * CELLS + Math.floor((m.x * CELLS) / width);
    const own = cells.get(cell);
    if (own) own.push(Math.hypot(m.u - u, m.v - v));
    else cells.set(cell, [Math.hypot(m.u - u, m.v - v)]);
  }
  const told = [...cells.values()].filter((errors) => errors.length >= FEW);
  return told.reduce((sum, errors) => sum + quantile(errors, 0.5), 0) / Math.max(1, told.length);
}

/** Matches that lie near enough to where a map puts them. */
const nearTo = (map: PixelMap, matches: readonly Match[], astray: number): Match[] => matches.filter((m) => {
  const [u, v] = map(m.x, m.y);
  return Math.hypot(m.u - u, m.v - v) < astray;
});

/**
 * A smooth mesh of displacements beyond a homography, for frames of a camera that moved among near and far things (in the
 * spirit of Liu, Gleicher, Jin, Agarwala, SIGGRAPH 2009).
 * @param matches freed of lens error, pixels of the pictures that h relates.
 * @param start what is known of the mesh already.
 * @param astray pixels; a window that went further than this from where homography and start put it went astray.
 */
export function bendMesh(matches: readonly Match[], h: Homography, width: number, height: number, start: Mesh | null, astray: number): Mesh {
  const map = meshMap(h, start, width, height);
  return added(start, bend(residualsOf(nearTo(map, matches, astray), map, width, height), astray));
}

/** As `bendMesh`, only if it explains windows that it was not fitted to; null where one homography does, or too little is known. */
export function fitMesh(matches: readonly Match[], h: Homography, width: number, height: number, start: Mesh | null, astray: number): Mesh | null {
  const near = nearTo(meshMap(h, start, width, height), matches, astray);
  if (near.length < FEWEST) return null;
  let [plain, meshed] = [0, 0];
  for (const half of [0, 1]) {
    const learnt = bendMesh(near.filter((_, i) => i % 2 === half), h, width, height, start, astray);
    const rest = near.filter((_, i) => i % 2 !== half);
    plain += leftOver(rest, meshMap(h, null, width, height), width, height) / 2;
    meshed += leftOver(rest, meshMap(h, learnt, width, height), width, height) / 2;
  }
  return meshed > BETTER * plain || plain - meshed < WORTH ? null : bendMesh(near, h, width, height, start, astray);
}
