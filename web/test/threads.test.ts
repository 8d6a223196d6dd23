import { describe, expect, test } from 'vitest';
import { NO_LENS } from '@zaddle/core/geometry/lens';
import { placeMix } from '@zaddle/core/graph/placeMix';
import { wholeGrid, type PlacedSource } from '@zaddle/core/graph/placedMix';
import { prepareMix } from '@zaddle/core/graph/prepareMix';
import { rendererBytes } from '@zaddle/core/kind/rowScratch';
import type { Mix } from '@zaddle/document';
import { testTools } from '../../core/test/kernelMemory';
import type { StripJob } from '../src/engine/renderStrips';
import type { ToThread } from '../src/engine/strips.worker';
import { Threads } from '../src/engine/threads';

/** A way to a thread that does nothing by itself. */
class FakePort {
  readonly told: ToThread[] = [];
  postMessage(message: ToThread): void {
    this.told.push(message);
  }
  /** Says that it works in the memory it was given last. */
  isReady(): void {
    const last = this.told.filter((m) => m.kind === 'memory').at(-1)!;
    if (last.kind === 'memory') Atomics.store(last.ready, last.thread, last.sharing);
  }
}

const tools = testTools(16 << 20);
const MEMORY = tools.kernels.memory as WebAssembly.Memory;
const [W, H] = [64, 40];
const mix: Mix = {
  reference: 'a', lens: NO_LENS, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: W, height: H, merge: ['a'],
  frames: { a: { width: W, height: H, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] } },
  passes: [{ id: 'p', name: '', within: null, why: '', kind: 'light', source: { kind: 'frame', frame: 'a' }, alignment: null, mode: 'normal', brightness: 1, colour: 1, on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1] }],
};

/** A picture of even grey, to be rendered by so many threads. */
function jobFor(threads: number): StripJob {
  const { arena } = tools;
  const source: PlacedSource = { at: arena.placeBytes(new Uint8Array(W * H * 3).fill(100)), width: W, height: H, depth: 8 };
  const placed = placeMix(prepareMix(mix, { reference: 'a', edgeFound: () => null, share: () => null }), new Map([['a', source]]), wholeGrid(mix, W, H), arena);
  const bytes = rendererBytes(W, 1);
  const places = Array.from({ length: threads }, () => { const start = arena.take(bytes); return [start, start + bytes] as const; });
  return { mix: placed, what: { kind: 'canvas', marks: 'none', masked: -1, row: places.map(() => arena.take(W * 3)) }, counter: arena.take(4), done: arena.take(4), out: arena.take(W * H * 4), scratch: places };
}

describe('threads', () => {
  test('take part once they have said that they are there, and anew for another memory', () => {
    const ports = [new FakePort(), new FakePort()];
    const threads = new Threads(ports as unknown as MessagePort[]);
    expect(threads.count).toBe(1);
    threads.share({} as WebAssembly.Module, MEMORY);
    expect(threads.count).toBe(1);
    ports[1].isReady();
    expect(threads.count).toBe(2);
    ports[0].isReady();
    expect(threads.count).toBe(3);
    threads.share({} as WebAssembly.Module, MEMORY);
    expect(threads.count).toBe(1);
  });
  test('that are not there are not waited for: the picture is whole without them', () => {
    const ports = [new FakePort()];
    const threads = new Threads(ports as unknown as MessagePort[]);
    threads.share({} as WebAssembly.Module, MEMORY);
    const job = jobFor(threads.count);
    threads.render(tools.kernels, job);
    expect(ports[0].told.map((m) => m.kind)).toEqual(['memory']);
    const out = new Uint32Array(tools.kernels.memory.buffer, job.out, W * H);
    expect(new Set(out)).toEqual(new Set([out[0]]));
    expect(out[0] >>> 24).toBe(255);
  });
});
