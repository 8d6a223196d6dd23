import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type APIRequestContext, type Page } from '@playwright/test';
import { canvasPixels, meanIn, onScreen, settled } from '../canvas';
import { addTone } from '../passes';
import { labOf } from '../measure';
import { address, shootOf } from '../shoot';

/* The desk as a whole: bundles, tones, pointing at the picture, comparing, history; every screen by keyboard and for every eye. */

interface PassLine { readonly id: string; readonly name: string; readonly kind: string; readonly within: string | null; readonly balance: readonly number[]; readonly curve?: readonly (readonly [number, number])[]; readonly mask: readonly { readonly kind: string; readonly corners?: readonly (readonly [number, number])[]; readonly hue?: number }[] }

let shot = '';
const passes = async (request: APIRequestContext): Promise<PassLine[]> => ((await (await request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: { passes: PassLine[] } } }).mix.document.passes;
const saved = (page: Page) => expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');
const strip = (page: Page, name: string) => page.getByRole('group', { name: `Pass ${name}`, exact: true });
const panel = (page: Page) => page.getByRole('complementary', { name: 'Selected pass' });
const open = async (page: Page): Promise<void> => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
};
/** Adds a pass that changes tones, above all. */

test.beforeAll(async ({ request }) => {
  const card = process.env.ZADDLE_CARD!;
  [shot] = await shootOf(request, 'Desk', readdirSync(card).sort().slice(-3).map((name) => ({ name, data: readFileSync(join(card, name)) })));
});

test('passes are bundled by a key, the picture staying what it was; the bundle is faded as one, folded, dissolved', async ({ page, request }) => {
  await open(page);
  const before = await canvasPixels(page);
  // What the start bundled itself, a view from two frames say, stays as it is.
  const started = await passes(request);
  const flashes = started.filter(({ name }) => name.startsWith('Flash')).map(({ name }) => name);
  expect(flashes.length).toBeGreaterThanOrEqual(2);
  await strip(page, flashes[0]).locator('.name').click();
  await strip(page, flashes[1]).locator('.name').click({ modifiers: ['Shift'] });
  await page.keyboard.press('[');
  await expect(strip(page, 'Bundle of 2')).toBeVisible();
  await settled(page);
  await saved(page);
  const bundle = (await passes(request)).find(({ name }) => name === 'Bundle of 2')!;
  expect((await passes(request)).filter(({ within }) => within === bundle.id).map(({ name }) => name)).toEqual(flashes.slice(0, 2));
  // Light that adds up, or lies over what is below: by itself first, and then as one, it is nearly the same.
  const bundled = await canvasPixels(page);
  for (const [x, y] of [[300, 300], [750, 500], [1200, 700]]) expect(Math.abs(meanIn(bundled, x, y, 30) - meanIn(before, x, y, 30))).toBeLessThan(2);

  await strip(page, 'Bundle of 2').getByRole('button', { name: 'Fold Bundle of 2' }).click();
  await expect(strip(page, flashes[0])).toBeHidden();
  await strip(page, 'Bundle of 2').getByRole('button', { name: 'Mute' }).click();
  await settled(page);
  const muted = await canvasPixels(page);
  expect(meanIn(bundled, 750, 500, 60) - meanIn(muted, 750, 500, 60)).not.toBeCloseTo(0, 0);
  await strip(page, 'Bundle of 2').getByRole('button', { name: 'Mute' }).click();
  await strip(page, 'Bundle of 2').getByRole('button', { name: 'Unfold Bundle of 2' }).click();
  await strip(page, 'Bundle of 2').locator('.name').click();
  await page.keyboard.press(']');
  await expect(strip(page, 'Bundle of 2')).toBeHidden();
  await settled(page);
  await saved(page);
  expect((await canvasPixels(page)).data.equals(before.data)).toBe(true);
  expect(new Map((await passes(request)).map(({ id, within }) => [id, within]))).toEqual(new Map(started.map(({ id, within }) => [id, within])));
});

test('a pass is moved by keys into a bundle and out of it; what is painted on it is undone step by step', async ({ page, request }) => {
  await open(page);
  const names = (await passes(request)).map(({ name }) => name);
  await strip(page, names[1]).locator('.name').click();
  await page.keyboard.press('[');
  await expect(strip(page, `${names[1]}, bundle`)).toBeVisible();
  await saved(page);
  await strip(page, names[0]).locator('.name').click();
  await page.keyboard.press('Shift+l');
  await saved(page);
  await expect.poll(async () => (await passes(request))[0].within).not.toBeNull();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await saved(page);
  await expect.poll(async () => (await passes(request)).map(({ name }) => name)).toEqual(names);
});

test('white is picked in the picture, a tone is dragged in it, a band of hues pointed at; the history says so and goes back', async ({ page, request }) => {
  await open(page);
  const first = await canvasPixels(page);
  await addTone(page);
  await page.keyboard.press('y');
  // A plate that is white, in a picture whose light is not quite.
  const plate = { x: 978, y: 762, r: 10 };
  await page.mouse.click(...(await onScreen(page, plate.x, plate.y)));
  await expect.poll(async () => (await passes(request)).at(-1)!.balance.join()).not.toBe('1,1,1');
  await settled(page);
  const picked = labOf(await canvasPixels(page), plate);
  expect(Math.hypot(picked.a, picked.b)).toBeLessThan(2);

  // With Shift, several places count: what is left over is told, the tool stays, and each stands in the history.
  const alone = (await passes(request)).at(-1)!.balance.join();
  await page.keyboard.press('y');
  for (const [px, py] of [[plate.x, plate.y], [300, 330]]) {
    await page.keyboard.down('Shift');
    await page.mouse.click(...(await onScreen(page, px, py)));
    await page.keyboard.up('Shift');
    await expect(page.getByRole('status').filter({ hasText: 'white or grey' })).toContainText(px === 300 ? /2 picked, still up to \d+ % off grey/ : '1 picked');
  }
  await expect.poll(async () => (await passes(request)).at(-1)!.balance.join()).not.toBe(alone);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await passes(request)).at(-1)!.balance.join()).toBe(alone);

  await page.keyboard.press('f');
  const [x, y] = await onScreen(page, 300, 330);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await expect(page.locator('.tone-graph circle')).toHaveCount(3);
  await page.mouse.move(x, y - 60, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.press('Escape');
  await settled(page);
  await saved(page);
  expect((await passes(request)).at(-1)!.curve!.some(([, by]) => by > 0.7)).toBe(true);
  expect(meanIn(await canvasPixels(page), 290, 320, 20)).toBeGreaterThan(meanIn(first, 290, 320, 20) + 15);

  await panel(page).getByLabel('Add to the mask').selectOption('hues');
  await panel(page).getByRole('button', { name: 'Point at it' }).click();
  await page.mouse.click(...(await onScreen(page, 300, 850)));
  await saved(page);
  await expect.poll(async () => (await passes(request)).at(-1)!.mask[0]?.hue).not.toBe(60);

  await page.getByRole('button', { name: 'History' }).click();
  const history = page.locator('.history');
  await expect(history.getByRole('button', { name: 'Tone: white balance' })).toBeVisible();
  await expect(history.getByRole('button', { name: 'Tone: tones' })).toBeVisible();
  await history.getByRole('button', { name: 'Tone: added' }).click();
  await settled(page);
  await saved(page);
  expect((await passes(request)).at(-1)).toMatchObject({ balance: [1, 1, 1], curve: [], mask: [] });
  // And on from there, forth and back, as often as somebody likes.
  await history.getByRole('button', { name: 'Tone: tones' }).click();
  await settled(page);
  await saved(page);
  expect((await passes(request)).at(-1)!.curve).toHaveLength(3);
  await history.getByRole('button', { name: 'Tone: added' }).click();
  await settled(page);
  await saved(page);
  expect((await passes(request)).at(-1)).toMatchObject({ balance: [1, 1, 1], curve: [], mask: [] });
  await page.keyboard.press('Escape');
  // A click that is over before the answer is there leaves a point, and nothing half done.
  await page.keyboard.press('f');
  await page.mouse.click(x, y);
  await settled(page);
  await saved(page);
  expect((await passes(request)).at(-1)!.curve).toHaveLength(3);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await settled(page);
  expect((await canvasPixels(page)).data.equals(first.data)).toBe(true);
});

test('the picture is held beside a frame: a wipe whose line is dragged, a difference, side by side; what lies under the pointer is told', async ({ page }) => {
  await open(page);
  await page.keyboard.press('d');
  await expect(page.getByRole('group', { name: 'Compare' })).toBeVisible();
  await settled(page);
  const line = page.getByRole('slider', { name: 'Line of the wipe' });
  const stage = (await page.getByTestId('stage').boundingBox())!;
  const patch = async (share: number): Promise<Buffer> => page.screenshot({ clip: { x: stage.x + share * stage.width - 20, y: stage.y + 200, width: 40, height: 40 } });
  const [left, right] = [await patch(0.25), await patch(0.75)];
  const at = (await line.boundingBox())!;
  await page.mouse.move(at.x + 7, at.y + 300);
  await page.mouse.down();
  await page.mouse.move(stage.x + 0.9 * stage.width, at.y + 300, { steps: 5 });
  await page.mouse.up();
  // Left of the line the picture, which there was the other one before.
  expect((await patch(0.25)).equals(left)).toBe(true);
  expect((await patch(0.75)).equals(right)).toBe(false);
  await page.keyboard.press('h');
  await page.keyboard.press('h');
  await page.keyboard.press('h');
  await expect(page.getByRole('button', { name: 'Difference' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('h');
  await expect(page.getByRole('button', { name: 'Side by side' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('d');
  await page.keyboard.press('i');
  await page.mouse.move(...(await onScreen(page, 700, 300)));
  const card = page.getByTestId('place-card');
  await expect(card).toContainText('stops about grey');
  await expect(card.locator('.share').first()).toContainText('%');
});

test('the picture is moved by space and a drag, whatever the tool, and by arrows; nothing is painted', async ({ page, request }) => {
  await open(page);
  const before = JSON.stringify(await passes(request));
  const view = async (): Promise<number[]> => (await page.getByTestId('stage').getAttribute('data-view'))!.split(' ').map(Number);
  await page.keyboard.press('e');
  await page.keyboard.press('p');
  await settled(page);
  const stage = (await page.getByTestId('stage').boundingBox())!;
  const [x, y] = await view();
  await page.mouse.move(stage.x + 400, stage.y + 300);
  await page.keyboard.down('Space');
  await page.mouse.down();
  await page.mouse.move(stage.x + 340, stage.y + 250, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.up('Space');
  expect((await view()).slice(0, 2).map(Math.round)).toEqual([x - 60, y - 50].map(Math.round));
  await page.keyboard.press('ArrowRight');
  expect((await view())[0]).toBeLessThan(x - 60);
  // Turned with Ctrl, as a pinch on a trackpad comes: the picture is scaled where the pointer is, not the page.
  await page.keyboard.down('Control');
  await page.mouse.wheel(0, -20);
  await page.keyboard.up('Control');
  await expect.poll(async () => (await view())[2]).toBeGreaterThan(1.1);
  expect(await page.evaluate(() => window.visualViewport!.scale)).toBe(1);
  expect(JSON.stringify(await passes(request))).toBe(before);
});

test('what was found becomes a mask by hand: the view is darkened, and nothing else', async ({ page }) => {
  await open(page);
  const before = await canvasPixels(page);
  await addTone(page);
  await panel(page).getByLabel('Add to the mask').selectOption('glass');
  await panel(page).getByRole('button', { name: /^Exposure: / }).click();
  await page.getByRole('textbox', { name: 'Exposure, typed' }).fill('-1.5');
  await page.keyboard.press('Enter');
  await settled(page);
  await expect.poll(async () => meanIn(await canvasPixels(page), 620, 400, 20) - meanIn(before, 620, 400, 20)).toBeLessThan(-30);
  const after = await canvasPixels(page);
  for (const [x, y] of [[300, 300], [1200, 400], [700, 850]]) expect(Math.abs(meanIn(after, x, y, 30) - meanIn(before, x, y, 30))).toBeLessThan(1.5);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await saved(page);
});

test('a picture of the client’s lies beside it where the picture lies; what is no picture is refused with a word', async ({ page }) => {
  await open(page);
  await page.keyboard.press('d');
  const picture = join(process.env.ZADDLE_CARD!, readdirSync(process.env.ZADDLE_CARD!).sort().at(-1)!);
  const file = page.getByLabel('A picture of the client’s', { exact: true });
  await file.setInputFiles(picture);
  const shown = page.locator('.window.other img');
  await expect(shown).toBeVisible();
  const [x, y] = await onScreen(page, -0.5, -0.5);
  const box = (await shown.boundingBox())!;
  expect([Math.abs(box.x - x), Math.abs(box.y - y)].every((off) => off < 1.5)).toBe(true);
  await expect(page.getByRole('combobox', { name: 'Compare with' })).toHaveValue('client');
  await file.setInputFiles({ name: 'notes.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('no picture at all') });
  await expect(page.getByText('notes.jpg is no picture that this browser can show')).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'Compare with' })).toHaveValue('before');
});

test('a version is compared with, and a single setting of it taken over', async ({ page, request }) => {
  await open(page);
  const [lowest] = await passes(request);
  const kept = (await (await request.post(address(`/api/shots/${shot}/versions`), { data: { name: 'Earlier' }, headers: { 'X-Requested-With': 'zaddle' } })).json()) as { id: string };
  await strip(page, lowest.name).locator('.name').click();
  for (const [label, value] of [['Exposure', '1.25'], ['Opacity', '80']] as const) {
    await panel(page).getByRole('button', { name: new RegExp(`^${label}: `) }).click();
    await page.getByRole('textbox', { name: `${label}, typed` }).fill(value);
    await page.keyboard.press('Enter');
    await settled(page);
  }
  await saved(page);
  await page.keyboard.press('d');
  await page.getByRole('combobox', { name: 'Compare with' }).selectOption(`version:${kept.id}`);
  await page.getByRole('button', { name: '2 differences' }).click();
  await page.getByRole('button', { name: /^Take over: .*opacity 100 %/ }).click();
  await settled(page);
  await saved(page);
  expect((await passes(request))[0]).toMatchObject({ opacity: 1, exposure: 1.25 });
  await expect(page.getByRole('button', { name: '1 difference' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await saved(page);
});

test('a box that was drawn roughly round the window is moved onto its edges', async ({ page, request }) => {
  await open(page);
  await addTone(page);
  await page.keyboard.press('x');
  // The opening of the window, some pixels off at every side.
  const rough = { left: 536, top: 303, right: 846, bottom: 518 };
  await page.mouse.move(...(await onScreen(page, rough.left, rough.top)));
  await page.mouse.down();
  await page.mouse.move(...(await onScreen(page, rough.right, rough.bottom)), { steps: 5 });
  await page.mouse.up();
  await saved(page);
  await page.keyboard.press('Escape');
  await page.locator('.area .named').click();
  const corners = async (): Promise<readonly (readonly [number, number])[]> => (await passes(request)).at(-1)!.mask[0].corners!;
  const drawn = await corners();
  await panel(page).getByRole('button', { name: 'Snap to edges' }).click();
  await expect.poll(async () => JSON.stringify(await corners())).not.toBe(JSON.stringify(drawn));
  // It went no further than where it was drawn for, and its sides are as straight as the window's.
  const after = await corners();
  after.forEach(([x, y], k) => expect(Math.hypot(x - drawn[k][0], y - drawn[k][1]) * 1500).toBeLessThan(24));
  expect(Math.abs(after[0][1] - after[1][1]) * 1500).toBeLessThan(6);
});

test('nothing serious stands in the way of anybody: names, contrast, focus, at both sizes', async ({ page }) => {
  await open(page);
  await page.keyboard.press('n');
  await page.keyboard.press('g');
  await page.keyboard.press('d');
  await settled(page);
  for (const [width, height] of [[1280, 800], [1920, 1080]]) {
    await page.setViewportSize({ width, height });
    await settled(page);
    const { violations } = await new AxeBuilder({ page }).analyze();
    expect(violations.filter(({ impact }) => impact === 'serious' || impact === 'critical').map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 120)).join(' | ')}`)).toEqual([]);
  }
  for (const path of ['/', '/outbox']) {
    await page.goto(address(path));
    await page.waitForTimeout(500);
    const { violations } = await new AxeBuilder({ page }).analyze();
    expect(violations.filter(({ impact }) => impact === 'serious' || impact === 'critical').map(({ id, nodes }) => `${path} ${id}: ${nodes.map(({ html }) => html.slice(0, 120)).join(' | ')}`)).toEqual([]);
  }
});
