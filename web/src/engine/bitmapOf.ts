/** Encoded pixels as the browser draws them, opaque. @param pixels RGBA */
export function bitmapOf(pixels: Uint8ClampedArray, width: number, height: number): ImageBitmap {
  const image = new ImageData(width, height);
  image.data.set(pixels);
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext('2d', { alpha: false })!.putImageData(image, 0, 0);
  return canvas.transferToImageBitmap();
}
