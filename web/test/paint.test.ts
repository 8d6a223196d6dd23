import { describe, expect, test } from 'vitest';
import { draftOf, type MixDocument, type Pass, type Stroke } from '@zaddle/document';
import { drawnBy } from '../src/area/areas';
import { drawnCommand, strokeCommand } from '../src/desk/paint';
import { lookedAt } from '../src/desk/lookedAt';

const pass: Pass = { id: 'a', name: 'a', within: null, why: '', kind: 'light', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], source: { kind: 'merge' }, alignment: null, mode: 'normal', brightness: 1, colour: 1 };
const stroke = { points: [[0.1, 0.1], [0.1001, 0.1], [0.3, 0.1]] as const, radius: 0.05, softness: 0.5, strength: 1, reveal: true };

let made = 0;
const fresh = (): string => `area-${++made}`;
/** The mask of a pass after a command on it. */
const after = (on: Pass, command: Parameters<typeof draftOf>[1]): Pass['mask'] => draftOf({ passes: [on] } as unknown as MixDocument, command).passes[0].mask;
const withStroke = (on: Pass, s: Stroke): Pass['mask'] => after(on, strokeCommand(on, s, fresh()));
const withDrawn = (kind: string, on: Pass, from: readonly [number, number], to: readonly [number, number]): Pass['mask'] => after(on, drawnCommand(on, drawnBy(kind)!, from, to, 'r', fresh()));

describe('painting on a mask', () => {
  test('strokes gather in one brush area; points too close to tell apart are dropped', () => {
    const first = withStroke(pass, stroke);
    expect(first).toHaveLength(1);
    expect(first[0]).toMatchObject({ kind: 'brush', join: 'add' });
    const second = withStroke({ ...pass, mask: first }, { ...stroke, reveal: false });
    expect(second).toHaveLength(1);
    expect(second[0].kind === 'brush' && second[0].strokes.map((s) => [s.reveal, s.points.length])).toEqual([[true, 2], [false, 2]]);
  });
  test('hiding on a pass that is everywhere takes away; revealing again gives back', () => {
    const hidden = withStroke(pass, { ...stroke, reveal: false });
    expect(hidden[0]).toMatchObject({ join: 'subtract', strokes: [{ reveal: true }] });
    const back = withStroke({ ...pass, mask: hidden }, stroke);
    expect(back[0].kind === 'brush' && back[0].strokes[1].reveal).toBe(false);
  });
  test('a further stroke is sent by itself, however much was painted before', () => {
    const mask = withStroke(pass, { ...stroke, points: Array.from({ length: 5000 }, (_, k) => [(k % 100) / 100, k / 5000] as const) });
    expect(JSON.stringify(strokeCommand({ ...pass, mask }, stroke, fresh())).length).toBeLessThan(400);
  });
  test('a ramp drawn again replaces the one before', () => {
    const one = withDrawn('ramp', pass, [0, 0], [1, 0]);
    const two = withDrawn('ramp', { ...pass, mask: one }, [0, 0], [0, 1]);
    expect(two).toHaveLength(1);
    expect(two[0]).toMatchObject({ kind: 'ramp', to: [0, 1] });
  });
  test('a spot drawn again joins the one before', () => {
    const one = withDrawn('spot', pass, [0.2, 0.2], [0.3, 0.2]);
    const two = withDrawn('spot', { ...pass, mask: one }, [0.6, 0.2], [0.7, 0.25]);
    expect(two.map(({ kind, join }) => `${join} ${kind}`)).toEqual(['add spot', 'add spot']);
    expect(two[0]).toBe(one[0]);
  });
});

test('before is the reference alone; solo is one pass, even a muted one', () => {
  const mix = { version: 4, reference: 'r', lens: { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 9, height: 6, frames: {}, merge: ['r'], passes: [pass, { ...pass, id: 'b', on: false }] } as const;
  expect(lookedAt(mix, 'before', null, null).passes.map((p) => 'source' in p && p.source)).toEqual([{ kind: 'frame', frame: 'r' }]);
  expect(lookedAt(mix, 'after', 'b', null).passes).toMatchObject([{ id: 'b', on: true }]);
  expect(lookedAt(mix, 'after', null, null)).toBe(mix);
  expect(lookedAt(mix, 'without', null, 'b').passes.map(({ id, on }) => [id, on])).toContainEqual(['b', false]);
});

test('the pressure of a pen stays with the points that a stroke keeps', () => {
  const command = strokeCommand(pass, { ...stroke, pressures: [0.2, 0.3, 0.456] }, fresh());
  expect(command).toMatchObject({ kind: 'addArea', area: { strokes: [{ points: [[0.1, 0.1], [0.3, 0.1]], pressures: [0.2, 0.46] }] } });
});
