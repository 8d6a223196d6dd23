import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type APIRequestContext, type Page } from '@playwright/test';
import sharp from 'sharp';
import { canvasPixels, onScreen, settled, type Raster } from '../canvas';
import type { MixDocument } from '@zaddle/document';
import { angleOf, inOutput } from '../framed';
import { differenceIn, labOf, logRatio } from '../measure';
import { address, shootOf } from '../shoot';

/*
 * Pictures of the trade, made by hand: pointer, keys, nothing that was proposed. Each notes how many gestures it took, and what
 * came of it is measured against the truth.
 */

const ROOT = join(import.meta.dirname, '../..');
const DEMO = join(ROOT, 'rig/data/demo-visit');
const strip = (page: Page, name: string) => page.getByRole('group', { name: `Pass ${name}`, exact: true });

/** The shot that holds a frame. */
async function shotOf(request: APIRequestContext, shots: readonly string[], frame: string): Promise<string> {
  for (const shot of shots) if (((await (await request.get(address(`/api/shots/${shot}`))).json()) as { frames: { name: string }[] }).frames.some(({ name }) => name === frame)) return shot;
  throw new Error(`No shot holds ${frame}.`);
}

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
  // The plate on the right is white.
  await hands.key('y');
  await hands.drag([978, 762]);
  // The ambient once more, on top, for its brightness alone.
  await hands.add(/^Add Ambient/);
  await hands.type('Colour', '10');
  const after = await canvasPixels(page);
  // What is white there: the other plate, the jug, the sink.
  const places = [{ x: 508, y: 772, r: 12 }, { x: 832, y: 690, r: 10 }, { x: 715, y: 605, r: 12 }];
  const chroma = (picture: Raster): number => Math.max(...places.map((place) => { const { a, b } = labOf(picture, place); return Math.hypot(a, b); }));
  expect(chroma(after)).toBeLessThan(0.5 * chroma(before));
  // The light falls as it did: everywhere as bright as the ambient alone.
  for (const [x, y] of [[300, 300], [750, 250], [1200, 400], [700, 800], [300, 700]]) expect(Math.abs(logRatio(after, before, { x, y, r: 40 }))).toBeLessThan(0.12);
  hands.done(24, `strongest cast ${chroma(before).toFixed(1)} before, ${chroma(after).toFixed(1)} after`);
});

/** A stand with a flash, its cable and a bucket in one frame of the pilot's room, pixels of it. */
const STAND = [[2223, 470], [2100, 430], [2345, 430], [2345, 540], [2223, 560], [2223, 1000], [2223, 1400], [2223, 1600], [2030, 1700], [2223, 1750], [2430, 1700], [2600, 1740], [2650, 1820], [2850, 1790], [2990, 1800], [2500, 1830], [2223, 1900]] as const;
const ON_IT = [[2225, 470], [2223, 1000], [2600, 1760]].map(([x, y]) => ({ x, y, r: 36 }));
/** Heights at which the wall left of the stand is plain. */
const BESIDE_IT = [1080, 1130, 1180];
const largest = (values: readonly number[]): number => 100 * (2 ** Math.max(...values.map(Math.abs)) - 1);
/** How much a course of values bends at each place: what an eye takes for a seam. */
const bendsOf = (way: readonly number[]): number[] => way.slice(1, -1).map((v, k) => way[k] - 2 * v + way[k + 2]);

test('T8: two frames, something unwanted in one: gone, and nobody sees where', async ({ page, request }) => {
  const [shot] = await shootOf(request, 'T8', named(DEMO, 'MILL0065.JPG', 'MILL0070.JPG'));
  const hands = await open(page, shot);
  await hands.clear();
  const look = (): Promise<Raster> => canvasPixels(page, 3000, 2000);
  await hands.add(/^Add MILL0070.JPG$/);
  await hands.type('Exposure', '1');
  const seen = await look();
  await hands.add(/^Add MILL0065.JPG$/);
  await hands.type('Exposure', '1');
  const clean = await look();
  for (const place of ON_IT) expect(differenceIn(seen, clean, place)).toBeGreaterThan(5);
  // Hidden, to be painted in where the stand is.
  await hands.key('p');
  for (let k = 0; k < 4; k++) await hands.key('.');
  await hands.drag(...STAND);
  const after = await look();
  const left = ON_IT.map((place) => differenceIn(after, clean, place));
  expect(Math.max(...left)).toBeLessThan(3);
  // Beyond the brush nothing changed, and on the way there nothing steps.
  expect(Math.abs(logRatio(after, seen, { x: 1200, y: 1200, r: 60 }))).toBeLessThan(0.01);
  const bends = BESIDE_IT.flatMap((y) => bendsOf(Array.from({ length: 26 }, (_, k) => logRatio(after, clean, { x: 2223 - k * 16, y, r: 12 }))));
  expect(largest(bends)).toBeLessThan(3);
  hands.done(30, `ΔE00 left ${left.map((v) => v.toFixed(1)).join(', ')}; sharpest bend ${largest(bends).toFixed(1)} %`);
});

test('T2: a pop with a stand in it lights the room; the stand is painted out of its light, without a seam', async ({ page, request }) => {
  const [shot] = await shootOf(request, 'T2', named(DEMO, 'MILL0062.JPG', 'MILL0063.JPG', 'MILL0064.JPG', 'MILL0070.JPG'));
  const hands = await open(page, shot);
  await hands.clear();
  const look = (): Promise<Raster> => canvasPixels(page, 3000, 2000);
  const ambient = await look();
  await hands.add(/^Add MILL0070.JPG, flash alone/);
  await hands.type('Exposure', '1');
  const lit = await look();
  // Light adds: what it reaches is brighter.
  expect(logRatio(lit, ambient, { x: 1800, y: 1350, r: 40 })).toBeGreaterThan(0.1);
  await hands.key('o');
  await hands.type('Softness', '100');
  for (let k = 0; k < 6; k++) await hands.key('.');
  await hands.drag(...STAND);
  const after = await look();
  const left = ON_IT.map((place) => differenceIn(after, ambient, place));
  expect(Math.max(...left)).toBeLessThan(3);
  expect(Math.abs(logRatio(after, lit, { x: 1200, y: 1200, r: 60 }))).toBeLessThan(0.01);
  // What of its light is left goes from nothing to all softly.
  const bends = BESIDE_IT.flatMap((y) => bendsOf(Array.from({ length: 22 }, (_, k) => logRatio(after, lit, { x: 2170 - k * 16, y, r: 12 }))));
  expect(largest(bends)).toBeLessThan(3);
  hands.done(30, `ΔE00 left ${left.map((v) => v.toFixed(1)).join(', ')}; sharpest bend ${largest(bends).toFixed(1)} %`);
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
  // The far end from the frame that is lit there: a spot about it, soft to its middle.
  await hands.key('t');
  await hands.drag([1490, 1250], [2300, 1250]);
  await page.locator('.area .named').click();
  await hands.type('Softness', '100');
  const joined = await look();
  expect(Math.abs(logRatio(joined, other, { x: 1490, y: 1250, r: 40 }))).toBeLessThan(0.1);
  expect(Math.abs(logRatio(joined, one, { x: 400, y: 1400, r: 60 }))).toBeLessThan(0.01);
  // At the rim it is the near frame without a step, whatever the direction.
  const rim = [0.2, 1.2, 2, 2.9, 4.2].flatMap((angle) => [0.97, 1, 1.03].map((r) => logRatio(joined, one, { x: 1490 + 810 * r * Math.cos(angle), y: 1250 + 810 * r * Math.sin(angle) * 0.9, r: 14 })));
  expect(largest(rim)).toBeLessThan(3);
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
  hands.done(44, `largest step at the rim ${largest(rim).toFixed(1)} %`);
});

test('T11: a hall of more than fifteen sources is matched in light and warmth with a client’s rendering', async ({ page, request }) => {
  const folder = mkdtempSync(join(tmpdir(), 'zaddle-trade-'));
  const [card, rendering] = [join(folder, 'card'), join(folder, 'rendering.png')];
  execFileSync(join(ROOT, 'zaddle'), ['camera', 'shoot', '--room', 'slip-hall', '--size', '900', '--seed', '9', '--shake', '1', '--turn', '0.02', '--out', card, '--rendering', rendering, '--ambient', '0', '--pops', ...Array.from({ length: 16 }, (_, k) => `flash-${k + 1}`)]);
  const files = readdirSync(card).sort();
  const [shot] = await shootOf(request, 'T11', named(card, ...files));
  const wanted = await sharp(rendering).removeAlpha().raw().toBuffer({ resolveWithObject: true }).then(({ data, info }): Raster => ({ width: info.width, height: info.height, data }));
  rmSync(folder, { recursive: true, force: true });
  const hands = await open(page, shot);
  const look = (): Promise<Raster> => canvasPixels(page, 900, 600);
  // Places all over the hall, beside the windows at its end.
  const places = [[120, 120], [120, 300], [120, 480], [280, 520], [450, 540], [620, 520], [780, 480], [780, 300], [780, 120], [300, 60], [600, 60], [250, 250], [650, 250]].map(([x, y]) => ({ x, y, r: 22 }));
  const apart = (picture: Raster): { light: number; level: number; warmth: number } => {
    const light = places.map((place) => logRatio(picture, wanted, place));
    const warm = places.map((place) => labOf(picture, place).b - labOf(wanted, place).b);
    const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;
    return { light: mean(light.map(Math.abs)), level: mean(light), warmth: mean(warm) };
  };
  const before = apart(await look());
  // All flashes as one: the drawing has little of them.
  const flashes = page.getByRole('group', { name: /^Pass Flash/ });
  const count = await flashes.count();
  expect(count).toBeGreaterThanOrEqual(8);
  await flashes.first().locator('.name').click();
  for (let k = 1; k < count; k++) await flashes.nth(k).locator('.name').click({ modifiers: ['Shift'] });
  await hands.key('[');
  await settled(page);
  await hands.type('Opacity', '45');
  // A tone pass above all, by eye: as bright, then as warm as the drawing.
  await page.locator('.strip .name').last().click();
  await hands.key('n');
  await page.getByRole('region', { name: 'Add a pass' }).getByRole('button', { name: 'Tone', exact: true }).click();
  await hands.key('Escape');
  let [exposure, mired] = [0, 1e6 / 6500];
  for (let round = 0; round < 4; round++) {
    const now = apart(await look());
    exposure -= 1.1 * now.level;
    mired += 1.6 * now.warmth;
    await hands.type('Exposure', exposure.toFixed(2));
    await hands.type('Temperature', `${Math.round(1e6 / Math.min(480, Math.max(55, mired)))} K`);
  }
  const after = apart(await look());
  expect(Math.abs(after.level)).toBeLessThan(0.1);
  expect(Math.abs(after.warmth)).toBeLessThan(2);
  expect(after.light).toBeLessThan(0.6 * before.light);
  hands.done(60, `light apart ${before.light.toFixed(2)} stops before, ${after.light.toFixed(2)} after; b* apart ${before.warmth.toFixed(1)}, ${after.warmth.toFixed(1)}`);
});

test('T13: one bracket, lamps and daylight mixed, no flash: room and view readable, neutral, level', async ({ page, request }) => {
  const shots = await shootOf(request, 'T13', named(DEMO, ...readdirSync(DEMO).filter((name) => name.endsWith('.JPG')).sort()), 'proposed');
  const shot = await shotOf(request, shots, 'MILL0054.JPG');
  const hands = await open(page, shot);
  const mixNow = async (): Promise<MixDocument> => ((await (await request.get(address(`/api/shots/${shot}`))).json()) as { mix: { document: MixDocument } }).mix.document;
  // Level and plumb as it comes: the camera hung by 1.4° and looked down by 5.9°.
  const proposed = await mixNow();
  const [roll, pitch, focal] = [(-1.4 * Math.PI) / 180, (-5.85 * Math.PI) / 180, 1500 / Math.tan((34.385 * Math.PI) / 180)];
  const [dx, dy, dz] = [Math.sin(roll) * Math.cos(pitch), Math.cos(roll) * Math.cos(pitch), -Math.sin(pitch)];
  const below = [1499.5 + (focal * dx) / dz, 999.5 + (focal * dy) / dz];
  // What is plumb leads to one place: lines to it, at the left, in the middle, at the right.
  const lean = Math.max(...[100, 1500, 2900].map((px) => Math.abs(angleOf(proposed, [px, 600, px + 0.1 * (below[0] - px), 600 + 0.1 * (below[1] - 600)]))));
  expect(lean).toBeLessThan(0.15);
  // White is picked on the ceiling, where lamps and daylight meet.
  await hands.select(proposed.passes[0].name);
  await hands.key('y');
  await hands.drag(inOutput(proposed, 700, 120));
  const mix = await mixNow();
  const picture = await canvasPixels(page, mix.width, mix.height);
  const at = (u: number, v: number, r: number) => { const [px, py] = inOutput(mix, u, v); return { x: px, y: py, r }; };
  const ceiling = [[1100, 90], [700, 120], [1700, 60]].map(([u, v]) => labOf(picture, at(u, v, 20)));
  const wall = [[800, 900], [1850, 500], [900, 500]].map(([u, v]) => labOf(picture, at(u, v, 20)));
  // The ceiling is painted white (b* 1.1), the walls a warm white (b* 5.3): light that differs from place to place takes more than one balance.
  const [offCeiling, offWall] = [[ceiling, 1.1], [wall, 5.3]].map(([places, b]) => (places as { a: number; b: number }[]).reduce((sum, each) => sum + Math.hypot(each.a, each.b - (b as number)) / 3, 0));
  expect(offCeiling).toBeLessThan(6);
  expect(offWall).toBeLessThan(6);
  // The view is there: trees and water, not white.
  const trees = labOf(picture, at(1700, 620, 24));
  expect(trees.l).toBeLessThan(85);
  expect(trees.l).toBeGreaterThan(35);
  hands.done(11, `lean ${lean.toFixed(2)}°, ceiling off by ${offCeiling.toFixed(1)}, walls by ${offWall.toFixed(1)}`);
  // What was decided here goes to the whole shoot in one go, and is taken back in one go.
  await hands.select('Tone');
  await hands.type('Contrast', '128');
  await hands.key('Shift+M');
  const methods = page.getByRole('complementary', { name: 'Methods' });
  await expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');
  await methods.getByRole('button', { name: 'Keep as a method…' }).click();
  await page.getByRole('textbox', { name: 'Name', exact: true }).fill('Office light');
  await page.getByRole('dialog').getByRole('button', { name: 'Keep', exact: true }).click();
  await methods.getByRole('radio', { name: 'Office light' }).click();
  await settled(page);
  await expect(page.getByTestId('saving')).toHaveAttribute('data-saving', 'saved');
  const all = async (): Promise<MixDocument[]> => Promise.all(shots.map(async (id) => ((await (await request.get(address(`/api/shots/${id}`))).json()) as { mix: { document: MixDocument } }).mix.document));
  const contrasts = (mixes: readonly MixDocument[]): number[] => mixes.map(({ passes }) => passes.flatMap((pass) => (pass.kind === 'adjust' && pass.id === 'finish' ? [pass.contrast] : []))[0]);
  const then = await all();
  await methods.getByText('For other shots of this shoot').click();
  await methods.getByRole('button', { name: `Give to ${shots.length - 1} shots` }).click();
  await expect(methods.getByText(`“Office light” is on ${shots.length - 1} shots`)).toBeVisible();
  const given = await all();
  expect(contrasts(given)).toEqual(shots.map(() => 1.28));
  expect(new Set(contrasts(then)).size).toBe(2);
  await methods.getByRole('button', { name: 'Take back everywhere' }).click();
  await expect(methods.getByText('“Office light” is on')).toBeHidden();
  const back = await all();
  expect(contrasts(back)).toEqual(contrasts(then));
  back.forEach((document, k) => expect(document.geometry).toEqual(then[k].geometry));
});
