import type { Corner } from './findCorners';
import type { Match } from './fitHomography';
import { trackCorners } from './trackCorners';
import type { Tools } from '../kernels/tools';
import { createPlane, quantile, type Pixels, type Plane } from '../image/plane';
import { srgbToLinear } from '../colour/transfer';
import { NO_LENS } from '../geometry/lens';

/** Pixels that a colour may lie off, and correlation that a window must keep between colours. */
const REACH = 2;
const ALIKE = 0.8;
/** Fewest windows that can tell, and how far beyond its own error a value must be. */
const FEWEST = 60;
const CERTAIN = 5;
/** Values below this are nothing: a quarter of a pixel in the corner of 24 megapixels. */
const LEAST = 6e-5;

/** Light, not codes: the curve of the codes moves edges towards their dark side, in each colour by another part of a pixel. Within what `trackPoints` takes for unclipped. */
const LIGHT = Float32Array.from({ length: 256 }, (_, code) => 2 + 249.5 * srgbToLinear(code / 255));

/** One colour of 8-bit RGB as light. */
function channel({ width, height, data }: Pixels, c: number): Plane {
  const plane = createPlane(width, height);
  for (let i = 0, k = c; i < plane.data.length; i++, k += 3) plane.data[i] = LIGHT[data[k]];
  return plane;
}

const asPyramid = (plane: Plane): { levels: Plane[]; structure: Plane } => ({ levels: [plane], structure: plane });

/** f of the model p' = c + (p - c)(1 - f r²) from windows followed from green into another colour, by Tukey's biweight. */
function radial(matches: readonly Match[], width: number, height: number): number {
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  const half = (width * width + height * height) / 4;
  // Along the radius, each window says: -(its displacement) = f r² |p - c|.
  const votes = matches.map((m) => {
    const [dx, dy] = [m.x - cx, m.y - cy];
    const distance = Math.hypot(dx, dy);
    return { arm: (distance * distance * distance) / half, off: -((m.u - m.x) * dx + (m.v - m.y) * dy) / Math.max(1, distance), say: m.weight };
  });
  const solve = (weight: (vote: (typeof votes)[number]) => number): { f: number; error: number } => {
    let [aa, ab] = [0, 0];
    for (const vote of votes) {
      const w = vote.say * weight(vote);
      aa += w * vote.arm * vote.arm;
      ab += w * vote.arm * vote.off;
    }
    return { f: aa > 0 ? ab / aa : 0, error: aa > 0 ? 1 / Math.sqrt(aa) : Infinity };
  };
  let { f, error } = solve(() => 1);
  let spread = 1;
  for (let round = 0; round < 8; round++) {
    spread = Math.max(0.02, 1.48 * quantile(votes.map((v) => Math.abs(v.off - f * v.arm)), 0.5));
    const cut = 4.685 * spread;
    ({ f, error } = solve((v) => Math.max(0, 1 - ((v.off - f * v.arm) / cut) ** 2) ** 2));
  }
  return Math.abs(f) > CERTAIN * error * spread && Math.abs(f) > LEAST ? f : 0;
}

/**
 * Lateral colour of a lens from one picture: windows with structure are followed from green into red and into blue,
 * and what they are off along the radius is fitted robustly (the idea of Kang, "Automatic removal of chromatic aberration
 * from a single image", CVPR 2007, with normalised windows in place of edges).
 * @param corners places with structure in the picture.
 * @returns strengths as in `Optics`; 0 where the picture cannot tell.
 */
export function estimateFringes(tools: Tools, proxy: Pixels, corners: readonly Corner[]): { red: number; blue: number } {
  const green = channel(proxy, 1);
  const strength = (c: number): number => {
    const matches = trackCorners(tools, corners, asPyramid(green), asPyramid(channel(proxy, c)), 0, (x, y) => [x, y], NO_LENS, REACH, ALIKE);
    return matches.length < FEWEST ? 0 : radial(matches, proxy.width, proxy.height);
  };
  return { red: strength(0), blue: strength(2) };
}
