import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type APIRequestContext, type Page, type Route } from '@playwright/test';
import { settled } from '../canvas';
import { address, shootOf } from '../shoot';

/*
 * What a person paints is never lost: not when dabs follow each other faster than the server answers, not when it is away,
 * loses answers or gets things twice, not with two windows, not when a window is closed meanwhile.
 */

interface Detail { mix: { document: { passes: { id: string; kind: string; within: string | null; exposure: number; mask: { id: string; kind: string; strokes?: { points: number[][] }[] }[] }[] } } }

let shot = '';
const open = async (page: Page): Promise<void> => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
};
const detail = async (request: APIRequestContext): Promise<Detail['mix']['document']> => ((await (await request.get(address(`/api/shots/${shot}`))).json()) as Detail).mix.document;
const strokes = async (request: APIRequestContext): Promise<number> => (await detail(request)).passes.flatMap((p) => p.mask).reduce((sum, area) => sum + (area.strokes?.length ?? 0), 0);
/** Dabs on the pass that is selected, as fast as a hand does not. */
async function dab(page: Page, count: number, dx = 0): Promise<void> {
  const box = (await page.getByTestId('stage').boundingBox())!;
  for (let k = 0; k < count; k++) {
    await page.mouse.move(box.x + 150 + 60 * k + dx, box.y + 180 + dx);
    await page.mouse.down();
    await page.mouse.move(box.x + 150 + 60 * k + dx + 12, box.y + 186 + dx);
    await page.mouse.up();
  }
}
const saved = (page: Page) => expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');
const anew = async (request: APIRequestContext): Promise<void> => {
  await request.post(address(`/api/shots/${shot}/mix/anew`), { headers: { 'X-Requested-With': 'test' } });
  await expect.poll(async () => ((await (await request.get(address(`/api/shots/${shot}`))).json()) as Partial<Detail>).mix !== null, { timeout: 100_000 }).toBe(true);
};

test.beforeAll(async ({ request }) => {
  const card = process.env.ZADDLE_CARD!;
  [shot] = await shootOf(request, 'Painting', readdirSync(card).sort().slice(-3).map((name) => ({ name, data: readFileSync(join(card, name)) })));
});

test('dabs right after each other, through a network that delays, loses and repeats: each is there once, also after a reload', async ({ page, request }) => {
  await anew(request);
  const moods = ['delay', 'lose answer', 'lose', 'twice', 'through'] as const;
  let turn = 0;
  await page.route('**/mix/commands', async (route: Route) => {
    const mood = moods[turn++ % moods.length];
    if (mood === 'lose') return route.abort('connectionreset');
    if (mood === 'delay') await new Promise((resolve) => setTimeout(resolve, 700));
    const response = await route.fetch();
    if (mood === 'lose answer') return route.abort('connectionreset');
    return route.fulfill({ response: mood === 'twice' ? await route.fetch() : response });
  });
  await open(page);
  await page.keyboard.press('o');
  await dab(page, 7);
  await expect(page.getByText('Brush, 7 strokes')).toBeVisible();
  await saved(page);
  expect(await strokes(request)).toBe(7);
  await page.reload();
  await settled(page);
  await expect(page.getByText('Brush, 7 strokes')).toBeVisible();
});

test('the server is away while somebody paints: it is said, nothing is lost, undo works on what is not saved yet', async ({ page, request }) => {
  await anew(request);
  await open(page);
  await page.keyboard.press('o');
  await page.route('**/mix/**', (route) => route.abort('connectionrefused'));
  await dab(page, 3);
  await expect(page.getByTestId('saving')).toHaveText(/Server away: 3 changes kept here/);
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('saving')).toHaveText(/4 changes kept here/);
  await page.waitForTimeout(2000);
  await page.unroute('**/mix/**');
  await saved(page);
  expect(await strokes(request)).toBe(2);
  await expect(page.getByText('Brush, 2 strokes')).toBeVisible();
});

test('a window that is closed while the server is away: the next one sends what it left', async ({ browser, request }) => {
  await anew(request);
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const first = await context.newPage();
  await open(first);
  await first.keyboard.press('o');
  await first.route('**/mix/**', (route) => route.abort('connectionrefused'));
  await dab(first, 2);
  await expect(first.getByTestId('saving')).toHaveText(/2 changes kept here/);
  await first.close();
  expect(await strokes(request)).toBe(0);
  const second = await context.newPage();
  await open(second);
  await expect.poll(() => strokes(request)).toBe(2);
  await expect(second.getByText('Brush, 2 strokes')).toBeVisible();
  await context.close();
});

test('two windows on one shot: strokes of both are there, and each shows them', async ({ browser, request }) => {
  await anew(request);
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const [one, two] = [await context.newPage(), await context.newPage()];
  await open(one);
  await open(two);
  for (const page of [one, two]) await page.keyboard.press('o');
  await dab(one, 1);
  await saved(one);
  await expect(two.getByText('Brush, 1 stroke')).toBeVisible();
  await Promise.all([dab(one, 3, 20), dab(two, 3, 60)]);
  await saved(one);
  await saved(two);
  expect(await strokes(request)).toBe(7);
  for (const page of [one, two]) await expect(page.getByText('Brush, 7 strokes')).toBeVisible();
  await context.close();
});

test('two windows on one bundle: what one paints in a pass while the other bundles it is there, within the bundle, in both', async ({ browser, request }) => {
  await anew(request);
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const [one, two] = [await context.newPage(), await context.newPage()];
  await open(one);
  await open(two);
  await two.keyboard.press('o');
  await dab(two, 1);
  await saved(two);
  await expect(one.getByText('Brush, 1 stroke')).toBeVisible();
  const painted = (await detail(request)).passes.find((p) => p.mask.some((area) => (area.strokes?.length ?? 0) > 0))!.id;
  await one.locator(`[data-pass="${painted}"] .name`).click();
  await Promise.all([one.keyboard.press('['), dab(two, 3, 40)]);
  await saved(one);
  await saved(two);
  const passes = (await detail(request)).passes;
  const inside = passes.find((p) => p.id === painted)!;
  expect(passes.find((p) => p.id === inside.within)?.kind).toBe('bundle');
  expect(inside.mask.flatMap((area) => area.strokes ?? [])).toHaveLength(4);
  for (const page of [one, two]) await expect(page.locator(`[data-pass="${inside.within!}"]`)).toBeVisible();
  await context.close();
});

test('five hundred strokes: painted on, undone one by one, there after a reload in the middle; the tab takes no more memory than before', async ({ page, request }) => {
  await anew(request);
  await open(page);
  await page.keyboard.press('o');
  await dab(page, 1);
  await saved(page);
  const client = await page.context().newCDPSession(page);
  const heap = async (): Promise<number> => {
    await client.send('HeapProfiler.collectGarbage');
    return ((await client.send('Runtime.getHeapUsage')) as { usedSize: number }).usedSize / 2 ** 20;
  };
  const before = await heap();
  const { id, mask } = (await detail(request)).passes.find((p) => p.mask.some((area) => (area.strokes?.length ?? 0) > 0))!;
  const area = mask.find(({ strokes: own }) => own)!.id;
  const stroke = (k: number): object => {
    const points = Array.from({ length: 40 }, (_, i) => [0.1 + 0.7 * ((k * 37) % 100) / 100 + i * 0.002, 0.1 + (k / 1000) + 0.01 * Math.sin(i / 4)]);
    return { kind: 'addStroke', pass: id, area, stroke: { points, radius: 0.02, softness: 0.5, strength: 0.2, reveal: k % 3 > 0 } };
  };
  // Some one by one, the others as if they came in from elsewhere, many at a time.
  const sent = [...Array.from({ length: 4 }, (_, n) => ({ kind: 'several', commands: Array.from({ length: 109 }, (__, k) => stroke(n * 109 + k)) })), ...Array.from({ length: 60 }, (_, k) => stroke(436 + k))];
  for (const data of sent) expect((await request.post(address(`/api/shots/${shot}/mix/commands`), { data })).status()).toBe(200);
  await expect(page.getByText('Brush, 497 strokes')).toBeVisible();
  await dab(page, 3, 90);
  await page.reload();
  await settled(page);
  await expect(page.getByText('Brush, 500 strokes')).toBeVisible();
  expect(await strokes(request)).toBe(500);
  await page.keyboard.press('o');
  await dab(page, 2, 130);
  for (let k = 0; k < 12; k++) await page.keyboard.press('Control+z');
  await expect(page.getByText('Brush, 490 strokes')).toBeVisible();
  await saved(page);
  expect(await strokes(request)).toBe(490);
  expect(await heap()).toBeLessThan(before + 24);
  await page.keyboard.press('Control+Shift+z');
  await expect(page.getByText('Brush, 491 strokes')).toBeVisible();
});

test('ten windows of one browser: every one loads, and hears of changes', async ({ browser, request }) => {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
  const pages = [];
  for (let k = 0; k < 10; k++) {
    const page = await context.newPage();
    await page.goto(address());
    await expect(page.getByRole('heading', { name: 'Painting' }).first()).toBeVisible();
    pages.push(page);
  }
  await request.post(address('/api/shoots'), { data: { name: 'Heard by all' } });
  // The list changes with the next event.
  await shootOf(request, 'Something to tell', [{ name: 'x.jpg', data: readFileSync(join(process.env.ZADDLE_CARD!, readdirSync(process.env.ZADDLE_CARD!).sort()[0])) }]);
  for (const page of pages) await expect(page.getByRole('heading', { name: 'Heard by all' })).toBeVisible();
  // The one that listens for all goes; another takes over.
  await pages[0].close();
  await shootOf(request, 'Told later', [{ name: 'y.jpg', data: readFileSync(join(process.env.ZADDLE_CARD!, readdirSync(process.env.ZADDLE_CARD!).sort()[1])) }]);
  for (const page of pages.slice(1)) await expect(page.getByRole('heading', { name: 'Told later' })).toBeVisible();
  await context.close();
});
