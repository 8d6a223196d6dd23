import { mapPoint, type Homography } from '../geometry/homography';
import { mapThroughMesh, type Mesh } from '../geometry/mesh';
import { quantile } from '../image/plane';
import type { Match } from './fitHomography';

/** Nodes across and down. */
const COLUMNS = 13;
const ROWS = 9;
/** A window that went further than this from where the homography puts it, pixels, went astray. */
const ASTRAY = 6;
/** Windows' worth of 'no displacement' that each node starts with. */
const PRIOR = 1.5;
const FEWEST = 80;
/** A mesh is believed when it brings the error of windows that it was not fitted to down by this share, and by this many pixels. */
const BETTER = 0.75;
const WORTH = 0.1;

interface Residual {
  readonly x: number;
  readonly y: number;
  readonly du: number;
  readonly dv: number;
  readonly weight: number;
}

/** Node values by robust weighted means of nearby residuals (Tukey's biweight about the node's own value), pulled to none. */
function smooth(residuals: readonly Residual[], width: number, height: number): Mesh {
  const shifts: number[] = [];
  const reach = (1.2 * width) / (COLUMNS - 1);
  for (let row = 0; row < ROWS; row++) {
    for (let column = 0; column < COLUMNS; column++) {
      const [nx, ny] = [(column * (width - 1)) / (COLUMNS - 1), (row * (height - 1)) / (ROWS - 1)];
      const near = residuals.filter((r) => Math.abs(r.x - nx) < 2 * reach && Math.abs(r.y - ny) < 2 * reach).map((r) => ({ r, w: r.weight * Math.exp(-((r.x - nx) ** 2 + (r.y - ny) ** 2) / (2 * (reach / 2) ** 2)) }));
      let [u, v] = near.length === 0 ? [0, 0] : [quantile(near.filter((n) => n.w > 0.1).map((n) => n.r.du), 0.5) || 0, quantile(near.filter((n) => n.w > 0.1).map((n) => n.r.dv), 0.5) || 0];
      for (let round = 0; round < 3; round++) {
        let [sw, su, sv] = [PRIOR, 0, 0];
        for (const { r, w } of near) {
          const weight = w * Math.max(0, 1 - ((r.du - u) ** 2 + (r.dv - v) ** 2) / 1.5 ** 2) ** 2;
          sw += weight;
          su += weight * r.du;
          sv += weight * r.dv;
        }
        [u, v] = [su / sw, sv / sw];
      }
      shifts.push(u, v);
    }
  }
  return { columns: COLUMNS, rows: ROWS, shifts };
}

/** What is left of matches' displacements, median, pixels. */
function leftOver(matches: readonly Match[], h: Homography, mesh: Mesh | null, width: number, height: number): number {
  return quantile(matches.map((m) => {
    const [u, v] = mapThroughMesh(h, mesh, width, height, m.x, m.y);
    return Math.hypot(m.u - u, m.v - v);
  }), 0.75);
}

/**
 * A smooth mesh of displacements beyond a homography, for frames of a camera that moved among near and far things (in the
 * spirit of Liu, Gleicher, Jin, Agarwala, SIGGRAPH 2009), kept only if it explains windows that it was not fitted to.
 * @param matches freed of lens error, pixels of the pictures that h relates.
 * @returns null where one homography does, or too little is known.
 */
export function fitMesh(matches: readonly Match[], h: Homography, width: number, height: number): Mesh | null {
  const near = matches.filter((m) => {
    const [u, v] = mapPoint(h, m.x, m.y);
    return Math.hypot(m.u - u, m.v - v) < ASTRAY;
  });
  if (near.length < FEWEST) return null;
  const residualsOf = (list: readonly Match[]): Residual[] => list.map((m) => {
    const [u, v] = mapPoint(h, m.x, m.y);
    return { x: m.x, y: m.y, du: m.u - u, dv: m.v - v, weight: m.weight };
  });
  let [plain, meshed] = [0, 0];
  for (const half of [0, 1]) {
    const learnt = smooth(residualsOf(near.filter((_, i) => i % 2 === half)), width, height);
    const rest = near.filter((_, i) => i % 2 !== half);
    plain += leftOver(rest, h, null, width, height) / 2;
    meshed += leftOver(rest, h, learnt, width, height) / 2;
  }
  if (meshed > BETTER * plain || plain - meshed < WORTH) return null;
  return smooth(residualsOf(near), width, height);
}
