import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import type { AdjustPass, MixDocument } from '@zaddle/document';
import { address, shootOf } from '../shoot';

/* The wall: a shoot looked through by keyboard, judged, put in order, brought together and delivered. */

let shots: string[] = [];
let shoot = '';
test.beforeAll(async ({ request }) => {
  const card = process.env.ZADDLE_CARD!;
  shots = await shootOf(request, 'Wall', readdirSync(card).sort().map((name) => ({ name, data: readFileSync(join(card, name)) })), 'proposed');
  expect(shots).toHaveLength(3);
  const detail = (await (await request.get(address(`/api/shots/${shots[0]}`))).json()) as { shot: { shootId: string } };
  shoot = detail.shot.shootId;
  for (const [k, id] of shots.entries()) await request.patch(address(`/api/shots/${id}`), { headers: { 'x-requested-with': 'e2e' }, data: { label: `Mill ${k + 1}` } });
});

const pictures = (page: Page) => page.getByTestId('wall').getByRole('option');
const picture = (page: Page, name: string) => pictures(page).filter({ hasText: name });
const selected = (page: Page) => page.getByTestId('wall').locator('[role=option][aria-selected=true]');
async function open(page: Page): Promise<void> {
  await page.goto(address(`/shoots/${shoot}/wall`));
  await expect(pictures(page)).toHaveCount(3);
  await expect(page.getByText(/Being drawn/)).toHaveCount(0);
}
const toneOf = async (page: Page, shot: string): Promise<AdjustPass> => ((await (await page.request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: MixDocument } }).mix.document.passes.find(({ id }) => id === 'finish') as AdjustPass;

test('a set is judged by keyboard: large, as shot, approved, sent back with a note that the desk shows, for later', async ({ page }) => {
  await open(page);
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.map(({ id, nodes }) => `${id}: ${nodes[0].html}`)).toEqual([]);
  for (const image of await pictures(page).locator('img').all()) expect(await image.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBeGreaterThan(800);
  await page.keyboard.press('Enter');
  const large = page.getByRole('region', { name: 'Mill 1, large' });
  await expect(large.getByRole('img', { name: 'Mill 1' })).toHaveAttribute('src', /preview\?revision=/);
  await page.keyboard.down('b');
  await expect(large.getByRole('img', { name: 'Mill 1, as shot' })).toHaveAttribute('src', /frames\/.*\/picture/);
  await page.keyboard.up('b');
  await expect(large.getByRole('img', { name: 'Mill 1', exact: true })).toBeVisible();
  // Approved, and on to the next, still large.
  await page.keyboard.press('y');
  await expect(page.getByRole('region', { name: 'Mill 2, large' })).toBeVisible();
  await page.keyboard.press('n');
  await page.getByRole('textbox', { name: 'What is to be done' }).fill('The lamp is too yellow');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Mill 3, large' })).toBeVisible();
  await page.keyboard.press('l');
  await page.keyboard.press('Escape');
  await expect(page.getByText('1 approved · 1 sent back · 1 for later')).toBeVisible();
  await page.reload();
  await expect(picture(page, 'Mill 1').getByText('Approved', { exact: true })).toBeVisible();
  await expect(picture(page, 'Mill 2').getByText('The lamp is too yellow')).toBeVisible();
  // To the desk, where the note is, and back to the same place.
  await page.keyboard.press('ArrowRight');
  await expect(selected(page)).toContainText('Mill 2');
  await page.keyboard.press('o');
  await expect(page.getByText('Sent back: The lamp is too yellow')).toBeVisible();
  await page.keyboard.press('Shift+O');
  await expect(selected(page)).toContainText('Mill 2');
  await page.keyboard.press('u');
  await expect(page.getByText('1 approved · 1 for later · 1 to look at')).toBeVisible();
});

test('pictures are compared at equal size, and put in the order of the tour by drag and by keys', async ({ page }) => {
  await open(page);
  await page.keyboard.press('v');
  await picture(page, 'Mill 3').click({ modifiers: ['Shift'] });
  await page.keyboard.press('c');
  const compared = page.getByRole('region', { name: '2 pictures compared' });
  const boxes = await Promise.all((await compared.locator('figure').all()).map((figure) => figure.boundingBox()));
  expect(boxes.map((box) => Math.round(box!.width))).toEqual([Math.round(boxes[0]!.width), Math.round(boxes[0]!.width)]);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Escape');
  const names = (): Promise<string[]> => pictures(page).locator('.caption b').allTextContents();
  const [from, to] = [(await picture(page, 'Mill 3').boundingBox())!, (await picture(page, 'Mill 1').boundingBox())!];
  await page.mouse.move(from.x + 60, from.y + 60);
  await page.mouse.down();
  await page.mouse.move(from.x - 20, from.y + 60, { steps: 4 });
  await page.mouse.move(to.x + to.width / 2, to.y + 80, { steps: 12 });
  await page.mouse.up();
  await expect.poll(names).toEqual(['Mill 3', 'Mill 1', 'Mill 2']);
  await picture(page, 'Mill 1').click();
  await page.keyboard.press('Shift+ArrowLeft');
  await expect.poll(names).toEqual(['Mill 1', 'Mill 3', 'Mill 2']);
  await page.reload();
  await expect.poll(names).toEqual(['Mill 1', 'Mill 3', 'Mill 2']);
});

test('one that differs is told, all are brought together in one go, and back; what is approved is delivered', async ({ page }) => {
  const [first] = shots;
  const tone = await toneOf(page, first);
  const { mix } = (await (await page.request.get(address(`/api/shots/${first}`))).json()) as { mix: { revision: number } };
  await page.request.put(address(`/api/shots/${first}/review`), { headers: { 'x-requested-with': 'e2e' }, data: { state: 'approved', revision: mix.revision } });
  await page.request.post(address(`/api/shots/${first}/mix/commands`), { headers: { 'x-requested-with': 'e2e' }, data: { kind: 'changePass', id: 'finish', changes: { exposure: tone.exposure - 1.6 } } });
  await open(page);
  await expect(picture(page, 'Mill 1').getByText('Approved, changed since')).toBeVisible();
  await expect(picture(page, 'Mill 1').getByText(/stops darker than the others of mill/)).toBeVisible();
  // Large, a key shows where, and what would bring it towards the others.
  await expect.poll(async () => (await page.request.get(address(`/api/shots/${first}/preview`))).status()).toBe(200);
  await picture(page, 'Mill 1').dblclick();
  const large = page.getByRole('region', { name: 'Mill 1, large' });
  await expect(large.getByRole('button', { name: /stops darker/ })).toBeVisible();
  await page.keyboard.press('p');
  await expect(large.getByText('Bring together (t) moves its level')).toBeVisible();
  const [ring, shown] = [(await large.getByTestId('place').boundingBox())!, (await large.getByRole('img').boundingBox())!];
  expect(ring.x + ring.width / 2 > shown.x && ring.x + ring.width / 2 < shown.x + shown.width && ring.y + ring.height / 2 > shown.y && ring.y + ring.height / 2 < shown.y + shown.height).toBe(true);
  expect(shown.width / shown.height).toBeCloseTo(1.5, 1);
  await page.keyboard.press('Escape');
  const before = (await picture(page, 'Mill 1').locator('img').getAttribute('src'))!;
  await page.keyboard.press('t');
  await page.getByRole('button', { name: 'Bring all together' }).click();
  await expect(page.getByText(/brought together/)).toBeVisible();
  await expect.poll(async () => (await toneOf(page, first)).exposure).toBeGreaterThan(tone.exposure - 1.2);
  // Its picture is drawn anew by itself.
  await expect(picture(page, 'Mill 1').locator('img')).not.toHaveAttribute('src', before);
  await page.keyboard.press('t');
  await page.getByRole('button', { name: /^Take the last back/ }).click();
  await expect.poll(async () => (await toneOf(page, first)).exposure).toBeCloseTo(tone.exposure - 1.6, 6);
  await expect(page.getByRole('button', { name: /^Take the last back/ })).toBeHidden();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Bring all together' })).toBeHidden();
  // What is approved is the picture that is seen: the latest one, once it is drawn.
  await expect(page.getByText('Being drawn anew')).toHaveCount(0);
  await picture(page, 'Mill 2').click();
  await page.keyboard.press('y');
  await page.getByRole('button', { name: 'Deliver 1 approved' }).click();
  await expect(page.getByRole('row', { name: /Mill-2/ }).first()).toBeVisible();
  const sent = (await (await page.request.get(address('/api/deliveries'))).json()) as { shotId: string }[];
  expect(sent.map(({ shotId }) => shotId).filter((id) => shots.includes(id))).toEqual([shots[1]]);
});

test('rooms are named where a picture is large, and pictures of a room lie together', async ({ page }) => {
  await open(page);
  await picture(page, 'Mill 3').click();
  await page.keyboard.press('Enter');
  const label = page.getByRole('region', { name: 'Mill 3, large' }).getByRole('combobox', { name: 'Room' });
  await label.fill('Net loft');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('region', { name: 'Net loft, large' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.keyboard.press('s');
  await expect(page.getByRole('listbox', { name: 'Mill' }).getByRole('option')).toHaveCount(2);
  await expect(page.getByRole('listbox', { name: 'Net loft' }).getByRole('option')).toHaveCount(1);
});
