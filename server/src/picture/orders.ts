import sharp from 'sharp';
import { USUAL_SHARPENING } from '@zaddle/core/finish/sharpen';
import type { Pixels } from '@zaddle/core/image/plane';
import { orderSize } from '@zaddle/core/mix/orderMix';
import { ORDER_EXTENSIONS, SHIPPED_ORDERS, type Mix, type NamingOrder, type Order, type OrderFile, type Sharpening } from '@zaddle/document';
import { encodeLayers } from './encodeLayers';
import type { DeliveryMeta } from './deliveryMeta';
import { encodeDeepPng, encodeImage, type EightBitFile } from './encodePicture';
import { encodeOpenExr } from './encodeOpenExr';
import { encodeRadiance } from './encodeRadiance';
import { encodeTiff } from './encodeTiff';
import { sharpenPicture } from './finishPixels';
import { PlainError } from './limits';
import { finishedDeepPicture, finishedPicture, linearPicture, type Rendering } from './rendering';
import type { WishKind } from './renderPicture';

/** Kinds of files: their media type, and what the largest is that is asked of a rendering for one. */
const FILES = {
  jpeg: { type: 'image/jpeg', kind: 'encoded' },
  png: { type: 'image/png', kind: 'encoded' },
  webp: { type: 'image/webp', kind: 'encoded' },
  avif: { type: 'image/avif', kind: 'encoded' },
  tiff8: { type: 'image/tiff', kind: 'encoded' },
  png16: { type: 'image/png', kind: 'deep' },
  tiff16: { type: 'image/tiff', kind: 'deep' },
  tiff32: { type: 'image/tiff', kind: 'linear' },
  radiance: { type: 'image/vnd.radiance', kind: 'linear' },
  openexr: { type: 'image/x-exr', kind: 'linear' },
  openraster: { type: 'image/openraster', kind: 'deep' },
} as const satisfies Readonly<Record<OrderFile, { readonly type: string; readonly kind: WishKind }>>;

/** Orders that ship. */
export const ORDERS: Readonly<Record<string, Order>> = Object.fromEntries(Object.entries(SHIPPED_ORDERS).map(([name, { order }]) => [name, order]));

/** The kind of file that an order asks for. */
export const fileKind = ({ file }: Order): (typeof FILES)[keyof typeof FILES] => FILES[file];

/** An order as its files are named by. @param name that it goes by @param alone pictures are delivered by this one only, or it is the plain one */
export const namingOf = (name: string, order: Order, alone: boolean): NamingOrder => ({ name, naming: order.naming, extension: ORDER_EXTENSIONS[order.file], client: order.client, alone });

/** Quality that files have where nobody says otherwise, and the least that a limit of bytes may bring it to. */
export const QUALITY = 95;
const LEAST_QUALITY = 40;
const STEP = 5;
/** Pictures made this much smaller are sharpened once more, for their size. */
const SMALLER = 0.75;
const FOR_SIZE: Sharpening = { ...USUAL_SHARPENING, amount: 0.4, radius: 0.6 };

/** A finished picture at an order's size; not enlarged. @param sharpened it is to be sharp: once more at a smaller size */
async function atSize(pixels: Pixels, order: Order, sharpened: boolean): Promise<Pixels> {
  const { width, height, scale } = orderSize(pixels, order);
  if (scale === 1) return pixels;
  const data = await sharp(pixels.data as Uint8Array, { raw: { width: pixels.width, height: pixels.height, channels: 3 } }).resize(width, height, { fit: 'fill', kernel: 'lanczos3' }).raw().toBuffer();
  const smaller = { width, height, data: new Uint8Array(data) };
  return sharpened && scale < SMALLER ? sharpenPicture(smaller, FOR_SIZE, 1) : smaller;
}

/** A file that was made, and the size of its picture. */
export interface MadeFile {
  /** What is in it; or, of very large ones, where it lies: the caller's to move. */
  readonly file: Buffer | string;
  readonly width: number;
  readonly height: number;
}

/**
 * A finished picture, in colours of an order's profile, as the file of 8 bit a channel that an order asks for. @param mix that it is a picture of. @param usual quality, 1..100, of orders that say none; less where that makes it too large
 * @throws PlainError where no quality is small enough for its limit of bytes.
 */
export async function imageOfOrder(pixels: Pixels, { sharpening }: Pick<Mix, 'sharpening'>, order: Order & { readonly file: EightBitFile }, usual: number, meta: OrderMeta): Promise<MadeFile & { readonly file: Buffer }> {
  const sized = await atSize(pixels, order, Boolean(sharpening));
  const best = order.quality ?? usual;
  const encoded = (quality: number): Promise<Buffer> => encodeImage(sized, { file: order.file, quality, profile: order.profile }, { ...meta, ppi: order.ppi, words: order.words });
  const fits = (file: Buffer): boolean => order.mostBytes === null || file.length <= order.mostBytes;
  const first = await encoded(best);
  if (fits(first)) return { file: first, width: sized.width, height: sized.height };
  // The best that fits, by halves: encoding a large picture takes seconds.
  let found: Buffer | null = null;
  let [low, high] = [1, Math.floor((best - Math.min(best, LEAST_QUALITY)) / STEP)];
  while (low <= high) {
    const middle = (low + high) >> 1;
    const file = await encoded(best - STEP * middle);
    if (fits(file)) [found, high] = [file, middle - 1];
    else low = middle + 1;
  }
  if (found) return { file: found, width: sized.width, height: sized.height };
  throw new PlainError(`No file of this picture is smaller than the ${order.mostBytes! / 1e6} MB that the order allows. Deliver it smaller.`);
}

/** What is told of a picture whatever the order. */
type OrderMeta = Omit<DeliveryMeta, 'ppi' | 'words'>;

/** The file that an order asks for of a mix that is at hand at full size, in that order's crop. @param folder where large ones may lie @throws PlainError where it cannot be made */
export async function fileOfOrder(rendering: Rendering, order: Order, quality: number, meta: OrderMeta, folder: string): Promise<MadeFile> {
  const tiff = { ...meta, ppi: order.ppi, words: order.words };
  switch (order.file) {
    case 'png16': return { ...rendering.size, file: await encodeDeepPng(await finishedDeepPicture(rendering, order.profile), tiff, order.profile) };
    case 'tiff16': return { ...rendering.size, file: await encodeTiff(await finishedDeepPicture(rendering, order.profile), tiff, order.profile) };
    case 'tiff32': return { ...rendering.size, file: await encodeTiff(await linearPicture(rendering), tiff) };
    case 'radiance': return { ...rendering.size, file: encodeRadiance(await linearPicture(rendering), tiff) };
    case 'openexr': return { ...rendering.size, file: encodeOpenExr(await linearPicture(rendering), tiff) };
    case 'openraster': return { ...rendering.size, file: await encodeLayers(rendering, folder) };
    default: return imageOfOrder(await finishedPicture(rendering, order.profile), rendering.prepared.mix, { ...order, file: order.file }, quality, meta);
  }
}
