import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { applyCommand, collide, CURRENT_VERSION, InvalidMix, touchedPaths, type Command, type MixDocument, type Pass, type Stroke } from '@zaddle/document';
import { EditQueue, type Answer, type Edit, type MixState } from '../src/edits/editQueue';
import { sharing } from '../src/edits/sharing';
import { keepUnsent, leftBehind, takeLeft } from '../src/edits/unsentEdits';

const pass = (id: string): Pass => ({ id, name: id, within: null, why: '', kind: 'light', on: true, opacity: 1, mask: [{ id: 'brush', kind: 'brush', join: 'add', inverted: false, strokes: [] }], exposure: 0, balance: [1, 1, 1], source: { kind: 'merge' }, alignment: null, mode: 'normal', brightness: 1, colour: 1 });
const use = { width: 1500, height: 1000, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1] as const, mesh: null, stops: 0, balance: [1, 1, 1] as const };
const START: MixDocument = { version: CURRENT_VERSION, reference: 'r', lens: { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: 1500, height: 1000, frames: { r: use }, merge: ['r'], passes: [pass('a'), pass('b')] };
const stroke = (n: number): Stroke => ({ points: [[n / 1000, 0.1]], radius: 0.05, softness: 0.5, strength: 1, reveal: true });
const painted = (n: number): Command => ({ kind: 'addStroke', pass: 'a', area: 'brush', stroke: stroke(n) });
const strokesOf = (mix: MixDocument): number[] => mix.passes[0].mask.flatMap((a) => (a.kind === 'brush' ? a.strokes.map((s) => Math.round(s.points[0][0] * 1000)) : []));

/** A server that keeps to the rules of the real one: changes of others since the base must not collide, and one name is done once. */
class Server {
  document = START;
  revision = 1;
  readonly log: { id: string; editor: string; touched: readonly string[] }[] = [];
  state = (): MixState => ({ document: this.document, revision: this.revision, canUndo: this.log.length > 0, canRedo: false });

  take(editor: string, edit: Edit, known: number): Answer {
    if (this.log.some(({ id }) => id === edit.id)) return { kind: 'taken', state: this.state() };
    if (edit.kind !== 'command') return { kind: 'refused', why: 'not here', state: null };
    const touched = touchedPaths(edit.command);
    const others = this.log.slice(edit.base - 1).filter((change) => change.editor !== editor).flatMap((change) => change.touched);
    if (collide(touched, others)) return { kind: 'refused', why: 'changed meanwhile', state: this.state() };
    try {
      this.document = applyCommand(this.document, edit.command).document;
    } catch (error) {
      if (error instanceof InvalidMix) return { kind: 'refused', why: error.message, state: null };
      throw error;
    }
    const knew = known === this.revision;
    this.revision += 1;
    this.log.push({ id: edit.id, editor, touched });
    const { document, ...rest } = this.state();
    return { kind: 'taken', state: knew ? rest : { document, ...rest } };
  }
}

type Fate = 'through' | 'lost on the way' | 'answer lost' | 'slow';
let ids = 0;

/** A window on a server, behind a network with moods. */
function openWindow(server: Server, editor: string, fateOf: () => Fate, refusals: string[] = []): EditQueue {
  const tick = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0));
  return new EditQueue(server.state(), {
    send: async (edit, known) => {
      const fate = fateOf();
      if (fate === 'lost on the way') return { kind: 'away' };
      if (fate === 'slow') for (let k = 0; k < 3; k++) await tick();
      const answer = server.take(editor, edit, known);
      await tick();
      return fate === 'answer lost' ? { kind: 'away' } : answer;
    },
    keep: () => undefined, refused: (why) => refusals.push(why), pause: tick, now: () => 0,
  });
}
const does = (queue: EditQueue, command: Command): void => queue.add(`edit-${++ids}`, { kind: 'command', command });
async function allSent(...queues: EditQueue[]): Promise<void> {
  for (let k = 0; k < 3000 && queues.some((q) => q.view().saving !== 'saved'); k++) await new Promise((resolve) => setTimeout(resolve, 0));
  for (const queue of queues) expect(queue.view().saving).toBe('saved');
}

test('what equals a part of before is that very part, at any depth', () => {
  fc.assert(fc.property(fc.jsonValue(), fc.jsonValue(), (a, b) => {
    const copy = structuredClone(a);
    expect(sharing(a, copy)).toBe(a);
    expect(sharing(a, b)).toEqual(b);
  }), { numRuns: 300, examples: [[{}, JSON.parse('{"__proto__": [1]}')], [JSON.parse('{"__proto__": {}}'), JSON.parse('{"__proto__": {"a": 1}}')]] });
  const before = { passes: [{ id: 'a', mask: [{ strokes: [[1, 2], [3, 4]] }] }, { id: 'b', mask: [] }] };
  const next = structuredClone(before);
  next.passes[0].mask[0].strokes.push([5, 6]);
  const shared = sharing(before, next);
  expect(shared).toEqual(next);
  expect(shared.passes[1]).toBe(before.passes[1]);
  expect(shared.passes[0].mask[0].strokes[1]).toBe(before.passes[0].mask[0].strokes[1]);
});

describe('edits on their way', () => {
  test('a dab right after a dab stands on it, before the server has answered', async () => {
    const server = new Server();
    const queue = openWindow(server, 'one', () => 'slow');
    for (let n = 1; n <= 5; n++) {
      does(queue, painted(n));
      expect(strokesOf(queue.view().document)).toHaveLength(n);
    }
    await allSent(queue);
    expect(strokesOf(server.document)).toEqual([1, 2, 3, 4, 5]);
    expect(queue.view().document).toEqual(server.document);
  });
  test('through any network and any timing of two windows, each stroke arrives once, and each window ends with what the server has', async () => {
    const fates = fc.constantFrom<Fate>('through', 'lost on the way', 'answer lost', 'slow');
    await fc.assert(fc.asyncProperty(fc.array(fc.tuple(fc.boolean(), fates, fates), { minLength: 1, maxLength: 14 }), async (moves) => {
      const server = new Server();
      const moods = moves.flatMap(([, a, b]) => [a, b]);
      const fateOf = (): Fate => moods.pop() ?? 'through';
      const windows = [openWindow(server, 'one', fateOf), openWindow(server, 'two', fateOf)];
      for (const [k, [second]] of moves.entries()) {
        does(windows[second ? 1 : 0], painted(k + 1));
        // Events tell windows of what others did, in the middle of anything.
        if (k % 3 === 0) windows.forEach((w) => w.take(server.state()));
        await new Promise((resolve) => setTimeout(resolve, 0));
      }
      await allSent(...windows);
      expect(strokesOf(server.document).sort((a, b) => a - b)).toEqual(moves.map((_, k) => k + 1));
      for (const window of windows) {
        window.take(server.state());
        expect(window.view().document).toEqual(server.document);
      }
    }), { numRuns: 60 });
  });
  test('an older value does not win: what another window changed meanwhile is refused, said, and shown as it stands', async () => {
    const server = new Server();
    const refusals: string[] = [];
    const away = { now: true };
    const offline = openWindow(server, 'one', () => (away.now ? 'lost on the way' : 'through'), refusals);
    const online = openWindow(server, 'two', () => 'through');
    does(offline, { kind: 'changePass', id: 'a', changes: { exposure: 1 } });
    does(offline, { kind: 'changePass', id: 'b', changes: { exposure: 2 } });
    does(online, { kind: 'changePass', id: 'a', changes: { exposure: 3 } });
    await allSent(online);
    expect(offline.view()).toMatchObject({ saving: 'away', unsent: 2 });
    away.now = false;
    await allSent(offline);
    expect(refusals).toEqual(['changed meanwhile']);
    expect(server.document.passes.map((p) => p.exposure)).toEqual([3, 2]);
    expect(offline.view().document).toEqual(server.document);
  });
  test('a person may change one thing many times before the first is saved: the last value stands', async () => {
    const server = new Server();
    const queue = openWindow(server, 'one', () => 'slow');
    for (let k = 1; k <= 6; k++) does(queue, { kind: 'changePass', id: 'a', changes: { exposure: k } });
    await allSent(queue);
    expect(server.document.passes[0].exposure).toBe(6);
  });
  test('what does not fit is refused at once and leaves nothing behind', () => {
    const queue = openWindow(new Server(), 'one', () => 'through');
    expect(() => does(queue, { kind: 'removePass', id: 'zz' })).toThrow(InvalidMix);
    expect(queue.view()).toMatchObject({ saving: 'saved', unsent: 0 });
  });
  test('what a window could not send is found by the next one, and done once however often it is sent', async () => {
    const shelf = new Map<string, string>();
    const storage = { getItem: (k: string) => shelf.get(k) ?? null, setItem: (k: string, v: string) => void shelf.set(k, v), removeItem: (k: string) => void shelf.delete(k), key: (n: number) => [...shelf.keys()][n] ?? null, get length() { return shelf.size; } };
    const server = new Server();
    const closed = new EditQueue(server.state(), { send: async (edit, known) => (server.take('one', edit, known), { kind: 'away' }), keep: (unsent) => keepUnsent(storage, 'shot', 'one', unsent), refused: () => undefined, pause: () => new Promise(() => undefined), now: () => 0 });
    does(closed, painted(1));
    does(closed, painted(2));
    await new Promise((resolve) => setTimeout(resolve, 0));
    expect(leftBehind(storage, new Set(['one']))).toEqual([]);
    expect(leftBehind(storage, new Set(['two']))).toEqual([{ shot: 'shot', editor: 'one' }]);
    const left = takeLeft(storage, 'shot', 'one');
    expect(shelf.size).toBe(0);
    const next = new EditQueue(server.state(), { send: async (edit, known) => server.take('two', edit, known), keep: (unsent) => keepUnsent(storage, 'shot', 'two', unsent), refused: () => undefined, pause: async () => undefined, now: () => 0 }, left);
    await allSent(next);
    expect(strokesOf(server.document)).toEqual([1, 2]);
    expect(shelf.size).toBe(0);
  });
});
