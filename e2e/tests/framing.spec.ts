import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import type { MixDocument } from '@zaddle/document';
import { onScreen, screenPixels, settled } from '../canvas';
import { angleOf, inReference } from '../framed';
import { address, delivered, shootOf } from '../shoot';

/* Straightened and cropped. The kitchen was taken by a camera that looks down by 3.2° and hangs straight. */

let shot = '';
test.beforeAll(async ({ request }) => {
  const card = process.env.ZADDLE_CARD!;
  [shot] = await shootOf(request, 'Framing', readdirSync(card).sort().slice(-3).map((name) => ({ name, data: readFileSync(join(card, name)) })), 'proposed');
});

const panel = (page: Page) => page.getByRole('complementary', { name: 'Straighten and crop' });
const saved = (page: Page) => expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');
const mixNow = async (page: Page): Promise<MixDocument> => ((await (await page.request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: MixDocument } }).mix.document;
const leaning = (page: Page) => page.getByRole('complementary', { name: 'Readings' }).getByRole('button', { name: /^\w* ?Verticals/ });
async function open(page: Page): Promise<void> {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  await page.keyboard.press('Shift+F');
  await expect(panel(page)).toBeVisible();
  await settled(page);
}
/** Vertical edges of the kitchen, ends in pixels of the reference: dresser, cupboards, window. */
const DRESSER = [1453, 222, 1429, 867];
const CUPBOARD = [146, 585, 153, 788];
const WINDOW = [840, 299, 839, 509];

test('what is plumb in the room is plumb in the picture that nobody touched, and it says so', async ({ page }) => {
  const mix = await mixNow(page);
  for (const edge of [DRESSER, CUPBOARD, WINDOW]) expect(Math.abs(angleOf(mix, edge))).toBeLessThan(0.3);
  expect(mix.width / mix.height).toBeCloseTo(1.5, 2);
  expect(mix.width).toBeGreaterThan(1400);
  await open(page);
  await expect(panel(page).locator('p[role=status]')).toHaveText(/looked down by 3\.\d°.*\d+ vertical edges agree/);
  await expect(panel(page).getByRole('button', { name: 'Verticals', exact: true })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('g');
  await expect(leaning(page)).toHaveText(/0\.0 °/);
  // As it was taken, and back by one press each; the reading follows at once.
  await panel(page).getByRole('button', { name: 'As shot' }).click();
  await expect(leaning(page)).toHaveText(/[12]\.\d °.*spread upwards/);
  await saved(page);
  const plain = await mixNow(page);
  expect([plain.width, plain.height]).toEqual([1500, 1000]);
  plain.geometry.forEach((v, k) => expect(v).toBeCloseTo([1, 0, 0, 0, 1, 0, 0, 0, 1][k], 9));
  await page.keyboard.press('Control+z');
  await expect(leaning(page)).toHaveText(/0\.0 °/);
  await saved(page);
  expect((await mixNow(page)).geometry).toEqual(mix.geometry);
});

test('lines drawn on two plumb things, not quite on their edges, make all of them plumb; taken back one by one', async ({ page }) => {
  await open(page);
  await panel(page).getByRole('button', { name: 'As shot' }).click();
  await settled(page);
  await panel(page).getByRole('button', { name: 'Draw lines' }).click();
  // As shot, the stage shows the reference's own pixels.
  for (const [k, [x0, y0, x1, y1]] of [[1451.5, 260, 1430.5, 840], [147, 600, 152.5, 770]].entries()) {
    const mix = await mixNow(page);
    if (k > 0) expect(mix.framing!.lines).toHaveLength(k);
    const [from, to] = k === 0 ? [await onScreen(page, x0 + 4, y0), await onScreen(page, x1 + 3, y1)] : await straightenedPlaces(page, mix, [x0 - 4, y0], [x1 - 3, y1]);
    await page.mouse.move(...from);
    await page.mouse.down();
    await page.mouse.move(...to, { steps: 5 });
    await page.mouse.up();
    await expect(panel(page).getByRole('group', { name: 'Lines' }).getByRole('button')).toHaveCount(k + 1);
    await saved(page);
    await settled(page);
  }
  const mix = await mixNow(page);
  for (const edge of [DRESSER, CUPBOARD, WINDOW]) expect(Math.abs(angleOf(mix, edge))).toBeLessThan(0.3);
  expect(Math.abs(mix.framing!.pitch + 3.1)).toBeLessThan(0.3);
  await panel(page).getByRole('button', { name: 'Take back line 2' }).click();
  await saved(page);
  expect((await mixNow(page)).framing!.pitch).toBe(0);
  await panel(page).getByRole('button', { name: 'Verticals', exact: true }).click();
  await saved(page);
  expect((await mixNow(page)).framing!.lines).toEqual([]);
});

/** Where places of the reference lie on the screen of a straightened picture: by the drawn line's own marks, which follow the picture. */
async function straightenedPlaces(page: Page, mix: MixDocument, ...places: [number, number][]): Promise<[number, number][]> {
  const first = mix.framing!.lines[0];
  const mark = await page.locator('.drawn-lines line').first().evaluate((line) => ['x1', 'y1', 'x2', 'y2'].map((name) => Number(line.getAttribute(name))));
  const stage = (await page.getByTestId('stage').boundingBox())!;
  // One line turns and scales the picture evenly: its two ends tell all of that.
  const [ax, ay, bx, by] = [first.from[0] * 1500, first.from[1] * 1500, first.to[0] * 1500, first.to[1] * 1500];
  const [dx, dy, ex, ey] = [bx - ax, by - ay, mark[2] - mark[0], mark[3] - mark[1]];
  const n = dx * dx + dy * dy;
  const [c, s] = [(dx * ex + dy * ey) / n, (dx * ey - dy * ex) / n];
  return places.map(([x, y]) => [stage.x + mark[0] + c * (x - ax) - s * (y - ay), stage.y + mark[1] + s * (x - ax) + c * (y - ay)]);
}

test('a crop in a listing’s ratio: dragged at a corner, moved by keys, never beyond the picture, and delivered as it is seen', async ({ page }) => {
  await open(page);
  await panel(page).getByRole('combobox', { name: 'Ratio' }).selectOption('4:3');
  await settled(page);
  await saved(page);
  const largest = await mixNow(page);
  expect(largest.width / largest.height).toBeCloseTo(4 / 3, 2);
  const grip = page.getByRole('button', { name: 'Crop, bottom right' });
  const { x, width, height } = (await grip.boundingBox())!;
  const drag = async (dx: number, dy: number): Promise<void> => {
    const at = (await grip.boundingBox())!;
    await page.mouse.move(at.x + width / 2, at.y + height / 2);
    await page.mouse.down();
    await page.mouse.move(at.x + width / 2 + dx, at.y + height / 2 + dy, { steps: 6 });
    await page.mouse.up();
    await saved(page);
  };
  await drag(-120, -90);
  expect((await grip.boundingBox())!.x).toBeLessThan(x - 60);
  const smaller = await mixNow(page);
  expect(smaller.width / smaller.height).toBeCloseTo(4 / 3, 2);
  // As far as the pointer went.
  const scale = Number(await page.getByTestId('stage').getAttribute('data-scale'));
  expect(Math.abs(largest.width - smaller.width - 120 / scale)).toBeLessThan(12);
  await expect(panel(page).getByTestId('crop-cost')).toHaveText(new RegExp(`${smaller.width} × ${smaller.height}, \\d\\.\\d MP: \\d\\d % of the frame`));
  // Far beyond the picture: it ends at the rim, where a corner of the reference would else be empty.
  await drag(900, 900);
  const wide = await mixNow(page);
  const corners = [[0, 0], [wide.width - 1, 0], [wide.width - 1, wide.height - 1], [0, wide.height - 1]].map(([u, v]) => inReference(wide, u, v));
  for (const [u, v] of corners) {
    expect(u).toBeGreaterThan(-0.5);
    expect(u).toBeLessThan(1499.5);
    expect(v).toBeGreaterThan(-0.5);
    expect(v).toBeLessThan(999.5);
  }
  await drag(-160, -100);
  const before = await mixNow(page);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowDown');
  await saved(page);
  const moved = await mixNow(page);
  expect([moved.width, moved.height]).toEqual([before.width, before.height]);
  expect(moved.framing!.crop!.at[0]).toBeGreaterThan(before.framing!.crop!.at[0]);
  expect(moved.framing!.crop!.at[1]).toBeGreaterThan(before.framing!.crop!.at[1]);
  await page.keyboard.press('Enter');
  await expect(panel(page)).toBeHidden();
  await settled(page);
  const seen = await screenPixels(page);
  const file = await delivered(page.request, shot);
  expect(await sharp(file).metadata()).toMatchObject({ width: moved.width, height: moved.height });
  const small = await sharp(file).resize(seen.width, seen.height, { fit: 'fill', kernel: 'lanczos3' }).removeAlpha().raw().toBuffer();
  let [off, count] = [0, 0];
  for (let i = 0; i < small.length; i += 3 * 7) {
    off += Math.abs(small[i + 1] - seen.data[i + 1]);
    count++;
  }
  expect(off / count).toBeLessThan(2.5);
  // What the crop cuts off is shown on request, dimmed, and no longer than that.
  await page.keyboard.press('Shift+W');
  await expect(page.getByTestId('crop-dim')).toBeVisible();
  await settled(page);
  expect((await screenPixels(page)).width).toBeGreaterThan(seen.width);
  await page.keyboard.press('Shift+W');
  await expect(page.getByTestId('crop-dim')).toBeHidden();
});

test('a listing is ordered at the desk: 4:3 as large as the picture has it, whatever the picture’s own ratio; the choice is remembered', async ({ page }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  const choice = page.getByRole('button', { name: /^Orders: / });
  await choice.click();
  await page.getByRole('checkbox', { name: /^Listing/ }).check();
  await page.getByRole('checkbox', { name: /^Full size/ }).uncheck();
  // Something is always delivered.
  await page.getByRole('checkbox', { name: /^Listing/ }).click();
  await expect(page.getByRole('checkbox', { name: /^Listing/ })).toBeChecked();
  await page.keyboard.press('Escape');
  await expect(choice).toHaveText('Listing');
  await page.getByRole('button', { name: 'Deliver', exact: true }).click();
  const row = page.getByRole('row', { name: /-listing\.jpg/ }).first();
  await expect(row).toHaveAttribute('data-state', 'done');
  const [download] = await Promise.all([page.waitForEvent('download'), row.getByRole('link', { name: 'Download' }).click()]);
  const { width = 0, height = 1 } = await sharp(await download.path()).metadata();
  expect(width / height).toBeCloseTo(4 / 3, 2);
  await page.goto(address(`/shots/${shot}`));
  await expect(choice).toHaveText('Listing');
});

test('a listing gets a crop of its own beside the picture’s; taken back, it shows what it did', async ({ page }) => {
  const listed = async (): Promise<Buffer> => {
    const { ids: [id] } = (await (await page.request.post(address('/api/deliveries'), { headers: { 'x-requested-with': 'e2e' }, data: { shots: [shot], orders: ['listing'] } })).json()) as { ids: string[] };
    await expect.poll(async () => ((await (await page.request.get(address('/api/deliveries'))).json()) as { id: string; state: string }[]).find((d) => d.id === id)!.state, { timeout: 100_000 }).toBe('done');
    return (await page.request.get(address(`/api/deliveries/${id}/file`))).body();
  };
  await open(page);
  const [before, first] = [await mixNow(page), await listed()];
  await panel(page).getByRole('combobox', { name: 'Crop of' }).selectOption({ label: '4:3: Listing' });
  await settled(page);
  const cost = panel(page).getByTestId('crop-cost');
  const wide = await cost.textContent();
  // Made smaller by a grip, and moved to the left by keys.
  const grip = (await page.getByRole('button', { name: 'Crop, bottom right' }).boundingBox())!;
  await page.mouse.move(grip.x + grip.width / 2, grip.y + grip.height / 2);
  await page.mouse.down();
  await page.mouse.move(grip.x - 120, grip.y - 90, { steps: 6 });
  await page.mouse.up();
  for (let k = 0; k < 4; k++) await page.keyboard.press('ArrowLeft');
  await settled(page);
  await saved(page);
  expect(await cost.textContent()).not.toBe(wide);
  const now = await mixNow(page);
  expect(now.framing!.ownCrops).toHaveLength(1);
  expect(now.framing!.ownCrops![0].ratio).toBeCloseTo(4 / 3, 6);
  expect(now.framing!.ownCrops![0].crop.width / now.framing!.ownCrops![0].crop.height).toBeCloseTo(4 / 3, 2);
  expect([now.geometry, now.width, now.height]).toEqual([before.geometry, before.width, before.height]);
  await expect(panel(page).getByRole('combobox', { name: 'Crop of' }).locator('option:checked')).toHaveText('4:3: Listing, its own');
  const own = await listed();
  const [a, b] = await Promise.all([first, own].map((file) => sharp(file).resize(400, 300, { fit: 'fill' }).removeAlpha().raw().toBuffer()));
  expect(a.reduce((sum, v, i) => sum + Math.abs(v - b[i]), 0) / a.length).toBeGreaterThan(8);
  await panel(page).getByRole('button', { name: 'As the picture’s' }).click();
  await saved(page);
  expect((await mixNow(page)).framing!.ownCrops).toBeUndefined();
  expect(Buffer.compare(await listed(), first)).toBe(0);
});

test('what was retouched stays where it was when the picture is straightened and cropped otherwise', async ({ page }) => {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  const mix = await mixNow(page);
  const spot = { kind: 'spot', id: 'dot', join: 'add', inverted: false, at: [0.5, 0.3], rim: [0.51, 0.3], ratio: 1, softness: 0 };
  const pass = { id: 'dot', kind: 'fill', name: 'Dot', why: '', within: null, on: true, opacity: 1, exposure: 0, balance: [1, 1, 1], mask: [spot], mode: 'normal', brightness: 1, colour: 1, tone: [0, 0.6, 0], ramp: null, around: false };
  expect((await page.request.post(address(`/api/shots/${shot}/mix/commands`), { data: { kind: 'addPass', index: mix.passes.length, pass }, headers: { 'x-requested-with': 'e2e' } })).status()).toBe(200);
  const greenest = async (): Promise<[number, number]> => {
    let [sx, sy, n] = [0, 0, 0];
    const look = async (): Promise<number> => {
      await settled(page);
      const { width, data } = await screenPixels(page);
      [sx, sy, n] = [0, 0, 0];
      for (let i = 0; i < data.length; i += 3) {
        if (data[i + 1] < data[i] + 60 || data[i + 1] < data[i + 2] + 60) continue;
        sx += (i / 3) % width;
        sy += Math.floor(i / 3 / width);
        n++;
      }
      return n;
    };
    await expect.poll(look).toBeGreaterThan(20);
    const scale = Number(await page.getByTestId('stage').getAttribute('data-scale'));
    return inReference(await mixNow(page), (sx / n + 0.5) / scale - 0.5, (sy / n + 0.5) / scale - 0.5);
  };
  await page.reload();
    const before = await greenest();
  expect(Math.hypot(before[0] - 750, before[1] - 450)).toBeLessThan(2);
  await page.keyboard.press('Shift+F');
  await panel(page).getByRole('slider', { name: 'Turn' }).focus();
  for (let k = 0; k < 20; k++) await page.keyboard.press('ArrowRight');
  await panel(page).getByRole('combobox', { name: 'Ratio' }).selectOption('1:1');
  await panel(page).getByRole('button', { name: 'Done' }).click();
  await saved(page);
  const turned = await mixNow(page);
  expect(turned.framing!.turn).toBeCloseTo(1, 5);
  expect(Math.abs(turned.width - turned.height)).toBeLessThan(2);
  const after = await greenest();
  expect(Math.hypot(after[0] - 750, after[1] - 450)).toBeLessThan(2);
});
