import { describe, expect, test } from 'vitest';
import type { MixDocument, Pass } from '@zaddle/document';
import { areaWithout, draggedArea, handlesOf } from '../src/area/areas';
import { copiesOf, faceOf, goodFor, passFrom, whyUnseen } from '../src/desk/newPass';
import type { Frame } from '../src/store/api';

const mix = { reference: 'r', merge: ['r'], passes: [], frames: { r: { stops: 1 }, dark: { stops: -1 }, bright: { stops: 3 }, pop: { stops: -4 } } } as unknown as MixDocument;

describe('a new pass', () => {
  test('is whole, or hidden until it is painted in; the light of a flash alone is added', () => {
    expect(passFrom({ kind: 'frame', frame: 'pop' }, 'Pop', false)).toMatchObject({ mask: [], mode: 'normal', on: true, opacity: 1 });
    expect(passFrom({ kind: 'flash', frame: 'pop' }, 'Pop', true)).toMatchObject({ mode: 'add', mask: [{ kind: 'brush', join: 'add', strokes: [] }] });
  });
  test('as a copy is the same but for its ids', () => {
    const pass = passFrom({ kind: 'merge' }, 'x'.repeat(118), true);
    const [copy] = copiesOf([pass], 0);
    expect(copy.id).not.toBe(pass.id);
    expect(copy.mask[0].id).not.toBe(pass.mask[0].id);
    expect(copy.name.length).toBeLessThanOrEqual(120);
    expect({ ...copy, id: '', name: '', mask: [] }).toEqual({ ...pass, id: '', name: '', mask: [] });
  });
  test('has the face of its frame; the merge has that of the reference, what is below none', () => {
    const faces = ([{ kind: 'frame', frame: 'pop' }, { kind: 'merge' }, { kind: 'below' }] as const).map((source) => faceOf(mix, passFrom(source, 'p', false)));
    expect(faces).toEqual(['pop', 'r', null]);
  });
  test('of a frame says what the frame is good for, against the reference', () => {
    const frame = (id: string, role: Frame['role']): Frame => ({ id, role }) as Frame;
    expect([frame('r', 'ambient'), frame('dark', 'ambient'), frame('bright', 'ambient'), frame('pop', 'flash')].map((f) => goodFor(mix, f))).toEqual(['the reference', 'windows, bright lamps', 'dark corners', 'light, true colours']);
  });
});

test('painting on what cannot be seen says why', () => {
  const pass = passFrom({ kind: 'merge' }, 'p', false);
  const on: MixDocument = { ...mix, passes: [pass, { ...pass, id: 'other' }] };
  expect(whyUnseen(on, pass, null)).toBeNull();
  expect(whyUnseen(on, pass, pass.id)).toBeNull();
  expect(whyUnseen(on, pass, 'other')).toBe('another pass is seen alone');
  // A pass that was removed meanwhile hides nothing.
  expect(whyUnseen(on, pass, 'gone')).toBeNull();
  expect(whyUnseen(on, { ...pass, on: false } as Pass, null)).toBe('it is muted');
  expect(whyUnseen(on, { ...pass, opacity: 0 } as Pass, null)).toBe('its opacity is 0 %');
  expect(whyUnseen(on, { ...pass, brightness: 0, colour: 0 } as Pass, null)).toBe('neither its brightness nor its colour is taken');
});

describe('handles', () => {
  const base = { id: 'a', join: 'add', inverted: false } as const;
  test('of an outline carry their bends along, move bends alone, and take points away', () => {
    const nodes = [[0.1, 0.1], [0.3, 0.1], [0.3, 0.3], [0.1, 0.3]].map(([x, y], k) => ({ at: [x, y] as const, before: k === 1 ? ([x - 0.05, y] as const) : null, after: null }));
    const area = { ...base, kind: 'outline', rings: [nodes], softness: 0 } as const;
    expect(handlesOf(area)).toHaveLength(5);
    const moved = draggedArea(area, '0.1.at', [0.4, 0.2]);
    expect(moved.kind === 'outline' && moved.rings[0][1]).toEqual({ at: [0.4, 0.2], before: [0.35, 0.2], after: null });
    const bent = draggedArea(area, '0.1.before', [0.2, 0.05]);
    expect(bent.kind === 'outline' && bent.rings[0][1]).toMatchObject({ at: [0.3, 0.1], before: [0.2, 0.05] });
    const three = areaWithout(area, '0.2.at');
    expect(three.kind === 'outline' && three.rings[0].map((n) => n.at)).toEqual([[0.1, 0.1], [0.3, 0.1], [0.1, 0.3]]);
    // Three points are the least that enclose anything.
    expect(handlesOf(three).some((h) => h.removable)).toBe(false);
  });
  test('of a spot and a ramp move what they stand for; what is painted or found has none', () => {
    const spot = { ...base, kind: 'spot', at: [0.5, 0.5], rim: [0.6, 0.5], ratio: 1, softness: 0.5 } as const;
    expect(draggedArea(spot, 'at', [0.4, 0.4])).toMatchObject({ at: [0.4, 0.4], rim: [0.5, 0.4] });
    expect(draggedArea(spot, 'rim', [0.5, 0.7])).toMatchObject({ at: [0.5, 0.5], rim: [0.5, 0.7] });
    expect(draggedArea({ ...base, kind: 'ramp', from: [0, 0], to: [1, 0] }, 'to', [0.5, 0.5])).toMatchObject({ from: [0, 0], to: [0.5, 0.5] });
    expect(handlesOf({ ...base, kind: 'brush', strokes: [] })).toEqual([]);
  });
});
