import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import type { MixDocument, Pass } from '@zaddle/document';
import { canvasPixels, meanIn, settled } from '../canvas';
import { address, shootOf } from '../shoot';

/* Ways to begin with a shot. */

let shot = '';
test.beforeAll(async ({ request }) => {
  const card = process.env.ZADDLE_CARD!;
  [shot] = await shootOf(request, 'Starts', readdirSync(card).sort().slice(-3).map((name) => ({ name, data: readFileSync(join(card, name)) })));
});

const bar = (page: Page) => page.getByRole('radiogroup', { name: 'Ways to begin' });
const way = (page: Page, name: string) => bar(page).getByRole('radio', { name, exact: true });
/** Mean brightness of one of the small pictures, 0..255. */
const brightness = (page: Page, name: string): Promise<number> => way(page, name).locator('canvas').evaluate((canvas: HTMLCanvasElement) => {
  const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
  let sum = 0;
  for (let i = 0; i < data.length; i += 4) sum += data[i] + data[i + 1] + data[i + 2];
  return sum / (data.length / 4) / 3;
});

test('four ways are shown as they would look; a key takes one, the picture becomes it, and the shoot remembers', async ({ page, request }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  const even = await canvasPixels(page);
  await page.keyboard.press('j');
  await expect(bar(page).locator('canvas[data-there=true]')).toHaveCount(4);
  await expect(way(page, 'Even')).toBeChecked();
  // Real pictures of this shot, and each another one.
  const shown = await Promise.all(['Even', 'As it stood', 'Airy', 'Deep'].map((name) => brightness(page, name)));
  expect(Math.abs(shown[0] - meanIn(even, 0, 0, 1000))).toBeLessThan(25);
  expect(shown[2]).toBeGreaterThan(shown[0] + 4);
  expect(shown[3]).toBeLessThan(shown[0] - 4);
  await page.keyboard.press('3');
  await expect(way(page, 'Airy')).toBeChecked();
  await settled(page);
  const airy = await canvasPixels(page);
  expect(meanIn(airy, 200, 200, 600)).toBeGreaterThan(meanIn(even, 200, 200, 600) + 3);
  await page.keyboard.press('Escape');
  await expect(bar(page)).toBeHidden();
  await expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');
  const { shot: { shootId } } = (await (await request.get(address(`/api/shots/${shot}`))).json()) as { shot: { shootId: string } };
  expect(((await (await request.get(address(`/api/shoots/${shootId}/start`))).json()) as { start: string }).start).toBe('airy');
  // One step, which undo takes back.
  await page.keyboard.press('Control+z');
  await settled(page);
  expect(Math.abs(meanIn(await canvasPixels(page), 200, 200, 600) - meanIn(even, 200, 200, 600))).toBeLessThan(0.05);
});

test('readings follow the picture as it is now, and say what to do', async ({ page }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  await page.keyboard.press('g');
  const clipped = page.getByRole('complementary', { name: 'Readings' }).getByRole('button').filter({ hasText: 'Clipped' });
  await expect(clipped.getByRole('img', { name: 'good' })).toBeVisible();
  await page.getByRole('group', { name: 'Pass Tone', exact: true }).locator('.name').click();
  const panel = page.getByRole('complementary', { name: 'Selected pass' });
  await panel.getByRole('button', { name: /^Exposure: / }).click();
  await page.getByLabel('Exposure, typed').fill('4');
  await page.keyboard.press('Enter');
  await expect(clipped.getByRole('img', { name: 'bad' })).toBeVisible();
  await expect(clipped).toContainText('lower the highlights of “Tone”');
  await page.keyboard.press('Control+z');
  await expect(clipped.getByRole('img', { name: 'good' })).toBeVisible();
});

test('six renderings are shown as they would look; one is taken by key for the picture, another by pointing for the light of one pass', async ({ page, request }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  const passes = async (): Promise<readonly Pass[]> => ((await (await request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: MixDocument } }).mix.document.passes;
  const before = await passes();
  const first = await canvasPixels(page);
  await page.keyboard.press('Escape');
  await page.getByRole('group', { name: 'Pass Tone', exact: true }).locator('.name').click();
  await page.keyboard.press('Shift+J');
  const laid = page.getByRole('radiogroup', { name: 'Renderings' });
  await expect(laid.locator('canvas[data-there=true]')).toHaveCount(6);
  const pictures = await laid.locator('canvas').evaluateAll((all: HTMLCanvasElement[]) => all.map((canvas) => canvas.toDataURL()));
  expect(new Set(pictures).size).toBe(6);
  await page.keyboard.press('6');
  await expect(laid.getByRole('radio', { name: 'Etched', exact: true })).toBeChecked();
  await settled(page);
  await expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');
  const [tone] = (await passes()).filter(({ id }) => id === 'finish');
  expect(tone).toMatchObject({ localContrast: 1, contrast: 1.08, exposure: before.find(({ id }) => id === 'finish')!.exposure });
  expect(Buffer.compare((await canvasPixels(page)).data, first.data)).not.toBe(0);
  await page.keyboard.press('Escape');
  await expect(laid).toBeHidden();
  await page.keyboard.press('Control+z');
  await settled(page);
  // For one pass: a tone pass that is tied to it is made.
  await page.getByRole('group', { name: /^Pass Ambient/ }).locator('.name').click();
  await page.getByRole('button', { name: 'Renderings', exact: true }).click();
  await laid.getByRole('radio', { name: 'Soft', exact: true }).click();
  await expect(laid.getByRole('radio', { name: 'Soft', exact: true })).toBeChecked();
  await settled(page);
  await expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');
  const after = await passes();
  expect(after.length).toBe(before.length + 1);
  expect(after[before.findIndex(({ id }) => id === 'ambient') + 1]).toMatchObject({ kind: 'adjust', tied: true, glow: 0.3 });
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await settled(page);
  expect((await passes()).map(({ id }) => id)).toEqual(before.map(({ id }) => id));
});
