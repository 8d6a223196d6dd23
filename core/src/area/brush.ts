import type { BrushArea } from '@zaddle/document';
import type { Pointer } from '../kernels/kernels';
import type { AreaEvaluation } from '../kind/areaEvaluation';
import { identity, shortKey, type KeptRows } from '../kind/keeper';
import type { Placing } from '../kind/placing';
import type { RowWork } from '../kind/rowWork';
import { SEGMENT_FIELDS, STROKE_FIELDS, strokeTable } from './strokes';

/** A kept stage: the coverage of the first strokes. */
interface KeptStrokes {
  readonly rows: KeptRows;
  readonly count: number;
}
interface PlacedBrush {
  readonly strokes: Pointer;
  readonly count: number;
  readonly segments: Pointer;
  /** Coverage of all strokes but the last, and of those before it, where they are kept. */
  readonly stages: readonly KeptStrokes[];
}

/** Sentinel of a row that no stage is kept for. */
const NO_STAGE = -1;

/** Stages worth keeping: while somebody paints, all strokes but the last stay what they are. */
function stagesOf({ strokes }: BrushArea, placing: Placing): KeptStrokes[] {
  const stages: KeptStrokes[] = [];
  const key = (count: number): string => `b${shortKey(`strokes ${strokes.slice(0, count).map(identity).join()}`)}`;
  for (const count of [strokes.length - 1, strokes.length - 2]) {
    if (count < 1 || (stages.length > 0 && !placing.holds(key(count)))) continue;
    const rows = placing.rows(key(count));
    if (rows) stages.push({ rows, count });
  }
  return stages;
}

/** Joins stroke k into the area's buffer. */
function stroke({ strokes, segments }: PlacedBrush, k: number, { s, kernels, memory: f, strokeView }: RowWork, y: number): void {
  const at = strokes / 4 + k * STROKE_FIELDS;
  if (y < f[at + 3] || y > f[at + 5]) return;
  // Kernels work on four pixels at a time.
  const left = f[at + 2] & ~3;
  const n = f[at + 4] + 1 - left;
  strokeView.fill(0, left, left + n + 3);
  const end = f[at] + f[at + 1];
  for (let segment = f[at]; segment < end; segment++) {
    const g = segments / 4 + segment * SEGMENT_FIELDS;
    if (y < f[g + 5] || y > f[g + 7]) continue;
    const x = f[g + 4] & ~3;
    kernels.strokeRow(s.coords, x, f[g + 6] + 1 - x, f[g], f[g + 1], f[g + 2], f[g + 3], f[at + 6], f[at + 7], f[at + 8] * f[g + 8], s.stroke);
  }
  kernels.foldRow(s.area + left * 4, s.stroke + left * 4, n, f[at + 9] === 1 ? 0 : 1);
}

/** Painted strokes, exact on every grid, in order, from the last stage that is kept on. */
export const brush: AreaEvaluation<BrushArea, BrushArea, PlacedBrush> = {
  prepare: (area) => area,
  key: () => '',
  place(area, placing) {
    const table = strokeTable(area.strokes, placing.shapes);
    const count = table.strokes.length / STROKE_FIELDS;
    return { strokes: placing.once(table.strokes), count, segments: placing.once(table.segments), stages: placing.keeps && count === area.strokes.length ? stagesOf(area, placing) : [] };
  },
  row(placed, work, y) {
    const { stages, count } = placed;
    let from = 0;
    let made = NO_STAGE;
    for (let k = 0; k < stages.length && made === NO_STAGE; k++) if (work.isMade(stages[k].rows, y)) made = k;
    if (made === NO_STAGE) work.areaView.fill(0);
    else {
      const { rows } = stages[made];
      work.copyRow(rows.at + y * rows.rowBytes, work.s.area, 1);
      from = stages[made].count;
    }
    work.referenceCoords(y);
    for (let k = from; k < count; k++) {
      if (stages.length > 0 && k === stages[0].count) work.keepRow(stages[0].rows, y, work.s.area, 1);
      stroke(placed, k, work, y);
    }
  },
};
