import { expect, test } from 'vitest';
import { planShot, usualPops } from '../src/camera/plans';
import type { Layers } from '../src/trace/renderRoom';

/** A room so small that it is evenly grey, with these lights. */
const roomWith = (...lights: string[]): Layers => ({ width: 9, height: 6, layers: new Map(lights.map((name) => [name, new Float32Array(9 * 6 * 3).fill(0.2)])) });
const plan = (pops: readonly string[]) => ({ room: 'office', shot: 'office', ambient: [0, -2], pops, shake: 0, turn: 0, seed: 1 });

test('a room is taken with the flashes that it has, and one that it does not have is told before anything is taken', () => {
  const office = roomWith('day', 'lamps');
  expect(usualPops(office)).toEqual([]);
  expect(usualPops(roomWith('day', 'flash-1', 'flash-2', 'flash-3'))).toEqual(['flash-1', 'flash-2']);
  expect(planShot(plan(usualPops(office)), office, new Date(0), 1).map(({ role }) => role)).toEqual(['ambient', 'ambient']);
  expect(() => planShot(plan(['flash-1']), office, new Date(0), 1)).toThrow('office has no light flash-1. It has day, lamps.');
});
