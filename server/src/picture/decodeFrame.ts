import exifr from 'exifr';
import sharp, { type Metadata, type Sharp } from 'sharp';
import { developed, foreignFacts, foreignFormat } from './foreignFormats';
import { MAX_PIXELS, MAX_SIDE, RejectedFile } from './limits';
import { named } from './namedIn';
import { roundedBytes } from './roundedBytes';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import { linearToSrgb } from '@zaddle/core/colour/transfer';
import type { Pixels } from '@zaddle/core/image/plane';

const SMALLEST = 64;
const FORMATS = new Set(['jpeg', 'tiff', 'png', 'webp']);

// Every file is decoded once: keeping decoders' results would only hold memory.
sharp.cache(false);

const plain = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/**
 * EXIF date and sub-second as milliseconds by the camera's clock, counted as if its zone were UTC: order and pauses come out
 * right, and the same is written into deliveries, wherever this program runs.
 */
function captureTime(exif: Record<string, unknown>): number | null {
  const found = /^(\d{4})[:-](\d\d)[:-](\d\d)[ T](\d\d):(\d\d):(\d\d)/.exec(String(exif.DateTimeOriginal ?? exif.CreateDate ?? ''));
  if (!found) return null;
  const [year, month, day, hour, minute, second] = found.slice(1).map(Number);
  const time = Date.UTC(year, month - 1, day, hour, minute, second);
  const fraction = Number(`0.${String(exif.SubSecTimeOriginal ?? '0').replace(/\D/g, '').slice(0, 9) || '0'}`);
  return year < 1970 || year > 2199 ? null : time + Math.round(fraction * 1000);
}

const positive = (value: unknown): number | null => (typeof value === 'number' && Number.isFinite(value) && value > 0 ? value : null);

/** What EXIF says of an exposure. */
const exifFacts = (exif: Record<string, unknown>): Pick<FrameFacts, 'takenAt' | 'seconds' | 'aperture' | 'iso' | 'flash' | 'bracketed' | 'focalLength' | 'focal35' | 'camera' | 'lensName'> => ({
  takenAt: captureTime(exif),
  seconds: positive(exif.ExposureTime),
  aperture: positive(exif.FNumber),
  iso: positive(Array.isArray(exif.ISO) ? exif.ISO[0] : exif.ISO),
  flash: typeof exif.Flash === 'number' ? (exif.Flash & 1) === 1 : null,
  bracketed: exif.ExposureMode === 2,
  focalLength: positive(exif.FocalLength),
  focal35: positive(exif.FocalLengthIn35mmFormat),
  camera: named(exif.Model),
  lensName: named(exif.LensModel),
});

/** The TIFF structure in an EXIF block; some writers leave out the 'Exif\0\0' prefix. */
const tiffOf = (block: Buffer | undefined): Buffer | undefined => (block?.subarray(0, 4).toString('latin1') === 'Exif' ? block.subarray(6) : block);

function readExif(source: Buffer | string | undefined): Promise<Record<string, unknown>> {
  if (!source || (Buffer.isBuffer(source) && source.length < 16)) return Promise.resolve({});
  return exifr.parse(source, { translateValues: false, reviveValues: false }).then((tags) => (tags ?? {}) as Record<string, unknown>, () => ({}));
}

/**
 * Reads what a file says of itself, decoding nothing.
 * @throws RejectedFile for what is not a picture, or one that is too large.
 */
export async function readFacts(input: string | Buffer, id: string, name: string): Promise<FrameFacts> {
  const foreign = await foreignFormat(input);
  if (foreign) {
    const own = await foreignFacts(foreign, input);
    if (Math.min(own.width, own.height) < SMALLEST) throw new RejectedFile(`only ${own.width} × ${own.height} pixels`);
    // libheif tells sizes only, LibRaw neither flash nor bracket: EXIF does, where it can be read.
    const exif = exifFacts(await readExif(input));
    const told = foreign === 'heic' ? exif : { ...own, flash: exif.flash, bracketed: exif.bracketed, focal35: exif.focal35, takenAt: exif.takenAt ?? own.takenAt, lensName: own.lensName ?? exif.lensName };
    return { id, name, format: foreign, twinOf: null, ...own, ...told, ...(foreign === 'raw' ? { deep: true } : {}) };
  }
  let meta: Metadata;
  try {
    meta = await sharp(input, { limitInputPixels: MAX_PIXELS }).metadata();
  } catch (error) {
    throw new RejectedFile(/pixel limit/i.test(plain(error)) ? `claims more than ${MAX_PIXELS / 1e6} megapixels` : 'not a picture that can be read');
  }
  if (!FORMATS.has(meta.format)) throw new RejectedFile(`a ${meta.format} file, which is not read: use JPEG, TIFF, PNG, HEIC or a raw format`);
  if (meta.width * meta.height > MAX_PIXELS) throw new RejectedFile(`claims ${Math.round((meta.width * meta.height) / 1e6)} megapixels, more than ${MAX_PIXELS / 1e6}`);
  if (Math.max(meta.width, meta.height) > MAX_SIDE) throw new RejectedFile(`${meta.width} × ${meta.height} pixels: longer than ${MAX_SIDE} on one side`);
  if (Math.min(meta.width, meta.height) < SMALLEST) throw new RejectedFile(`only ${meta.width} × ${meta.height} pixels`);
  const exif = await readExif(tiffOf(meta.exif));
  const turned = (meta.orientation ?? 1) >= 5;
  return {
    id, name,
    width: turned ? meta.height : meta.width,
    height: turned ? meta.width : meta.height,
    format: meta.format === 'jpeg' || meta.format === 'tiff' ? meta.format : 'other',
    ...exifFacts(exif),
    twinOf: null,
    ...(meta.depth === 'uchar' ? {} : { deep: true }),
  };
}

/** sRGB's encoding of 16-bit linear light, 16 bit. */
const ENCODED = Uint16Array.from({ length: 65536 }, (_, v) => Math.round(65535 * linearToSrgb(v / 65535)));

/** 16-bit pixels rounded to 8 bit. */
export function rounded({ width, height, data }: Pixels): Pixels {
  return { width, height, data: roundedBytes(data) };
}

async function deepPixelsOf(picture: Sharp): Promise<Pixels> {
  const { data, info } = await picture.toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint16Array(data.buffer, data.byteOffset, data.length / 2) };
}

/** 16-bit linear light as pixels like any others: encoded as sRGB does, which is undone where light is wanted. */
async function encodeLinear(tiff: Buffer): Promise<Pixels> {
  const { width, height, data } = await deepPixelsOf(sharp(tiff, { limitInputPixels: MAX_PIXELS, ignoreIcc: true } as never).removeAlpha());
  for (let i = 0; i < data.length; i++) data[i] = ENCODED[data[i]];
  return { width, height, data };
}

/** What went wrong with a file, in words. */
function fault(error: unknown): RejectedFile {
  if (error instanceof RejectedFile) return error;
  if (/warning treated|premature|truncat|end of|corrupt|invalid|bad|bogus|unexpected|marker/i.test(plain(error))) return new RejectedFile('damaged or cut off: copy it from the card again');
  // Without the names of programs and their parts, which come first.
  const words = plain(error).split('\n')[0].replace(/^(\w+: ?)+/, '');
  return new RejectedFile(`cannot be read (${words}): copy it from the card again, or save it anew where it was made`);
}

/** A file as the decoder takes it apart: turned as the camera was held, RGB of sRGB. */
const opened = (input: string | Buffer): Sharp => sharp(input, { limitInputPixels: MAX_PIXELS, failOn: 'warning', sequentialRead: true }).autoOrient().removeAlpha().toColourspace('srgb');

async function pixelsOf(picture: Sharp): Promise<Pixels> {
  const { data, info } = await picture.raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/**
 * Decodes a whole file, EXIF orientation applied, RGB; raw files are developed.
 * @param deep 16 bit a channel, as deep files have them, instead of 8.
 * @throws RejectedFile for a file that is cut off or damaged.
 */
export async function decodeFrame(input: string | Buffer, deep = false): Promise<Pixels> {
  try {
    const foreign = await foreignFormat(input);
    if (foreign === 'raw') {
      const pixels = await encodeLinear(await developed(foreign, input));
      return deep ? pixels : rounded(pixels);
    }
    const picture = opened(foreign ? await developed(foreign, input) : input);
    return await (deep ? deepPixelsOf(picture) : pixelsOf(picture));
  } catch (error) {
    throw fault(error);
  }
}

/**
 * Decodes a part of a file: decoders start from the top, so it costs the rows down to its end, but holds nothing else.
 * @returns null for formats that can only be read whole. @throws RejectedFile for a file that is cut off or damaged.
 */
export async function decodePart(path: string, { x, y, w, h }: { readonly x: number; readonly y: number; readonly w: number; readonly h: number }, deep = false): Promise<Pixels | null> {
  try {
    if (await foreignFormat(path)) return null;
    const part = opened(path).extract({ left: x, top: y, width: w, height: h });
    return await (deep ? deepPixelsOf(part) : pixelsOf(part));
  } catch (error) {
    throw fault(error);
  }
}
