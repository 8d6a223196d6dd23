import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import type { HealPass, MixDocument } from '@zaddle/document';
import { canvasPixels, drawRound, onScreen, settled, type Raster } from '../canvas';
import { address, delivered, shootOf } from '../shoot';

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

test('whoever points at the next place before the first is healed gets both', async ({ page }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  await page.keyboard.press('\\');
  await smallBrush(page);
  const places = await Promise.all(DIRT.map(([x, y]) => onScreen(page, x, y)));
  for (const [x, y] of places) await page.mouse.click(x, y);
  await expect(bar(page)).toHaveAttribute('data-working', 'false');
  await page.keyboard.press('Escape');
  await saved(page);
  expect(healsOf(await mixNow(page)).reduce((sum, { mask }) => sum + mask.length, 0)).toBe(2);
  for (let k = 0; k < 2; k++) await page.keyboard.press('Control+z');
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
  await drawRound(page, [[560, 200], [680, 195], [690, 290], [570, 295]]);
  await expect(bar(page)).toHaveAttribute('data-working', 'false', { timeout: 30_000 });
  await page.keyboard.press('Escape');
  await saved(page);
  await settled(page);
  const onDesk = await canvasPixels(page);
  expect(Math.abs(stain(onDesk, DIRT[0]))).toBeLessThan(8);
  expect(healsOf(await mixNow(page))[0].name).toBe('Healed place');
  const { data } = await sharp(await delivered(page.request, shot)).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  let [sum, count] = [0, 0];
  for (let v = 190; v < 300; v++) for (let u = 550; u < 700; u++) for (let c = 0; c < 3; c++, count++) sum += Math.abs(data[(v * W + u) * 3 + c] - onDesk.data[(v * W + u) * 3 + c]);
  // The screen shows it smaller.
  expect(sum / count).toBeLessThan(4);
});

test('a screen is boxed in and goes off: black glass with a little of the room’s light', async ({ page }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  await page.keyboard.press('n');
  await page.getByRole('region', { name: 'Add a pass' }).getByRole('button', { name: 'Fill', exact: true }).click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('x');
  const [from, to] = [await onScreen(page, 200, 300), await onScreen(page, 330, 380)];
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move(...to, { steps: 6 });
  await page.mouse.up();
  await page.keyboard.press('Escape');
  await saved(page);
  const panel = page.getByRole('complementary', { name: 'Selected pass' });
  await panel.getByRole('button', { name: 'Screen off' }).click();
  await expect(panel.getByRole('heading', { name: 'Screen off' })).toBeVisible();
  await saved(page);
  await settled(page);
  const made = (await mixNow(page)).passes.find(({ name }) => name === 'Screen off');
  expect(made).toMatchObject({ kind: 'fill', around: false });
  expect(made?.kind === 'fill' && made.ramp).toBeTruthy();
  const picture = await canvasPixels(page);
  expect(meanOf(picture, 265, 340, 0, 25)).toBeLessThan(0.4 * meanOf(picture, 265, 340, 110, 125));
});

test('dust that several shots have at one place of the sensor is offered, and healed by a click, as one step', async ({ page, request }) => {
  const visit = join(import.meta.dirname, '../../rig/data/demo-visit');
  const [u, v, r] = [700, 400, 7];
  // The same wall everywhere, hung otherwise, so that the speck lies on something calm in all of them.
  const shoot = await Promise.all(['MILL0033.JPG', 'MILL0042.JPG', 'MILL0055.JPG'].map(async (name, n) => {
    const overlay = `<svg width="${W}" height="${H}"><rect x="${520 + 60 * n}" y="${250 + 40 * n}" width="330" height="260" fill="rgb(150,${144 + 6 * n},138)"/><circle cx="${u}" cy="${v}" r="${r}" fill="black" fill-opacity=".35"/></svg>`;
    return { name, data: await sharp(await sharp(join(visit, name)).resize(W, H).keepExif().toBuffer()).composite([{ input: Buffer.from(overlay), left: 0, top: 0 }]).keepExif().jpeg({ quality: 96 }).toBuffer() };
  }));
  const [first] = await shootOf(request, 'Specks', shoot);
  // Told once the other shots are there, too.
  const told = async (): Promise<[number, number, number][]> => ((await (await request.get(address(`/api/shots/${first}`))).json()) as { dust: [number, number, number][] }).dust;
  await expect.poll(async () => (await told()).some(([x, y]) => Math.hypot(x * W - u, y * W - v) < 8), { timeout: 60_000 }).toBe(true);
  await page.goto(address(`/shots/${first}`));
  await settled(page);
  const spot = [u, v, r] as unknown as (typeof DIRT)[number];
  expect(stain(await canvasPixels(page), spot)).toBeGreaterThan(15);
  await page.keyboard.press('g');
  const offered = page.getByRole('complementary', { name: 'Readings' }).getByRole('button').filter({ hasText: 'Dust on the sensor' });
  await offered.click();
  await expect(offered).toBeHidden({ timeout: 30_000 });
  await page.keyboard.press('g');
  await saved(page);
  await settled(page);
  expect(Math.abs(stain(await canvasPixels(page), spot))).toBeLessThan(4);
  await page.keyboard.press('g');
  await page.keyboard.press('Control+z');
  await expect(offered).toBeVisible();
});
