import type { Mix, Order } from '@zaddle/document';
import { cropOf, frameMix, framingOf, keptCrop } from './frameMix';

/** A mix as an order shows it: cropped to its ratio, about the middle that it has, as large as fits. */
export function inOrder<M extends Mix>(mix: M, { ratio }: Pick<Order, 'ratio'>): M {
  if (ratio === null) return mix;
  const framing = framingOf(mix);
  const wished = mix.height > mix.width ? 1 / ratio : ratio;
  if (!framing.crop) return { ...mix, ...frameMix(mix, { ...framing, ratio: wished }) };
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
