import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type APIRequestContext, type Page } from '@playwright/test';
import { canvasPixels, meanIn, onScreen, settled } from '../canvas';
import { address, shootOf } from '../shoot';

/* Areas that are drawn: outlines, boxes, their handles, and how they join. */

interface Drawn { readonly kind: string; readonly join: string; readonly rings?: { at: [number, number]; after: unknown }[][]; readonly corners?: [number, number][] }

let shot = '';
const masks = async (request: APIRequestContext): Promise<Drawn[]> => ((await (await request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: { passes: { mask: Drawn[] }[] } } }).mix.document.passes.at(-1)!.mask;
const saved = (page: Page) => expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');

/** A pass on top that shows a frame quite unlike the picture, so that an area on it is plain to see. */
async function openWith(page: Page, request: APIRequestContext): Promise<void> {
  const detail = (await (await request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: { reference: string; passes: unknown[] } } };
  const pass = { id: `probe-${Math.random().toString(36).slice(2)}`, name: 'Probe', within: null, why: '', kind: 'light', on: true, opacity: 1, mask: [], exposure: -5, balance: [1, 1, 1], source: { kind: 'frame', frame: detail.mix.document.reference }, alignment: null, mode: 'normal', brightness: 1, colour: 1 };
  expect((await request.post(address(`/api/shots/${shot}/mix/commands`), { data: { kind: 'addPass', index: detail.mix.document.passes.length, pass } })).status()).toBeLessThan(300);
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  await page.getByRole('group', { name: 'Pass Probe' }).last().locator('.name').click();
}
async function click(page: Page, x: number, y: number): Promise<void> {
  await page.mouse.move(...(await onScreen(page, x, y)));
  await page.mouse.down();
  await page.mouse.up();
}
async function pull(page: Page, from: readonly [number, number], to: readonly [number, number]): Promise<void> {
  await page.mouse.move(...(await onScreen(page, ...from)));
  await page.mouse.down();
  await page.mouse.move(...(await onScreen(page, ...to)), { steps: 6 });
  await page.mouse.up();
}

test.beforeAll(async ({ request }) => {
  const card = process.env.ZADDLE_CARD!;
  [shot] = await shootOf(request, 'Areas', readdirSync(card).sort().slice(-3).map((name) => ({ name, data: readFileSync(join(card, name)) })));
});

test('an outline is drawn point by point, bent by a drag, closed by Enter; its points are moved, added and taken away later', async ({ page, request }) => {
  await openWith(page, request);
  const dark = await canvasPixels(page);
  await page.keyboard.press('z');
  await expect(page.getByText('Outline on “Probe”')).toBeVisible();
  for (const [x, y] of [[500, 300], [900, 300], [950, 320]]) await click(page, x, y);
  // One too many is taken back; no pass is removed by that.
  await page.keyboard.press('Backspace');
  await pull(page, [900, 700], [800, 760]);
  await click(page, 500, 700);
  await page.keyboard.press('Enter');
  await settled(page);
  await saved(page);
  const [area] = await masks(request);
  expect(area.rings![0]).toHaveLength(4);
  expect(area.rings![0][2].after).not.toBeNull();
  const inside = await canvasPixels(page);
  expect(Math.abs(meanIn(inside, 690, 490, 20) - meanIn(dark, 690, 490, 20))).toBeLessThan(1);
  expect(meanIn(inside, 300, 490, 20)).toBeGreaterThan(meanIn(dark, 300, 490, 20) + 20);

  // A corner dragged outwards takes its surroundings in; the change is one step.
  await pull(page, [500, 300], [250, 250]);
  await settled(page);
  expect(meanIn(await canvasPixels(page), 380, 330, 20)).toBeLessThan(meanIn(inside, 380, 330, 20) - 20);
  await page.keyboard.press('Control+z');
  await settled(page);
  expect((await canvasPixels(page)).data.equals(inside.data)).toBe(true);

  await page.mouse.dblclick(...(await onScreen(page, 700, 300)));
  await expect(page.getByRole('button', { name: 'Outline, 5 points', exact: true })).toBeVisible();
  await page.keyboard.down('Alt');
  await click(page, 900, 300);
  await page.keyboard.up('Alt');
  await expect(page.getByRole('button', { name: 'Outline, 4 points', exact: true })).toBeVisible();
  await saved(page);
  await page.reload();
  await settled(page);
  expect((await masks(request))[0].rings![0]).toHaveLength(4);
});

test('a box is drawn by one drag and follows perspective by its corners; areas join, are taken away, and limit each other', async ({ page, request }) => {
  await openWith(page, request);
  const dark = await canvasPixels(page);
  await page.keyboard.press('x');
  await pull(page, [300, 820], [700, 960]);
  await page.keyboard.press('x');
  await pull(page, [500, 820], [900, 960]);
  await page.keyboard.press('Escape');
  await settled(page);
  const both = await canvasPixels(page);
  const at = async (x: number): Promise<boolean> => meanIn(await canvasPixels(page), x, 880, 20) < meanIn(dark, x, 880, 20) + 1;
  expect([await at(350), await at(600), await at(850)]).toEqual([true, true, true]);
  expect(meanIn(both, 100, 880, 20)).toBeGreaterThan(meanIn(dark, 100, 880, 20) + 20);
  await page.getByRole('button', { name: 'Box joins what is above' }).last().click();
  await settled(page);
  expect([await at(350), await at(600), await at(850)]).toEqual([true, false, false]);
  await page.getByRole('button', { name: 'Box is taken from it' }).click();
  await settled(page);
  expect([await at(350), await at(600), await at(850)]).toEqual([false, true, false]);
  await saved(page);
  expect((await masks(request)).map((a) => a.join)).toEqual(['add', 'intersect']);

  // The handle by keys: a pixel of the reference a press, ten with Shift.
  await page.locator('.area .named').last().click();
  await page.getByRole('button', { name: 'Corner 1' }).focus();
  for (let k = 0; k < 10; k++) await page.keyboard.press('Shift+ArrowRight');
  await saved(page);
  const [, second] = await masks(request);
  expect(second.corners![0][0] - second.corners![3][0]).toBeCloseTo(100 / 1500, 3);
});

test('the mask of a pass is seen in colour, the rest grey, and as black and white; the picture comes back', async ({ page, request }) => {
  await openWith(page, request);
  await page.keyboard.press('x');
  await pull(page, [300, 820], [700, 960]);
  await page.keyboard.press('Escape');
  await settled(page);
  const picture = await canvasPixels(page);
  const pixel = ({ data }: { data: Buffer }, x: number, y: number): number[] => [...data.subarray((y * 1500 + x) * 3, (y * 1500 + x) * 3 + 3)];
  const isGrey = ([r, g, b]: number[]): boolean => Math.max(r, g, b) - Math.min(r, g, b) <= 2;
  await page.keyboard.press('v');
  await expect(page.getByText('Mask of “Probe”: in colour where it counts')).toBeVisible();
  await settled(page);
  const coloured = await canvasPixels(page);
  expect(pixel(coloured, 500, 890)).toEqual(pixel(picture, 500, 890));
  const outside = [[100, 890], [1200, 300], [760, 200]] as const;
  expect(outside.filter(([x, y]) => !isGrey(pixel(picture, x, y))).length).toBeGreaterThan(0);
  for (const [x, y] of outside) expect(isGrey(pixel(coloured, x, y))).toBe(true);
  await page.keyboard.press('v');
  await settled(page);
  const plain = await canvasPixels(page);
  expect([pixel(plain, 500, 890), pixel(plain, 100, 890)]).toEqual([[255, 255, 255], [0, 0, 0]]);
  await page.keyboard.press('v');
  await settled(page);
  expect((await canvasPixels(page)).data.equals(picture.data)).toBe(true);
});

test('the sky behind the window is found at a press, and toned by itself', async ({ page, request }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  const before = await canvasPixels(page);
  await page.keyboard.press('n');
  await page.getByRole('region', { name: 'Add a pass' }).getByRole('button', { name: 'Sky', exact: true }).click();
  await settled(page);
  await saved(page);
  expect(await masks(request)).toMatchObject([{ kind: 'found', what: 'sky', join: 'add' }]);
  const panel = page.getByRole('complementary', { name: 'Selected pass' });
  await panel.getByRole('button', { name: /^Exposure: / }).click();
  await page.getByLabel('Exposure, typed').fill('-3');
  await page.keyboard.press('Enter');
  await settled(page);
  const darker = await canvasPixels(page);
  let [inside, outside] = [0, 0];
  for (let y = 0; y < 1000; y += 2) for (let x = 0; x < 1500; x += 2) {
    const i = (y * 1500 + x) * 3 + 1;
    if (before.data[i] - darker.data[i] < 25) continue;
    // The window's panes lie there, all of its sky in their upper part.
    if (x > 540 && x < 880 && y > 270 && y < 400) inside++;
    else outside++;
  }
  expect(inside).toBeGreaterThan(500);
  expect(outside).toBeLessThan(0.02 * inside);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await settled(page);
  await saved(page);
});

test('a surface is taken by a click, another by a second one, and toned alone', async ({ page, request }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  await page.keyboard.press('n');
  await page.getByRole('region', { name: 'Add a pass' }).getByRole('button', { name: 'Surface', exact: true }).click();
  await expect(page.getByText('Click a surface for “Surface”')).toBeVisible();
  const before = await canvasPixels(page);
  // A cupboard's door, and the one to the left of it.
  await click(page, 420, 650);
  await saved(page);
  await settled(page);
  await page.getByRole('complementary', { name: 'Selected pass' }).getByRole('button', { name: /^Exposure: / }).click();
  await page.getByLabel('Exposure, typed').fill('-3');
  await page.keyboard.press('Enter');
  await settled(page);
  /** Stops of change at places of the picture. */
  const stops = (now: Awaited<ReturnType<typeof canvasPixels>>, x: number, y: number): number => Math.log2(meanIn(now, x, y, 6) / meanIn(before, x, y, 6));
  const one = await canvasPixels(page);
  expect(stops(one, 420, 650)).toBeLessThan(-0.8);
  for (const [x, y] of [[230, 690], [760, 760], [200, 300], [750, 400]]) expect(Math.abs(stops(one, x, y)), `${x}, ${y}`).toBeLessThan(0.03);
  await page.keyboard.press('Shift+T');
  await click(page, 230, 690);
  await saved(page);
  await settled(page);
  expect(await masks(request)).toMatchObject([{ kind: 'brush' }, { kind: 'found', what: 'surface', join: 'add' }, { kind: 'found', what: 'surface', join: 'add' }]);
  const two = await canvasPixels(page);
  expect(stops(two, 230, 690)).toBeLessThan(-0.8);
  expect(stops(two, 420, 650)).toBeLessThan(-0.8);
  for (const [x, y] of [[760, 760], [200, 300], [750, 400]]) expect(Math.abs(stops(two, x, y)), `${x}, ${y}`).toBeLessThan(0.03);
  for (let k = 0; k < 4; k++) await page.keyboard.press('Control+z');
  await settled(page);
  await saved(page);
});

test('the ceiling is found at a press, and calmed and toned by itself', async ({ page, request }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  const before = await canvasPixels(page);
  await page.keyboard.press('n');
  await page.getByRole('region', { name: 'Add a pass' }).getByRole('button', { name: 'Ceiling', exact: true }).click();
  await settled(page);
  await saved(page);
  expect(await masks(request)).toMatchObject([{ kind: 'found', what: 'ceiling', join: 'add' }]);
  await page.getByRole('complementary', { name: 'Selected pass' }).getByRole('button', { name: /^Exposure: / }).click();
  await page.getByLabel('Exposure, typed').fill('-3');
  await page.keyboard.press('Enter');
  await settled(page);
  const darker = await canvasPixels(page);
  let [inside, outside] = [0, 0];
  for (let y = 0; y < 1000; y += 2) for (let x = 0; x < 1500; x += 2) {
    const i = (y * 1500 + x) * 3 + 1;
    if (before.data[i] - darker.data[i] < 25) continue;
    if (y < 260) inside++;
    else outside++;
  }
  expect(inside).toBeGreaterThan(5000);
  expect(outside).toBeLessThan(0.02 * inside);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await settled(page);
  await saved(page);
});
