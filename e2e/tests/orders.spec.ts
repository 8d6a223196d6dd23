import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { screenPixels } from '../canvas';
import { address, shootOf } from '../shoot';

/* Orders of one's own: what a client gets, under which names. */

let shot = '';
test.beforeAll(async ({ request }) => {
  const card = process.env.ZADDLE_CARD!;
  [shot] = await shootOf(request, 'Ropewalk 4', readdirSync(card).sort().slice(-3).map((name) => ({ name, data: readFileSync(join(card, name)) })));
});

const editor = (page: Page) => page.locator('form.order-editor');

test('an order is copied from one that ships, changed, kept, and pictures are delivered by it under its names', async ({ page }) => {
  await page.goto(address('/orders'));
  await page.getByRole('navigation', { name: 'Orders' }).getByRole('button', { name: /^Listing/ }).click();
  await expect(editor(page).getByRole('combobox', { name: 'Ratio' })).toBeDisabled();
  await editor(page).getByRole('button', { name: 'Copy, to change it' }).click();
  const name = editor(page).getByLabel('Name of the order');
  await expect(name).toHaveValue('Listing 2');
  await name.fill('Quay lettings');
  await editor(page).getByLabel('Ratio').selectOption('3:2');
  await editor(page).getByLabel(/^Longer side/).fill('900');
  await editor(page).getByLabel(/^Kind/).selectOption('webp');
  await editor(page).getByLabel('Made by').fill('C. Reed');
  await editor(page).getByLabel('File names').fill('{property}_{number:3}_{street}');
  await expect(editor(page).getByRole('alert')).toContainText('{street}, which is no token');
  await expect(editor(page).getByRole('button', { name: 'Keep', exact: true })).toBeDisabled();
  await editor(page).getByLabel('File names').fill('{property}_{number:3}_');
  await editor(page).getByRole('button', { name: '{output}' }).click();
  // Shown on the shots that there are, before anything is kept.
  await page.getByRole('combobox', { name: 'Shoot whose names are shown' }).selectOption({ label: 'Ropewalk 4' });
  await expect(page.getByRole('region', { name: 'Names of files' }).getByRole('listitem').first()).toContainText('Ropewalk-4_001_quay-lettings.webp');
  await editor(page).getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByRole('navigation', { name: 'Orders' }).getByRole('button', { name: 'Quay lettings' })).toBeVisible();

  await page.goto(address(`/shots/${shot}`));
  await page.getByRole('button', { name: /^Orders: / }).click();
  await page.getByRole('checkbox', { name: /^Quay lettings: WebP, 3:2, 900 × 600, below 2 MB/ }).click();
  await page.getByRole('checkbox', { name: /^Full size/ }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Deliver', exact: true }).click();
  const row = page.getByRole('row', { name: /Ropewalk-4_001_quay-lettings\.webp/ }).first();
  await expect(row).toHaveAttribute('data-state', 'done');
  const file = await page.request.get(address((await row.getByRole('link', { name: 'Download' }).getAttribute('href'))!));
  const { format, width, height, exif } = await sharp(await file.body()).metadata();
  expect([format, width, height]).toEqual(['webp', 900, 600]);
  expect(exif!.toString('latin1')).toContain('C. Reed');
});

test('a picture is seen at the desk in the crop and at the size of an order, a pixel of the screen for each that is delivered', async ({ page }) => {
  const picture = async (): Promise<{ width: number; height: number }> => {
    await expect(page.getByTestId('stage')).toHaveAttribute('data-settled', 'true');
    return screenPixels(page);
  };
  await page.goto(address(`/shots/${shot}`));
  const whole = await picture();
  await page.getByRole('button', { name: 'As ordered', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Quay lettings' }).click();
  await expect(page.getByText('As “Quay lettings” delivers it: 900 × 600')).toBeVisible();
  const seen = await picture();
  // The stage is smaller than that: it shows as much of it as fits.
  expect(Number(await page.getByTestId('stage').getAttribute('data-scale'))).toBeCloseTo(900 / 1500, 3);
  expect(seen.width).toBeLessThanOrEqual(900);
  await page.getByRole('button', { name: 'Whole', exact: true }).click();
  const fitted = await picture();
  expect(fitted.width / fitted.height).toBeCloseTo(1.5, 1);
  // By key through the orders that are chosen, and back.
  await page.getByRole('button', { name: 'Quay lettings', exact: true }).click();
  await page.getByRole('menuitem', { name: 'As it stands' }).click();
  expect(await picture()).toEqual(whole);
  await page.getByRole('button', { name: /^Orders: / }).click();
  await page.getByRole('checkbox', { name: /^Listing: / }).click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('Shift+E');
  await page.keyboard.press('Shift+E');
  await expect(page.getByText(/As “Listing” delivers it: 133\d × 1000, full size/)).toBeVisible();
  await page.getByRole('button', { name: 'Whole', exact: true }).click();
  const listed = await picture();
  expect(listed.width / listed.height).toBeCloseTo(4 / 3, 1);
  await page.keyboard.press('Shift+E');
  expect(await picture()).toEqual(whole);
});

test('an order is saved as a file, taken from it elsewhere, thrown away; a file that is none is refused in words', async ({ page }) => {
  await page.goto(address('/orders'));
  const nav = page.getByRole('navigation', { name: 'Orders' });
  await page.getByRole('button', { name: 'New order' }).click();
  await editor(page).getByLabel('Name of the order').fill('Wall print');
  await editor(page).getByLabel(/^Print/).fill('240');
  await editor(page).getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(nav.getByRole('button', { name: 'Wall print' })).toBeVisible();
  const [download] = await Promise.all([page.waitForEvent('download'), editor(page).getByRole('link', { name: 'Save as a file' }).click()]);
  expect(download.suggestedFilename()).toBe('wall-print.json');
  const saved = readFileSync((await download.path())!);
  await editor(page).getByRole('button', { name: 'Throw away' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Throw away' }).click();
  await expect(nav.getByRole('button', { name: 'Wall print' })).toBeHidden();
  const input = page.getByLabel('File of an order');
  await input.setInputFiles({ name: 'x.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify({ ...(JSON.parse(saved.toString()) as object), longerSide: 3 })) });
  await expect(page.getByText('“x.json” is no order')).toBeVisible();
  await expect(page.getByText(/longerSide/)).toBeVisible();
  await input.setInputFiles({ name: 'wall-print.json', mimeType: 'application/json', buffer: saved });
  await expect(nav.getByRole('button', { name: 'Wall print' })).toBeVisible();
  await expect(editor(page).getByLabel(/^Print/)).toHaveValue('240');
});
