import { readdirSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { canvasPixels, type Raster } from '../canvas';
import { DEMO, named, openDesk } from '../hands';
import { differenceIn, labOf, logRatio } from '../measure';
import { shootOf } from '../shoot';

/*
 * Pictures of the trade, made by hand: pointer, keys, nothing that was proposed. Each notes how many gestures it took, and what
 * came of it is measured against the truth.
 */

test('T1: an ambient frame and one pop: the natural light with the clean colour of the flash', async ({ page, request }) => {
  const card = process.env.ZADDLE_CARD!;
  const [ambient, pop] = readdirSync(card).sort().slice(-3);
  const [shot] = await shootOf(request, 'T1', named(card, ambient, pop));
  const hands = await openDesk(page, shot);
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
  const hands = await openDesk(page, shot);
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
  const hands = await openDesk(page, shot);
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
  const hands = await openDesk(page, shot);
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
