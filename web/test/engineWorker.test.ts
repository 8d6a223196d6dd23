import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type * as EngineWorker from '../src/engine/engineWorker';
import type { Answer, FromEngine, ToEngine } from '../src/engine/messages';

/*
 * One worker for the page: who opens another shot hears nothing of the one before, and who leaves gives its memory back in time.
 */

class FakeWorker {
  static made: FakeWorker[] = [];
  readonly posted: ToEngine[] = [];
  ended = false;
  onmessage: ((event: { data: FromEngine }) => void) | null = null;
  onerror: (() => void) | null = null;
  constructor(readonly url: URL) {
    FakeWorker.made.push(this);
  }
  postMessage(message: ToEngine): void {
    this.posted.push(message);
  }
  terminate(): void {
    this.ended = true;
  }
  says(answer: FromEngine): void {
    this.onmessage!({ data: answer });
  }
}

const engine = (): FakeWorker => FakeWorker.made.find((w) => w.url.href.includes('engine.worker') && !w.ended)!;
const helpers = (): FakeWorker[] => FakeWorker.made.filter((w) => w.url.href.includes('strips.worker') && !w.ended);
const progress = (opening: number): FromEngine => ({ opening, kind: 'progress', done: 1, total: 2 });
/** Lets the compiled kernels arrive. */
const settle = (): Promise<void> => vi.advanceTimersByTimeAsync(1).then(() => undefined);

let openEngine: typeof EngineWorker.openEngine;
beforeEach(async () => {
  vi.useFakeTimers();
  vi.resetModules();
  FakeWorker.made = [];
  vi.stubGlobal('Worker', FakeWorker);
  vi.stubGlobal('navigator', { hardwareConcurrency: 8 });
  vi.stubGlobal('fetch', () => Promise.resolve(new Response()));
  vi.spyOn(WebAssembly, 'compileStreaming').mockResolvedValue({} as WebAssembly.Module);
  ({ openEngine } = await import('../src/engine/engineWorker'));
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

describe('the engine', () => {
  test('starts once, with as many helpers as there are cores, but no crowd, and ways to them', async () => {
    openEngine('one', () => undefined, () => undefined, () => undefined);
    openEngine('two', () => undefined, () => undefined, () => undefined);
    await settle();
    expect(FakeWorker.made.filter((w) => w.url.href.includes('engine.worker'))).toHaveLength(1);
    expect(helpers()).toHaveLength(3);
    const first = engine().posted[0];
    expect(first.kind === 'threads' && first.ports).toHaveLength(3);
  });
  test('hands over what is said of the open shot only', async () => {
    const heard: [string, Answer][] = [];
    openEngine('one', () => undefined, (answer) => heard.push(['one', answer]), () => undefined);
    await settle();
    openEngine('two', () => undefined, (answer) => heard.push(['two', answer]), () => undefined);
    await settle();
    const openings = engine().posted.flatMap((m) => (m.kind === 'open' ? [[m.shot, m.opening] as const] : []));
    expect(openings.map(([shot]) => shot)).toEqual(['one', 'two']);
    engine().says(progress(openings[0][1]));
    engine().says(progress(openings[1][1]));
    expect(heard.map(([shot]) => shot)).toEqual(['two']);
  });
  test('takes no message for a shot that was left, and is not opened for one that was left before it was ready', async () => {
    let early: { post: (message: Exclude<ToEngine, { kind: 'open' | 'threads' }>) => void } | null = null;
    openEngine('one', (open) => (early = open), () => undefined, () => undefined);
    await settle();
    const close = openEngine('two', () => expect.unreachable('It was left.'), () => undefined, () => undefined);
    close();
    await settle();
    early!.post({ kind: 'ahead', shot: 'three', frames: [] });
    expect(engine().posted.map((m) => m.kind)).toEqual(['threads', 'open']);
  });
  test('is given back half a minute after the last shot was left, not before, and starts anew', async () => {
    const close = openEngine('one', () => undefined, () => undefined, () => undefined);
    await settle();
    close();
    await vi.advanceTimersByTimeAsync(20_000);
    expect(engine()).toBeDefined();
    const again = openEngine('two', () => undefined, () => undefined, () => undefined);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(engine()).toBeDefined();
    again();
    await vi.advanceTimersByTimeAsync(31_000);
    expect(FakeWorker.made.every((w) => w.ended)).toBe(true);
    openEngine('three', () => undefined, () => undefined, () => undefined);
    expect(engine().ended).toBe(false);
  });
  test('that breaks is told to the shot that is open', async () => {
    const broken = vi.fn();
    openEngine('one', () => undefined, () => undefined, broken);
    await settle();
    engine().onerror!();
    expect(broken).toHaveBeenCalledOnce();
  });
});
