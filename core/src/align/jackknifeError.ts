import { mapPoint, type Homography } from '../geometry/homography';
import { fitHomography, type Match } from './fitHomography';
import { PARTS } from './misfit';

/**
 * Expected misalignment at the picture's corners when matches err together: those of one part of the picture share what
 * misleads them (rims of clipped places, shadows), so parts, not matches, are the independent witnesses. Leaves one part
 * out at a time and sees how far the corners go (block jackknife: Künsch, "The jackknife and the bootstrap for general
 * stationary observations", 1989).
 * @returns root mean square over the corners, pixels; Infinity where too few parts are left to tell.
 */
export function jackknifeError(matches: readonly Match[], h: Homography, width: number, height: number, tolerance: number): number {
  const [columns, rows] = PARTS;
  const partOf = (m: Match): number => Math.min(rows - 1, Math.max(0, Math.floor((m.y * rows) / height))) * columns + Math.min(columns - 1, Math.max(0, Math.floor((m.x * columns) / width)));
  const parts = [...new Set(matches.map(partOf))];
  const maps = parts.map((part) => fitHomography(matches.filter((m) => partOf(m) !== part), width, height, tolerance, h)).filter((fit) => fit !== null).map((fit) => fit.homography);
  if (maps.length < 3 || maps.length < parts.length - 1) return Infinity;
  let sum = 0;
  for (const x of [0, width - 1]) {
    for (const y of [0, height - 1]) {
      const ends = maps.map((map) => mapPoint(map, x, y));
      const mean = [0, 1].map((c) => ends.reduce((total, end) => total + end[c], 0) / ends.length);
      for (const end of ends) sum += (end[0] - mean[0]) ** 2 + (end[1] - mean[1]) ** 2;
    }
  }
  return Math.sqrt(((maps.length - 1) / maps.length) * (sum / 4));
}
