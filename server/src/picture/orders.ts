import sharp from 'sharp';
import { USUAL_SHARPENING } from '@zaddle/core/finish/sharpen';
import type { Pixels } from '@zaddle/core/image/plane';
import { cropOf, frameMix, framingOf, keptCrop } from '@zaddle/core/mix/frameMix';
import type { Mix, Sharpening } from '@zaddle/document';
import { encodeLayers } from './encodeLayers';
import { encodeJpeg, type DeliveryMeta } from './encodePicture';
import { encodeTiff } from './encodeTiff';
import { sharpenPicture } from './finishPixels';
import { PlainError } from './limits';
import { finishedDeepPicture, finishedPicture, linearPicture, type Rendering } from './rendering';
import type { WishKind } from './renderPicture';

/** Kinds of files: what their names end with, their media type, and what the largest is that is asked of a rendering for one. */
const FILES = {
  jpeg: { extension: 'jpg', type: 'image/jpeg', kind: 'encoded' },
  tiff16: { extension: 'tif', type: 'image/tiff', kind: 'deep' },
  tiff32: { extension: 'tif', type: 'image/tiff', kind: 'linear' },
  openraster: { extension: 'ora', type: 'image/openraster', kind: 'deep' },
} as const satisfies Readonly<Record<string, { readonly extension: string; readonly type: string; readonly kind: WishKind }>>;

/** What is delivered of each picture. */
export interface Order {
  readonly file: keyof typeof FILES;
  /** Width over height, its inverse for tall pictures; null: as the picture is. */
  readonly ratio: number | null;
  /** Pixels of the longer side at most, or null for its full size; never enlarged. */
  readonly longerSide: number | null;
  /** Bytes of the file at most, or null. */
  readonly mostBytes: number | null;
  /** Pixels an inch that the file says of itself, or null. */
  readonly ppi: number | null;
}

/** Orders that ship. */
export const ORDERS: Readonly<Record<string, Order>> = {
  full: { file: 'jpeg', ratio: null, longerSide: null, mostBytes: null, ppi: null },
  listing: { file: 'jpeg', ratio: 4 / 3, longerSide: 2048, mostBytes: 2_000_000, ppi: null },
  web: { file: 'jpeg', ratio: null, longerSide: 2048, mostBytes: null, ppi: null },
  print: { file: 'jpeg', ratio: 3 / 2, longerSide: null, mostBytes: null, ppi: 300 },
  master: { file: 'tiff16', ratio: null, longerSide: null, mostBytes: null, ppi: 300 },
  linear: { file: 'tiff32', ratio: null, longerSide: null, mostBytes: null, ppi: 300 },
  layers: { file: 'openraster', ratio: null, longerSide: null, mostBytes: null, ppi: 300 },
};

/** The kind of file that an order asks for. */
export const fileKind = ({ file }: Order): (typeof FILES)[keyof typeof FILES] => FILES[file];

/** What a file of an order is called, after the name of its picture. @param name of the order; null where a picture is delivered by this one only, and its own name says enough */
export const fileName = (stem: string, order: Order, name: string | null): string => `${stem}${name === null ? '' : `-${name}`}.${fileKind(order).extension}`;

/** Quality that files have where nobody says otherwise, and the least that a limit of bytes may bring it to. */
export const QUALITY = 95;
const LEAST_QUALITY = 40;
const STEP = 5;
/** Pictures made this much smaller are sharpened once more, for their size. */
const SMALLER = 0.75;
const FOR_SIZE: Sharpening = { ...USUAL_SHARPENING, amount: 0.4, radius: 0.6 };

/** A mix as an order shows it: cropped to its ratio, about the middle that it has, as large as fits. */
export function inOrder<M extends Mix>(mix: M, { ratio }: Order): M {
  if (ratio === null) return mix;
  const framing = framingOf(mix);
  const wished = mix.height > mix.width ? 1 / ratio : ratio;
  if (!framing.crop) return { ...mix, ...frameMix(mix, { ...framing, ratio: wished }) };
  // Within what a person has cropped nothing is shown again that was cut off.
  const { x, y, width, height } = cropOf(mix, framing);
  const size = width / height > wished ? { width: height * wished, height } : { width, height: width / wished };
  return { ...mix, ...frameMix(mix, { ...framing, ratio: wished, crop: keptCrop(mix, framing, { x, y, ...size }) }) };
}

/** A finished picture at an order's size; not enlarged. @param sharpened it is to be sharp: once more at a smaller size */
async function atSize(pixels: Pixels, { ratio, longerSide }: Order, sharpened: boolean): Promise<Pixels> {
  const k = longerSide === null ? 1 : Math.min(1, longerSide / Math.max(pixels.width, pixels.height));
  if (k === 1) return pixels;
  const isTall = pixels.height > pixels.width;
  const other = ratio === null ? Math.round(Math.min(pixels.width, pixels.height) * k) : Math.round(longerSide! / ratio);
  const [width, height] = isTall ? [other, longerSide!] : [longerSide!, other];
  const data = await sharp(pixels.data as Uint8Array, { raw: { width: pixels.width, height: pixels.height, channels: 3 } }).resize(width, height, { fit: 'fill', kernel: 'lanczos3' }).raw().toBuffer();
  const smaller = { width, height, data: new Uint8Array(data) };
  return sharpened && k < SMALLER ? sharpenPicture(smaller, FOR_SIZE, 1) : smaller;
}

/** A file that was made, and the size of its picture. */
export interface MadeFile {
  readonly file: Buffer;
  readonly width: number;
  readonly height: number;
}

/**
 * A finished picture as the JPEG that an order asks for. @param mix that it is a picture of. @param best quality, 1..100, that it has unless that makes it too large
 * @throws PlainError where no quality is small enough for its limit of bytes.
 */
export async function jpegOfOrder(pixels: Pixels, { sharpening }: Pick<Mix, 'sharpening'>, order: Order, best: number, meta: OrderMeta): Promise<MadeFile> {
  const sized = await atSize(pixels, order, Boolean(sharpening));
  for (let quality = best; quality >= Math.min(best, LEAST_QUALITY); quality -= STEP) {
    const file = await encodeJpeg(sized, quality, { ...meta, longerSide: null, ppi: order.ppi });
    if (order.mostBytes === null || file.length <= order.mostBytes) return { file, width: sized.width, height: sized.height };
  }
  throw new PlainError(`No JPEG of this picture is smaller than the ${order.mostBytes! / 1e6} MB that the order allows. Deliver it smaller.`);
}

type OrderMeta = Omit<DeliveryMeta, 'longerSide' | 'ppi'>;

/** The file that an order asks for of a mix that is at hand at full size, in that order's crop. @throws PlainError where it cannot be made */
export async function fileOfOrder(rendering: Rendering, order: Order, quality: number, meta: OrderMeta): Promise<MadeFile> {
  const tiff = { ...meta, ppi: order.ppi };
  switch (order.file) {
    case 'jpeg': return jpegOfOrder(await finishedPicture(rendering), rendering.prepared.mix, order, quality, meta);
    case 'tiff16': return { ...rendering.size, file: await encodeTiff(await finishedDeepPicture(rendering), tiff) };
    case 'tiff32': return { ...rendering.size, file: await encodeTiff(await linearPicture(rendering), tiff) };
    case 'openraster': return { ...rendering.size, file: await encodeLayers(rendering) };
  }
}
