import sharp, { type Sharp } from 'sharp';
import { disclosureXmp } from '@zaddle/core/clean/disclosureXmp';
import type { Pixels } from '@zaddle/core/image/plane';
import type { OrderFile, OrderWords } from '@zaddle/document';

/** Files of 8 bit a channel. */
export type EightBitFile = Exclude<OrderFile, 'tiff16' | 'tiff32' | 'openraster'>;

export interface DeliveryMeta {
  /** What made the picture and what was changed, for EXIF. */
  readonly description: string;
  /** What was replaced or filled, a line each, for XMP. */
  readonly changed: readonly string[];
  /** EXIF date 'YYYY:MM:DD HH:MM:SS' of the reference, or null. */
  readonly taken: string | null;
  /** Pixels an inch that it says of itself; left out, or null: nothing. */
  readonly ppi?: number | null;
  /** What it is called, who made it, whose it is; left out: nothing. */
  readonly words?: OrderWords;
}

/** How a file of 8 bit a channel is written. */
export interface ImageFormat {
  readonly file: EightBitFile;
  /** 1..100; nothing for what loses nothing. */
  readonly quality: number;
  readonly profile: 'srgb' | 'p3';
}

/** EXIF's words for colour spaces: sRGB, and none of those that it knows. */
const EXIF_SPACE = { srgb: '1', p3: '65535' } as const;

function written(picture: Sharp, { file, quality }: ImageFormat): Sharp {
  switch (file) {
    case 'jpeg': return picture.jpeg({ quality, chromaSubsampling: '4:4:4' });
    case 'png': return picture.png({ compressionLevel: 7 });
    // With more effort 22 megapixels take a minute.
    case 'webp': return picture.webp({ quality, smartSubsample: true, effort: 2 });
    case 'avif': return picture.avif({ quality, chromaSubsampling: '4:4:4', effort: 0 });
  }
}

/** Encodes a finished sRGB picture, its colours brought to a profile that is embedded, with EXIF and XMP. */
export function encodeImage(pixels: Pixels, format: ImageFormat, { description, changed, taken, ppi, words }: DeliveryMeta): Promise<Buffer> {
  const full = sharp(pixels.data as Uint8Array, { raw: { width: pixels.width, height: pixels.height, channels: 3 } });
  const described = (ppi ? full.withMetadata({ density: ppi }) : full)
    .withIccProfile(format.profile)
    .withExif({
      IFD0: { Software: 'Zaddle', ImageDescription: description, ...(words?.creator ? { Artist: words.creator } : {}), ...(words?.copyright ? { Copyright: words.copyright } : {}) },
      IFD2: { ColorSpace: EXIF_SPACE[format.profile], ...(taken ? { DateTimeOriginal: taken } : {}) },
    })
    .withXmp(disclosureXmp(changed, words));
  return written(described, format).toBuffer();
}
