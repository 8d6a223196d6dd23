import exifr from 'exifr';
import sharp, { type Metadata } from 'sharp';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import type { Pixels } from '@zaddle/core/image/plane';

/** Largest picture that is taken in: a header that claims more is refused before anything is decoded. */
export const MAX_PIXELS = 130_000_000;
const FORMATS = new Set(['jpeg', 'tiff', 'png', 'webp']);

// Every file is decoded once: keeping decoders' results would only hold memory.
sharp.cache(false);

/** Why a file is not a frame, in words for the person. */
export class RejectedFile extends Error {}

const plain = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/** EXIF date and sub-second as milliseconds, by the camera's clock (its time zone does not matter for order). */
function captureTime(exif: Record<string, unknown>): number | null {
  const date = exif.DateTimeOriginal ?? exif.CreateDate;
  if (!(date instanceof Date) || Number.isNaN(date.getTime())) return null;
  const fraction = Number(`0.${String(exif.SubSecTimeOriginal ?? '0').replace(/\D/g, '') || '0'}`);
  return date.getTime() + Math.round(fraction * 1000);
}

const positive = (value: unknown): number | null => (typeof value === 'number' && Number.isFinite(value) && value > 0 ? value : null);

const named = (value: unknown): string | null => (typeof value === 'string' && value.trim() !== '' ? value.trim().slice(0, 120) : null);

function readExif(block: Buffer | undefined): Promise<Record<string, unknown>> {
  if (!block || block.length < 16) return Promise.resolve({});
  // Some writers leave out the 'Exif\0\0' prefix.
  const tiff = block.subarray(0, 4).toString('latin1') === 'Exif' ? block.subarray(6) : block;
  return exifr.parse(tiff, { translateValues: false, reviveValues: true }).then((tags) => (tags ?? {}) as Record<string, unknown>, () => ({}));
}

/**
 * Reads what a file says of itself, decoding nothing.
 * @throws RejectedFile for what is not a picture, or one that is too large.
 */
export async function readFacts(input: string | Buffer, id: string, name: string): Promise<FrameFacts> {
  let meta: Metadata;
  try {
    meta = await sharp(input, { limitInputPixels: MAX_PIXELS }).metadata();
  } catch (error) {
    throw new RejectedFile(/pixel limit/i.test(plain(error)) ? `claims more than ${MAX_PIXELS / 1e6} megapixels` : 'not a picture that can be read');
  }
  if (!FORMATS.has(meta.format)) throw new RejectedFile(`a ${meta.format} file, which is not read: use JPEG, TIFF or PNG`);
  if (meta.width * meta.height > MAX_PIXELS) throw new RejectedFile(`claims ${Math.round((meta.width * meta.height) / 1e6)} megapixels, more than ${MAX_PIXELS / 1e6}`);
  if (meta.width < 64 || meta.height < 64) throw new RejectedFile(`only ${meta.width} × ${meta.height} pixels`);
  const exif = await readExif(meta.exif);
  const turned = (meta.orientation ?? 1) >= 5;
  const flash = typeof exif.Flash === 'number' ? (exif.Flash & 1) === 1 : null;
  return {
    id, name,
    width: turned ? meta.height : meta.width,
    height: turned ? meta.width : meta.height,
    takenAt: captureTime(exif),
    seconds: positive(exif.ExposureTime),
    aperture: positive(exif.FNumber),
    iso: positive(Array.isArray(exif.ISO) ? exif.ISO[0] : exif.ISO),
    flash,
    bracketed: exif.ExposureMode === 2,
    focalLength: positive(exif.FocalLength),
    camera: named(exif.Model),
    lensName: named(exif.LensModel),
    twinOf: null,
  };
}

/**
 * Decodes a whole file, EXIF orientation applied, 8 bit RGB; deeper files are rounded.
 * @throws RejectedFile for a file that is cut off or damaged.
 */
export async function decodeFrame(input: string | Buffer): Promise<Pixels> {
  try {
    const picture = sharp(input, { limitInputPixels: MAX_PIXELS, failOn: 'warning', sequentialRead: true }).autoOrient().removeAlpha();
    const { data, info } = await picture.toColourspace('srgb').raw({ depth: 'uchar' }).toBuffer({ resolveWithObject: true });
    return { width: info.width, height: info.height, data };
  } catch (error) {
    throw new RejectedFile(/premature|truncat|end of|corrupt|invalid|bad|unexpected|marker/i.test(plain(error)) ? 'damaged or cut off: copy it from the card again' : `cannot be decoded (${plain(error).split('\n')[0]})`);
  }
}
