import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import type { HealPass, MixDocument } from '@zaddle/document';
import { canvasPixels, onScreen, settled, type Raster } from '../canvas';
import { address, shootOf } from '../shoot';

/* Retouched from the picture itself. */

const [W, H] = [1500, 1000];
/** Dirt on the sensor: at the same places of all frames. */
const DIRT = [[604, 260, 11], [876, 258, 9]] as const;

/** A frame with dirt on its sensor. */
async function dirty(data: Buffer): Promise<Buffer> {
  const image = sharp(data).withMetadata();
  const spots = await Promise.all(DIRT.map(async ([x, y, r]) => ({ input: await sharp(Buffer.from(`<svg width="${2 * r + 4}" height="${2 * r + 4}"><circle cx="${r + 2}" cy="${r + 2}" r="${r}" fill="black" fill-opacity=".6"/></svg>`)).png().toBuffer(), left: x - r - 2, top: y - r - 2 })));
  return image.composite(spots).jpeg({ quality: 95 }).toBuffer();
}

let shot = '';
test.beforeAll(async ({ request }) => {
  const card = process.env.ZADDLE_CARD!;
  const files = readdirSync(card).sort().slice(-3);
  [shot] = await shootOf(request, 'Dust', await Promise.all(files.map(async (name) => ({ name, data: await dirty(readFileSync(join(card, name))) }))));
});

const bar = (page: Page) => page.getByTestId('spot-heal');
const saved = (page: Page) => expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');
const mixNow = async (page: Page): Promise<MixDocument> => ((await (await page.request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: MixDocument } }).mix.document;
const healsOf = (mix: MixDocument): HealPass[] => mix.passes.filter((pass): pass is HealPass => pass.kind === 'heal');
/** Mean green in a disc, and about it. */
function meanOf({ data }: Raster, x: number, y: number, from: number, to: number): number {
  let [sum, count] = [0, 0];
  for (let v = y - to; v <= y + to; v++) for (let u = x - to; u <= x + to; u++) {
    const d = Math.hypot(u - x, v - y);
    if (d < from || d > to) continue;
    sum += data[(v * W + u) * 3 + 1];
    count++;
  }
  return sum / count;
}
/** How much darker dirt is than what lies about it. */
const stain = (picture: Raster, [x, y, r]: (typeof DIRT)[number]): number => meanOf(picture, x, y, r + 6, r + 12) - meanOf(picture, x, y, 0, r - 3);
async function click(page: Page, x: number, y: number): Promise<void> {
  await page.mouse.click(...(await onScreen(page, x, y)));
  await expect(bar(page)).toHaveAttribute('data-working', 'false');
}
async function smallBrush(page: Page): Promise<void> {
  for (let k = 0; k < 6; k++) await page.keyboard.press(',');
}

test('a click heals a spot, the next one the next, both in one pass; delivered as on the screen; undo gives each back', async ({ page }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  const before = await canvasPixels(page);
  for (const spot of DIRT) expect(stain(before, spot)).toBeGreaterThan(20);
  await page.keyboard.press('\\');
  await expect(page.getByRole('status').filter({ hasText: 'Heal: click a spot' })).toBeVisible();
  await smallBrush(page);
  for (const [x, y] of DIRT) await click(page, x, y);
  await page.keyboard.press('Escape');
  await expect(bar(page)).toBeHidden();
  await saved(page);
  await settled(page);
  const after = await canvasPixels(page);
  for (const spot of DIRT) expect(Math.abs(stain(after, spot))).toBeLessThan(5);
  const heals = healsOf(await mixNow(page));
  expect(heals).toHaveLength(1);
  expect(heals[0]).toMatchObject({ name: 'Healed spots', within: 'clean-up' });
  expect(heals[0].mask).toHaveLength(2);
  // It is on record as what it is.
  await page.keyboard.press('Shift+C');
  await expect(page.getByRole('region', { name: 'What was changed' }).getByRole('listitem').first()).toHaveText(/made up from other places of the picture/);
  await page.keyboard.press('Shift+C');
  await page.keyboard.press('Control+z');
  await saved(page);
  expect(healsOf(await mixNow(page))[0].mask).toHaveLength(1);
  await page.keyboard.press('Control+z');
  await saved(page);
  expect(healsOf(await mixNow(page))).toEqual([]);
});

test('ways are gone through by arrows, the source is dragged, turned, mirrored; a reload has it as it was', async ({ page }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  await page.keyboard.press('\\');
  await smallBrush(page);
  const [x, y] = DIRT[0];
  await click(page, x, y);
  await expect(bar(page).getByRole('radio')).toHaveCount(3);
  await saved(page);
  const first = healsOf(await mixNow(page))[0].patches;
  await page.keyboard.press('ArrowRight');
  await expect(bar(page).getByRole('radio', { name: 'Way 2' })).toBeChecked();
  await saved(page);
  const second = healsOf(await mixNow(page))[0].patches;
  expect(second).not.toEqual(first);
  await page.keyboard.press('Escape');
  const handle = page.getByRole('button', { name: 'Source of piece 1' });
  const box = (await handle.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + 30, box.y + 25, { steps: 4 });
  await page.mouse.up();
  await saved(page);
  const dragged = healsOf(await mixNow(page))[0].patches;
  expect(dragged[0].to).toEqual(second[0].to);
  expect(dragged[0].from).not.toEqual(second[0].from);
  const panel = page.getByRole('complementary', { name: 'Selected pass' });
  await panel.getByRole('button', { name: 'Mirror' }).click();
  await panel.getByLabel('Brought to the light around it').uncheck();
  await saved(page);
  await page.reload();
  await settled(page);
  const [kept] = healsOf(await mixNow(page));
  expect(kept.matched).toBe(false);
  expect(kept.patches[0].from[0][0]).toBeCloseTo(dragged[0].from[1][0], 5);
  // What was searched in all frames is offered for healing, too.
  await page.getByRole('group', { name: 'Pass Healed spots', exact: true }).click();
  await panel.getByRole('button', { name: 'Spot', exact: true }).first().click();
  await expect(panel.getByRole('button', { name: 'Heal', exact: true })).toBeVisible();
  for (let k = 0; k < 5; k++) await page.keyboard.press('Control+z');
  await saved(page);
  expect(healsOf(await mixNow(page))).toEqual([]);
});

test('a larger place drawn round by hand is put together from pieces, and delivered so', async ({ page }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  await page.keyboard.press('\\');
  const places = await Promise.all([[560, 200], [680, 195], [690, 290], [570, 295]].map(([u, v]) => onScreen(page, u, v)));
  await page.keyboard.down('Shift');
  await page.mouse.move(...places[0]);
  await page.mouse.down();
  for (const [x, y] of [...places.slice(1), places[0]]) await page.mouse.move(x, y, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Shift');
  await expect(bar(page)).toHaveAttribute('data-working', 'false', { timeout: 30_000 });
  await page.keyboard.press('Escape');
  await saved(page);
  await settled(page);
  const onDesk = await canvasPixels(page);
  expect(Math.abs(stain(onDesk, DIRT[0]))).toBeLessThan(8);
  expect(healsOf(await mixNow(page))[0].name).toBe('Healed place');
  const ordered = await page.request.post(address('/api/deliveries'), { headers: { 'x-requested-with': 'test' }, data: { shots: [shot], quality: 95 } });
  const { ids: [id] } = (await ordered.json()) as { ids: string[] };
  let file: Buffer | null = null;
  await expect.poll(async () => {
    const response = await page.request.get(address(`/api/deliveries/${id}/file`));
    if (response.ok()) file = await response.body();
    return file !== null;
  }, { timeout: 60_000 }).toBe(true);
  const { data } = await sharp(file!).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const delivered: Raster = { width: W, height: H, data };
  let [sum, count] = [0, 0];
  for (let v = 190; v < 300; v++) for (let u = 550; u < 700; u++) for (let c = 0; c < 3; c++, count++) sum += Math.abs(delivered.data[(v * W + u) * 3 + c] - onDesk.data[(v * W + u) * 3 + c]);
  // The screen shows it smaller.
  expect(sum / count).toBeLessThan(4);
});
