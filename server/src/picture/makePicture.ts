import type { Pixels } from '@zaddle/core/image/plane';
import type { PreparedMix } from '@zaddle/core/graph/prepareMix';
import type { FrameId } from '@zaddle/document';
import { FrameShelf, shelfBytes } from './frameShelf';
import { FrameSpool } from './frameSpool';
import { renderBands } from './renderBands';
import { framesToRender, healedScratch, renderPicture, renderScratch, type Openable, type PictureKind } from './renderPicture';

/** Bytes that decoded frames and what is made of them may take at once; larger shots are rendered from rows on disk, band by band. */
const TOGETHER = 1_100_000_000;
/** Kernel memory of one band. */
const BAND_BYTES = 640_000_000;

interface MakingOptions {
  readonly size: { readonly width: number; readonly height: number };
  readonly kind: PictureKind;
  /** Where rows may lie on disk. */
  readonly folder: string;
  /** Told once all frames are decoded. */
  readonly opened?: () => Promise<void>;
  /** Bytes that frames may take at once, and those of a band. */
  readonly together?: number;
  readonly bandBytes?: number;
}

/** Makes a mix's picture from the files of its frames, each decoded once, in bounded memory however many and large they are. */
export async function makePicture(prepared: PreparedMix, frameOf: (id: FrameId) => Openable, { size, kind, folder, opened = async () => undefined, together = TOGETHER, bandBytes = BAND_BYTES }: MakingOptions): Promise<Pixels> {
  const ids = framesToRender(prepared);
  const frames = new Map(ids.map((id) => [id, frameOf(id)]));
  const scratch = renderScratch(size.width, size.height, ids.length, kind) + healedScratch(prepared, size.width, ids.length);
  const bytes = ids.reduce((sum, id) => sum + shelfBytes(prepared.mix.frames[id].width, prepared.mix.frames[id].height, frames.get(id)!.deep), 0);
  if (bytes + scratch <= together) {
    const shelf = new FrameShelf(bytes, scratch);
    // Two decodes at a time: one decoder does not keep two cores busy.
    for (let i = 0; i < ids.length; i += 2) {
      const pair = await Promise.all(ids.slice(i, i + 2).map(async (id) => ({ id, pixels: await frames.get(id)!.open() })));
      for (const { id, pixels } of pair) shelf.place(id, pixels);
    }
    await opened();
    return renderPicture(prepared, shelf, size, kind);
  }
  const spool = new FrameSpool(folder);
  try {
    for (const id of ids) await spool.add(id, await frames.get(id)!.open());
    await opened();
    return await renderBands(prepared, spool, ids, size, kind, bandBytes);
  } finally {
    await spool.close();
  }
}
