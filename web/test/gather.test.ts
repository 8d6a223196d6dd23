import fc from 'fast-check';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { exposureText, shutterText } from '../src/gather/exposureText';
import { roleText } from '../src/gather/roleText';
import { filesOfDrop, uploadFiles, type UploadProgress } from '../src/gather/uploadFiles';
import { choiceCleared, currentMoved, entered, framePicked, gatherSlice, pinToggled, reviewClosed, reviewOpened, sieveSet, type GatherState } from '../src/store/gatherSlice';

const listed = ['a', 'b', 'c', 'd', 'e'];
const after = (...actions: Parameters<typeof gatherSlice.reducer>[1][]): GatherState => actions.reduce<GatherState | undefined>((state, action) => gatherSlice.reducer(state, action), undefined)!;
const pick = (id: string, how: 'only' | 'toggle' | 'range'): ReturnType<typeof framePicked> => framePicked({ id, how, listed });

describe('choosing frames', () => {
  test('one, one more, one less, and a range either way', () => {
    expect(after(pick('b', 'only')).chosen).toEqual(['b']);
    expect(after(pick('b', 'only'), pick('d', 'toggle')).chosen).toEqual(['b', 'd']);
    expect(after(pick('b', 'only'), pick('d', 'toggle'), pick('b', 'toggle')).chosen).toEqual(['d']);
    expect(after(pick('b', 'only'), pick('d', 'range')).chosen).toEqual(['b', 'c', 'd']);
    expect(after(pick('d', 'only'), pick('b', 'range')).chosen).toEqual(['b', 'c', 'd']);
  });
  test('a range holds all between, whatever was chosen before, and no frame twice', () => {
    fc.assert(fc.property(fc.array(fc.tuple(fc.constantFrom(...listed), fc.constantFrom('only', 'toggle', 'range') as fc.Arbitrary<'only' | 'toggle' | 'range'>), { maxLength: 12 }), fc.constantFrom(...listed), (steps, last) => {
      const before = after(entered(), ...steps.map(([id, how]) => pick(id, how)));
      const { chosen } = gatherSlice.reducer(before, pick(last, 'range'));
      const [from, to] = [listed.indexOf(before.current ?? last), listed.indexOf(last)].sort((x, y) => x - y);
      expect(chosen).toEqual(listed.slice(from, to + 1));
      expect(new Set(before.chosen).size).toBe(before.chosen.length);
    }));
  });
  test('reviewing begins at a frame, holds another against it, and leaves the choice behind', () => {
    const reviewing = after(pick('b', 'only'), pick('c', 'toggle'), reviewOpened('d'), pinToggled(), currentMoved('e'));
    expect(reviewing).toMatchObject({ reviewing: true, pinned: 'd', current: 'e', chosen: ['e'] });
    expect(gatherSlice.reducer(reviewing, pinToggled()).pinned).toBeNull();
    expect(gatherSlice.reducer(reviewing, reviewClosed())).toMatchObject({ reviewing: false, pinned: null, current: 'e' });
  });
  test('sieves and cleared choices', () => {
    expect(after(sieveSet('marked')).sieve).toBe('marked');
    expect(after(pick('b', 'only'), choiceCleared())).toMatchObject({ chosen: [], current: 'b' });
  });
});

describe('exposures in words', () => {
  test('as cameras write them', () => {
    expect([1 / 60, 0.5, 3.2, null].map(shutterText)).toEqual(['1/60', '0.5 s', '3.2 s', '']);
    expect(exposureText(null)).toBe('');
    expect(exposureText({ seconds: 1 / 8, aperture: 8, iso: null, width: 6000, height: 4000 } as never)).toBe('1/8 · f/8 · 6000 × 4000');
  });
});

describe('what a frame is for', () => {
  const frame = { state: 'gathered', role: 'flash', facts: { twinOf: null }, dropped: false };
  test('is said once its shot is lined up, not before', () => {
    expect(roleText({ ...frame, state: 'waiting' } as never, undefined)).toBe('reading…');
    expect(roleText(frame as never, undefined)).toBe('…');
    expect(roleText(frame as never, { state: 'sorted' } as never)).toBe('…');
    expect(roleText(frame as never, { state: 'mixed' } as never)).toBe('flash');
  });
  test('twins and dropped frames say so at once', () => {
    expect(roleText({ ...frame, facts: { twinOf: 'x' } } as never, { state: 'sorted' } as never)).toBe('twin');
    expect(roleText({ ...frame, dropped: true } as never, undefined)).toBe('dropped');
  });
});

describe('sending files', () => {
  afterEach(() => vi.unstubAllGlobals());
  const file = (name: string, content = name): File => new File([content], name);

  /** A server that knows some files already and refuses others. */
  function serverOf(known: readonly string[], refused: Readonly<Record<string, string>>): string[] {
    const sent: string[] = [];
    vi.stubGlobal('fetch', async (url: string, init: RequestInit) => {
      if (url.endsWith('/known')) {
        const { hashes } = JSON.parse(String(init.body)) as { hashes: string[] };
        const own = await Promise.all(known.map(async (name) => Array.from(new Uint8Array(await crypto.subtle.digest('SHA-256', new TextEncoder().encode(name))), (b) => b.toString(16).padStart(2, '0')).join('')));
        return Response.json({ known: hashes.filter((h) => own.includes(h)) });
      }
      const name = decodeURIComponent(/name=(.*)$/.exec(url)![1]);
      if (name in refused) return refused[name] ? Response.json({ detail: refused[name] }, { status: 422 }) : new Response('<html>', { status: 500 });
      sent.push(name);
      return Response.json({ id: 'x' }, { status: 201 });
    });
    return sent;
  }

  test('what the server has is not sent again; what it refuses is told with its reason; the rest arrives', async () => {
    const sent = serverOf(['b.jpg'], { 'c.txt': 'not a picture', 'd.jpg': '' });
    const steps: UploadProgress[] = [];
    const done = await uploadFiles('s', ['a.jpg', 'b.jpg', 'c.txt', 'd.jpg', 'Küche 1 & 2.jpg'].map((n) => file(n)), (p) => steps.push(p));
    expect(sent.sort()).toEqual(['Küche 1 & 2.jpg', 'a.jpg']);
    expect(done).toMatchObject({ total: 5, done: 5, known: 1 });
    expect([...done.failed].sort((x, y) => x.name.localeCompare(y.name))).toEqual([{ name: 'c.txt', why: 'not a picture' }, { name: 'd.jpg', why: 'refused (500)' }]);
    expect(steps.map((s) => s.done)).toEqual([0, 1, 2, 3, 4, 5]);
  });
  test('a line that is cut fails files, not the page', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('network')));
    const { failed } = await uploadFiles('s', [file('a.jpg'), file('b.jpg')], () => undefined);
    expect(failed.map((f) => f.why)).toEqual(['network', 'network']);
  });
  test('dropped folders are entered, hidden ones are not', async () => {
    const leaf = (name: string): object => ({ name, isFile: true, file: (done: (f: File) => void) => done(file(name)) });
    const folder = (name: string, children: object[]): object => ({
      name, isFile: false,
      createReader: () => {
        const batches = [children, []];
        return { readEntries: (done: (entries: object[]) => void) => done(batches.shift()!) };
      },
    });
    const tree = [folder('DCIM', [leaf('a.jpg'), folder('.Trash', [leaf('x.jpg')]), folder('101', [leaf('b.jpg'), leaf('.c.jpg')])]), leaf('d.jpg')];
    const files = await filesOfDrop({ items: tree.map((entry) => ({ webkitGetAsEntry: () => entry })), files: [] } as never);
    expect(files.map((f) => f.name)).toEqual(['a.jpg', 'b.jpg', 'd.jpg']);
  });
});
