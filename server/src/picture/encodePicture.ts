import sharp, { type Sharp } from 'sharp';
import { disclosureXmp } from '@zaddle/core/clean/disclosureXmp';
import type { Pixels } from '@zaddle/core/image/plane';
import type { OrderFile, OutputProfile } from '@zaddle/document';
import type { DeliveryMeta } from './deliveryMeta';
import { encodeTiff } from './encodeTiff';

/** Files of 8 bit a channel. */
export type EightBitFile = Exclude<OrderFile, 'png16' | 'tiff16' | 'tiff32' | 'radiance' | 'openexr' | 'openraster'>;

/** How a file of 8 bit a channel is written. */
export interface ImageFormat {
  readonly file: EightBitFile;
  /** 1..100; nothing for what loses nothing. */
  readonly quality: number;
  /** Colours that its numbers stand for. */
  readonly profile: OutputProfile;
}

/** EXIF's words for colour spaces: sRGB, and none of those that it knows. */
const EXIF_SPACE = { srgb: '1', p3: '65535', oprgb: '65535' } as const;

function written(picture: Sharp, { file, quality }: ImageFormat & { readonly file: Exclude<EightBitFile, 'tiff8'> }): Sharp {
  switch (file) {
    case 'jpeg': return picture.jpeg({ quality, chromaSubsampling: '4:4:4' });
    case 'png': return picture.png({ compressionLevel: 7 });
    // With more effort 22 megapixels take a minute.
    case 'webp': return picture.webp({ quality, smartSubsample: true, effort: 2 });
    case 'avif': return picture.avif({ quality, chromaSubsampling: '4:4:4', effort: 0 });
  }
}

/** What a finished picture lies in: 8 or 16 bit a channel, in colours of some profile. */
interface FinishedPixels {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array | Uint16Array;
}

/** A picture whose numbers are in colours of a profile, with that profile, and the pixels an inch that it is to say: numbers stay as they are. */
async function opened(pixels: FinishedPixels, profile: OutputProfile, ppi: number | null | undefined): Promise<Sharp> {
  const { width, height, data } = pixels;
  if (profile === 'srgb') {
    const plain = sharp(data, { raw: { width, height, channels: 3 } });
    return (ppi ? plain.withMetadata({ density: ppi }) : plain).withIccProfile('srgb');
  }
  // What has no profile, or is asked to say its density, would be taken for sRGB and converted; a file that has both may keep them.
  return sharp(await encodeTiff(pixels, { description: '', changed: [], taken: null, ppi }, profile), { limitInputPixels: false }).keepIccProfile();
}

/** A picture with what is told of it. */
function described(picture: Sharp, profile: OutputProfile, { description, changed, taken, words }: DeliveryMeta): Sharp {
  return picture
    .withExif({
      IFD0: { Software: 'Zaddle', ImageDescription: description, ...(words?.creator ? { Artist: words.creator } : {}), ...(words?.copyright ? { Copyright: words.copyright } : {}) },
      IFD2: { ColorSpace: EXIF_SPACE[profile], ...(taken ? { DateTimeOriginal: taken } : {}) },
    })
    .withXmp(disclosureXmp(changed, words));
}

/** Encodes a finished picture of 8 bit a channel, in colours of the format's profile, which is embedded, with EXIF and XMP. */
export async function encodeImage(pixels: Pixels, format: ImageFormat, meta: DeliveryMeta): Promise<Buffer> {
  const { width, height } = pixels;
  const { file, profile } = format;
  const finished = { width, height, data: pixels.data as Uint8Array };
  if (file === 'tiff8') return encodeTiff(finished, meta, profile);
  return written(described(await opened(finished, profile, meta.ppi), profile, meta), { ...format, file }).toBuffer();
}

/** Encodes a finished picture of 16 bit a channel, in colours of a profile, as PNG, with that profile, EXIF and XMP. */
export async function encodeDeepPng(pixels: FinishedPixels & { readonly data: Uint16Array }, meta: DeliveryMeta, profile: OutputProfile = 'srgb'): Promise<Buffer> {
  return described((await opened(pixels, profile, meta.ppi)).toColourspace('rgb16'), profile, meta).png({ compressionLevel: 5 }).toBuffer();
}
