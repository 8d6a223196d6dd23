import type { Point } from '@zaddle/document';

/** Area within a closed line that does not cross itself, by the shoelace formula. */
export const polygonArea = (points: readonly Point[]): number => Math.abs(points.reduce((sum, [x, y], k) => sum + x * points[(k + 1) % points.length][1] - points[(k + 1) % points.length][0] * y, 0)) / 2;
