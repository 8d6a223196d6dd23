import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type APIRequestContext, type Page } from '@playwright/test';
import sharp from 'sharp';
import { canvasPixels, settled } from '../canvas';

/*
 * Frames as large as cameras make them, on a large screen: at every zoom the picture gets sharp.
 */

const WIDTH = 6000;
const HEIGHT = 4000;
const address = (path = ''): string => process.env.ZADDLE_URL! + path.replace(/^\//, '');

/** A shoot of one shot, its frames enlarged to 24 megapixels. @returns the shot's id */
async function largeShot(request: APIRequestContext): Promise<string> {
  const shoot = ((await (await request.post(address('/api/shoots'), { data: { name: 'Twenty-four megapixels' } })).json()) as { id: string }).id;
  const card = process.env.ZADDLE_CARD!;
  for (const name of readdirSync(card).sort().slice(0, 3)) {
    const file = await sharp(join(card, name)).resize(WIDTH, HEIGHT, { kernel: 'cubic' }).keepExif().jpeg({ quality: 92 }).toBuffer();
    expect((await request.post(address(`/api/shoots/${shoot}/frames?name=${name}`), { data: file, headers: { 'Content-Type': 'image/jpeg' } })).status()).toBe(201);
  }
  let shots: { id: string; state: string }[] = [];
  await expect.poll(async () => (shots = ((await (await request.get(address(`/api/shoots/${shoot}`))).json()) as { shots: typeof shots }).shots).map((s) => s.state).join(), { timeout: 200_000 }).toBe('mixed');
  return shots[0].id;
}

/** Waits until the visible part is shown at a level, made from the originals. */
const sharpAt = async (page: Page, level: number): Promise<void> => {
  await expect(page.getByTestId('detail')).toHaveAttribute('data-level', String(level));
  await expect(page.getByTestId('detail')).toBeVisible();
};

test('24-megapixel frames on 1920 × 1080 are sharp at every zoom, and 1:1 is what is delivered', async ({ page, request }) => {
  await page.setViewportSize({ width: 1920, height: 1080 });
  const shot = await largeShot(request);
  const refused: string[] = [];
  page.on('response', (response) => { if (response.status() >= 400) refused.push(`${response.status()} ${response.url()}`); });
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  const stage = page.getByTestId('stage');
  const box = (await stage.boundingBox())!;
  const [cx, cy] = [box.x + box.width / 2, box.y + box.height / 2];
  // From the whole picture inwards, a bit at a time: a level is chosen for each zoom, none is refused.
  await page.mouse.move(cx, cy);
  for (const [wheel, level] of [[-300, 1], [-200, 1], [-200, 0], [-200, 0]] as const) {
    await page.mouse.wheel(0, wheel);
    await expect(async () => expect(Number(await stage.getAttribute('data-scale')) > 0.5).toBe(level === 0)).toPass({ timeout: 5000 });
    await sharpAt(page, level);
  }
  await page.keyboard.press('e');
  await expect(stage).toHaveAttribute('data-scale', '1');
  await sharpAt(page, 0);
  expect(refused).toEqual([]);

  // The same place of the delivered file.
  const place = await page.getByTestId('detail').evaluate((element) => {
    const { x, y } = element.getBoundingClientRect();
    const preview = document.querySelector('[data-testid="preview"]')!.getBoundingClientRect();
    return { x: Math.round(x - preview.x), y: Math.round(y - preview.y) };
  });
  const seen = await canvasPixels(page, 'detail');
  const { ids } = (await (await request.post(address('/api/deliveries'), { data: { shots: [shot], quality: 100 } })).json()) as { ids: string[] };
  await expect.poll(async () => ((await (await request.get(address('/api/deliveries'))).json()) as { id: string; state: string }[]).find((d) => d.id === ids[0])?.state, { timeout: 200_000 }).toBe('done');
  const file = await (await request.get(address(`/api/deliveries/${ids[0]}/file`))).body();
  const width = Math.min(seen.width, 1200);
  const height = Math.min(seen.height, 700);
  const delivered = await sharp(file).extract({ left: place.x, top: place.y, width, height }).removeAlpha().raw().toBuffer();
  let sum = 0;
  for (let y = 0; y < height; y++) for (let i = 0; i < width * 3; i++) sum += Math.abs(delivered[y * width * 3 + i] - seen.data[y * seen.width * 3 + i]);
  expect(sum / delivered.length).toBeLessThan(1);
});
