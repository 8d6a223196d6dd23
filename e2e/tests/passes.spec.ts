import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type APIRequestContext, type Page } from '@playwright/test';
import { canvasPixels, meanIn, onScreen, settled } from '../canvas';
import { address, shootOf } from '../shoot';

/* What a person does to passes as a whole: added from the drawer, ordered, named, blended, seen alone. */

interface PassLine { readonly name: string; readonly mode?: string; readonly mask: readonly unknown[] }

let shot = '';
const passes = async (request: APIRequestContext): Promise<PassLine[]> => ((await (await request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: { passes: PassLine[] } } }).mix.document.passes;
const names = async (request: APIRequestContext): Promise<string[]> => (await passes(request)).map((p) => p.name);
const saved = (page: Page) => expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');
const strip = (page: Page, name: string) => page.getByRole('group', { name: `Pass ${name}`, exact: true });
const open = async (page: Page): Promise<void> => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
};

test.beforeAll(async ({ request }) => {
  const card = process.env.ZADDLE_CARD!;
  [shot] = await shootOf(request, 'Passes', readdirSync(card).sort().slice(-3).map((name) => ({ name, data: readFileSync(join(card, name)) })));
});

// The next test goes on with the same shot, in a browser that has nothing of this one.
test.afterEach(async ({ page }) => saved(page));

test('a frame is added hidden by keys and painted in where the brush goes, nowhere else', async ({ page, request }) => {
  await open(page);
  const before = await names(request);
  const first = await canvasPixels(page);
  await strip(page, before.at(-1)!).locator('.name').click();
  await page.keyboard.press('n');
  const drawer = page.getByRole('region', { name: 'Add a pass' });
  await expect(drawer.getByRole('button', { name: 'Add Ambient, 1 joined' })).toBeFocused();
  const frame = drawer.getByRole('button', { name: /^Add MILL\d+\.JPG$/ }).last();
  const name = /MILL\d+/.exec((await frame.getAttribute('aria-label'))!)![0];
  while (!(await frame.evaluate((card) => card === document.activeElement))) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+Enter');
  await page.keyboard.press('Escape');
  await expect(drawer).toBeHidden();
  await settled(page);
  await saved(page);
  // Above the one that was selected, and nothing of it is seen yet.
  expect(await names(request)).toEqual([...before, name]);
  expect((await canvasPixels(page)).data.equals(first.data)).toBe(true);

  await page.keyboard.press('p');
  await expect(page.getByText(`More of “${name}”`)).toBeVisible();
  const [from, to] = [await onScreen(page, 700, 700), await onScreen(page, 800, 700)];
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move(...to, { steps: 8 });
  await page.mouse.up();
  await settled(page);
  const painted = await canvasPixels(page);
  expect(Math.abs(meanIn(painted, 740, 690, 20) - meanIn(first, 740, 690, 20))).toBeGreaterThan(8);
  expect(Math.abs(meanIn(painted, 200, 200, 40) - meanIn(first, 200, 200, 40))).toBeLessThan(0.01);

  // Muted, painting on it says at once that it is not seen.
  await page.keyboard.press('m');
  await expect(page.getByText('not seen, it is muted')).toBeVisible();
  await page.keyboard.press('m');
  await page.keyboard.press('Escape');
});

test('blend modes are auditioned by keys on the live picture, and the strip tells which', async ({ page, request }) => {
  await open(page);
  const top = (await names(request)).at(-1)!;
  await strip(page, top).locator('.name').click();
  // Whole, so that the whole picture tells.
  await page.getByRole('button', { name: /^Remove Brush/ }).click();
  await settled(page);
  const seen = new Set<string>();
  for (const mode of ['add', 'lighten', 'screen', 'color-dodge', 'darken', 'multiply']) {
    await page.keyboard.press('=');
    await expect(strip(page, top).locator('.keys b')).toHaveText(`, ${mode}`);
    await settled(page);
    seen.add((await canvasPixels(page)).data.toString('base64'));
  }
  expect(seen.size).toBe(6);
  await page.keyboard.press('-');
  await expect(strip(page, top).locator('.keys b')).toHaveText(', darken');
  await saved(page);
  expect((await passes(request)).at(-1)!.mode).toBe('darken');
});

test('passes are duplicated, moved by keys and by drag, renamed, removed; all of it is undone and outlives a reload', async ({ page, request }) => {
  await open(page);
  const before = await names(request);
  const top = before.at(-1)!;
  await strip(page, top).locator('.name').click();
  await page.keyboard.press('u');
  await expect(strip(page, `${top}, copy`)).toHaveClass(/selected/);
  await page.keyboard.press('Shift+K');
  await saved(page);
  expect(await names(request)).toEqual([...before.slice(0, -1), `${top}, copy`, top]);

  // Dragged underneath all others.
  // Both ends of the way are on the screen: nothing scrolls under the pointer.
  await page.setViewportSize({ width: 2400, height: 800 });
  await strip(page, `${top}, copy`).locator('.thumb').dragTo(strip(page, before[0]).locator('.thumb'), { targetPosition: { x: 2, y: 10 } });
  await saved(page);
  expect((await names(request))[0]).toBe(`${top}, copy`);

  await strip(page, `${top}, copy`).locator('.name').dblclick();
  await page.getByLabel(`Name of ${top}, copy`).fill('Corner by the stove');
  await page.keyboard.press('Enter');
  await expect(strip(page, 'Corner by the stove')).toBeVisible();
  // Typing a name is no key of the desk.
  expect(await page.getByRole('group', { name: /^Pass / }).count()).toBe(before.length + 1);
  await saved(page);
  await page.reload();
  await settled(page);
  await strip(page, 'Corner by the stove').locator('.name').click();
  await page.keyboard.press('Delete');
  await expect(strip(page, 'Corner by the stove')).toBeHidden();
  await page.keyboard.press('Control+z');
  await expect(strip(page, 'Corner by the stove')).toBeVisible();
  for (let k = 0; k < 4; k++) await page.keyboard.press('Control+z');
  await saved(page);
  expect(await names(request)).toEqual(before);
});

test('a card of the drawer is dragged to its place among the strips; what is below is a source too', async ({ page, request }) => {
  // What was worked out for the picture is kept by now: what is worked out anew while passes come and go is the very same.
  await expect.poll(async () => (await request.get(address(`/api/shots/${shot}/wide`))).status(), { timeout: 60_000 }).toBe(200);
  await open(page);
  const before = await names(request);
  await page.getByRole('button', { name: 'Add a pass' }).first().click();
  await page.getByRole('button', { name: 'Add What is below' }).dragTo(strip(page, before[1]).locator('.thumb'), { targetPosition: { x: 2, y: 10 } });
  await expect(strip(page, 'What is below')).toBeVisible();
  await settled(page);
  await saved(page);
  expect(await names(request)).toEqual([before[0], 'What is below', ...before.slice(1)]);
  // What is below over itself is what is below.
  await page.keyboard.press('Escape');
  const plain = await canvasPixels(page);
  await strip(page, 'What is below').getByRole('button', { name: 'Mute' }).click();
  await settled(page);
  const muted = await canvasPixels(page);
  // A share of a result that was kept may differ in its last bit from one that is made anew: nobody sees that.
  expect(muted.data.reduce((most, v, i) => Math.max(most, Math.abs(v - plain.data[i])), 0)).toBeLessThanOrEqual(2);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
});

test('the picture has at least 60 % of a small window with everything open, 85 % folded by one key; nothing scrolls the page', async ({ page }) => {
  await page.setViewportSize({ width: 1280, height: 800 });
  await open(page);
  const share = async (): Promise<number> => {
    const { width, height } = (await page.getByTestId('stage').boundingBox())!;
    return (width * height) / (1280 * 800);
  };
  expect(await share()).toBeGreaterThan(0.6);
  await page.keyboard.press('q');
  await settled(page);
  expect(await share()).toBeGreaterThan(0.85);
  await page.keyboard.press('q');
  await page.getByRole('button', { name: /^Readings: \d+ bad, \d+ to check, \d+ good$/ }).click();
  await expect(page.getByRole('complementary', { name: 'Readings' }).getByText('Clipped, cast, view and verticals follow the picture')).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollHeight <= innerHeight && document.documentElement.scrollWidth <= innerWidth)).toBe(true);
});

test('values are dragged, stepped by arrows, typed, and brought back by a double click', async ({ page, request }) => {
  await open(page);
  const top = (await names(request)).at(-1)!;
  await strip(page, top).locator('.name').click();
  const panel = page.getByRole('complementary', { name: 'Selected pass' });
  const exposure = async (): Promise<number> => {
    await saved(page);
    return ((await passes(request)).at(-1) as unknown as { exposure: number }).exposure;
  };
  for (const [typed, value] of [['-1,35', -1.35], ['+0.5 stops', 0.5], ['−99', -6]] as const) {
    await panel.getByRole('button', { name: /^Exposure: / }).click();
    await page.getByLabel('Exposure, typed').fill(typed);
    await page.keyboard.press('Enter');
    await expect(page.getByLabel('Exposure, typed')).toBeHidden();
    expect(await exposure()).toBeCloseTo(value, 6);
  }
  // What is no number changes nothing, nor does giving up.
  await panel.getByRole('button', { name: /^Exposure: / }).click();
  await page.getByLabel('Exposure, typed').fill('bright');
  await page.keyboard.press('Enter');
  await panel.getByRole('button', { name: /^Exposure: / }).click();
  await page.getByLabel('Exposure, typed').fill('2');
  await page.keyboard.press('Escape');
  expect(await exposure()).toBeCloseTo(-6, 6);
  await panel.getByText('Exposure', { exact: true }).dblclick();
  expect(await exposure()).toBe(0);
  await panel.getByLabel('Exposure', { exact: true }).focus();
  await page.keyboard.press('ArrowRight');
  expect(await exposure()).toBeCloseTo(0.05, 6);
});

test('the strip of the pass that keys select comes into sight, however many there are', async ({ page }) => {
  await page.setViewportSize({ width: 900, height: 800 });
  await open(page);
  const strips = page.locator('.strips .strip');
  const last = (await strips.count()) - 1;
  await expect(strips.nth(last)).toBeInViewport({ ratio: 0.95 });
  await expect(strips.first()).not.toBeInViewport();
  for (let k = last - 1; k >= 0; k--) {
    await page.keyboard.press('k');
    await expect(strips.nth(k)).toHaveClass(/selected/);
    await expect(strips.nth(k)).toBeInViewport({ ratio: 0.95 });
  }
  await expect(strips.nth(last)).not.toBeInViewport();
});

test('a page that cannot be fetched says that no work is lost, and comes when it is asked for again', async ({ page }) => {
  await open(page);
  await page.route('**/assets/Orders-*.js', (route) => route.abort());
  await page.getByRole('link', { name: 'Orders' }).click();
  await expect(page.getByRole('heading', { name: 'This page could not be shown' })).toBeVisible();
  await expect(page.getByText('Nothing of your work is lost')).toBeVisible();
  // The other pages are there, and so is this one once it can be had.
  await page.getByRole('link', { name: 'Methods' }).click();
  await expect(page.getByRole('heading', { name: 'Methods', exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Orders' }).click();
  await page.unroute('**/assets/Orders-*.js');
  await page.getByRole('button', { name: 'Load it again' }).click();
  await expect(page.getByRole('heading', { name: 'Orders', exact: true })).toBeVisible();
  await open(page);
});
