import Joi from 'joi';
import { wholeText } from './fields';
import { NAME_TOKENS, tokensOf } from './orderNames';

/** Kinds of files that pictures are delivered as. */
export const ORDER_FILES = ['jpeg', 'png', 'webp', 'avif', 'tiff8', 'png16', 'tiff16', 'tiff32', 'radiance', 'openexr', 'openraster'] as const;
export type OrderFile = (typeof ORDER_FILES)[number];
/** What their names end with. */
export const ORDER_EXTENSIONS: Readonly<Record<OrderFile, string>> = { jpeg: 'jpg', png: 'png', webp: 'webp', avif: 'avif', tiff8: 'tif', png16: 'png', tiff16: 'tif', tiff32: 'tif', radiance: 'hdr', openexr: 'exr', openraster: 'ora' };
/** Kinds that are 8 bit a channel: they may be made smaller. */
export const isEightBit = (file: OrderFile): boolean => file === 'png' || file === 'tiff8' || isLossy(file);
/** Kinds that are smaller the less they keep. */
export const isLossy = (file: OrderFile): boolean => file === 'jpeg' || file === 'webp' || file === 'avif';

/** Colours that numbers of a file stand for: sRGB, Display P3, or opRGB (IEC 61966-2-5), a wide one for print. */
export type OutputProfile = 'srgb' | 'p3' | 'oprgb';
/** Kinds that may have colours of any of them. */
export const hasProfile = (file: OrderFile): boolean => isEightBit(file) || file === 'png16' || file === 'tiff16';

/** What a file says of itself, in EXIF and XMP; empty: nothing. */
export interface OrderWords {
  /** What the picture is called: the same tokens as in names. */
  readonly title: string;
  readonly creator: string;
  readonly copyright: string;
}

/** What is delivered of each picture: one file. */
export interface Order {
  /** Whom it is for; nothing: nobody in particular. */
  readonly client?: string;
  readonly file: OrderFile;
  /** Width over height, its inverse for tall pictures; null: as the picture is. */
  readonly ratio: number | null;
  /** Pixels of the longer side at most, or null for its full size; never enlarged. */
  readonly longerSide: number | null;
  /** Millions of pixels at most, or null. */
  readonly megapixels: number | null;
  /** Bytes of the file at most, or null. */
  readonly mostBytes: number | null;
  /** 1..100, or null for what is usual. */
  readonly quality: number | null;
  /** Colours that its numbers stand for. */
  readonly profile: OutputProfile;
  /** Pixels an inch that the file says of itself, or null. */
  readonly ppi: number | null;
  /** What files are called, without the ending, with tokens in braces; null: the shot's label, and the order's name where there are several. */
  readonly naming: string | null;
  readonly words: OrderWords;
}

/** An order that is kept, or exchanged as a file. */
export interface NamedOrder {
  readonly format: 'zaddle-order';
  readonly version: 1;
  readonly name: string;
  readonly order: Order;
}

const PLAIN: Order = { file: 'jpeg', ratio: null, longerSide: null, megapixels: null, mostBytes: null, quality: null, profile: 'srgb', ppi: null, naming: null, words: { title: '', creator: '', copyright: '' } };
const FULL_SIZE = { ...PLAIN, ppi: 300 };

/** Orders that ship, by the names that they go by. */
export const SHIPPED_ORDERS = {
  full: { label: 'Full size', order: PLAIN },
  listing: { label: 'Listing', order: { ...PLAIN, ratio: 4 / 3, longerSide: 2048, mostBytes: 2_000_000 } },
  web: { label: 'Web', order: { ...PLAIN, longerSide: 2048 } },
  print: { label: 'Print', order: { ...FULL_SIZE, ratio: 3 / 2 } },
  master: { label: 'Master', order: { ...FULL_SIZE, file: 'tiff16' } },
  linear: { label: 'Linear light', order: { ...FULL_SIZE, file: 'tiff32' } },
  layers: { label: 'Layers', order: { ...FULL_SIZE, file: 'openraster' } },
} as const satisfies Readonly<Record<string, { readonly label: string; readonly order: Order }>>;

const only = (kinds: readonly OrderFile[], schema: Joi.Schema, words: string): Joi.Schema => Joi.when('file', { is: Joi.valid(...kinds), then: schema, otherwise: Joi.valid(null).default(null).messages({ 'any.only': `{{#label}} is for orders of ${words}` }) });
const eightBit = ORDER_FILES.filter(isEightBit);
const lossy = ORDER_FILES.filter(isLossy);
const pattern = Joi.string().trim().max(200).custom(wholeText).custom((text: string, helpers) => {
  const unknown = tokensOf(text).find(({ token }) => !(NAME_TOKENS as readonly string[]).includes(token));
  return unknown ? helpers.message({ custom: '{{#label}} has {{#token}}, which is no token: there are {{#known}}' }, { token: `{${unknown.token}}`, known: NAME_TOKENS.map((token) => `{${token}}`).join(', ') }) : text;
});
const words = Joi.string().trim().max(200).allow('').custom(wholeText);

/** What an order says; what is left out is as full size has it. */
const orderFields = {
  client: words,
  file: Joi.valid(...ORDER_FILES).default('jpeg'),
  ratio: Joi.number().min(0.2).max(5).allow(null).default(null),
  longerSide: only(eightBit, Joi.number().integer().min(200).max(20_000).allow(null).default(null), 'JPEG, WebP, AVIF, and PNG and TIFF of 8 bit'),
  megapixels: only(eightBit, Joi.number().min(0.05).max(400).allow(null).default(null), 'JPEG, WebP, AVIF, and PNG and TIFF of 8 bit'),
  mostBytes: only(lossy, Joi.number().integer().min(20_000).max(1_000_000_000).allow(null).default(null), 'JPEG, WebP and AVIF'),
  quality: only(lossy, Joi.number().integer().min(30).max(100).allow(null).default(null), 'JPEG, WebP and AVIF'),
  profile: Joi.when('file', { is: Joi.valid(...ORDER_FILES.filter(hasProfile)), then: Joi.valid('srgb', 'p3', 'oprgb').default('srgb'), otherwise: Joi.valid('srgb').default('srgb').messages({ 'any.only': '{{#label}}: files of this kind are sRGB' }) }),
  ppi: Joi.number().min(1).max(4800).allow(null).default(null),
  naming: pattern.allow(null).default(null),
  words: Joi.object({ title: pattern.allow('').default(''), creator: words.default(''), copyright: words.default('') }).default({ title: '', creator: '', copyright: '' }),
};

/** Joi schema of a kept order: as a file, or over the wire. */
export const namedOrderSchema = Joi.object({
  format: Joi.valid('zaddle-order').required(),
  version: Joi.valid(1).required(),
  name: Joi.string().trim().min(1).max(60).custom(wholeText).required(),
  ...orderFields,
});

/** A kept order as a file has it: its fields beside its name. */
export type OrderAsFile = Omit<NamedOrder, 'order'> & Order;
export const asFile = (name: string, order: Order): OrderAsFile => ({ format: 'zaddle-order', version: 1, name, ...order });
export const fromFile = ({ format, version, name, ...order }: OrderAsFile): NamedOrder => ({ format, version, name, order });
