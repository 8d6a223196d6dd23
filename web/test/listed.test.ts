import { describe, expect, test } from 'vitest';
import { listed, nextStep } from '../src/shoots/listed';
import type { ShootSummary } from '../src/store/api';

const shoot = (id: string, more: Partial<ShootSummary> = {}): ShootSummary => ({ id, name: id, address: '', dueAt: null, createdAt: '2026-03-01T10:00:00Z', frames: { waiting: 0, gathered: 9, rejected: 0 }, shots: 3, mixed: 3, delivered: 0, approved: 0, sentBack: 0, cover: null, ...more });

describe('the list of shoots', () => {
  test('begins with what is due first; what has no time comes after, what is delivered last', () => {
    const shoots = [shoot('done', { delivered: 3, dueAt: '2026-03-02T07:00:00Z' }), shoot('none, older', { createdAt: '2026-02-01T10:00:00Z' }), shoot('later', { dueAt: '2026-03-03T07:00:00Z' }), shoot('none'), shoot('soon', { dueAt: '2026-03-02T06:00:00Z' })];
    expect(listed(shoots, '').map(({ id }) => id)).toEqual(['soon', 'later', 'none', 'none, older', 'done']);
  });
  test('is searched by words of name and address, in any order', () => {
    const shoots = [shoot('Tide Mill', { address: '3 Causeway Lane' }), shoot('Net Loft')];
    expect(listed(shoots, 'lane tide').map(({ id }) => id)).toEqual(['Tide Mill']);
    expect(listed(shoots, ' ')).toHaveLength(2);
    expect(listed(shoots, 'harbour')).toEqual([]);
  });
  test('says what to do next, and where', () => {
    expect(nextStep(shoot('a', { frames: { waiting: 4, gathered: 0, rejected: 0 } }))).toEqual({ text: 'Reading, 4 files left', to: '/shoots/a' });
    expect(nextStep(shoot('a', { frames: { waiting: 0, gathered: 0, rejected: 2 } })).text).toBe('Add a card');
    expect(nextStep(shoot('a', { mixed: 1 }))).toEqual({ text: 'Mixing, 2 shots left', to: '/shoots/a/wall' });
    expect(nextStep(shoot('a', { approved: 1 }))).toEqual({ text: 'Look at 2 of 3', to: '/shoots/a/wall' });
    expect(nextStep(shoot('a', { approved: 1, sentBack: 1 })).text).toBe('Mend 1 sent back');
    expect(nextStep(shoot('a', { approved: 3 })).text).toBe('Deliver: all approved');
    expect(nextStep(shoot('a', { delivered: 3 }))).toEqual({ text: 'Delivered', to: '/outbox' });
  });
});
