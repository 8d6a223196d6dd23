import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { canvasPixels, drawRound, onScreen, settled, type Raster } from '../canvas';
import { address, shootOf } from '../shoot';

/* The same place from every frame, beside the pointer. */

let shot = '';
test.beforeAll(async ({ request }) => {
  const card = process.env.ZADDLE_CARD!;
  [shot] = await shootOf(request, 'Spots', readdirSync(card).sort().slice(-3).map((name) => ({ name, data: readFileSync(join(card, name)) })));
});

const strip = (page: Page) => page.getByTestId('spot-search');
const faces = (page: Page) => strip(page).getByRole('radio');
const tries = (page: Page, which: number) => expect(strip(page)).toHaveAttribute('data-tried', String(which));
const saved = (page: Page) => expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');
/** Mean difference of two pictures within a square, values of 255. */
function apart(a: Raster, b: Raster, x: number, y: number, half: number): number {
  let [sum, count] = [0, 0];
  for (let v = y - half; v <= y + half; v++) for (let u = x - half; u <= x + half; u++) for (let c = 0; c < 3; c++, count++) sum += Math.abs(a.data[(v * a.width + u) * 3 + c] - b.data[(v * b.width + u) * 3 + c]);
  return sum / count;
}
interface Detail { shot: { stays: [number, number][] }; mix: { document: { passes: { id: string; name: string; kind: string; within: string | null; matched?: boolean }[] } } }
const detail = async (page: Page): Promise<Detail> => (await page.request.get(address(`/api/shots/${shot}`))).json() as Promise<Detail>;

test('a place is pointed at, frames are tried in the picture by arrows, one is taken, and undo gives it back', async ({ page }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  const before = await canvasPixels(page);
  await page.keyboard.press('/');
  await expect(page.getByRole('status').filter({ hasText: 'Search by spot' })).toBeVisible();
  const [x, y] = await onScreen(page, 750, 640);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 20, y, { steps: 3 });
  await page.mouse.move(x + 40, y, { steps: 3 });
  await page.mouse.up();
  // The picture as it is, and every frame; the first one is tried at once.
  await expect(faces(page)).toHaveCount(4);
  await expect(strip(page)).toHaveAttribute('data-tried', /^(0|none)$/);
  for (let k = 0; k < 3; k++) await page.keyboard.press('ArrowRight');
  await tries(page, 2);
  await expect.poll(async () => apart(before, await canvasPixels(page), 750, 640, 20)).toBeGreaterThan(0.5);
  await page.waitForTimeout(600);
  const tried = await canvasPixels(page);
  for (const [u, v] of [[200, 200], [1300, 300], [400, 900]]) expect(apart(before, tried, u, v, 40)).toBeLessThan(0.02);
  expect((await detail(page)).mix.document.passes.some(({ within }) => within === 'clean-up')).toBe(false);
  // Another tool is taken: what was only tried goes with the strip.
  await page.keyboard.press('p');
  await expect(strip(page)).toBeHidden();
  await settled(page);
  expect(apart(before, await canvasPixels(page), 750, 640, 20)).toBeLessThan(0.02);
  await page.keyboard.press('/');
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 40, y, { steps: 4 });
  await page.mouse.up();
  await expect(strip(page)).toHaveAttribute('data-tried', /^(0|none)$/);
  for (let k = 0; k < 3; k++) await page.keyboard.press('ArrowRight');
  await tries(page, 2);
  // Back to the picture as it is: nothing of it stays.
  for (let k = 0; k < 3; k++) await page.keyboard.press('ArrowLeft');
  await expect(strip(page).getByRole('radio', { name: 'The picture: as it is', exact: true })).toBeChecked();
  await expect.poll(async () => apart(before, await canvasPixels(page), 750, 640, 20)).toBeLessThan(0.02);
  for (let k = 0; k < 3; k++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(strip(page)).toBeHidden();
  await saved(page);
  await settled(page);
  const taken = await canvasPixels(page);
  expect(apart(tried, taken, 750, 640, 20)).toBeLessThan(0.1);
  const inset = (await detail(page)).mix.document.passes.find(({ within }) => within === 'clean-up')!;
  expect(inset).toMatchObject({ kind: 'inset', matched: true });
  await expect(page.getByRole('group', { name: 'Pass Clean-up', exact: true })).toBeVisible();
  // It is on record, marked on the picture, with a text for the client.
  await page.keyboard.press('Shift+C');
  await expect(page.getByRole('img', { name: '1 changed place', exact: true })).toBeVisible();
  await expect(page.getByRole('region', { name: 'What was changed' }).getByRole('listitem')).toHaveText(/replaced by the same place in MILL\d+\.JPG/);
  await page.keyboard.press('Shift+C');
  // Its light as it comes is another, and the way back is one step each.
  const panel = page.getByRole('complementary', { name: 'Selected pass' });
  await panel.getByLabel('Brought to the light around it').uncheck();
  await saved(page);
  expect((await detail(page)).mix.document.passes.find(({ id }) => id === inset.id)).toMatchObject({ matched: false });
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await saved(page);
  await settled(page);
  expect(apart(before, await canvasPixels(page), 750, 640, 20)).toBeLessThan(0.05);
  expect((await detail(page)).mix.document.passes.some(({ kind }) => kind === 'inset')).toBe(false);
});

test('a line drawn round a place, Escape, and Enter before the frame is there', async ({ page }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  await page.keyboard.press('/');
  const round = (): Promise<void> => drawRound(page, [[500, 400], [640, 390], [660, 500], [520, 520]]);
  await round();
  await expect(faces(page)).toHaveCount(4);
  await page.keyboard.press('Escape');
  await expect(strip(page)).toBeHidden();
  await round();
  await expect(faces(page)).toHaveCount(4);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(strip(page)).toBeHidden();
  await saved(page);
  await expect.poll(async () => (await detail(page)).mix.document.passes.filter(({ within }) => within === 'clean-up').length).toBe(1);
  await page.keyboard.press('Control+z');
  await saved(page);
});

test('places where frames disagree are walked by a key; what may stay is not offered again, after a reload either', async ({ page }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  await page.keyboard.press('g');
  const left = page.getByRole('complementary', { name: 'Readings' }).getByRole('button').filter({ hasText: 'Frames disagree' });
  const count = Number(/(\d+) place/.exec(await left.innerText())![1]);
  expect(count).toBeGreaterThan(0);
  await page.keyboard.press('Shift+N');
  await expect(faces(page)).toHaveCount(4);
  // A frame is tried, or the picture is as clean as the best one.
  await expect(strip(page)).toHaveAttribute('data-tried', /^(0|none)$/);
  await page.keyboard.press('Shift+Enter');
  await expect(strip(page)).toBeHidden();
  await expect.poll(async () => (await detail(page)).shot.stays.length).toBe(1);
  if (count > 1) await expect(left).toContainText(`${count - 1} place`);
  else await expect(left).toBeHidden();
  await page.reload();
  await settled(page);
  await page.keyboard.press('g');
  await expect(page.getByRole('complementary', { name: 'Readings' }).getByRole('button').filter({ hasText: 'Lined up' })).toBeVisible();
  if (count > 1) await expect(left).toContainText(`${count - 1} place`);
  else await expect(left).toBeHidden();
});

test('glare lies elsewhere in each frame: two of them are offered together, and what is darker of both is taken', async ({ page, request }) => {
  const card = process.env.ZADDLE_CARD!;
  // Three frames of the kitchen, each with glare on another part of a cupboard's door.
  const files = await Promise.all(readdirSync(card).sort().slice(-3).map(async (name, k) => {
    const glare = `<svg xmlns="http://www.w3.org/2000/svg" width="1500" height="1000"><defs><radialGradient id="g"><stop offset="0.5" stop-color="#fff" stop-opacity="0.8"/><stop offset="1" stop-color="#fff" stop-opacity="0"/></radialGradient></defs><circle cx="${400 + 52 * k}" cy="600" r="25" fill="url(#g)"/></svg>`;
    return { name: `GLARE${k + 1}.JPG`, data: await sharp(join(card, name)).keepExif().composite([{ input: Buffer.from(glare) }]).jpeg({ quality: 93 }).toBuffer() };
  }));
  const [glazed] = await shootOf(request, 'Together', files);
  await page.goto(address(`/shots/${glazed}`));
  await settled(page);
  const before = await canvasPixels(page);
  await page.keyboard.press('/');
  const [x, y] = await onScreen(page, 452, 600);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(...(await onScreen(page, 532, 600)), { steps: 5 });
  await page.mouse.up();
  await expect(faces(page)).toHaveCount(5);
  await expect(strip(page).getByRole('radio', { name: /^GLARE\d\.JPG and GLARE\d\.JPG: two together$/ })).toBeChecked();
  await tries(page, 0);
  await page.keyboard.press('Enter');
  await expect(strip(page)).toBeHidden();
  await settled(page);
  await saved(page);
  const { mix: { document } } = (await (await page.request.get(address(`/api/shots/${glazed}`))).json()) as { mix: { document: { passes: { within: string | null; kind: string; mode: string }[] } } };
  expect(document.passes.filter(({ within, kind }) => within === 'clean-up' && kind === 'inset').slice(-2).map(({ mode }) => mode)).toEqual(['normal', 'darken']);
  /** How far the brightest pixels of the door lie over its usual ones. */
  const glareOf = ({ width, data }: Raster): number => {
    const values: number[] = [];
    for (let v = 585; v <= 615; v++) for (let u = 375; u <= 530; u++) values.push(data[(v * width + u) * 3 + 1]);
    values.sort((a, b) => a - b);
    return values[Math.floor(values.length * 0.97)] - values[values.length >> 1];
  };
  const after = await canvasPixels(page);
  expect(glareOf(before)).toBeGreaterThan(15);
  expect(glareOf(after)).toBeLessThan(0.5 * glareOf(before));
  await page.keyboard.press('Control+z');
  await saved(page);
  await settled(page);
  expect(apart(before, await canvasPixels(page), 452, 600, 30)).toBeLessThan(0.05);
});
