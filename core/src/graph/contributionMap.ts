import type { FrameId } from '@zaddle/document';
import type { Tools } from '../kernels/tools';
import { passEvaluation } from '../pass/passes';
import type { PlacedSource } from './placedMix';
import { withoutPass, type PreparedMix, type PreparedPass } from './prepareMix';
import { smallPicture } from './smallPicture';

/** Which pass gives most, place by place: cells row by row, as indices of `passes`; -1 where none gives anything. */
export interface ContributionMap {
  readonly columns: number;
  readonly rows: number;
  readonly passes: readonly string[];
  readonly cells: Int16Array;
}

/** Steps of 255 by which a place must change without a pass for it to give something there. */
const LEAST = 1;

/** Each cell as most of those about it are (a majority filter): what is told is where, not every speck. */
function calmed(cells: Int16Array, columns: number, rows: number): Int16Array {
  const counts = new Map<number, number>();
  return cells.map((own, i) => {
    counts.clear();
    const [x, y] = [i % columns, Math.floor(i / columns)];
    for (let v = Math.max(0, y - 1); v <= Math.min(rows - 1, y + 1); v++) for (let u = Math.max(0, x - 1); u <= Math.min(columns - 1, x + 1); u++) counts.set(cells[v * columns + u], (counts.get(cells[v * columns + u]) ?? 0) + 1);
    let best = own;
    for (const [label, count] of counts) if (count > (counts.get(best) ?? 0)) best = label;
    return best;
  });
}

/**
 * Tells for every cell of a coarse grid over the picture without which pass it would change most: by leaving out each.
 * @param sources pixels of the frames at about the size of the grid
 */
export function contributionMap(tools: Tools, prepared: PreparedMix, sources: ReadonlyMap<FrameId, PlacedSource>, columns: number, rows: number): ContributionMap {
  const picture = (passes: readonly PreparedPass[]): Uint8Array => smallPicture(tools, { ...prepared, passes }, sources, columns, rows);
  const { passes } = prepared;
  const whole = picture(passes);
  const cells = new Int16Array(columns * rows).fill(-1);
  const most = new Float32Array(columns * rows).fill(LEAST);
  passes.forEach(({ pass }, index) => {
    // What a bundle holds gives as one; what changes light in its place gives none.
    if (pass.within !== null || passEvaluation(pass.kind).does === 'changes') return;
    const rest = picture(withoutPass(passes, index));
    for (let i = 0; i < cells.length; i++) {
      const change = Math.abs(whole[i * 3] - rest[i * 3]) + Math.abs(whole[i * 3 + 1] - rest[i * 3 + 1]) + Math.abs(whole[i * 3 + 2] - rest[i * 3 + 2]);
      if (change <= most[i]) continue;
      most[i] = change;
      cells[i] = index;
    }
  });
  return { columns, rows, passes: passes.map(({ pass }) => pass.id), cells: calmed(calmed(cells, columns, rows), columns, rows) };
}
