import { toneBytes } from '../finish/localTone';
import { BEHIND, BLOCK } from '../kernels/tableLayout';
import { LARGEST_LATTICE, NO_TABLES, type ColourTables } from '../finish/colourTable';
import type { Found } from '../found/found';
import type { Pixels } from '../image/plane';
import type { Tools } from '../kernels/tools';
import { framesOfPass, tablesOf, type FrameId, type Mix } from '@zaddle/document';
import { GUIDE_SIDE } from '../mix/guides';
import { GuideLevel } from './guideLevel';
import { placeGuideSources } from './placeGuideSources';
import { prepareMix, type PreparedMix } from './prepareMix';

/** Bytes of the largest colour table. */
const TABLE_BYTES = 4 * (BLOCK.values + 3 * LARGEST_LATTICE ** 3 + BEHIND);

/** Bytes of memory that making a mix ready takes: its frames at the guide's scale, planes of what was found, and rows. */
export const readyBytes = (mix: Mix): number => 24_000_000 + toneBytes(GUIDE_SIDE, GUIDE_SIDE) + Object.keys(mix.frames).length * GUIDE_SIDE ** 2 * 3 + mix.passes.reduce((sum, pass) => sum + pass.mask.length + 2, 0) * GUIDE_SIDE ** 2 * 8 + tablesOf(mix.passes).length * TABLE_BYTES;

/**
 * A mix made ready to be evaluated on any grid, once: what it refers to, and the tones of wide context.
 * @param proxies at least of the frames that its passes use. @param tables colour tables that they name, as far as they are at hand. @param work what else is wanted on the guide level, while its frames are placed.
 */
export function readyMix<T = null>({ kernels, arena }: Tools, mix: Mix, found: Found, proxies: ReadonlyMap<FrameId, Pixels>, work: (level: GuideLevel, prepared: PreparedMix) => T = () => null as T, tables: ColourTables = NO_TABLES): { prepared: PreparedMix; result: T } {
  const mark = arena.mark();
  try {
    const first = prepareMix(mix, found, tables);
    const used = new Set(first.passes.flatMap(({ pass }) => framesOfPass(mix, pass)));
    const level = new GuideLevel(kernels, arena, placeGuideSources(kernels, arena, mix, new Map([...proxies].filter(([id]) => used.has(id)))));
    const prepared = level.workOut(first);
    return { prepared, result: work(level, prepared) };
  } finally {
    arena.release(mark);
  }
}
