import type { Pixels } from '@zaddle/core/image/plane';
import type { PreparedMix } from '@zaddle/core/graph/prepareMix';
import type { FrameId, OutputProfile } from '@zaddle/document';
import { finishPicture } from './finishPixels';
import { FrameShelf, shelfBytes } from './frameShelf';
import { FrameSpool } from './frameSpool';
import { renderBands } from './renderBands';
import { framesToRender, healedScratch, renderOnShelf, renderScratch, type Openable, type WishKind } from './renderPicture';
import type { Wish } from './renderThread';
import { roundedBytes } from './roundedBytes';

/** Bytes that decoded frames and what is made of them may take at once; larger shots are rendered from rows on disk, band by band. */
const TOGETHER = 1_100_000_000;
/** Kernel memory of one band. */
const BAND_BYTES = 640_000_000;

export interface Size {
  readonly width: number;
  readonly height: number;
}

/** A mix whose frames are at hand at full size: anything of it can be asked for, one after the other. */
export interface Rendering {
  readonly prepared: PreparedMix;
  readonly size: Size;
  /** Rows from the top, interleaved. They may be gone when the next are asked for. */
  readonly rows: (wish: Wish) => Promise<Uint8Array>;
}

/** A rendering from frames that lie on a shelf already. */
export const renderingOf = (prepared: PreparedMix, shelf: FrameShelf, size: Size): Rendering => ({ prepared, size, rows: (wish) => renderOnShelf(prepared, shelf, size, wish) });

interface FilesOptions {
  readonly size: Size;
  /** What will be asked for, by the largest. */
  readonly kind: WishKind;
  /** Where rows may lie on disk. */
  readonly folder: string;
  /** Told once all frames are decoded. */
  readonly opened?: () => Promise<void>;
  /** Bytes that frames may take at once, and those of a band. */
  readonly together?: number;
  readonly bandBytes?: number;
}

/** Works with a mix at full size from the files of its frames, each decoded once, in bounded memory however many and large they are. Rows that the work looked at are gone after it. */
export async function withRendering<T>(prepared: PreparedMix, frameOf: (id: FrameId) => Openable, { size, kind, folder, opened = async () => undefined, together = TOGETHER, bandBytes = BAND_BYTES }: FilesOptions, work: (rendering: Rendering) => Promise<T>): Promise<T> {
  const ids = framesToRender(prepared);
  const frames = new Map(ids.map((id) => [id, frameOf(id)]));
  const scratch = renderScratch(size.width, size.height, ids.length, kind) + healedScratch(prepared, size.width, ids.length);
  const bytes = ids.reduce((sum, id) => sum + shelfBytes(prepared.mix.frames[id].width, prepared.mix.frames[id].height, frames.get(id)!.deep), 0);
  if (bytes + scratch <= together) {
    const shelf = new FrameShelf(bytes, scratch);
    try {
      // Two decodes at a time: one decoder does not keep two cores busy.
      for (let i = 0; i < ids.length; i += 2) {
        const pair = await Promise.all(ids.slice(i, i + 2).map(async (id) => ({ id, pixels: await frames.get(id)!.open() })));
        for (const { id, pixels } of pair) shelf.place(id, pixels);
      }
      await opened();
      return await work(renderingOf(prepared, shelf, size));
    } finally {
      shelf.close();
    }
  }
  const spool = new FrameSpool(folder);
  try {
    for (const id of ids) await spool.add(id, await frames.get(id)!.open());
    await opened();
    return await work({ prepared, size, rows: (wish) => renderBands(prepared, spool, ids, size, wish, bandBytes) });
  } finally {
    await spool.close();
  }
}

const scaleOf = ({ prepared, size }: Rendering): number => size.width / prepared.mix.width;

/** The finished picture, 8 bit, in colours of a profile. */
export async function finishedPicture(rendering: Rendering, profile: OutputProfile = 'srgb'): Promise<Pixels> {
  return finishPicture({ ...rendering.size, data: await rendering.rows({ kind: 'encoded', profile }) }, rendering.prepared.mix, scaleOf(rendering));
}

/**
 * The picture as its lowest passes make it, 16 bit, not sharpened. @param profile whose colours it has @param passes how many of the prepared mix's, outside all bundles; all
 * where left out @param data where it is to lie: what is in shared memory is gone with the next rendering
 */
export async function deepPicture({ prepared, size, rows }: Rendering, profile: OutputProfile = 'srgb', passes = prepared.passes.length, data: Uint16Array = new Uint16Array(size.width * size.height * 3)): Promise<Pixels & { readonly data: Uint16Array }> {
  const bytes = await rows({ kind: 'deep', passes, profile });
  data.set(new Uint16Array(bytes.buffer, bytes.byteOffset, data.length));
  return { ...size, data };
}

/** The finished picture, 16 bit, in colours of a profile. What calming of noise and sharpening change is worked out on bytes, as for every other delivery, and added to what is finer. */
export async function finishedDeepPicture(rendering: Rendering, profile: OutputProfile = 'srgb'): Promise<Pixels & { readonly data: Uint16Array }> {
  const deep = await deepPicture(rendering, profile);
  const plain = roundedBytes(deep.data);
  const sharp = (await finishPicture({ ...rendering.size, data: plain }, rendering.prepared.mix, scaleOf(rendering))).data;
  for (let i = 0; i < plain.length; i++) if (sharp[i] !== plain[i]) deep.data[i] = Math.min(65535, Math.max(0, deep.data[i] + 257 * (sharp[i] - plain[i])));
  return deep;
}

/** Light before the display curve: linear, sRGB's primaries, 1.0 being white, as floats; not sharpened. It may be gone when something else is asked for. */
export async function linearPicture({ size, rows }: Rendering): Promise<Size & { readonly data: Float32Array }> {
  const bytes = await rows({ kind: 'linear' });
  return { ...size, data: new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4) };
}

/** The mask of one pass, 16 bit, before its opacity. */
export async function maskPicture({ size, rows }: Rendering, pass: number): Promise<Size & { readonly data: Uint16Array }> {
  const bytes = await rows({ kind: 'mask', pass });
  return { ...size, data: new Uint16Array(bytes.slice().buffer) };
}
