import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Locator, type Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { address, shootOf } from '../shoot';

/* The last hour before pictures are due: what is made, in which turn, and whether it will be in time. */

let shots: string[] = [];
let shoot = '';
test.beforeAll(async ({ request }) => {
  const card = process.env.ZADDLE_CARD!;
  shots = await shootOf(request, 'Staithe cottage', readdirSync(card).sort().slice(-3).map((name) => ({ name, data: readFileSync(join(card, name)) })));
  shoot = ((await (await request.get(address('/api/shoots'))).json()) as { id: string; name: string }[]).find(({ name }) => name === 'Staithe cottage')!.id;
});

const batches = (page: Page): Locator => page.getByRole('region', { name: /^Staithe cottage, / });
const inMinutes = (minutes: number): string => new Date(Date.now() + 60_000 * minutes).toISOString();

test('batches take turns, rest and go on, are stopped and made after all; all of one come in one file, and in a folder', async ({ page }) => {
  await page.goto(address(`/shots/${shots[0]}`));
  await page.getByRole('button', { name: /^Orders: / }).click();
  await page.getByRole('checkbox', { name: /^Web/ }).check();
  await page.getByRole('checkbox', { name: /^Print/ }).check();
  await page.getByLabel('Put them into a folder, too').fill('Reed & Daughters/cottage');
  await page.keyboard.press('Escape');
  // Layers first, which take a while.
  const { batch } = (await (await page.request.post(address('/api/deliveries'), { data: { shots, orders: ['layers'] } })).json()) as { batch: string };
  await page.getByRole('button', { name: 'Deliver', exact: true }).click();
  const second = batches(page).nth(1);
  await expect(second).toContainText('one batch before it');
  await second.getByRole('button', { name: 'Pause' }).click();
  await expect(second).toContainText('rests');
  await second.getByRole('button', { name: 'First' }).click();
  // It is the upper one now, and nothing of it is made while it rests.
  const first = batches(page).first();
  await expect(first).toContainText('rests');
  await expect.poll(async () => ((await (await page.request.get(address('/api/deliveries'))).json()) as { batchId: string; state: string }[]).find(({ batchId }) => batchId === batch)!.state).toBe('done');
  await expect(first).toContainText('0 of 3 pictures made');
  await first.getByRole('button', { name: 'Stop…' }).click();
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(first.getByText('Stopped.')).toHaveCount(3);
  await first.getByRole('button', { name: 'Make the 3 that are missing' }).click();
  await expect(first).toContainText('3 pictures made');
  const [download] = await Promise.all([page.waitForEvent('download'), first.getByRole('link', { name: 'Download all' }).click()]);
  const archive = unzipSync(readFileSync((await download.path())!));
  expect(Object.keys(archive).map((path) => path.split('/')[0]).sort()).toEqual(['full', 'print', 'web']);
  const folder = join(process.env.ZADDLE_DELIVERED!, 'Reed-Daughters', 'cottage');
  expect(readdirSync(folder).sort()).toEqual(Object.keys(archive).map((path) => path.split('/')[1]).sort());
  for (const [path, file] of Object.entries(archive)) expect(readFileSync(join(folder, path.split('/')[1])).equals(Buffer.from(file))).toBe(true);
  await first.getByRole('button', { name: 'Delete…' }).first().click();
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(page.getByRole('region', { name: /^Staithe cottage, / }).filter({ hasText: '3 pictures made' })).toHaveCount(0);
  expect(readdirSync(folder)).toHaveLength(3);
  // What is left was made as layers: once more from what it was made of, in another size and into another folder.
  await expect(batches(page)).toHaveCount(1);
  await batches(page).first().getByRole('button', { name: 'Deliver again…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Deliver again' });
  await expect(dialog.getByRole('radio', { name: /^what they were: layers/ })).not.toBeChecked();
  await dialog.getByRole('button', { name: /^Orders: / }).click();
  await page.getByRole('checkbox', { name: /^Print/ }).uncheck();
  await page.getByRole('checkbox', { name: /^Full size/ }).uncheck();
  await page.getByLabel('Put them into a folder, too').fill('Reed & Daughters/web');
  await dialog.getByRole('button', { name: /^Orders: / }).click();
  await expect(dialog).toContainText('put into Reed & Daughters/web');
  await dialog.getByRole('button', { name: 'Deliver again' }).click();
  const once = batches(page).filter({ hasText: 'as web' });
  await expect(once.getByRole('row').nth(1)).toHaveAttribute('data-state', 'done');
  expect(readdirSync(join(process.env.ZADDLE_DELIVERED!, 'Reed-Daughters', 'web'))).toHaveLength(1);
});

test('a batch is sent to a listing site: what it takes and what it refuses is told picture by picture', async ({ page }) => {
  await page.goto(address(`/shots/${shots[0]}`));
  await page.getByRole('button', { name: /^Orders: / }).click();
  await page.getByRole('checkbox', { name: /^Listing/ }).check();
  await page.getByRole('checkbox', { name: /^Print/ }).check();
  await page.getByRole('checkbox', { name: /^Full size/ }).uncheck();
  await page.getByLabel('Send them to').selectOption('Estuary lettings');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Deliver', exact: true }).click();
  const batch = batches(page).first();
  await expect(batch.getByRole('row', { name: /-listing\.jpg/ })).toContainText(/Sent to Estuary lettings \d\d:\d\d/);
  await expect(batch.getByRole('row', { name: /-print\.jpg/ })).toContainText(/Refused by Estuary lettings: .*the sides must be as 1\.333 to 1/);
  await expect(batch).toContainText('2 pictures made, 1 of 2 sent, 1 refused');
  await batch.getByRole('row', { name: /-print\.jpg/ }).getByRole('button', { name: 'Send again' }).click();
  await expect(batch).toContainText('1 refused');
});

test('whether it will be done in time is told with what would help; a person may say what a shot takes', async ({ page }) => {
  await page.request.delete(address(`/api/shoots/${shoot}`), { headers: { 'x-requested-with': 'e2e' } });
  const card = process.env.ZADDLE_CARD!;
  await shootOf(page.request, 'Lock cottage', readdirSync(card).sort().slice(-3).map((name) => ({ name, data: readFileSync(join(card, name)) })));
  const id = ((await (await page.request.get(address('/api/shoots'))).json()) as { id: string; name: string }[]).find(({ name }) => name === 'Lock cottage')!.id;
  const due = (minutes: number): Promise<unknown> => page.request.patch(address(`/api/shoots/${id}`), { data: { dueAt: inMinutes(minutes) } });
  await due(60);
  await page.goto(address('/outbox'));
  const row = page.getByRole('region', { name: 'Will it be done' }).locator('.forecast-row').filter({ hasText: 'Lock cottage' });
  await expect(row).toHaveAttribute('data-standing', 'in time');
  await expect(row).toContainText(/Done at \d\d:\d\d/);
  await expect(page.getByRole('figure', { name: /Lock cottage: done at/ })).toBeVisible();
  const minutes = row.getByLabel('Minutes by hand a shot, Lock cottage');
  await minutes.fill('95');
  await minutes.press('Enter');
  await expect(row).toHaveAttribute('data-standing', 'late');
  await expect(row).toContainText(/late by 3\d min/);
  await expect(row.getByRole('listitem')).toContainText(/Deliver the rest as they stand: saves 1 h 35 min/);
  await page.reload();
  await expect(row).toContainText('as you say');
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.filter(({ impact }) => impact === 'serious' || impact === 'critical').map(({ id: rule, nodes }) => `${rule}: ${nodes.map(({ html }) => html.slice(0, 120)).join(' | ')}`)).toEqual([]);
  await page.goto(address('/'));
  await expect(page.getByRole('link', { name: /Lock cottage/ })).toContainText(/late by 3\d min/);
  await page.goto(address('/outbox'));
  await row.getByRole('button', { name: 'As measured' }).click();
  await expect(row).toHaveAttribute('data-standing', 'in time');
  // Due years from now; a half typed time changes nothing.
  await row.getByRole('button', { name: 'Due time of Lock cottage' }).click();
  await row.getByLabel('Due, Lock cottage').fill('2031-03-04T07:30');
  await row.getByLabel('Due, Lock cottage').press('Enter');
  await expect(row.getByRole('button', { name: 'Due time of Lock cottage' })).toContainText('07:30');
  await row.getByRole('button', { name: 'Due time of Lock cottage' }).click();
  await row.getByLabel('Due, Lock cottage').fill('');
  await row.getByLabel('Due, Lock cottage').press('Enter');
  await expect(row.getByRole('button', { name: 'Due time of Lock cottage' })).toContainText('07:30');
  await row.getByRole('button', { name: 'Due time of Lock cottage' }).click();
  await row.getByRole('button', { name: 'No due time' }).click();
  await expect(row.getByRole('button', { name: 'Due time of Lock cottage' })).toHaveText('no due time');
  // One that is due stands before all others.
  await page.request.delete(address(`/api/shoots/${id}`), { headers: { 'x-requested-with': 'e2e' } });
  await expect(row).toHaveCount(0);
});
