import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { unzipSync } from 'fflate';
import { address, shootOf } from '../shoot';

/* A shoot's life after delivery. */

test('a shoot is saved as one file, deleted, restored from it, and duplicated; what is no archive is refused in words', async ({ page }, info) => {
  const card = process.env.ZADDLE_CARD!;
  const [shot] = await shootOf(page.request, 'Pump house', readdirSync(card).sort().slice(-3).map((name) => ({ name, data: readFileSync(join(card, name)) })));
  await page.request.patch(address(`/api/shots/${shot}`), { data: { label: 'Pump room' } });
  await page.goto(address('/'));
  await page.getByRole('button', { name: 'Keep Pump house' }).click();
  const dialog = page.getByRole('dialog', { name: /Keep “Pump house”/ });
  await expect(dialog).toContainText(/On this server: \d+ MB of frames, \d+ MB made of them, 0 MB delivered/);
  const [download] = await Promise.all([page.waitForEvent('download'), dialog.getByRole('link', { name: 'Save the archive' }).click()]);
  const archive = info.outputPath('pump-house.zip');
  await download.saveAs(archive);
  expect(download.suggestedFilename()).toBe('pump-house.zip');
  expect(Object.keys(unzipSync(readFileSync(archive))).filter((path) => path.startsWith('frames/'))).toHaveLength(3);
  await dialog.getByRole('button', { name: 'Duplicate here' }).click();
  await expect(page.getByRole('link', { name: /Pump house, copy/ })).toBeVisible();
  await page.getByRole('button', { name: 'Delete Pump house', exact: true }).click();
  await page.getByRole('button', { name: 'Delete the shoot' }).click();
  await expect(page.getByRole('button', { name: 'Delete Pump house', exact: true })).toHaveCount(0);
  const give = async (path: string): Promise<void> => {
    const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByRole('button', { name: 'From an archive…' }).click()]);
    await chooser.setFiles(path);
  };
  const none = info.outputPath('none.zip');
  writeFileSync(none, 'nothing of a shoot');
  await give(none);
  await expect(page.getByText(/This file is no archive/)).toBeVisible();
  await give(archive);
  await expect(page.getByRole('heading', { name: 'Pump house', exact: true })).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'Room' })).toHaveValue('Pump room');
  expect((await page.request.get(address(`/api/shots/${shot}`))).status()).toBe(200);
});
