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

/** How the picture lies on the stage: offset and scale. */
async function viewOf(page: Page): Promise<{ x: number; y: number; scale: number }> {
  const [x, y, scale] = (await page.getByTestId('stage').getAttribute('data-view'))!.split(' ').map(Number);
  return { x, y, scale };
}

/** Pixels of the canvas as they are on the screen, RGB. */
export async function screenPixels(page: Page): Promise<Raster> {
  const png = await page.getByTestId('preview').evaluate(async (element) => {
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

/** The whole picture as it is on the screen, brought to its own size, so that places are those of the picture. */
export async function canvasPixels(page: Page, width = 1500, height = 1000): Promise<Raster> {
  const { width: w, height: h, data } = await screenPixels(page);
  const { scale } = await viewOf(page);
  // The last row and column of the screen may lie beyond the picture in part.
  const [fullWidth, fullHeight] = [Math.max(width, Math.round(w / scale)), Math.max(height, Math.round(h / scale))];
  const large = await sharp(data, { raw: { width: w, height: h, channels: 3 } }).resize(fullWidth, fullHeight, { fit: 'fill', kernel: 'cubic' }).raw().toBuffer();
  const out = await sharp(large, { raw: { width: fullWidth, height: fullHeight, channels: 3 } }).extract({ left: 0, top: 0, width, height }).raw().toBuffer();
  return { width, height, data: out };
}

/** Mean green of a square. */
export const meanIn = ({ width, data }: Raster, x0: number, y0: number, size: number): number => {
  let sum = 0;
  for (let y = y0; y < y0 + size; y++) for (let x = x0; x < x0 + size; x++) sum += data[(y * width + x) * 3 + 1];
  return sum / size ** 2;
};

/** Screen position of a pixel of the picture. */
export async function onScreen(page: Page, x: number, y: number): Promise<[number, number]> {
  const stage = (await page.getByTestId('stage').boundingBox())!;
  const view = await viewOf(page);
  return [stage.x + view.x + (x + 0.5) * view.scale, stage.y + view.y + (y + 0.5) * view.scale];
}

/** Draws a line by hand round a place, Shift held. @param points of the picture */
export async function drawRound(page: Page, points: readonly (readonly [number, number])[]): Promise<void> {
  const places = await Promise.all(points.map(([x, y]) => onScreen(page, x, y)));
  await page.keyboard.down('Shift');
  await page.mouse.move(...places[0]);
  await page.mouse.down();
  for (const [x, y] of [...places.slice(1), places[0]]) await page.mouse.move(x, y, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Shift');
}
