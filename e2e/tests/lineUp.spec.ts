import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { canvasPixels, settled, type Raster } from '../canvas';
import { asShot } from '../shoot';

const address = (path = ''): string => new URL(path, process.env.ZADDLE_URL!).href;

interface MixOf { mix: { document: { reference: string; geometry: number[]; corrects: { distortion: boolean }; frames: Record<string, { homography: number[] }>; passes: { id: string; name: string; alignment?: number[] | null; source?: { kind: string; frame?: string } }[] } } }
const meanOf = ({ data }: Raster): number => data.reduce((sum, v) => sum + v, 0) / data.length;

const at = (h: readonly number[], x: number, y: number): [number, number] => {
  const w = h[6] * x + h[7] * y + h[8];
  return [(h[0] * x + h[1] * y + h[2]) / w, (h[3] * x + h[4] * y + h[5]) / w];
};

/** The document as the server has it once every change has arrived. */
async function documentOf(page: Page): Promise<MixOf['mix']['document']> {
  // What the last key did is on its way once the page was drawn again.
  await page.evaluate(() => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))));
  await settled(page);
  const shot = /shots\/([^/]+)/.exec(page.url())![1];
  return ((await (await page.request.get(address(`/api/shots/${shot}`))).json()) as MixOf).mix.document;
}

test('line-up: checked by difference, see-through and blink, corrected by key, button and corner, undone; another reference; the lens', async ({ page }) => {
  const problems: string[] = [];
  page.on('pageerror', (error) => problems.push(error.message));
  await page.goto(address());
  await page.getByRole('button', { name: 'New shoot' }).click();
  await page.getByLabel('Name').fill('Lining up');
  await page.getByRole('button', { name: 'Make the shoot' }).click();
  await page.getByTestId('file-picker').setInputFiles(readdirSync(process.env.ZADDLE_CARD!).sort().slice(-3).map((name) => join(process.env.ZADDLE_CARD!, name)));
  await page.getByRole('link', { name: 'Open at the desk' }).click({ timeout: 300_000 });
  await settled(page);
  await asShot(page.request, page.url().split('/shots/')[1]);
  await page.reload();
  await settled(page);
  const first = await documentOf(page);
  const mixed = await canvasPixels(page);

  await page.keyboard.press('a');
  const panel = page.getByRole('complementary', { name: 'Line-up' });
  const rows = panel.locator('.frame-row > button:first-child');
  await expect(rows).toHaveCount(3);
  const ids = await rows.locator('img').evaluateAll((images) => images.map((image) => /frames\/([^/]+)/.exec((image as HTMLImageElement).src)![1]));
  const which = ids.findIndex((id) => id !== first.reference);
  const frame = ids[which];
  await rows.nth(which).click();

  // Nudged away by keyboard, the difference grows; undone, it is what it was.
  await page.keyboard.press('d');
  await settled(page);
  const lined = meanOf(await canvasPixels(page));
  for (let k = 0; k < 6; k++) await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(async () => (await documentOf(page)).frames[frame].homography[2] - first.frames[frame].homography[2]).toBeCloseTo(-12, 0);
  expect(meanOf(await canvasPixels(page))).toBeGreaterThan(1.25 * lined);
  for (let k = 0; k < 6; k++) {
    await page.keyboard.press('Control+z');
    await settled(page);
  }
  expect((await documentOf(page)).frames[frame].homography).toEqual(first.frames[frame].homography);
  expect(Math.abs(meanOf(await canvasPixels(page)) - lined)).toBeLessThan(0.01);

  // Buttons turn and grow it; a corner is dragged with the pointer, the opposite one stays.
  await panel.getByRole('button', { name: 'Turn right' }).click();
  expect((await documentOf(page)).frames[frame].homography[1]).not.toBe(first.frames[frame].homography[1]);
  await page.keyboard.press('Control+z');
  await settled(page);
  await panel.getByLabel('Drag its corners').check();
  const corner = (await page.getByLabel('Corner top left').boundingBox())!;
  await page.mouse.move(corner.x + 9, corner.y + 9);
  await page.mouse.down();
  await page.mouse.move(corner.x + 19, corner.y + 15, { steps: 5 });
  await page.mouse.up();
  const skewed = (await documentOf(page)).frames[frame].homography;
  const scale = Number(await page.getByTestId('stage').getAttribute('data-scale'));
  const [before, after] = [at(first.frames[frame].homography, 0, 0), at(skewed, 10 / scale, 6 / scale)];
  expect(Math.hypot(before[0] - after[0], before[1] - after[1])).toBeLessThan(0.1);
  const [far, still] = [at(first.frames[frame].homography, 1499, 999), at(skewed, 1499, 999)];
  expect(Math.hypot(far[0] - still[0], far[1] - still[1])).toBeLessThan(0.1);
  await page.keyboard.press('Control+z');
  await settled(page);
  await panel.getByLabel('Drag its corners').uncheck();

  // See-through and blink show other pictures, and end where they began.
  await page.keyboard.press('h');
  await expect(page.getByText('The frame half over the reference')).toBeVisible();
  await page.keyboard.press('j');
  await expect(page.getByText('Blinking between frame and reference')).toBeVisible();
  await page.keyboard.press('j');
  await settled(page);
  expect((await documentOf(page)).frames).toEqual(first.frames);
  expect((await canvasPixels(page)).data.equals(mixed.data)).toBe(true);

  // Another reference keeps the mix: the picture hardly changes.
  await panel.getByRole('button', { name: 'Make it the reference' }).click();
  await expect(rows.nth(which)).toBeDisabled();
  expect((await documentOf(page)).reference).toBe(frame);
  const turned = await canvasPixels(page);
  let off = 0;
  for (let i = 0; i < turned.data.length; i++) off += Math.abs(turned.data[i] - mixed.data[i]);
  expect(off / turned.data.length).toBeLessThan(4);
  await page.keyboard.press('Control+z');
  await settled(page);

  // The lens: switched off, the picture is the one that was stored; kept for the camera, and forgotten again.
  await panel.getByLabel('Distortion', { exact: true }).first().uncheck();
  expect((await documentOf(page)).corrects.distortion).toBe(false);
  expect((await canvasPixels(page)).data.equals(mixed.data)).toBe(false);
  await panel.getByLabel('Distortion', { exact: true }).first().check();
  await panel.getByRole('button', { name: /Keep for Rig One/ }).click();
  await expect(panel.getByText('Kept: the next shots with this lens start from it.')).toBeVisible();
  await panel.getByRole('button', { name: 'Forget' }).click();
  await expect(panel.getByText('Kept: the next shots')).toHaveCount(0);
  expect(problems).toEqual([]);
});

test('a reading leads to the place and the frame that it is about; the line-up is told part by part', async ({ page }) => {
  await page.goto(address());
  await page.locator('.shoot-row').filter({ hasText: 'Lining up' }).click();
  await page.getByRole('link', { name: 'Open at the desk' }).click();
  await settled(page);
  const whole = Number(await page.getByTestId('stage').getAttribute('data-scale'));
  await page.getByRole('button', { name: /^Readings: / }).click();
  const reading = page.getByRole('complementary', { name: 'Readings' }).getByRole('button', { name: /Lined up/ });
  const named = /(MILL\d+\.JPG)/.exec((await reading.textContent())!)![1];
  await reading.click();
  await expect(page.getByRole('img', { name: 'The place that the reading is about' })).toBeVisible();
  expect(Number(await page.getByTestId('stage').getAttribute('data-scale'))).toBeGreaterThan(whole);
  const panel = page.getByRole('complementary', { name: 'Line-up' });
  await expect(panel.locator('.frame-row.chosen')).toContainText(named);
  const parts = panel.getByRole('img', { name: 'Off by, part by part' }).locator('span');
  await expect(parts).toHaveCount(12);
  for (const text of await parts.allTextContents()) expect(text).toMatch(/^(–|\d+\.\d)$/);
  // One frame is looked at after the other.
  const rows = panel.locator('.frame-row').filter({ has: page.locator('button:first-child:enabled') });
  await expect(rows).toHaveCount(2);
  for (const k of [0, 1, 0]) {
    await rows.nth(k).locator('button').first().click();
    await expect(rows.nth(k)).toHaveClass(/chosen/);
  }
  // Readings without a place lead nowhere, and do not pretend to.
  await expect(page.getByRole('complementary', { name: 'Readings' }).getByRole('button', { name: /Cast/ })).toBeDisabled();
});

test('one area of a pass is lined up by itself', async ({ page }) => {
  await page.goto(address());
  await page.locator('.shoot-row').filter({ hasText: 'Lining up' }).click();
  await page.getByRole('link', { name: 'Open at the desk' }).click();
  await settled(page);
  const flash = page.getByRole('group', { name: /Pass Flash 1/ });
  await flash.locator('.name').click();
  const start = await documentOf(page);
  const pass = start.passes.find((p) => p.name === 'Flash 1')!;
  await page.keyboard.press('a');
  const panel = page.getByRole('complementary', { name: 'Line-up' });
  const index = (await panel.locator('.frame-row img').evaluateAll((images) => images.map((image) => (image as HTMLImageElement).src))).findIndex((src) => src.includes(pass.source!.frame!));
  await panel.locator('.frame-row > button:first-child').nth(index).click();
  await panel.getByLabel(/Only for the pass/).check();
  for (let k = 0; k < 2; k++) await page.keyboard.press('Shift+ArrowDown');
  const moved = await documentOf(page);
  const own = moved.passes.find((p) => p.id === pass.id)!.alignment!;
  expect(own[5] - start.frames[pass.source!.frame!].homography[5]).toBeCloseTo(-4, 0);
  expect(moved.frames).toEqual(start.frames);
  // The engine finds the way back from there.
  await panel.getByRole('button', { name: /Line up the area/ }).click();
  await expect(page.getByText('Area lined up')).toBeVisible();
  const again = (await documentOf(page)).passes.find((p) => p.id === pass.id)!.alignment!;
  const home = start.frames[pass.source!.frame!].homography;
  const [there, here] = [at(home, 750, 500), at(again, 750, 500)];
  expect(Math.hypot(there[0] - here[0], there[1] - here[1])).toBeLessThan(0.5);
  await panel.getByRole('button', { name: 'As the frame lies' }).click();
  expect((await documentOf(page)).passes.find((p) => p.id === pass.id)!.alignment).toBeNull();
});
