import type { AdjustPass, Mix, TableSpace, Triple } from '@zaddle/document';
import { neutralTable, type ColourTable, type ColourTables } from '../finish/colourTable';
import { lightOfValue, valueOfLight } from '../finish/tableBlock';
import type { Found } from '../found/found';
import type { Tools } from '../kernels/tools';
import { passEvaluation } from '../pass/passes';
import { placeMix } from './placeMix';
import { prepareMix } from './prepareMix';
import { RowSources } from './rowSources';

/** Values along an edge of a table that is made of a pass. */
const SIZE = 33;

const never = (): never => {
  throw new Error('A colour table looks at nothing but colours.');
};

/** What of a pass depends on colours alone: not on what lies around them, where they are, or on another pass. */
const alone = (pass: AdjustPass): AdjustPass => ({ ...pass, on: true, opacity: 1, within: null, tied: false, mask: [], highlights: 0, shadows: 0, localContrast: 0, evenness: 0, veil: 0, glow: 0 });

/**
 * A colour table of what an adjust pass does to colours, as far as that depends on them alone: exposure, balance, contrast, curve,
 * saturation, hues, and a table that it goes through itself. Light beyond white has no place in one.
 * @param space that the table is made for
 */
export function tabulatePass({ kernels, arena }: Tools, mix: Mix, pass: AdjustPass, found: Found, tables: ColourTables, space: TableSpace, title: string): ColourTable {
  const own = alone(pass);
  const { does, row } = passEvaluation(own.kind);
  if (does !== 'changes') return never();
  const width = SIZE ** 2;
  const mark = arena.mark();
  try {
    const placed = placeMix(prepareMix({ ...mix, passes: [own] }, found, tables), new Map(), { width, height: SIZE, toOutput: [1, 0, 0, 0, 1, 0, 0, 0, 1] }, arena);
    const work = new RowSources(kernels, arena, placed, never);
    const { below, mask, plane } = work.s;
    arena.floats(mask, width).fill(1);
    const channels = [0, 1, 2].map((c) => arena.floats(below + c * plane, width));
    const table = neutralTable(SIZE, title);
    const values = new Float32Array(table.values);
    for (let y = 0; y < SIZE; y++) {
      const first = 3 * y * width;
      for (let i = 0; i < width; i++) lightOfValue([...values.subarray(first + 3 * i, first + 3 * i + 3)] as unknown as Triple, space).forEach((v, c) => (channels[c][i] = v));
      row(placed.passes[0].placed, work, y, below);
      for (let i = 0; i < width; i++) values.set(valueOfLight(channels.map((channel) => channel[i]) as unknown as Triple, space), first + 3 * i);
    }
    return { ...table, values };
  } finally {
    arena.release(mark);
  }
}
