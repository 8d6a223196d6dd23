import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import type { MixDocument } from '@zaddle/document';
import { canvasPixels, meanIn, settled } from '../canvas';
import { address, delivered, shootOf } from '../shoot';
import sharp from 'sharp';

/* Methods: seen on a shot, taken, tuned, made of a shot, given to others, exchanged. */

let shots: string[] = [];
test.beforeAll(async ({ request }) => {
  const card = process.env.ZADDLE_CARD!;
  shots = await shootOf(request, 'Methods', readdirSync(card).sort().map((name) => ({ name, data: readFileSync(join(card, name)) })), 'proposed');
  expect(shots).toHaveLength(3);
  // Those that other tests made are in the way.
  const kept = (await (await request.get(address('/api/methods'))).json()) as { id: string; method: { name: string } }[];
  for (const { id } of kept.filter(({ method }) => /^(Tide|Office)/.test(method.name))) await request.delete(address(`/api/methods/${id}`), { headers: { 'x-requested-with': 'e2e' } });
});

const panel = (page: Page) => page.getByRole('complementary', { name: 'Methods' });
const card = (page: Page, name: string) => panel(page).getByRole('radio', { name, exact: true });
const mixOf = async (page: Page, shot: string): Promise<MixDocument> => ((await (await page.request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: MixDocument } }).mix.document;
/** Passes with what may be left out. */
const spelledOut = ({ passes }: Pick<MixDocument, 'passes'>): unknown => passes.map((pass) => (pass.kind === 'adjust' ? { bands: null, muted: null, ...pass } : pass));
const saved = (page: Page) => expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');
async function open(page: Page, shot: string): Promise<void> {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  await page.keyboard.press('Shift+M');
  await expect(panel(page)).toBeVisible();
  // Keys take what is listed, and a picture may be there sooner than the list.
  await expect(panel(page).getByRole('radio')).not.toHaveCount(0);
}
const brightness = async (page: Page, shot: string): Promise<number> => {
  const { width, height } = await mixOf(page, shot);
  return meanIn(await canvasPixels(page, width, height), 300, 200, 500);
};

test('methods are shown as they would look; a key takes one, a strength and its parts tune it, it comes off again', async ({ page }) => {
  const [shot] = shots;
  await open(page, shot);
  await expect(panel(page).locator('canvas[data-there=true]')).toHaveCount(5);
  const before = await mixOf(page, shot);
  const plain = await brightness(page, shot);
  await page.keyboard.press('2');
  await settled(page);
  await expect(card(page, 'Bright and open')).toBeChecked();
  const bright = await brightness(page, shot);
  expect(bright).toBeGreaterThan(plain + 5);
  await panel(page).getByRole('button', { name: /^Strength: .*type another value/ }).click();
  await panel(page).getByRole('textbox', { name: 'Strength, typed' }).fill('40');
  await page.keyboard.press('Enter');
  await settled(page);
  const some = await brightness(page, shot);
  expect(some).toBeGreaterThan(plain + 1);
  expect(some).toBeLessThan(bright - 3);
  await panel(page).getByRole('checkbox', { name: /^Tone and colour/ }).uncheck();
  await settled(page);
  expect(await brightness(page, shot)).toBeLessThan(some);
  await saved(page);
  expect((await mixOf(page, shot)).method).toMatchObject({ strength: 0.4, off: ['tone'] });
  // Delivered as seen.
  const { width, height } = await mixOf(page, shot);
  const seen = await canvasPixels(page, width, height);
  const { data } = await sharp(await delivered(page.request, shot)).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  const off = meanIn(seen, 300, 200, 500) - meanIn({ width, height, data }, 300, 200, 500);
  expect(Math.abs(off)).toBeLessThan(1);
  await panel(page).getByRole('button', { name: 'Take off' }).click();
  await settled(page);
  await saved(page);
  const { method, ...after } = await mixOf(page, shot);
  expect(method).toBeNull();
  expect(spelledOut(after)).toEqual(spelledOut(before));
  expect(after.geometry).toEqual(before.geometry);
  for (let k = 0; k < 4; k++) await page.keyboard.press('Control+z');
  await settled(page);
  expect(Math.abs((await brightness(page, shot)) - plain)).toBeLessThan(0.05);
});

test('what was done on a shot is kept as a method, given to others in one go, and taken back everywhere', async ({ page }) => {
  const [shot, lone, other] = shots;
  await open(page, shot);
  await page.keyboard.press('4');
  await expect(panel(page).getByRole('radio', { checked: true })).toHaveCount(1);
  await settled(page);
  await saved(page);
  await panel(page).getByRole('button', { name: 'Keep as a method…' }).click();
  const form = page.getByRole('dialog', { name: 'Keep as a method' });
  await form.getByRole('textbox', { name: 'Name', exact: true }).fill('Tide side');
  await form.getByRole('checkbox', { name: /^Lens corrections/ }).uncheck();
  await form.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(card(page, 'Tide side')).toBeVisible();
  await card(page, 'Tide side').click();
  await settled(page);
  await saved(page);
  expect((await mixOf(page, shot)).method?.method).toMatchObject({ name: 'Tide side', parts: { tone: { contrast: 1.2 } } });
  const before = await mixOf(page, other);
  await panel(page).getByText('For other shots of this shoot').click();
  await panel(page).getByRole('button', { name: 'Give to 2 shots' }).click();
  await expect(panel(page).getByText('“Tide side” is on 2 shots')).toBeVisible();
  // A single frame has no flash and no glass: it says what it has no use for, and takes the rest.
  await expect(panel(page).getByRole('list', { name: 'What shots had no use for' })).toContainText('Shot 2: balance of light left alone');
  for (const each of [lone, other]) expect((await mixOf(page, each)).method).toMatchObject({ strength: 1, method: { name: 'Tide side' } });
  // Somebody tunes it there.
  await open(page, other);
  await expect(card(page, 'Tide side')).toBeChecked();
  await panel(page).getByText('For other shots of this shoot').click();
  await panel(page).getByRole('button', { name: 'Take back everywhere' }).click();
  await expect(card(page, 'Tide side')).not.toBeChecked();
  await settled(page);
  expect(spelledOut(await mixOf(page, other))).toEqual(spelledOut(before));
  expect((await mixOf(page, shot)).method).toMatchObject({ method: { name: 'Tide side' } });
});

test('from the page of a shoot all its shots are given a method at a strength, and it is taken back', async ({ page, request }) => {
  const { shot: { shootId } } = (await (await request.get(address(`/api/shots/${shots[0]}`))).json()) as { shot: { shootId: string } };
  const before = await Promise.all(shots.map((shot) => mixOf(page, shot)));
  await page.goto(address(`/shoots/${shootId}`));
  await page.getByRole('button', { name: 'Method…' }).click();
  const choice = page.getByRole('dialog', { name: /^Method/ });
  await choice.getByRole('combobox', { name: 'Method' }).selectOption('Lamps on');
  await choice.getByRole('button', { name: /^Strength: .*type another value/ }).click();
  await choice.getByRole('textbox', { name: 'Strength, typed' }).fill('60');
  await page.keyboard.press('Enter');
  await choice.getByRole('button', { name: 'Give to all 3 shots' }).click();
  await expect(choice.getByText('“Lamps on” is on 3 shots')).toBeVisible();
  for (const shot of shots) expect((await mixOf(page, shot)).method).toMatchObject({ strength: 0.6, method: { name: 'Lamps on' } });
  await choice.getByRole('button', { name: 'Take back everywhere' }).click();
  await expect(choice.getByText('“Lamps on” is on 3 shots')).toBeHidden();
  for (const [k, shot] of shots.entries()) expect(spelledOut(await mixOf(page, shot))).toEqual(spelledOut(before[k]));
});

test('the page of methods shows them on a shot of one’s own; they are renamed, ordered, saved as files and taken from files, and what is none is refused in words', async ({ page }) => {
  await page.goto(address('/methods'));
  const rows = page.locator('.method-row');
  await expect(rows.locator('canvas[data-there=true]')).toHaveCount(6);
  const last = page.getByRole('article', { name: 'Tide side' });
  const name = last.getByRole('textbox', { name: 'Name of Tide side' });
  await name.fill('Tide and sky');
  await name.press('Enter');
  const renamed = page.getByRole('article', { name: 'Tide and sky' });
  await expect(renamed).toBeVisible();
  await renamed.getByRole('button', { name: 'Move Tide and sky up' }).click();
  await expect(rows.nth(4)).toHaveAccessibleName('Tide and sky');
  const [file] = await Promise.all([page.waitForEvent('download'), renamed.getByRole('link', { name: 'Save as a file' }).click()]);
  expect(file.suggestedFilename()).toBe('tide-and-sky.json');
  const text = readFileSync(await file.path(), 'utf8');
  await renamed.getByRole('button', { name: 'Throw away Tide and sky' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Throw away' }).click();
  await expect(rows).toHaveCount(5);
  const input = page.locator('input[type=file]');
  for (const [content, words] of [['{', 'It is no JSON'], [text.replace('"version": 1', '"version": 7'), 'version'], [text.replace('"contrast": 1.2', '"contrast": 90'), 'contrast']] as const) {
    await input.setInputFiles({ name: 'bad.json', mimeType: 'application/json', buffer: Buffer.from(content) });
    await expect(page.getByRole('alert').filter({ hasText: words }).first()).toBeVisible();
  }
  await expect(rows).toHaveCount(5);
  await input.setInputFiles({ name: 'tide.json', mimeType: 'application/json', buffer: Buffer.from(text) });
  await expect(page.getByRole('article', { name: 'Tide and sky' })).toBeVisible();
  await page.getByRole('combobox', { name: 'Layout' }).selectOption('by light');
  await expect(page.getByRole('region', { name: 'lamps' }).getByRole('article', { name: 'Lamps on' })).toBeVisible();
  const { violations } = await new AxeBuilder({ page }).analyze();
  expect(violations.filter(({ impact }) => impact === 'serious' || impact === 'critical')).toEqual([]);
});
