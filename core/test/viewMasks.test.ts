import type { Area, Pass } from '@zaddle/document';
import { expect, test } from 'vitest';
import type { PreparedMix } from '../src/graph/prepareMix';
import { viewMasks, whereSeen } from '../src/graph/viewMasks';
import { createPlane } from '../src/image/plane';

const pass = (id: string, kind: Pass['kind'], linked?: string): { pass: Pass } => ({ pass: { id, kind, name: id, mask: linked ? [{ id: 'a', kind: 'same', join: 'add', inverted: false, pass: linked } satisfies Area] : [] } as unknown as Pass });

test('views are seen by passes of their own; one over another view is that one\u2019s, one that follows the mask of something else is its own', () => {
  const prepared = { passes: [pass('room', 'light'), pass('left', 'view'), pass('left-cleared', 'view', 'left'), pass('right', 'view', 'room')] } as unknown as PreparedMix;
  const level = { mask: (_: PreparedMix, index: number) => createPlane(3, 1, Float32Array.from([0, 1, 2], (x) => (x === index ? 0.5 : x === 2 && index === 3 ? 0.75 : 0))) };
  const views = viewMasks(level, prepared);
  expect(views.map(({ name }) => name)).toEqual(['left', 'right']);
  expect([...whereSeen(views)!.data]).toEqual([0, 0.5, 0.75]);
  expect(whereSeen([])).toBeNull();
});
