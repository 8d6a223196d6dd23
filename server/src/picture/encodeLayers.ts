import { createWriteStream } from 'node:fs';
import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import sharp, { type Sharp } from 'sharp';
import yazl from 'yazl';
import type { PreparedPass } from '@zaddle/core/graph/prepareMix';
import { layerPixels, type LayerPixels } from './layerPixels';
import { deepPicture, maskPicture, type Rendering } from './rendering';
import { roundedBytes } from './roundedBytes';

/** Longer side of the small picture that the format asks for. */
const THUMBNAIL = 256;
/** Files are the same whenever they are made. */
const MADE = { mtime: new Date(Date.UTC(2000, 0, 1)), mode: 0o100664, forceDosTimestamp: true } as const;

/** A pass at the outermost level with all that it holds, and with what is tied to it: where it is in the prepared mix, and how many passes lie up to its end. */
interface Block {
  readonly index: number;
  readonly end: number;
}

function blocksOf(passes: readonly PreparedPass[]): Block[] {
  return passes.flatMap(({ pass, tied }, index): Block[] => {
    if (tied || pass.within !== null) return [];
    let end = index + 1;
    while (passes[end]?.tied) end++;
    return [{ index, end }];
  });
}

const escaped = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

const png = (data: Uint16Array, width: number, height: number, channels: 3 | 4): Sharp => sharp(data, { raw: { width, height, channels } }).toColourspace('rgb16').png({ compressionLevel: 4 });

/**
 * A mix as OpenRaster (baseline specification 0.0.6): a layer for each pass and bundle, with its name, its mask as coverage and its opacity, 16 bit.
 * Layers are composed by encoded values, source over, and passes by light and in many modes: colours of layers are such that they make
 * the picture all the same, each hidden layer showing it as it was without what lies from there on top. Not sharpened. Layers go to disk as
 * they come: all of them together are larger than the frames.
 * @param folder where that may be @returns a file in it, which is the caller's
 */
export async function encodeLayers(rendering: Rendering, folder: string): Promise<string> {
  await mkdir(folder, { recursive: true });
  const aside = await mkdtemp(join(folder, 'layers-'));
  const file = `${aside}.ora`;
  try {
    await pipeline((await zipOf(rendering, aside)).outputStream as Readable, createWriteStream(file));
    return file;
  } catch (error) {
    // What was written of it would only take the room that is missing.
    await rm(file, { force: true });
    throw error;
  } finally {
    await rm(aside, { recursive: true, force: true });
  }
}

/** What is in the file, to be read from a folder while it is written. */
async function zipOf(rendering: Rendering, aside: string): Promise<yazl.ZipFile> {
  const { prepared, size: { width, height } } = rendering;
  const zip = new yazl.ZipFile();
  zip.on('error', (error: Error) => (zip.outputStream as Readable).destroy(error));
  const add = async (picture: Sharp, name: string): Promise<void> => {
    const path = join(aside, basename(name));
    await picture.toFile(path);
    zip.addFile(path, name, { compress: false, ...MADE });
  };
  zip.addBuffer(Buffer.from('image/openraster'), 'mimetype', { compress: false, ...MADE });
  const lines: string[] = [];
  // Pictures of many megabytes, used over and over.
  const room = new Uint16Array(width * height * 4);
  let [before, spare]: [Uint16Array, Uint16Array] = [new Uint16Array(width * height * 3), new Uint16Array(width * height * 3)];
  for (const [k, { index, end }] of blocksOf(prepared.passes).entries()) {
    const { pass } = prepared.passes[index];
    const { data: after } = await deepPicture(rendering, 'srgb', end, spare);
    // Below the lowest there is nothing that it could be laid over.
    const mask = k === 0 ? new Uint16Array(width * height).fill(65535) : (await maskPicture(rendering, index)).data;
    const layer: LayerPixels | null = layerPixels(before, after, mask, width, k === 0 ? 1 : pass.opacity, room);
    [before, spare] = [after, before];
    if (!layer) continue;
    const src = `data/layer${String(k).padStart(3, '0')}.png`;
    await add(png(layer.data, layer.width, layer.height, 4), src);
    lines.unshift(`    <layer name="${escaped(pass.name)}" src="${src}" x="${layer.x}" y="${layer.y}" opacity="${layer.opacity.toFixed(6)}" visibility="visible" composite-op="svg:src-over"/>`);
  }
  zip.addBuffer(Buffer.from(`<?xml version="1.0" encoding="UTF-8"?>\n<image version="0.0.6" w="${width}" h="${height}" xres="300" yres="300">\n  <stack>\n${lines.join('\n')}\n  </stack>\n</image>\n`), 'stack.xml', MADE);
  await add(png(before, width, height, 3), 'mergedimage.png');
  await add(sharp(roundedBytes(before), { raw: { width, height, channels: 3 } }).resize(THUMBNAIL, THUMBNAIL, { fit: 'inside' }).png(), 'Thumbnails/thumbnail.png');
  zip.end();
  return zip;
}
