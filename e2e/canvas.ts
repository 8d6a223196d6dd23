import { expect, type Page } from '@playwright/test';
import sharp from 'sharp';

/** A picture as plain RGB. */
export interface Raster { width: number; height: number; data: Buffer }

/** Waits until what is on the canvas is the settled picture of the mix as it stands. */
export async function settled(page: Page): Promise<void> {
  // A change reaches the stage a moment after its key or click.
  await page.waitForTimeout(400);
  await expect(page.getByTestId('stage')).toHaveAttribute('data-settled', 'true');
}

/** Pixels of the picture's canvas, or of that of the visible part, RGB. */
export async function canvasPixels(page: Page, which: 'preview' | 'detail' = 'preview'): Promise<Raster> {
  const png = await page.getByTestId(which).evaluate(async (element) => {
    const from = element as HTMLCanvasElement;
    const copy = new OffscreenCanvas(from.width, from.height);
    copy.getContext('2d')!.drawImage(from, 0, 0);
    const bytes = new Uint8Array(await (await copy.convertToBlob({ type: 'image/png' })).arrayBuffer());
    let text = '';
    for (let i = 0; i < bytes.length; i += 32768) text += String.fromCharCode(...bytes.subarray(i, i + 32768));
    return btoa(text);
  });
  const { data, info } = await sharp(Buffer.from(png, 'base64')).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

/** Mean green of a square. */
export const meanIn = ({ width, data }: Raster, x0: number, y0: number, size: number): number => {
  let sum = 0;
  for (let y = y0; y < y0 + size; y++) for (let x = x0; x < x0 + size; x++) sum += data[(y * width + x) * 3 + 1];
  return sum / size ** 2;
};

/** Screen position of a pixel of the preview. */
export async function onScreen(page: Page, x: number, y: number): Promise<[number, number]> {
  const box = (await page.getByTestId('preview').boundingBox())!;
  const { width, height } = await page.getByTestId('preview').evaluate((c) => ({ width: (c as HTMLCanvasElement).width, height: (c as HTMLCanvasElement).height }));
  return [box.x + (x / width) * box.width, box.y + (y / height) * box.height];
}
