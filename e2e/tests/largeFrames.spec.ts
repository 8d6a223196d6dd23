import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import sharp, { type Sharp } from 'sharp';
import { onScreen, screenPixels, settled } from '../canvas';
import { address, delivered, shootOf } from '../shoot';

/*
 * Frames as large as cameras make them, on a large screen: at every zoom the picture gets sharp, and is what is delivered.
 */

const [WIDTH, HEIGHT] = [6000, 4000];

/** Waits until the visible part is shown, made from the originals' pixels at a level. */
async function sharpAt(page: Page, level: number): Promise<void> {
  await expect(page.getByTestId('stage')).toHaveAttribute('data-level', String(level));
  await expect(page.getByTestId('stage')).toHaveAttribute('data-settled', 'true');
}

/** Mean difference of two pictures in 0..255, and the share of values that differ by more than 4. */
function difference(a: Uint8Array, b: Uint8Array): { mean: number; far: number } {
  let [sum, far] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    const d = Math.abs(a[i] - b[i]);
    sum += d;
    if (d > 4) far++;
  }
  return { mean: sum / a.length, far: far / a.length };
}

test('24-megapixel frames on 1920 × 1080 are sharp at every zoom; whole and at 1:1 they are what is delivered', async ({ page, request }) => {
  await page.setViewportSize({ width: 1920, height: 1080 });
  const card = process.env.ZADDLE_CARD!;
  const files = await Promise.all(readdirSync(card).sort().slice(0, 3).map(async (name) => ({ name, data: await sharp(join(card, name)).resize(WIDTH, HEIGHT, { kernel: 'cubic' }).keepExif().jpeg({ quality: 92 }).toBuffer() })));
  const [shot] = await shootOf(request, 'Twenty-four megapixels', files);
  const refused: string[] = [];
  page.on('response', (response) => { if (response.status() >= 400) refused.push(`${response.status()} ${response.url()}`); });
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  const whole = await screenPixels(page);
  const stage = page.getByTestId('stage');
  const box = (await stage.boundingBox())!;
  // From the whole picture inwards, a bit at a time: a level is chosen for each zoom, none is refused.
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  for (const [wheel, level] of [[-330, 1], [-200, 1], [-200, 0], [-200, 0]] as const) {
    await page.mouse.wheel(0, wheel);
    await expect(async () => expect(Number(await stage.getAttribute('data-scale')) > 0.5).toBe(level === 0)).toPass({ timeout: 5000 });
    await sharpAt(page, level);
  }
  await page.keyboard.press('e');
  await expect(stage).toHaveAttribute('data-scale', '1');
  // It was sharp at this level before the key, too.
  await settled(page);
  await sharpAt(page, 0);
  const seen = await screenPixels(page);
  const [x, y] = (await stage.getAttribute('data-view'))!.split(' ').map(Number);
  expect(refused).toEqual([]);

  const file = await delivered(request, shot);
  const [width, height] = [Math.min(seen.width, 1200), Math.min(seen.height, 700)];
  const left = Math.round(Math.max(0, -x));
  const top = Math.round(Math.max(0, -y));
  const there = await sharp(file).extract({ left, top, width, height }).removeAlpha().raw().toBuffer();
  const here = await sharp(seen.data, { raw: { width: seen.width, height: seen.height, channels: 3 } }).extract({ left: 0, top: 0, width, height }).raw().toBuffer();
  const close = difference(here, there);
  expect(close.mean).toBeLessThanOrEqual(1);
  // At one scale: both as small as can be compared without the last detail, which a smaller picture cannot have.
  const scaled = async (picture: Sharp): Promise<Buffer> => picture.resize(360, 240, { fit: 'fill', kernel: 'lanczos3' }).removeAlpha().raw().toBuffer();
  const far = difference(await scaled(sharp(whole.data, { raw: { width: whole.width, height: whole.height, channels: 3 } })), await scaled(sharp(file).toColourspace('srgb')));
  expect(far.mean).toBeLessThanOrEqual(1);
});

test('a dab at full size lies where the pointer is, to a quarter of a pixel, on the screen and in the delivery', async ({ page, request }) => {
  const grey = await sharp({ create: { width: WIDTH, height: HEIGHT, channels: 3, background: '#aaa' } }).jpeg({ quality: 95 }).toBuffer();
  const [shot] = await shootOf(request, 'A grey card', [{ name: 'grey.jpg', data: grey }]);
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  await page.keyboard.press('e');
  await sharpAt(page, 0);
  await page.getByRole('group', { name: /^Pass Ambient/ }).locator('.name').click();
  await page.keyboard.press('o');
  for (let k = 0; k < 6; k++) await page.keyboard.press(',');
  const stage = page.getByTestId('stage');
  const box = (await stage.boundingBox())!;
  const [px, py] = [box.x + 311, box.y + 207];
  await page.mouse.move(px, py);
  await page.mouse.down();
  await page.mouse.up();
  await expect(page.getByText('Brush, 1 stroke')).toBeVisible();
  await settled(page);
  /** Where what became dark lies, pixel centres as integers. */
  const middle = ({ width, height, data }: { width: number; height: number; data: Buffer }): [number, number] => {
    const base = data[0];
    let [sum, sx, sy] = [0, 0, 0];
    for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) {
      const d = Math.max(0, base - data[(y * width + x) * 3] - 4);
      sum += d;
      sx += d * x;
      sy += d * y;
    }
    expect(sum).toBeGreaterThan(1000);
    return [sx / sum, sy / sum];
  };
  // The tip of the pointer is a point between pixels: the middle of a pixel lies half a pixel on.
  const [vx, vy] = (await stage.getAttribute('data-view'))!.split(' ').map(Number);
  const screen = await screenPixels(page);
  const onScreen = middle(screen);
  expect(Math.abs(onScreen[0] + 0.5 - 311)).toBeLessThan(0.25);
  expect(Math.abs(onScreen[1] + 0.5 - 207)).toBeLessThan(0.25);
  const { data, info } = await sharp(await delivered(request, shot)).extract({ left: Math.round(311 - vx) - 300, top: Math.round(207 - vy) - 300, width: 600, height: 600 }).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const inFile = middle({ width: info.width, height: info.height, data });
  expect(Math.abs(Math.round(311 - vx) - 300 + inFile[0] + 0.5 - (311 - vx))).toBeLessThan(0.25);
  expect(Math.abs(Math.round(207 - vy) - 300 + inFile[1] + 0.5 - (207 - vy))).toBeLessThan(0.25);
});

test('a box that was drawn roughly is moved onto edges in the pixels of the originals, where proxies are four times as coarse', async ({ page, request }) => {
  // A dark board on a light wall, its edges between pixels, as places of pixel centres.
  const board = [[1500.3, 1100.7], [4300.6, 1108.2], [4295.4, 3004.8], [1507.9, 2997.1]];
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}"><rect width="100%" height="100%"/><polygon points="${board.map(([x, y]) => `${x + 0.5},${y + 0.5}`).join(' ')}" fill="#fff"/></svg>`;
  const covered = await sharp(Buffer.from(svg)).extractChannel(0).blur(0.6).raw().toBuffer();
  // As a lens spreads light, not its encoding.
  const encoded = Array.from({ length: 256 }, (_, c) => Math.round(255 * (1.055 * (0.06 * (c / 255) + 0.5 * (1 - c / 255)) ** (1 / 2.4) - 0.055)));
  const jpeg = await sharp(covered.map((c) => encoded[c]), { raw: { width: WIDTH, height: HEIGHT, channels: 1 } }).toColourspace('srgb').jpeg({ quality: 95 }).toBuffer();
  const [shot] = await shootOf(request, 'A board', [{ name: 'board.jpg', data: jpeg }]);
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  await page.getByRole('group', { name: /^Pass Ambient/ }).locator('.name').click();
  await page.keyboard.press('x');
  await page.mouse.move(...(await onScreen(page, 1511, 1094)));
  await page.mouse.down();
  await page.mouse.move(...(await onScreen(page, 4288, 3012)), { steps: 5 });
  await page.mouse.up();
  await page.keyboard.press('Escape');
  await page.locator('.area .named').click();
  const corners = async (): Promise<number[][]> => {
    const { mix } = (await (await request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: { passes: { mask: { corners?: number[][] }[] }[] } } };
    return (mix.document.passes[0].mask[0]?.corners ?? []).map((at) => at.map((v) => v * WIDTH));
  };
  await expect.poll(async () => (await corners()).length).toBe(4);
  const drawn = JSON.stringify(await corners());
  await page.getByRole('button', { name: 'Snap to edges' }).click();
  await expect.poll(async () => JSON.stringify(await corners()), { timeout: 20_000 }).not.toBe(drawn);
  (await corners()).forEach(([x, y], k) => expect(Math.hypot(x - board[k][0], y - board[k][1])).toBeLessThan(0.3));
});
