import type { Triple } from '../colour/primaries';
import type { Light } from '../image/plane';

/** Gains one after the other. */
export const times = (a: Triple, b: Triple): Triple => [a[0] * b[0], a[1] * b[1], a[2] * b[2]];

/** A light by gains. */
export const scaled = ({ width, height, r, g, b }: Light, gains: Triple): Light => ({ width, height, r: r.map((v) => v * gains[0]), g: g.map((v) => v * gains[1]), b: b.map((v) => v * gains[2]) });
