import sharp from 'sharp';
import yazl from 'yazl';
import type { PreparedPass } from '@zaddle/core/graph/prepareMix';
import { layerPixels, type LayerPixels } from './layerPixels';
import { deepPicture, maskPicture, type Rendering } from './rendering';

/** Longer side of the small picture that the format asks for. */
const THUMBNAIL = 256;
/** Files are the same whenever they are made. */
const MADE = { mtime: new Date(Date.UTC(2000, 0, 1)), forceDosTimestamp: true } as const;

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

const png = (data: Uint16Array, width: number, height: number, channels: 3 | 4): Promise<Buffer> => sharp(data, { raw: { width, height, channels } }).toColourspace('rgb16').png({ compressionLevel: 4 }).toBuffer();

function zipped(zip: yazl.ZipFile): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    const parts: Buffer[] = [];
    zip.outputStream.on('data', (part: Buffer) => parts.push(part)).on('end', () => resolve(Buffer.concat(parts))).on('error', reject);
    zip.end();
  });
}

/**
 * A mix as OpenRaster (baseline specification 0.0.6): a layer for each pass and bundle, with its name, its mask as coverage and its opacity, 16 bit.
 * Layers are composed by encoded values, source over, and passes by light and in many modes: colours of layers are such that they make
 * the picture all the same, each hidden layer showing it as it was without what lies from there on top. Not sharpened.
 */
export async function encodeLayers(rendering: Rendering): Promise<Buffer> {
  const { prepared, size: { width, height } } = rendering;
  const zip = new yazl.ZipFile();
  zip.addBuffer(Buffer.from('image/openraster'), 'mimetype', { compress: false, ...MADE });
  const lines: string[] = [];
  let before: Uint16Array = new Uint16Array(width * height * 3);
  for (const [k, { index, end }] of blocksOf(prepared.passes).entries()) {
    const { pass } = prepared.passes[index];
    const { data: after } = await deepPicture(rendering, end);
    // Below the lowest there is nothing that it could be laid over.
    const mask = k === 0 ? new Uint16Array(width * height).fill(65535) : (await maskPicture(rendering, index)).data;
    const layer: LayerPixels | null = layerPixels(before, after, mask, width, k === 0 ? 1 : pass.opacity);
    before = after;
    if (!layer) continue;
    const src = `data/layer${String(k).padStart(3, '0')}.png`;
    zip.addBuffer(await png(layer.data, layer.width, layer.height, 4), src, { compress: false, ...MADE });
    lines.unshift(`    <layer name="${escaped(pass.name)}" src="${src}" x="${layer.x}" y="${layer.y}" opacity="${layer.opacity.toFixed(6)}" visibility="visible" composite-op="svg:src-over"/>`);
  }
  zip.addBuffer(Buffer.from(`<?xml version="1.0" encoding="UTF-8"?>\n<image version="0.0.6" w="${width}" h="${height}" xres="300" yres="300">\n  <stack>\n${lines.join('\n')}\n  </stack>\n</image>\n`), 'stack.xml', MADE);
  zip.addBuffer(await png(before, width, height, 3), 'mergedimage.png', { compress: false, ...MADE });
  const small = await sharp(Uint8Array.from(before, (v) => (v + 128) / 257), { raw: { width, height, channels: 3 } }).resize(THUMBNAIL, THUMBNAIL, { fit: 'inside' }).png().toBuffer();
  zip.addBuffer(small, 'Thumbnails/thumbnail.png', { compress: false, ...MADE });
  return zipped(zip);
}
