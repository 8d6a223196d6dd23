import { createFlowGrid, gridCut, type FlowGrid } from '../image/gridCut';
import { createPlane, type Light, type Plane } from '../image/plane';

/** Whole capacities to a stop of difference: flows are counted without rounding. */
const UNITS = 512;
/** What any step across costs: of two seams that show as little, the shorter. */
const SHORT = 6;
/** More than any ways can carry. */
const SURE = 1 << 28;
/** Stops by which an edge that both pictures have makes a seam along it show less. */
const EDGE = 0.15;

/** How much a seam shows between each pixel and its neighbours. */
function seamGrid(first: Light, second: Light, floor: number): FlowGrid {
  const { width, height } = first;
  const n = width * height;
  const logs = [first, second].map((light) => [light.r, light.g, light.b].map((channel) => channel.map((v) => Math.log2(Math.max(floor, v)))));
  const apart = new Float32Array(n);
  for (let i = 0; i < n; i++) for (let c = 0; c < 3; c++) apart[i] = Math.max(apart[i], Math.abs(logs[0][c][i] - logs[1][c][i]));
  const cost = (i: number, j: number): number => {
    const step = (k: number): number => Math.abs(logs[k][1][i] - logs[k][1][j]);
    return SHORT + Math.round((UNITS * (apart[i] + apart[j])) / (1 + Math.min(step(0), step(1)) / EDGE));
  };
  const grid = createFlowGrid(width, height);
  const { ways } = grid;
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (x + 1 < width) ways[i * 4] = ways[(i + 1) * 4 + 2] = cost(i, i + 1);
      if (y + 1 < height) ways[i * 4 + 1] = ways[(i + width) * 4 + 3] = cost(i, i + width);
    }
  }
  return grid;
}

/**
 * The seam between two pictures of a place that shows least: a least cut over how far they differ on either side of it, less where both have an
 * edge there (Kwatra et al., "Graphcut Textures: Image and Video Synthesis Using Graph Cuts", 2003).
 * @param first what lies around; @param second what is inserted; linear light of one size; @param inner above 0.5: surely inserted;
 * @param outer above 0.5: surely not. The picture's own edge is no limit. @param floor linear light that is taken for black
 * @returns 1 where the second picture is taken, else 0.
 */
export function leastSeam(first: Light, second: Light, inner: Plane, outer: Plane, floor: number): Plane {
  const { width, height } = inner;
  if (!inner.data.some((v) => v > 0.5)) return createPlane(width, height);
  const grid = seamGrid(first, second, floor);
  inner.data.forEach((v, i) => {
    if (v > 0.5) grid.source[i] = SURE;
    else if (outer.data[i] > 0.5) grid.sink[i] = SURE;
  });
  return createPlane(width, height, Float32Array.from(gridCut(grid)));
}
