/** A half of the plane: all points with nx x + ny y <= d; (nx, ny) has length 1. */
export interface HalfPlane {
  readonly nx: number;
  readonly ny: number;
  readonly d: number;
}

/** A convex part of the plane: what all halves share. */
export type Region = readonly HalfPlane[];

/** Places along each side of a picture at which it is asked where its edge lies. */
const PLACES = 17;

/**
 * What is sure to be covered by a picture under a map, as a convex region: each side is a line that its image does not come inside of, however a lens bends it.
 * @param toPlane where a pixel of the picture lies. @param slack pixels by which a side may be overstepped.
 */
export function coveredRegion(width: number, height: number, toPlane: (x: number, y: number) => readonly [number, number], slack = 0): Region {
  // Edges of the outermost pixels' areas, going round: the inside lies to the right of each side (y runs down).
  const [right, bottom] = [width - 0.5, height - 0.5];
  const corners = [[-0.5, -0.5], [right, -0.5], [right, bottom], [-0.5, bottom]] as const;
  return corners.map(([x0, y0], k) => {
    const [x1, y1] = corners[(k + 1) % 4];
    const [a, b] = [toPlane(x0, y0), toPlane(x1, y1)];
    const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
    const [nx, ny] = [(b[1] - a[1]) / length, (a[0] - b[0]) / length];
    let d = Infinity;
    for (let i = 0; i < PLACES; i++) {
      const t = i / (PLACES - 1);
      const [x, y] = toPlane(x0 + t * (x1 - x0), y0 + t * (y1 - y0));
      d = Math.min(d, nx * x + ny * y);
    }
    return { nx, ny, d: d + slack };
  });
}
