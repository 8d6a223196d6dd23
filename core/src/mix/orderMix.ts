import type { Crop, Framing, Mix, Order, OwnCrop } from '@zaddle/document';
import { cropOf, frameMix, framingOf, keptCrop } from './frameMix';

/** Ratios closer than this are one. */
const SAME_RATIO = 1e-6;
const isOf = (ratio: number) => (own: OwnCrop): boolean => Math.abs(own.ratio - ratio) < SAME_RATIO;

/** The ratio of an order as a picture is cropped to it: turned where that is taller than wide. */
const turned = ({ width, height }: Pick<Mix, 'width' | 'height'>, ratio: number): number => (height > width ? 1 / ratio : ratio);

/** The crop that was chosen by hand for orders of a ratio; null: none was. */
export const ownCropOf = (mix: Mix, ratio: number): Crop | null => framingOf(mix).ownCrops?.find(isOf(turned(mix, ratio)))?.crop ?? null;

/** A framing in which orders of a ratio have a crop of their own, or none any more. */
export function withOwnCrop(mix: Mix, framing: Framing, ratio: number, crop: Crop | null): Framing {
  const wished = turned(mix, ratio);
  const others = (framing.ownCrops ?? []).filter((own) => !isOf(wished)(own));
  const { ownCrops: _, ...plain } = framing;
  const ownCrops = crop ? [...others, { ratio: wished, crop }] : others;
  return ownCrops.length > 0 ? { ...plain, ownCrops } : plain;
}

/** A mix as an order shows it: in the crop that was chosen for its ratio; else cropped to it, about the middle that it has, as large as fits. */
export function inOrder<M extends Mix>(mix: M, { ratio }: Pick<Order, 'ratio'>): M {
  if (ratio === null) return mix;
  const framing = framingOf(mix);
  const wished = turned(mix, ratio);
  const own = ownCropOf(mix, ratio);
  if (own || !framing.crop) return { ...mix, ...frameMix(mix, { ...framing, ratio: wished, crop: own }) };
  // Within what a person has cropped nothing is shown again that was cut off.
  const { x, y, width, height } = cropOf(mix, framing);
  const size = width / height > wished ? { width: height * wished, height } : { width, height: width / wished };
  return { ...mix, ...frameMix(mix, { ...framing, ratio: wished, crop: keptCrop(mix, framing, { x, y, ...size }) }) };
}

interface Size {
  readonly width: number;
  readonly height: number;
}

/** The pixels that an order makes of a picture in its crop, never more than that has, and how much smaller that is, 0..1. */
export function orderSize({ width, height }: Size, { longerSide, megapixels, ratio }: Pick<Order, 'longerSide' | 'megapixels' | 'ratio'>): Size & { readonly scale: number } {
  const [long, short] = [Math.max(width, height), Math.min(width, height)];
  const scale = Math.min(1, longerSide === null ? 1 : longerSide / long, megapixels === null ? 1 : Math.sqrt((megapixels * 1e6) / (width * height)));
  if (scale === 1) return { width, height, scale };
  const longer = longerSide !== null && scale === longerSide / long ? longerSide : Math.floor(long * scale);
  const other = Math.max(1, ratio === null ? Math.round((short * longer) / long) : Math.round(longer / Math.max(ratio, 1 / ratio)));
  return height > width ? { width: other, height: longer, scale } : { width: longer, height: other, scale };
}
