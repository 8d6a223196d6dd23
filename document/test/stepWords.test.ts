import { describe, expect, test } from 'vitest';
import { namesIn, readStep, stepWords, type Command, type Pass } from '../src/index';

const names = { pass: (id: string) => ({ f2: 'Flash 2', fall: 'Fall of light' })[id] ?? 'A pass', frame: (id: string) => `${id}.JPG` };
const pass = { id: 'f2', name: 'Flash 2', within: null, why: '', kind: 'light', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1], source: { kind: 'frame', frame: 'a' }, alignment: null, mode: 'normal', brightness: 1, colour: 1 } as const satisfies Pass;
const stroke = { points: [[0, 0]], radius: 0.1, softness: 1, strength: 1, reveal: false } as const;

describe('steps in words', () => {
  test.each<[Command, string]>([
    [{ kind: 'changePass', id: 'f2', changes: { exposure: 0.3 } }, 'Flash 2: +0.30 stops'],
    [{ kind: 'changePass', id: 'f2', changes: { on: false } }, 'Flash 2: muted'],
    [{ kind: 'changePass', id: 'f2', changes: { source: { kind: 'flash', frame: 'a' } } }, 'Flash 2: takes a.JPG, flash alone'],
    [{ kind: 'changePass', id: 'f2', changes: { source: { kind: 'switched', frame: 'a', without: 'b' } } }, 'Flash 2: takes a.JPG, lamps alone'],
    [{ kind: 'changePass', id: 'f2', changes: { opacity: 0.5, mode: 'multiply' } }, 'Flash 2: opacity 50 %, multiply'],
    [{ kind: 'addStroke', pass: 'fall', area: 'x', stroke }, 'Painted less of Fall of light'],
    [{ kind: 'addArea', pass: 'fall', area: { id: 'x', kind: 'brush', join: 'subtract', inverted: false, strokes: [] }, index: 0 }, 'Painted less of Fall of light'],
    [{ kind: 'addPass', pass, index: 0 }, 'Flash 2: added'],
    [{ kind: 'movePass', id: 'f2', index: 0 }, 'Flash 2: moved'],
    [{ kind: 'movePass', id: 'f2', index: 0, within: 'fall' }, 'Flash 2: moved into Fall of light'],
    [{ kind: 'changeMix', changes: { geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 1, height: 1 } }, 'Crop changed'],
    [{ kind: 'several', commands: [{ kind: 'movePass', id: 'f2', index: 0, within: null }, { kind: 'removePass', id: 'fall' }] }, 'Bundle dissolved'],
    [{ kind: 'changeFrame', id: 'a', changes: { homography: [1, 0, 0, 0, 1, 0, 0, 0, 1] } }, 'a.JPG: moved into line'],
  ])('%j', (command, words) => expect(stepWords(command, names)).toBe(words));

  test('know passes that are not there any more by what commands brought', () => {
    expect(namesIn([{ kind: 'several', commands: [{ kind: 'addPass', pass, index: 0 }] }]).get('f2')).toBe('Flash 2');
  });
});

test('a step of an older history brings passes back as they are now', () => {
  const { within: _, ...old } = pass;
  expect(readStep({ kind: 'addPass', pass: old, index: 0 })).toEqual({ kind: 'addPass', pass, index: 0 });
  expect(readStep({ kind: 'several', commands: [{ kind: 'addPass', pass: old, index: 0 }] })).toMatchObject({ commands: [{ pass: { within: null } }] });
  expect(readStep({ kind: 'changeMix', changes: { passes: [old] } })).toEqual({ kind: 'changeMix', changes: { passes: [pass] } });
});
