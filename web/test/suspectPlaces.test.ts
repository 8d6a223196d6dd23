import { expect, test } from 'vitest';
import { withInset } from '@zaddle/core/clean/cleanUpBundle';
import type { Reading } from '@zaddle/core/read/readings';
import type { MixDocument, Point, SourcePass } from '@zaddle/document';
import { suspectPlaces } from '../src/desk/suspectPlaces';
import { drawnSpot, roundSpot, spotOf } from '../src/desk/useSpotPointer';

const square = (x: number, y: number, half: number): Point[] => [[x - half, y - half], [x + half, y - half], [x + half, y + half], [x - half, y + half]];
const reading = (places: readonly Point[][]): Reading => ({ kind: 'glare', value: 1, unit: '%', state: 'check', text: '', places });
const mix = { reference: 'r', frames: { r: { width: 1000, height: 500 } }, passes: [] } as unknown as MixDocument;
const inset = (at: Point, on: boolean): SourcePass => ({ id: 'i', name: 'i', why: '', within: null, kind: 'inset', on, opacity: 1, exposure: 0, balance: [1, 1, 1], source: { kind: 'frame', frame: 'r' }, alignment: null, mode: 'normal', brightness: 1, colour: 1, mask: [{ id: 'm', kind: 'outline', join: 'add', inverted: false, softness: 0, rings: [square(...at, 0.03).map((p) => ({ at: p, before: null, after: null }))] }] });
const middles = (...args: Parameters<typeof suspectPlaces>) => suspectPlaces(...args).map(({ at }) => at.map((v) => Math.round(v * 1000) / 1000));

test('places are in the order of the readings, each once, until they are cleaned up or let stay', () => {
  const readings = [reading([square(200, 100, 20), square(600, 300, 20)]), reading([square(601, 301, 20), square(800, 400, 10)]), { ...reading([]), places: undefined }];
  expect(middles(readings, mix, [])).toEqual([[0.2, 0.1], [0.6, 0.3], [0.8, 0.4]]);
  expect(middles(readings, mix, [[0.602, 0.299]])).toEqual([[0.2, 0.1], [0.8, 0.4]]);
  const cleaned = (on: boolean): MixDocument => ({ ...mix, passes: withInset([], inset([0.2, 0.1], on)) });
  expect(middles(readings, cleaned(true), [])).toEqual([[0.6, 0.3], [0.8, 0.4]]);
  // Muted, it cleans nothing.
  expect(middles(readings, cleaned(false), [])).toHaveLength(3);
});

test('a place is what was clicked, dragged, drawn round, or an area that is there', () => {
  expect(roundSpot([0.4, 0.3], [0.45, 0.3])).toMatchObject({ at: [0.4, 0.3], areas: [{ kind: 'spot', at: [0.4, 0.3], rim: [0.45, 0.3], softness: 0 }] });
  const drawn = drawnSpot([[0.1, 0.1], [0.3, 0.1], [0.3, 0.2], [0.1, 0.2]])!;
  expect(drawn.at[0]).toBeCloseTo(0.2, 6);
  expect(drawn.areas[0]).toMatchObject({ kind: 'outline', join: 'add' });
  // A click with Shift, or a line to and fro, encloses nothing.
  expect(drawnSpot([[0.1, 0.1]])).toBeNull();
  expect(drawnSpot([[0.1, 0.1], [0.2, 0.1], [0.1, 0.1]])).toBeNull();
  const area = { ...roundSpot([0.4, 0.3], [0.45, 0.3]).areas[0], id: 'mine', join: 'subtract' as const };
  expect(spotOf(area)).toMatchObject({ at: [0.4, 0.3], areas: [{ kind: 'spot', join: 'add' }] });
  expect(spotOf(area).areas[0].id).not.toBe('mine');
});
