import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { canvasPixels, settled, type Raster } from '../canvas';
import type { MixDocument } from '@zaddle/document';
import { angleOf, inOutput } from '../framed';
import { DEMO, mixOf, named, openDesk, raster, ROOT, shotOf } from '../hands';
import { clippedIn, labOf, lightOf, logRatio, type Disc } from '../measure';
import { address, shootOf } from '../shoot';

/* Pictures of the trade that begin with what is proposed: how much is right as it comes, and how many gestures the rest takes. */

test('T6: a wall of looking glass by twelve flashes, chairs set aside on the way: one clean plane, nothing half transparent; a piece is exchanged', async ({ page, request }) => {
  const folder = mkdtempSync(join(tmpdir(), 'zaddle-trade-'));
  const [card, truth] = [join(folder, 'card'), join(folder, 'truth')];
  const pops = (from: number, to: number): string[] => Array.from({ length: to - from + 1 }, (_, k) => `flash-${from + k}`);
  execFileSync(join(ROOT, 'zaddle'), ['camera', 'shoot', '--room', 'rehearsal-loft', '--size', '900', '--seed', '31', '--shake', '1', '--turn', '0.02', '--out', card, '--truth', truth, '--ambient', '0', '-2', '2', '--pops', ...pops(1, 8), '--later-room', 'rehearsal-loft-aside', '--later-pops', ...pops(9, 12)]);
  const files = readdirSync(card).sort();
  const ambient = await raster(join(card, files[0]));
  /** Where each flash is mirrored: its middle. */
  const heads = await Promise.all(readdirSync(truth).filter((name) => name.startsWith('mask_glare')).map(async (name) => {
    const { width, data } = await raster(join(truth, name));
    const places = Array.from({ length: data.length / 3 }, (_, i) => i).filter((i) => data[i * 3] > 127);
    const mean = (of: (i: number) => number): number => places.reduce((sum, i) => sum + of(i), 0) / places.length;
    return { x: mean((i) => i % width), y: mean((i) => Math.floor(i / width)) };
  }));
  expect(heads).toHaveLength(12);
  const [shot] = await shootOf(request, 'T6', named(card, ...files));
  rmSync(folder, { recursive: true, force: true });
  const hands = await openDesk(page, shot);
  const start = await canvasPixels(page, 900, 600);
  // Where a head is mirrored it is no brighter against the room's own light than about it.
  const round = (x: number, y: number, r: number) => [[-r, 0], [r, 0], [0, -r], [0, r]].map(([dx, dy]) => ({ x: x + dx, y: y + dy, r: 5 }));
  const middle = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1];
  const left = heads.map(({ x, y }) => logRatio(start, ambient, { x, y, r: 5 }) - middle(round(x, y, 26).map((disc) => logRatio(start, ambient, disc))));
  for (const v of left) expect(v).toBeLessThan(0.15);
  // The chairs that were set aside stood before this wall.
  const wall = [[775, 370], [790, 385], [800, 365], [815, 400], [825, 375], [840, 390]].map(([x, y]) => logRatio(start, ambient, { x, y, r: 5 }));
  expect(Math.max(...wall) - Math.min(...wall)).toBeLessThan(0.12);
  // A piece of the glass from another frame: pointed at, tried by arrows, taken.
  await hands.key('/');
  await hands.point([428, 236], [442, 236]);
  const faces = page.getByTestId('spot-search').getByRole('radio');
  await expect(faces).toHaveCount(16);
  for (let k = 0; k < 3; k++) await hands.key('ArrowRight');
  // It is looked at in the picture before it is taken.
  await expect(page.getByTestId('spot-search')).toHaveAttribute('data-tried', /^[123]$/);
  await hands.key('Enter');
  await expect(page.getByTestId('spot-search')).toHaveCount(0);
  await settled(page);
  const after = await canvasPixels(page, 900, 600);
  expect((await mixOf(request, shot)).passes.filter((pass) => pass.within === 'clean-up')).toHaveLength(1);
  // No seam: brightness goes on from within the piece to what lies around it.
  const change = [6, 12, 18, 24, 32, 44].flatMap((r) => round(435, 236, r)).map((disc) => logRatio(after, start, disc));
  for (const v of change) expect(Math.abs(v)).toBeLessThan(0.05);
  hands.done(60, `mirrored flashes ${Math.max(...left).toFixed(2)} stops above what lies about them at most, the piece ${Math.max(...change.map(Math.abs)).toFixed(3)} stops off what was there`);
});

test('T11: a hall of more than fifteen sources is matched in light and warmth with a client’s rendering', async ({ page, request }) => {
  const folder = mkdtempSync(join(tmpdir(), 'zaddle-trade-'));
  const [card, rendering] = [join(folder, 'card'), join(folder, 'rendering.png')];
  execFileSync(join(ROOT, 'zaddle'), ['camera', 'shoot', '--room', 'slip-hall', '--size', '900', '--seed', '9', '--shake', '1', '--turn', '0.02', '--out', card, '--rendering', rendering, '--ambient', '0', '--pops', ...Array.from({ length: 16 }, (_, k) => `flash-${k + 1}`)]);
  const files = readdirSync(card).sort();
  const [shot] = await shootOf(request, 'T11', named(card, ...files));
  const wanted = await raster(rendering);
  rmSync(folder, { recursive: true, force: true });
  const hands = await openDesk(page, shot);
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

/** Places of the pilot's room that a stand is before in one frame. */
const ON_IT = [[2225, 470], [2223, 1000], [2600, 1760]].map(([x, y]) => ({ x, y, r: 36 }));
/** Heights at which the wall left of the stand is plain. */

test.describe('the demo visit as it is proposed', () => {
  let shots: string[] = [];
  test.beforeAll(async ({ request }) => {
    shots = await shootOf(request, 'Trade cases', named(DEMO, ...readdirSync(DEMO).filter((name) => name.endsWith('.JPG')).sort()), 'proposed');
  });
  /** A disc of the reference in the picture. */
  const placed = (mix: MixDocument) => (u: number, v: number, r: number): Disc => {
    const [x, y] = inOutput(mix, u, v);
    return { x, y, r };
  };

  test('T5: a wash house that mirrors who took it, twice: nobody is seen, bulbs have shape', async ({ page, request }) => {
    const shot = await shotOf(request, shots, 'MILL0049.JPG');
    const { shot: { readings }, frames } = (await (await request.get(address(`/api/shots/${shot}`))).json()) as { shot: { readings: { kind: string; state: string; frame: string; where: [number, number] }[] }; frames: { id: string; name: string }[] };
    const hands = await openDesk(page, shot);
    const mix = await mixOf(request, shot);
    const at = placed(mix);
    const look = (): Promise<Raster> => canvasPixels(page, mix.width, mix.height);
    const start = await look();
    const alone = await raster(join(DEMO, 'MILL0049.JPG'));
    // Two frames mirror somebody; the picture shows nobody there, and nothing is left to do about them.
    const people = readings.filter(({ kind }) => kind === 'moved');
    expect(people.map(({ state }) => state)).toEqual(['good', 'good']);
    expect(readings.filter(({ kind }) => kind === 'glare')).toEqual([]);
    const left = await Promise.all(people.map(async ({ frame, where: [u, v] }) => {
      const seen = await raster(join(DEMO, frames.find(({ id }) => id === frame)!.name));
      const places = [[0, 0], [0, -50], [0, 50], [-60, 0], [60, 0]].map(([du, dv]): Disc => ({ x: u + du, y: v + dv, r: 12 }));
      expect(Math.min(...places.map((place) => logRatio(seen, alone, place)))).toBeLessThan(-2);
      const shown = places.map((place) => lightOf(start, at(place.x, place.y, 12)) - lightOf(alone, place));
      return Math.max(...shown) - Math.min(...shown);
    }));
    for (const v of left) expect(v).toBeLessThan(0.4);
    // A bulb from the short frame, painted in softly: round again, and brighter than what it lights.
    await hands.select('Tone');
    await hands.add(/^Add MILL0050.JPG$/);
    await hands.type('Exposure', '1.6');
    await hands.key('p');
    for (let k = 0; k < 2; k++) await hands.key('.');
    await hands.drag(inOutput(mix, 2180, 700), inOutput(mix, 2204, 700));
    const after = await look();
    const bulb = at(2192, 700, 40);
    expect(clippedIn(start, bulb)).toBeGreaterThan(0.3);
    expect(clippedIn(after, bulb)).toBeLessThan(0.05);
    for (const [du, dv] of [[-70, 0], [70, 0], [0, -80]]) expect(lightOf(after, at(2192 + du, 700 + dv, 8))).toBeLessThan(lightOf(after, at(2192, 700, 8)) - 0.5);
    expect(Math.abs(logRatio(after, start, at(1500, 1500, 60)))).toBeLessThan(0.01);
    hands.done(30, `light where somebody was mirrored even to ${Math.max(...left).toFixed(2)} stops`);
  });

  test('T7: a furnished room, a stand in one frame, a screen: all joined, the ceiling neutral, walls as they were, the screen off', async ({ page, request }) => {
    const shot = await shotOf(request, shots, 'MILL0062.JPG');
    const hands = await openDesk(page, shot);
    const mix = await mixOf(request, shot);
    const at = placed(mix);
    const alone = await raster(join(DEMO, 'MILL0062.JPG'));
    const start = await canvasPixels(page, mix.width, mix.height);
    // The screen from the frame in which it was off.
    await hands.key('/');
    await hands.point(inOutput(mix, 2890, 1010), inOutput(mix, 2960, 1010));
    const faces = page.getByTestId('spot-search').getByRole('radio');
    await expect(faces).toHaveCount(Object.keys(mix.frames).length + 1);
    while (!(await page.getByTestId('spot-search').getByRole('radio', { name: /^MILL0069/, checked: true }).isVisible())) await hands.key('ArrowRight');
    await hands.key('Enter');
    await settled(page);
    const after = await canvasPixels(page, mix.width, mix.height);
    // Its lines of text are gone, and nothing else is touched.
    const screen = [[2890, 1000], [2890, 1050]].map(([u, v]) => logRatio(after, start, at(u, v, 20)));
    expect(Math.max(...screen)).toBeLessThan(-0.2);
    for (const [u, v] of [[2700, 1300], [2500, 700], [2890, 700]]) expect(Math.abs(logRatio(after, start, at(u, v, 20)))).toBeLessThan(0.01);
    // Nobody's stand is seen, which one frame has; the ceiling is white.
    const stand = ON_IT.map(({ x, y, r }) => lightOf(after, at(x, y, r)) - lightOf(alone, { x, y, r }));
    const beside = ON_IT.map(({ x, y, r }) => lightOf(after, at(x - 160, y, r)) - lightOf(alone, { x: x - 160, y, r }));
    stand.forEach((v, k) => expect(Math.abs(v - beside[k])).toBeLessThan(0.25));
    const ceiling = [[300, 100], [1000, 120], [1700, 200], [2400, 120]].map(([u, v]) => labOf(after, at(u, v, 20))).map(({ a, b }) => Math.hypot(a, b));
    expect(Math.max(...ceiling)).toBeLessThan(3);
    hands.done(40, `screen ${Math.max(...screen).toFixed(2)} stops, ceiling off white by ${Math.max(...ceiling).toFixed(1)} at most`);
  });

  test('T13: one bracket, lamps and daylight mixed, no flash: room and view readable, neutral, level', async ({ page, request }) => {
    const shot = await shotOf(request, shots, 'MILL0054.JPG');
    const hands = await openDesk(page, shot);
    const mixNow = (): Promise<MixDocument> => mixOf(request, shot);
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
    const trees = labOf(picture, at(1816, 692, 24));
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
});
