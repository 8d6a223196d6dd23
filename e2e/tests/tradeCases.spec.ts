import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { canvasPixels, onScreen, settled, type Raster } from '../canvas';
import { differenceIn, labOf, logRatio } from '../measure';
import { address, shootOf } from '../shoot';

/*
 * Pictures of the trade, made by hand: pointer, keys, nothing that was proposed. Each notes how many gestures it took, and what
 * came of it is measured against the truth.
 */

const ROOT = join(import.meta.dirname, '../..');
const DEMO = join(ROOT, 'rig/data/demo-visit');
const strip = (page: Page, name: string) => page.getByRole('group', { name: `Pass ${name}`, exact: true });

/** Hands at the desk, which count what they do. */
class Hands {
  private count = 0;
  constructor(private readonly page: Page) {}
  async key(keys: string): Promise<void> {
    this.count++;
    await this.page.keyboard.press(keys);
  }
  /** One of the drawer's cards, walked to by arrows and taken by Enter. */
  async add(card: RegExp, keys = 'Enter'): Promise<void> {
    await this.key('n');
    const target = this.page.getByRole('region', { name: 'Add a pass' }).getByRole('button', { name: card }).first();
    while (!(await target.evaluate((element) => element === document.activeElement))) await this.key('ArrowRight');
    await this.key(keys);
    await this.key('Escape');
    await settled(this.page);
  }
  async select(name: string): Promise<void> {
    this.count++;
    await strip(this.page, name).locator('.name').click();
  }
  /** Types a value beside its slider. */
  async type(label: string, value: string): Promise<void> {
    this.count += 2;
    const panel = this.page.getByRole('complementary', { name: 'Selected pass' });
    await panel.getByRole('button', { name: new RegExp(`^${label}: .*type another value`) }).first().click();
    await this.page.getByRole('textbox', { name: `${label}, typed` }).fill(value);
    await this.page.keyboard.press('Enter');
    await settled(this.page);
  }
  /** A drag over the picture. */
  async drag(...points: readonly (readonly [number, number])[]): Promise<void> {
    this.count++;
    await this.page.mouse.move(...(await onScreen(this.page, ...points[0])));
    await this.page.mouse.down();
    for (const point of points.slice(1)) await this.page.mouse.move(...(await onScreen(this.page, ...point)), { steps: 6 });
    await this.page.mouse.up();
    await settled(this.page);
  }
  /** Everything that was proposed goes, but the lowest pass. */
  async clear(): Promise<void> {
    const strips = this.page.locator('.strip');
    for (let left = await strips.count(); left > 1; left--) {
      await strips.last().locator('.name').click();
      await this.page.keyboard.press('Delete');
      await expect(strips).toHaveCount(left - 1);
    }
    await settled(this.page);
  }
  done(most: number, measured: string): void {
    test.info().annotations.push({ type: 'gestures', description: `${this.count}; ${measured}` });
    expect(this.count).toBeLessThanOrEqual(most);
  }
}

async function open(page: Page, shot: string): Promise<Hands> {
  await page.goto(address(`/shots/${shot}`));
  await settled(page);
  return new Hands(page);
}
/** A file as a picture of the size that the others are measured at. */
async function fileRaster(file: string): Promise<Raster> {
  const { data, info } = await sharp(file).removeAlpha().resize(1500, 1000, { fit: 'fill' }).raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}
const named = (folder: string, ...files: readonly string[]) => files.map((name) => ({ name, data: readFileSync(join(folder, name)) }));

test('T1: an ambient frame and one pop: the natural light with the clean colour of the flash', async ({ page, request }) => {
  const card = process.env.ZADDLE_CARD!;
  const [ambient, pop] = readdirSync(card).sort().slice(-3);
  const [shot] = await shootOf(request, 'T1', named(card, ambient, pop));
  const hands = await open(page, shot);
  await hands.clear();
  await hands.type('Exposure', '0');
  const before = await canvasPixels(page);
  await hands.add(new RegExp(`^Add ${pop}$`));
  await hands.type('Exposure', '1.5');
  // The ambient once more, on top, for its brightness alone.
  await hands.add(/^Add Ambient/);
  await hands.type('Colour', '10');
  const after = await canvasPixels(page);
  // A wall lit by the lamps, on the right, and the ceiling above it.
  const places = [{ x: 1280, y: 330, r: 60 }, { x: 1150, y: 90, r: 40 }];
  const chroma = (picture: Raster): number => Math.max(...places.map((place) => { const { a, b } = labOf(picture, place); return Math.hypot(a, b); }));
  expect(chroma(after)).toBeLessThan(0.5 * chroma(before));
  // The light falls as it did: everywhere as bright as the ambient alone.
  for (const [x, y] of [[300, 300], [750, 250], [1200, 400], [700, 800], [300, 700]]) expect(Math.abs(logRatio(after, before, { x, y, r: 40 }))).toBeLessThan(0.12);
  hands.done(24, `strongest cast ${chroma(before).toFixed(1)} before, ${chroma(after).toFixed(1)} after`);
});

test.describe('a bedroom with somebody in it', () => {
  test.describe.configure({ mode: 'serial' });
  let folder = '';
  test.beforeAll(() => {
    folder = mkdtempSync(join(tmpdir(), 'zaddle-trade-'));
    const shoot = (room: string, out: string, ...ambient: string[]): void => void execFileSync(join(ROOT, 'zaddle'), ['camera', 'shoot', '--room', room, '--out', join(folder, out), '--seed', '5', '--shake', '7', '--turn', '0.12', '--pops', 'flash-1', '--ambient', ...ambient]);
    shoot('bedroom-helper', 'with', '0');
    shoot('bedroom', 'without', '0', '0');
  });
  test.afterAll(() => rmSync(folder, { recursive: true, force: true }));

  /** Where the helper stands, the flash in the hand included. */
  const PERSON = [[240, 290], [230, 420], [240, 560], [215, 700], [255, 860], [310, 700], [300, 500], [330, 360], [370, 250], [390, 160], [440, 240]] as const;

  test('T8: two frames by hand, somebody in one: gone, and nobody sees where', async ({ page, request }) => {
    const [withPerson, clean] = [{ name: 'HAND0001.JPG', data: readFileSync(join(folder, 'with/MILL0001.JPG')) }, { name: 'HAND0002.JPG', data: readFileSync(join(folder, 'without/MILL0002.JPG')) }];
    const [shot] = await shootOf(request, 'T8', [withPerson, clean]);
    const hands = await open(page, shot);
    await hands.clear();
    await hands.type('Exposure', '0');
    await hands.add(/^Add HAND0001/);
    await hands.add(/^Add HAND0002/, 'Shift+Enter');
    const seen = await canvasPixels(page);
    await hands.key('p');
    await hands.drag(...PERSON);
    await hands.drag(...PERSON.map(([x, y]) => [x + 40, y + 20] as const));
    const after = await canvasPixels(page);
    // The room as it is without anybody, from where the frame with the helper was taken.
    const truth = await fileRaster(join(folder, 'without/MILL0001.JPG'));
    const inside = [[240, 420], [245, 600], [380, 180]].map(([x, y]) => ({ x, y, r: 30 }));
    for (const place of inside) expect(differenceIn(seen, truth, place)).toBeGreaterThan(8);
    const left = inside.map((place) => differenceIn(after, truth, place));
    expect(Math.max(...left)).toBeLessThan(3);
    // Along a line out of the painted part, nothing steps.
    const steps = Array.from({ length: 24 }, (_, k) => logRatio(after, truth, { x: 330 + k * 8, y: 620, r: 5 })).map((v, k, all) => Math.abs(v - (all[k - 1] ?? v)));
    expect(2 ** Math.max(...steps) - 1).toBeLessThan(0.03);
    hands.done(26, `ΔE00 left ${left.map((v) => v.toFixed(1)).join(', ')}; largest step ${(100 * (2 ** Math.max(...steps) - 1)).toFixed(1)} %`);
  });

  test('T2: a pop with the helper in it lights the room; the helper is painted out, without a seam', async ({ page, request }) => {
    const files = [{ name: 'DEEP0001.JPG', data: readFileSync(join(folder, 'without/MILL0001.JPG')) }, { name: 'DEEP0002.JPG', data: readFileSync(join(folder, 'with/MILL0002.JPG')) }];
    const [shot] = await shootOf(request, 'T2', files);
    const hands = await open(page, shot);
    await hands.clear();
    await hands.type('Exposure', '0');
    const ambient = await canvasPixels(page);
    await hands.add(/^Add DEEP0002.JPG, flash alone/);
    await hands.type('Exposure', '-1');
    const lit = await canvasPixels(page);
    // Light adds: the room is brighter, and so is somebody in it.
    expect(logRatio(lit, ambient, { x: 900, y: 800, r: 40 })).toBeGreaterThan(0.1);
    await hands.key('o');
    for (let k = 0; k < 4; k++) await hands.key('.');
    await hands.drag(...PERSON);
    await hands.drag(...PERSON.map(([x, y]) => [x + 45, y] as const));
    const after = await canvasPixels(page);
    const left = [[240, 420], [245, 600], [380, 180]].map(([x, y]) => differenceIn(after, ambient, { x, y, r: 25 }));
    expect(Math.max(...left)).toBeLessThan(3);
    // What was lit stays lit away from there, and it goes over softly: no step between neighbouring places.
    expect(Math.abs(logRatio(after, lit, { x: 900, y: 800, r: 40 }))).toBeLessThan(0.02);
    const over = Array.from({ length: 40 }, (_, k) => logRatio(after, ambient, { x: 300 + k * 12, y: 640, r: 6 }));
    const bends = over.slice(1, -1).map((v, k) => Math.abs(over[k] - 2 * v + over[k + 2]));
    expect(2 ** Math.max(...bends) - 1).toBeLessThan(0.03);
    hands.done(24, `ΔE00 left ${left.map((v) => v.toFixed(1)).join(', ')}; sharpest bend ${(100 * (2 ** Math.max(...bends) - 1)).toFixed(1)} %`);
  });
});

test('T9: two frames lit from opposite ends are joined along a soft ramp; a bounded part is evened', async ({ page, request }) => {
  const [shot] = await shootOf(request, 'T9', named(DEMO, 'MILL0059.JPG', 'MILL0060.JPG', 'MILL0061.JPG'));
  const hands = await open(page, shot);
  await hands.clear();
  await hands.type('Exposure', '0');
  const look = (): Promise<Raster> => canvasPixels(page, 3000, 2000);
  await hands.add(/^Add MILL0060.JPG$/);
  await hands.type('Exposure', '1');
  const one = await look();
  await hands.add(/^Add MILL0061.JPG$/);
  await hands.type('Exposure', '1');
  const other = await look();
  await hands.key('r');
  await hands.drag([900, 1000], [2100, 1000]);
  const joined = await look();
  // Each end is as its own frame has it.
  expect(Math.abs(logRatio(joined, one, { x: 500, y: 1400, r: 60 }))).toBeLessThan(0.03);
  expect(Math.abs(logRatio(joined, other, { x: 2600, y: 1400, r: 60 }))).toBeLessThan(0.03);
  // In between, what is left of one frame goes over into the other without a step.
  const heights = [1300, 1600, 1850];
  const bends = heights.flatMap((y) => {
    const way = Array.from({ length: 60 }, (_, k) => logRatio(joined, one, { x: 850 + k * 22, y, r: 20 }) - logRatio(other, one, { x: 850 + k * 22, y, r: 20 }) * Math.min(1, Math.max(0, (k * 22 - 50) / 1200)));
    return way.slice(1, -1).map((v, k) => Math.abs(way[k] - 2 * v + way[k + 2]));
  });
  expect(2 ** Math.max(...bends) - 1).toBeLessThan(0.03);
  // A bounded part, a stop brighter within a box with a soft border, and nothing beyond it.
  await hands.key('n');
  await page.getByRole('region', { name: 'Add a pass' }).getByRole('button', { name: 'Tone', exact: true }).click();
  await hands.key('Escape');
  await hands.type('Exposure', '0.5');
  await hands.key('x');
  await hands.drag([400, 1500], [1100, 1900]);
  const evened = await look();
  expect(logRatio(evened, joined, { x: 750, y: 1700, r: 60 })).toBeGreaterThan(0.3);
  expect(Math.abs(logRatio(evened, joined, { x: 1400, y: 1700, r: 60 }))).toBeLessThan(0.01);
  hands.done(40, `sharpest bend ${(100 * (2 ** Math.max(...bends) - 1)).toFixed(1)} %`);
});
