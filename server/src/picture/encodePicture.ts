import sharp, { type Sharp } from 'sharp';
import { disclosureXmp } from '@zaddle/core/clean/disclosureXmp';
import type { Pixels } from '@zaddle/core/image/plane';
import type { OrderFile } from '@zaddle/document';
import type { DeliveryMeta } from './deliveryMeta';
import { encodeTiff } from './encodeTiff';

/** Files of 8 bit a channel. */
export type EightBitFile = Exclude<OrderFile, 'png16' | 'tiff16' | 'tiff32' | 'radiance' | 'openexr' | 'openraster'>;

/** How a file of 8 bit a channel is written. */
export interface ImageFormat {
  readonly file: EightBitFile;
  /** 1..100; nothing for what loses nothing. */
  readonly quality: number;
  readonly profile: 'srgb' | 'p3';
}

/** EXIF's words for colour spaces: sRGB, and none of those that it knows. */
const EXIF_SPACE = { srgb: '1', p3: '65535' } as const;

function written(picture: Sharp, { file, quality }: ImageFormat & { readonly file: Exclude<EightBitFile, 'tiff8'> }): Sharp {
  switch (file) {
    case 'jpeg': return picture.jpeg({ quality, chromaSubsampling: '4:4:4' });
    case 'png': return picture.png({ compressionLevel: 7 });
    // With more effort 22 megapixels take a minute.
    case 'webp': return picture.webp({ quality, smartSubsample: true, effort: 2 });
    case 'avif': return picture.avif({ quality, chromaSubsampling: '4:4:4', effort: 0 });
  }
}

/** A picture with what is told of it, in a profile that is embedded. */
function described(picture: Sharp, profile: ImageFormat['profile'], { description, changed, taken, ppi, words }: DeliveryMeta): Sharp {
  return (ppi ? picture.withMetadata({ density: ppi }) : picture)
    .withIccProfile(profile)
    .withExif({
      IFD0: { Software: 'Zaddle', ImageDescription: description, ...(words?.creator ? { Artist: words.creator } : {}), ...(words?.copyright ? { Copyright: words.copyright } : {}) },
      IFD2: { ColorSpace: EXIF_SPACE[profile], ...(taken ? { DateTimeOriginal: taken } : {}) },
    })
    .withXmp(disclosureXmp(changed, words));
}

/** Encodes a finished sRGB picture, its colours brought to a profile that is embedded, with EXIF and XMP. */
export async function encodeImage(pixels: Pixels, format: ImageFormat, meta: DeliveryMeta): Promise<Buffer> {
  const { width, height } = pixels;
  const full = sharp(pixels.data as Uint8Array, { raw: { width, height, channels: 3 } });
  const { file, profile } = format;
  if (file !== 'tiff8') return written(described(full, profile, meta), { ...format, file }).toBuffer();
  const data = profile === 'srgb' ? (pixels.data as Uint8Array) : await sharp(await full.withIccProfile(profile).png({ compressionLevel: 0 }).toBuffer(), { ignoreIcc: true }).raw().toBuffer();
  return encodeTiff({ width, height, data }, meta, profile);
}

/** Encodes a finished sRGB picture of 16 bit a channel as PNG, with profile, EXIF and XMP. */
export function encodeDeepPng({ width, height, data }: { readonly width: number; readonly height: number; readonly data: Uint16Array }, meta: DeliveryMeta): Promise<Buffer> {
  return described(sharp(data, { raw: { width, height, channels: 3 } }).toColourspace('rgb16'), 'srgb', meta).png({ compressionLevel: 5 }).toBuffer();
}
