import type { Plane } from '../image/plane';

type Point = readonly [number, number];

/** Right, down, left, up along pixel edges. */
const STEPS: readonly Point[] = [[1, 0], [0, 1], [-1, 0], [0, -1]];

/** Goes round one region along pixel edges, the region on the right, from a corner on. @param seen edges on top of pixels that were passed */
function follow(inside: (x: number, y: number) => boolean, x0: number, y0: number, width: number, seen: Uint8Array): Point[] {
  const points: Point[] = [];
  let [x, y, way] = [x0, y0, 0];
  do {
    if (way === 0) seen[y * width + x] = 1;
    x += STEPS[way][0];
    y += STEPS[way][1];
    points.push([x, y]);
    // Pixels ahead, to the left and to the right of the way gone; corners that only touch are kept apart.
    const ahead = (side: 0 | 1): boolean => {
      const [dx, dy] = STEPS[way];
      const [sx, sy] = side === 0 ? [dy, -dx] : [-dy, dx];
      return inside(x + (dx + sx - 1) / 2, y + (dy + sy - 1) / 2);
    };
    if (!ahead(1)) way = (way + 1) % 4;
    else if (ahead(0)) way = (way + 3) % 4;
  } while (x !== x0 || y !== y0 || way !== 0);
  return points;
}

/** Leaves out points that lie nearer than a tolerance to the line between those that stay (Douglas and Peucker, 1973). */
function simplified(points: readonly Point[], tolerance: number): Point[] {
  const keep = new Uint8Array(points.length);
  const between: [number, number][] = [[0, points.length - 1]];
  keep[0] = keep[points.length - 1] = 1;
  for (let span = between.pop(); span; span = between.pop()) {
    const [from, to] = span;
    const [[ax, ay], [bx, by]] = [points[from], points[to]];
    const length = Math.hypot(bx - ax, by - ay);
    let [far, most] = [-1, tolerance];
    for (let k = from + 1; k < to; k++) {
      const [px, py] = points[k];
      const d = length === 0 ? Math.hypot(px - ax, py - ay) : Math.abs((bx - ax) * (ay - py) - (ax - px) * (by - ay)) / length;
      if (d > most) [far, most] = [k, d];
    }
    if (far < 0) continue;
    keep[far] = 1;
    between.push([from, far], [far, to]);
  }
  return points.filter((_, k) => keep[k] === 1);
}

/**
 * Outlines of what a plane holds (above 0.5), holes included, in pixels: integer coordinates are pixel middles.
 * @param tolerance pixels that points may lie off; @returns closed rings of at least three points.
 */
export function traceOutline({ width, height, data }: Plane, tolerance: number): Point[][] {
  const inside = (x: number, y: number): boolean => x >= 0 && y >= 0 && x < width && y < height && data[y * width + x] > 0.5;
  const seen = new Uint8Array(width * (height + 1));
  const rings: Point[][] = [];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (!inside(x, y) || inside(x, y - 1) || seen[y * width + x]) continue;
      const around = follow(inside, x, y, width, seen);
      // Opposite ends are kept, so that a ring is simplified in two halves.
      const half = around.length >> 1;
      const ring = [...simplified(around.slice(0, half + 1), tolerance).slice(0, -1), ...simplified([...around.slice(half), around[0]], tolerance).slice(0, -1)];
      if (ring.length >= 3) rings.push(ring.map(([px, py]): Point => [px - 0.5, py - 0.5]));
    }
  }
  return rings;
}
