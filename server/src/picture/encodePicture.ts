import sharp from 'sharp';
import { disclosureXmp } from '@zaddle/core/clean/disclosureXmp';
import type { Pixels } from '@zaddle/core/image/plane';

export interface DeliveryMeta {
  /** What made the picture and what was changed, for EXIF. */
  readonly description: string;
  /** What was replaced or filled, a line each, for XMP. */
  readonly changed: readonly string[];
  /** EXIF date 'YYYY:MM:DD HH:MM:SS' of the reference, or null. */
  readonly taken: string | null;
  /** Longer side of the delivered picture in pixels, or null for its full size; never enlarged. */
  readonly longerSide: number | null;
  /** Pixels an inch that it says of itself; left out, or null: nothing. */
  readonly ppi?: number | null;
}

/** Encodes a finished picture as a JPEG with sRGB profile, EXIF and XMP. @param quality 1..100. */
export function encodeJpeg(pixels: Pixels, quality: number, meta: DeliveryMeta): Promise<Buffer> {
  const full = sharp(pixels.data as Uint8Array, { raw: { width: pixels.width, height: pixels.height, channels: 3 } });
  const sized = meta.longerSide === null ? full : full.resize(meta.longerSide, meta.longerSide, { fit: 'inside', withoutEnlargement: true, kernel: 'lanczos3' });
  return (meta.ppi ? sized.withMetadata({ density: meta.ppi }) : sized)
    .withIccProfile('srgb')
    .withExif({
      IFD0: { Software: 'Zaddle', ImageDescription: meta.description },
      IFD2: { ColorSpace: '1', ...(meta.taken ? { DateTimeOriginal: meta.taken } : {}) },
    })
    .withXmp(disclosureXmp(meta.changed))
    .jpeg({ quality, chromaSubsampling: '4:4:4' })
    .toBuffer();
}
