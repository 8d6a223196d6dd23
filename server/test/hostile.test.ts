import { expect, test } from 'vitest';
import { Dice } from '../../rig/src/dice';
import { hostileFiles } from '../../rig/src/torture/hostileFiles';
import { hostileRequests } from '../../rig/src/torture/hostileRequests';
import { withInstance } from '../../rig/src/torture/hostileRun';

test('mutated requests and broken files are answered in words: none by a 5xx, none in vain, and what is sound beside them is taken', async () => {
  const { requests, files } = await withInstance(async (instance) => ({
    requests: await hostileRequests(instance, new Dice(5), 500, () => undefined),
    files: await hostileFiles(instance, new Dice(6), 60, () => undefined),
  }));
  expect(requests.findings).toEqual({});
  expect(files.findings).toEqual({});
  expect(requests.requests).toBeGreaterThanOrEqual(500);
  // Refused for what is wrong with them, and not for something that all have in common.
  expect(requests.byStatus[400]).toBeGreaterThan(40);
  expect(requests.byStatus[200]).toBeGreaterThan(40);
  expect(files.rejected).toBeGreaterThan(10);
  expect(files.gathered).toBeGreaterThan(3);
}, 900_000);
