import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { neutralTable } from '@zaddle/core/finish/colourTable';
import { readCube } from '@zaddle/core/finish/readCube';
import { writeCube } from '@zaddle/core/finish/writeCube';
import type { AdjustPass, MixDocument } from '@zaddle/document';
import { canvasPixels, onScreen, screenPixels, settled, type Raster } from '../canvas';
import { addTone } from '../passes';
import { labOf } from '../measure';
import { address, delivered, shootOf } from '../shoot';

/* Colours by their hue, and sharpening: the kitchen has green cupboards, an oak table and blue cloths. */

let shot = '';
test.beforeAll(async ({ request }) => {
  const card = process.env.ZADDLE_CARD!;
  [shot] = await shootOf(request, 'Finish', readdirSync(card).sort().slice(-3).map((name) => ({ name, data: readFileSync(join(card, name)) })));
});

const saved = (page: Page) => expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');
const mixNow = async (page: Page): Promise<MixDocument> => ((await (await page.request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: MixDocument } }).mix.document;
async function open(page: Page): Promise<void> {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
}
/** Sets a slider by typing its value. */
async function type(page: Page, within: string, label: string, value: string): Promise<void> {
  const field = page.getByRole('group', { name: within });
  await field.getByRole('button', { name: new RegExp(`^${label}: .*, type another value`) }).click();
  await field.getByRole('textbox', { name: `${label}, typed` }).fill(value);
  await page.keyboard.press('Enter');
  await settled(page);
  await saved(page);
}
const chroma = (picture: Raster, x: number, y: number, r = 10): number => Math.hypot(labOf(picture, { x, y, r }).a, labOf(picture, { x, y, r }).b);
const DOOR = [200, 700] as const;
const TABLE = [900, 720] as const;

test('a hue is picked in the picture, calmed and turned, its pixels seen meanwhile; other colours stay; delivered as seen; undone', async ({ page }) => {
  await open(page);
  const first = await canvasPixels(page);
  expect(chroma(first, ...DOOR)).toBeGreaterThan(5);
  await addTone(page);
  await page.getByRole('button', { name: 'Pick a hue' }).click();
  await page.mouse.click(...(await onScreen(page, ...DOOR)));
  await expect(page.getByRole('group', { name: 'Hue 1' })).toBeVisible();
  await settled(page);
  // It changes nothing yet, to the last bit.
  expect((await canvasPixels(page)).data.equals(first.data)).toBe(true);
  await type(page, 'Hue 1', 'Strength', '0');
  const calm = await canvasPixels(page);
  expect(chroma(calm, ...DOOR)).toBeLessThan(2.5);
  expect(Math.abs(labOf(calm, { x: DOOR[0], y: DOOR[1], r: 10 }).l - labOf(first, { x: DOOR[0], y: DOOR[1], r: 10 }).l)).toBeLessThan(1.5);
  expect(Math.abs(chroma(calm, ...TABLE) - chroma(first, ...TABLE))).toBeLessThan(1);
  // What it hits is seen in colour, the rest grey.
  await page.getByRole('group', { name: 'Hue 1' }).getByRole('button', { name: 'Show' }).click();
  await settled(page);
  expect(chroma(await canvasPixels(page), ...TABLE)).toBeLessThan(0.6);
  await page.getByRole('group', { name: 'Hue 1' }).getByRole('button', { name: 'Show' }).click();
  await type(page, 'Hue 1', 'Strength', '100');
  await type(page, 'Hue 1', 'Turn hue', '60');
  const turned = await canvasPixels(page);
  const hue = (picture: Raster): number => (Math.atan2(labOf(picture, { x: DOOR[0], y: DOOR[1], r: 10 }).b, labOf(picture, { x: DOOR[0], y: DOOR[1], r: 10 }).a) * 180) / Math.PI;
  expect(Math.abs(((hue(turned) - hue(first) + 540) % 360) - 180)).toBeGreaterThan(25);
  const seen = await screenPixels(page);
  const small = await sharp(await delivered(page.request, shot)).resize(seen.width, seen.height, { fit: 'fill', kernel: 'lanczos3' }).removeAlpha().raw().toBuffer();
  let [off, count] = [0, 0];
  for (let i = 0; i < small.length; i += 7, count++) off += Math.abs(small[i] - seen.data[i]);
  expect(off / count).toBeLessThan(2.5);
  expect(((await mixNow(page)).passes.at(-1) as AdjustPass).bands).toHaveLength(1);
  for (let k = 0; k < 5; k++) await page.keyboard.press('Control+z');
  await settled(page);
  await saved(page);
  expect((await canvasPixels(page)).data.equals(first.data)).toBe(true);
});

test('muted colours grow where strong ones stay', async ({ page }) => {
  await open(page);
  const first = await canvasPixels(page);
  await addTone(page);
  await page.getByRole('slider', { name: 'Muted hues' }).focus();
  for (let k = 0; k < 60; k++) await page.keyboard.press('ArrowRight');
  await settled(page);
  await saved(page);
  const after = await canvasPixels(page);
  expect(chroma(after, ...DOOR) / chroma(first, ...DOOR)).toBeGreaterThan(1.2);
  // An orange in the bowl.
  expect(chroma(after, 730, 690, 6) / chroma(first, 730, 690, 6)).toBeLessThan(1.12);
});

test('the cast of an area is taken away by its mean colour, by a strength; the rest of the picture stays', async ({ page }) => {
  await open(page);
  const first = await canvasPixels(page);
  await addTone(page);
  await page.getByRole('button', { name: 'Box', exact: true }).click();
  // A piece of the green doors: as if it were a wall in green light.
  const [from, to] = [await onScreen(page, 160, 660), await onScreen(page, 240, 740)];
  await page.mouse.move(...from);
  await page.mouse.down();
  await page.mouse.move(...to, { steps: 4 });
  await page.mouse.up();
  await page.keyboard.press('Escape');
  await settled(page);
  await page.getByRole('button', { name: 'Neutralise' }).click();
  await expect(page.getByRole('slider', { name: 'Cast taken' })).toBeVisible();
  await settled(page);
  await saved(page);
  const after = await canvasPixels(page);
  expect(chroma(after, ...DOOR)).toBeLessThan(0.35 * chroma(first, ...DOOR));
  expect(Math.abs(chroma(after, ...TABLE) - chroma(first, ...TABLE))).toBeLessThan(0.1);
  await page.getByRole('slider', { name: 'Cast taken' }).focus();
  for (let k = 0; k < 50; k++) await page.keyboard.press('ArrowLeft');
  await settled(page);
  await saved(page);
  const half = chroma(await canvasPixels(page), ...DOOR);
  expect(half).toBeGreaterThan(chroma(after, ...DOOR) + 1);
  expect(half).toBeLessThan(chroma(first, ...DOOR) - 1);
});

test('sharpening at 1:1: edges become steeper, plain walls stay; where it takes effect is shown; it is undone', async ({ page }) => {
  await open(page);
  await page.keyboard.press('Shift+S');
  const panel = page.getByRole('complementary', { name: 'Noise and sharpening' });
  await expect(panel).toBeVisible();
  await expect(panel.getByRole('checkbox', { name: 'Sharpen the picture' })).toBeChecked();
  await page.keyboard.press('e');
  await settled(page);
  const usual = await screenPixels(page);
  await panel.getByRole('checkbox').uncheck();
  await settled(page);
  await saved(page);
  expect((await mixNow(page)).sharpening).toBeNull();
  const soft = await screenPixels(page);
  const detail = ({ width, height, data }: Raster): number => {
    let sum = 0;
    for (let y = 0; y < height; y++) for (let x = 1; x < width; x++) sum += Math.abs(data[(y * width + x) * 3 + 1] - data[(y * width + x - 1) * 3 + 1]);
    return sum / (width * height);
  };
  expect(detail(usual) / detail(soft)).toBeGreaterThan(1.04);
  // Most of a room is plain: there not a bit changes.
  let same = 0;
  for (let i = 0; i < soft.data.length; i += 3) if (soft.data[i] === usual.data[i] && soft.data[i + 1] === usual.data[i + 1]) same++;
  expect(same / (soft.data.length / 3)).toBeGreaterThan(0.5);
  await page.keyboard.press('Control+z');
  await settled(page);
  expect((await screenPixels(page)).data.equals(usual.data)).toBe(true);
  await panel.getByRole('button', { name: 'Show edges' }).click();
  await settled(page);
  const edges = await screenPixels(page);
  for (let i = 0; i < edges.data.length; i += 3 * 101) expect(edges.data[i]).toBe(edges.data[i + 1]);
  await page.keyboard.press('Escape');
  await expect(panel).toBeHidden();
  await settled(page);
  expect((await screenPixels(page)).data.equals(usual.data)).toBe(true);
});

test('noise is measured in what is seen at 1:1 and taken away, apart for brightness and colour; delivered as seen; undone', async ({ page }) => {
  await open(page);
  await page.keyboard.press('Shift+S');
  const panel = page.getByRole('complementary', { name: 'Noise and sharpening' });
  // Seen whole, pixels are not told from each other.
  await panel.getByRole('button', { name: 'Measure here' }).click();
  await expect(page.getByText('Not measured')).toBeVisible();
  await panel.getByRole('checkbox', { name: 'Sharpen the picture' }).uncheck();
  await page.keyboard.press('e');
  await settled(page);
  const frames = (await mixNow(page)).noise!.grain;
  await panel.getByRole('button', { name: 'Measure here' }).click();
  await expect.poll(async () => (await mixNow(page)).noise!.grain).not.toEqual(frames);
  await settled(page);
  await saved(page);
  const { noise } = await mixNow(page);
  const set = async (label: string, value: string): Promise<void> => {
    await panel.getByRole('button', { name: new RegExp(`^${label}: .*, type another value`) }).first().click();
    await panel.getByRole('textbox', { name: `${label}, typed` }).fill(value);
    await page.keyboard.press('Enter');
    await settled(page);
    await saved(page);
  };
  await set('Colour', '0');
  await set('Brightness', '0');
  const grainy = await screenPixels(page);
  await set('Brightness', '100');
  expect((await mixNow(page)).noise).toEqual({ ...noise, brightness: 1, colour: 0 });
  const calm = await screenPixels(page);
  /** What differs from one pixel to the next, where that is no more than noise; and where it is an edge. */
  const steps = ({ data, width }: Raster, edges: boolean): number => {
    let [sum, count] = [0, 0];
    for (let i = 3; i < data.length; i += 3) {
      if ((i / 3) % width === 0) continue;
      const at = Math.abs(grainy.data[i + 1] - grainy.data[i - 2]);
      if (edges ? at < 24 : at > 3) continue;
      sum += Math.abs(data[i + 1] - data[i - 2]);
      count++;
    }
    return sum / count;
  };
  expect(steps(calm, false)).toBeLessThan(0.8 * steps(grainy, false));
  expect(steps(calm, true)).toBeGreaterThan(0.96 * steps(grainy, true));
  // The same pixels are delivered: the screen shows a part of them, at 1:1.
  const { width, height } = calm;
  const file = await sharp(await delivered(page.request, shot)).raw().toBuffer({ resolveWithObject: true });
  const [x0, y0] = (await page.getByTestId('stage').getAttribute('data-view'))!.split(' ').slice(0, 2).map((at) => Math.max(0, Math.round(-Number(at))));
  let [off, count] = [0, 0];
  for (let y = 10; y < height - 10; y += 3) {
    for (let x = 10; x < width - 10; x += 3, count++) off += Math.abs(calm.data[(y * width + x) * 3 + 1] - file.data[((y + y0) * file.info.width + x + x0) * 3 + 1]);
  }
  expect(off / count).toBeLessThan(1);
  await page.keyboard.press('Control+z');
  await settled(page);
  expect((await screenPixels(page)).data.equals(grainy.data)).toBe(true);
});

test('local contrast, a veil and glow: more of what surfaces have, darks back, white kept, lamps that glow; delivered as seen, also as 16-bit master and as layers', async ({ page }) => {
  await open(page);
  await addTone(page);
  const first = await canvasPixels(page);
  /** Spread of brightness over a place. */
  const spread = ({ width, data }: Raster, x0: number, y0: number, size: number): number => {
    let [sum, square] = [0, 0];
    for (let y = y0; y < y0 + size; y++) for (let x = x0; x < x0 + size; x++) { const v = data[(y * width + x) * (data.length / (width * 1000)) + 1]; sum += v; square += v * v; }
    return Math.sqrt(square / size ** 2 - (sum / size ** 2) ** 2);
  };
  const set = async (label: string, value: string): Promise<void> => {
    await page.getByRole('button', { name: new RegExp(`^${label}: .*, type another value`) }).click();
    await page.getByRole('textbox', { name: `${label}, typed` }).fill(value);
    await page.keyboard.press('Enter');
    await settled(page);
    await saved(page);
  };
  await set('Local contrast', '80');
  const crisp = await canvasPixels(page);
  // The table with what stands on it.
  expect(spread(crisp, 700, 660, 240)).toBeGreaterThan(1.04 * spread(first, 700, 660, 240));
  expect((await mixNow(page)).passes.at(-1)).toMatchObject({ localContrast: 0.8 });
  await set('Veil', '60');
  const cleared = await canvasPixels(page);
  const lowest = ({ data }: Raster): number => { const sorted = Array.from({ length: data.length / 400 }, (_, k) => data[k * 400 + 1]).sort((a, b) => a - b); return sorted[Math.floor(sorted.length * 0.02)]; };
  expect(lowest(cleared)).toBeLessThanOrEqual(lowest(crisp));
  await set('Glow', '70');
  const glowing = await canvasPixels(page);
  const mean = ({ data }: Raster): number => data.reduce((sum, v) => sum + v, 0) / data.length;
  expect(mean(glowing)).toBeGreaterThan(mean(cleared) + 0.3);
  const seen = await screenPixels(page);
  const file = sharp(await delivered(page.request, shot));
  const small = await file.resize(seen.width, seen.height, { fit: 'fill', kernel: 'lanczos3' }).removeAlpha().raw().toBuffer();
  let [off, count] = [0, 0];
  for (let i = 0; i < small.length; i += 7, count++) off += Math.abs(small[i] - seen.data[i]);
  expect(off / count).toBeLessThan(2.5);
  const { ids } = (await (await page.request.post(address('/api/deliveries'), { headers: { 'x-requested-with': 'e2e' }, data: { shots: [shot], orders: ['master', 'layers'] } })).json()) as { ids: string[] };
  await expect.poll(async () => ((await (await page.request.get(address('/api/deliveries'))).json()) as { id: string; state: string }[]).filter((d) => ids.includes(d.id)).map(({ state }) => state), { timeout: 200_000 }).toEqual(['done', 'done']);
  const [master, layers] = await Promise.all(ids.map(async (id) => page.request.get(address(`/api/deliveries/${id}/file`))));
  expect([master.headers()['content-type'], layers.headers()['content-type']]).toEqual(['image/tiff', 'image/openraster']);
  expect(await sharp(await master.body()).metadata()).toMatchObject({ depth: 'ushort', width: (await file.metadata()).width });
  expect((await layers.body()).subarray(30, 54).toString()).toBe('mimetypeimage/openraster');
});

test('what clips is marked while the whites of the tone graph are dragged, and only then', async ({ page }) => {
  await open(page);
  await addTone(page);
  await page.getByRole('button', { name: 'Five zones' }).click();
  await settled(page);
  const white = (await page.getByRole('group', { name: 'Tones' }).getByRole('slider').last().boundingBox())!;
  await page.mouse.move(white.x + white.width / 2, white.y + white.height / 2);
  await page.mouse.down();
  await page.mouse.move(white.x + white.width / 2, white.y - 30, { steps: 6 });
  /** Pixels of the hatching over white. */
  const marked = async (): Promise<number> => {
    const { data } = await screenPixels(page);
    let count = 0;
    for (let i = 0; i + 2 < data.length; i += 3) if (data[i] === 32 && data[i + 1] === 32 && data[i + 2] === 32) count++;
    return count;
  };
  await expect.poll(marked).toBeGreaterThan(500);
  const held = await marked();
  await page.mouse.up();
  await settled(page);
  await saved(page);
  expect(await marked()).toBeLessThan(held / 3);
});

test('a colour table is taken from a file, seen by its strength and delivered as seen; a bad file says which line; colours of a pass are saved as a table that gives the same picture', async ({ page }) => {
  await open(page);
  const first = await canvasPixels(page);
  await addTone(page);
  const group = page.getByRole('group', { name: 'Colour table' });
  const file = (name: string, text: string) => group.getByLabel('File of a colour table').setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
  await file('broken.cube', 'TITLE "Broken"\nLUT_3D_SIZE 2\n0 0 0\n0 0\n');
  await expect(page.getByText(/Line 4: .*3 numbers, here are 2/)).toBeVisible();
  // Everything to its own brightness.
  const neutral = neutralTable(5, 'Ash');
  await file('Ash.cube', writeCube({ ...neutral, values: neutral.values.map((_, i, all) => 0.3 * all[i - (i % 3)] + 0.6 * all[i - (i % 3) + 1] + 0.1 * all[i - (i % 3) + 2]) }));
  await expect(group.getByLabel('Colour table', { exact: true })).toHaveValue(/^[0-9a-f]{64}$/);
  await settled(page);
  await saved(page);
  expect(chroma(await canvasPixels(page), ...DOOR)).toBeLessThan(1.5);
  await type(page, 'Colour table', 'Strength', '50');
  const half = await canvasPixels(page);
  expect(chroma(half, ...DOOR)).toBeGreaterThan(0.25 * chroma(first, ...DOOR));
  expect(chroma(half, ...DOOR)).toBeLessThan(0.8 * chroma(first, ...DOOR));
  const seen = await screenPixels(page);
  const small = await sharp(await delivered(page.request, shot)).resize(seen.width, seen.height, { fit: 'fill', kernel: 'lanczos3' }).removeAlpha().raw().toBuffer();
  let [off, count] = [0, 0];
  for (let i = 0; i < small.length; i += 7, count++) off += Math.abs(small[i] - seen.data[i]);
  expect(off / count).toBeLessThan(2.5);
  // The same colours, saved as a table and used in place of this one.
  const [download] = await Promise.all([page.waitForEvent('download'), group.getByRole('button', { name: 'Save as…' }).click()]);
  expect(download.suggestedFilename()).toMatch(/\.cube$/);
  const text = readFileSync((await download.path())!, 'utf8');
  expect(readCube(text).size).toBe(33);
  await file('Half ash.cube', text);
  await expect(group.getByLabel('Colour table', { exact: true }).locator('option:checked')).toHaveText('Half ash');
  await type(page, 'Colour table', 'Strength', '100');
  expect(Math.abs(chroma(await canvasPixels(page), ...DOOR) - chroma(half, ...DOOR))).toBeLessThan(1);
  await group.getByRole('button', { name: 'All…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Colour tables' });
  await expect(dialog.getByRole('listitem')).toHaveCount(2);
  await dialog.getByRole('button', { name: 'Throw away Ash' }).click();
  await expect(page.getByText(/used by .*1 delivery/)).toBeVisible();
  await page.keyboard.press('Escape');
  await group.getByLabel('Colour table', { exact: true }).selectOption('none');
  await settled(page);
  await saved(page);
  expect((await canvasPixels(page)).data.equals(first.data)).toBe(true);
});
