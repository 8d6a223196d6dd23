import { expect, test } from 'vitest';
import { runCampaign } from '../../rig/src/torture/campaign';

test('hurt a dozen times while somebody works with it, a server loses, doubles and forgets nothing that it acknowledged', async () => {
  const { faults, acknowledged, wrongs, whole } = await runCampaign({ faults: 12, minutes: 4, seed: 3, only: [], folder: null, tell: () => undefined });
  expect(wrongs).toEqual({ lost: [], doubled: [], stuck: [], broken: [] });
  expect(whole).toBe(true);
  expect(Object.values(faults).reduce((sum, n) => sum + n, 0)).toBeGreaterThanOrEqual(8);
  // Work got on between.
  expect(Math.min(acknowledged.frames, acknowledged.strokes, acknowledged.deliveries)).toBeGreaterThan(0);
}, 900_000);
