import { expect, test } from 'vitest';
import { giveBack, lendMemory } from '../src/picture/lentMemory';

test('a memory that was given back is the next one’s, of whatever size below its own; one that is lent is nobody else’s', () => {
  const first = lendMemory(10_000_000);
  expect(first.buffer.byteLength).toBeGreaterThanOrEqual(10_000_000);
  const second = lendMemory(20_000_000);
  expect(second).not.toBe(first);
  giveBack(first);
  // Twice is once.
  giveBack(first);
  expect(lendMemory(60_000_000)).toBe(first);
  expect(lendMemory(1000)).not.toBe(first);
});

test('large ones come in few sizes, so that pictures of all shots share one; too large is refused', () => {
  const large = lendMemory(700_000_000);
  giveBack(large);
  expect(lendMemory(1_900_000_000)).toBe(large);
  expect(() => lendMemory(2 ** 31 + 1)).toThrow(/2 GiB/);
});
