import { dot, type SeenLine, type Vector } from './stanceLines';
import { stanceRotation, type Stance } from './straightenMap';

/** Azimuths that are tried, a right angle in all. */
const BINS = 180;
const RIGHT_ANGLE = 90;
/** Sine of the angle between an edge's plane and the horizontal, or the plumb, below which it tells of no azimuth, and from which on it counts in full. */
const TELLS = { level: 0.08, plumb: 0.06 } as const;
const TELLS_WELL = { level: 0.3, plumb: 0.2 } as const;
/** Least error of the azimuth that an edge tells, degrees. */
const SPREAD = 0.7;
/** Share of all votes that agree where a room has walls at right angles. */
const AGREE = 0.4;

const cross = (a: Vector, b: Vector): Vector => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];

/**
 * How far walls that stand at right angles to each other are turned against a level camera: level edges of a room lead to one of two vanishing points
 * a right angle apart on the horizon, whichever wall they lie on (Coughlan, Yuille, "Manhattan World", 1999). A vote of all edges.
 * @param plumb how the camera hangs. @returns degrees, -45 to 45, as a stance's yaw; null where edges agree on none
 */
export function wallAzimuth(lines: readonly SeenLine[], plumb: Pick<Stance, 'roll' | 'pitch'>): number | null {
  const r = stanceRotation({ ...plumb, yaw: 0 });
  const [along, down, forward]: Vector[] = [[r[0], r[1], r[2]], [r[3], r[4], r[5]], [r[6], r[7], r[8]]];
  const votes = new Float64Array(BINS);
  let all = 1e-9;
  for (const { normal, length, spread } of lines) {
    const level = cross(normal, down);
    const [turns, stands] = [Math.hypot(...level), Math.abs(dot(normal, down))];
    if (turns < TELLS.level || stands < TELLS.plumb) continue;
    const azimuth = (Math.atan2(dot(level, forward), dot(level, along)) * 180) / Math.PI;
    const weight = length * Math.min(1, turns / TELLS_WELL.level) * Math.min(1, stands / TELLS_WELL.plumb);
    const sigma = Math.max(SPREAD, (spread * 180) / Math.PI / turns);
    all += weight;
    for (let k = 0; k < BINS; k++) {
      const off = (((k * RIGHT_ANGLE) / BINS - azimuth) % RIGHT_ANGLE + RIGHT_ANGLE) % RIGHT_ANGLE;
      votes[k] += weight * Math.exp(-0.5 * (Math.min(off, RIGHT_ANGLE - off) / sigma) ** 2);
    }
  }
  const best = votes.reduce((most, vote, k) => (vote > votes[most] ? k : most), 0);
  if (votes[best] < AGREE * all) return null;
  const degrees = (best * RIGHT_ANGLE) / BINS;
  return degrees > RIGHT_ANGLE / 2 ? degrees - RIGHT_ANGLE : degrees;
}
