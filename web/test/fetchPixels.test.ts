import { afterEach, describe, expect, test, vi } from 'vitest';
import type { MixDocument } from '@zaddle/document';
import { Heap } from '@zaddle/core/graph/heap';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import { FrameSources } from '../src/engine/frameSources';
import { fetchPixels, type IncomingPixels } from '../src/engine/fetchProxies';

afterEach(() => vi.unstubAllGlobals());

/** The server answers in chunks of these sizes, the last one over and over; `claimed` is what it says of the length. */
function answer(bytes: Uint8Array, { chunks = [1 << 20], claimed = bytes.length, status = 200 }: { chunks?: number[]; claimed?: number; status?: number } = {}): void {
  let at = 0;
  let turn = 0;
  const body = new ReadableStream<Uint8Array>({
    pull(controller) {
      const size = chunks[Math.min(turn++, chunks.length - 1)];
      if (at >= bytes.length) return controller.close();
      controller.enqueue(bytes.slice(at, at + size));
      at += size;
    },
  });
  vi.stubGlobal('fetch', () => Promise.resolve(new Response(body, { status, headers: { 'content-length': String(claimed) } })));
}

const packed = (width: number, height: number, values: Uint8Array | Uint16Array): Uint8Array => {
  const out = new Uint8Array(8 + values.byteLength);
  new DataView(out.buffer).setUint32(0, width, true);
  new DataView(out.buffer).setUint32(4, height, true);
  out.set(new Uint8Array(values.buffer), 8);
  return out;
};
const counted = (n: number, k = 1): Uint8Array => Uint8Array.from({ length: n }, (_, i) => (i * k) % 251);
const always = (): boolean => true;

async function received(incoming: IncomingPixels): Promise<Uint8Array> {
  const out = new Uint8Array(incoming.bytes);
  expect(await incoming.writeTo(out, always)).toBe(true);
  return out;
}

describe('pixels on their way', () => {
  test('come as deep as they were sent', async () => {
    const eight = counted(5 * 3 * 3);
    answer(packed(5, 3, eight));
    const plain = await fetchPixels('/x');
    expect([plain.width, plain.height, plain.depth]).toEqual([5, 3, 8]);
    expect(await received(plain)).toEqual(eight);
    const sixteen = Uint16Array.from({ length: 5 * 3 * 3 }, (_, k) => 1000 * k);
    answer(packed(5, 3, sixteen));
    const deep = await fetchPixels('/x');
    expect(deep.depth).toBe(16);
    expect(new Uint16Array((await received(deep)).buffer)).toEqual(sixteen);
  });

  test.each([[[3]], [[1]], [[8, 5]], [[11, 1, 2, 100]]])('are whole however they are cut: %j', async (chunks) => {
    const values = counted(40 * 7 * 3, 7);
    answer(packed(40, 7, values), { chunks });
    expect(await received(await fetchPixels('/x'))).toEqual(values);
  });

  test('what the server refuses is told in words', async () => {
    answer(new Uint8Array(9), { status: 404 });
    await expect(fetchPixels('/x')).rejects.toThrow(/could not be loaded \(404\). Reload/);
  });

  test('what is cut off, empty or too long is not taken for pixels', async () => {
    const whole = packed(6, 4, counted(6 * 4 * 3));
    const out = new Uint8Array(6 * 4 * 3);
    answer(whole.slice(0, 40), { claimed: whole.length });
    await expect((await fetchPixels('/x')).writeTo(out, always)).rejects.toThrow(/cut off/);
    answer(whole.slice(0, 5), { claimed: whole.length });
    await expect(fetchPixels('/x')).rejects.toThrow(/cut off/);
    answer(new Uint8Array(0), { claimed: 0 });
    await expect(fetchPixels('/x')).rejects.toThrow(/nothing in it/);
    answer(Uint8Array.from([...whole, 1, 2, 3]), { claimed: whole.length });
    await expect((await fetchPixels('/x')).writeTo(out, always)).rejects.toThrow(/too long/);
  });

  test('nothing more is written once nobody wants it', async () => {
    answer(packed(30, 10, counted(900, 1).fill(9)), { chunks: [8, 300] });
    const out = new Uint8Array(900);
    let asked = 0;
    expect(await (await fetchPixels('/x')).writeTo(out, () => asked++ < 2)).toBe(false);
    expect(out.filter((v) => v === 9).length).toBe(300);
  });
});

describe('pixels at hand', () => {
  const FRAME = { width: 6000, height: 4000 };
  const mix = { reference: 'a', frames: { a: { ...FRAME, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null } }, lens: { k1: 0, k2: 0, red: 0, blue: 0, falloff: [0, 0] }, corrects: { distortion: true, fringes: true, falloff: true }, geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], passes: [], width: 6000, height: 4000 } as unknown as MixDocument;
  const region = { x: 100, y: 100, width: 64, height: 48, level: 0 };
  const START = 1024;

  function sources(bytes = 64 << 20): { sources: FrameSources; heap: Heap; memory: Uint8Array } {
    const memory = { buffer: new ArrayBuffer(bytes) };
    const heap = new Heap(START, bytes);
    return { sources: new FrameSources({ memory } as unknown as Kernels, heap, [0, START]), heap, memory: new Uint8Array(memory.buffer) };
  }
  /** The server answers with pixels of the size that is asked for, all of one value. */
  const serve = (value: number): { asked: string[] } => {
    const asked: string[] = [];
    vi.stubGlobal('fetch', (url: string) => {
      asked.push(url);
      const [w, h] = ['w', 'h'].map((name) => Number(new URL(url, 'http://x').searchParams.get(name)));
      return Promise.resolve(new Response(new Uint8Array(packed(w, h, new Uint8Array(w * h * 3).fill(value))), { headers: { 'content-length': String(8 + w * h * 3) } }));
    });
    return { asked };
  };
  const proxy = (side: number, value: number): IncomingPixels => ({ width: side, height: side, depth: 8, bytes: side * side * 3, writeTo: (out) => { out.fill(value); return Promise.resolve(true); } });

  test('a part of an original lies where it is said to lie, and is asked for once', async () => {
    const { sources: s, memory } = sources();
    const { asked } = serve(77);
    expect(s.partFor(mix, 'a', region)).toBeNull();
    await s.loadPart(mix, 'a', region);
    await s.loadPart(mix, 'a', region);
    expect(asked).toHaveLength(1);
    const part = s.partFor(mix, 'a', region)!;
    expect(part.whole).toMatchObject(FRAME);
    const own = memory.subarray(part.at, part.at + part.width * part.height * 3);
    expect(own.every((v) => v === 77)).toBe(true);
  });

  test('two that ask for one part at a time keep one of them', async () => {
    const { sources: s, heap } = sources();
    serve(5);
    await Promise.all([s.loadPart(mix, 'a', region), s.loadPart(mix, 'a', region)]);
    const { width, height } = s.partFor(mix, 'a', region)!;
    expect(heap.used).toBeLessThan(width * height * 3 + 256);
  });

  test('many that come at a time stay within their room together: those of the view before go', async () => {
    const { sources: s, heap } = sources(400 << 20);
    serve(1);
    // Each about 9 MB: twelve views' worth is what is kept.
    const views = [0, 1, 2].map((row) => Array.from({ length: 11 }, (_, k) => ({ x: 500 * k, y: 1200 * row, width: 1000, height: 1000, level: 0 })).slice(0, 10));
    for (const view of views) {
      await Promise.all(view.map((r) => s.loadPart(mix, 'a', { ...r, width: 3000 - r.x / 4, x: r.x / 8 })));
      expect(heap.used).toBeLessThan(112_000_000);
    }
  });

  test('where what is free lies in pieces, parts that are older go for one that is larger', async () => {
    const { sources: s, heap } = sources(14 << 20);
    serve(3);
    const small = (k: number) => ({ x: 900 * k, y: 0, width: 700, height: 700, level: 0 });
    for (let k = 0; k < 6; k++) await s.loadPart(mix, 'a', small(k));
    // More than is free in one piece, and less than there is in all.
    const large = { x: 0, y: 1500, width: 2000, height: 1400, level: 0 };
    await s.loadPart(mix, 'a', large);
    expect(s.partFor(mix, 'a', large)).not.toBeNull();
    expect(s.partFor(mix, 'a', small(0))).toBeNull();
    expect(heap.used).toBeLessThan(14 << 20);
    // Nothing is left that could go.
    await expect(s.loadPart(mix, 'a', { x: 0, y: 0, width: 5000, height: 3000, level: 0 })).rejects.toThrow(/more frames than/);
  });

  test('who is closed takes nothing in any more, however far it came', async () => {
    const { sources: s, memory } = sources();
    serve(99);
    const loading = s.loadPart(mix, 'a', region);
    s.close();
    await loading;
    expect(memory.includes(99)).toBe(false);
    await s.addProxy('a', proxy(40, 88), 0);
    expect(memory.includes(88)).toBe(false);
  });

  test('what breaks off gives its room back', async () => {
    const { sources: s, heap } = sources();
    await expect(s.addProxy('a', { ...proxy(40, 1), writeTo: () => Promise.reject(new Error('cut off')) }, 0)).rejects.toThrow(/cut off/);
    expect(heap.used).toBe(0);
    expect(s.has('a')).toBe(false);
  });

  test('whole proxies go before a close look if they take much room and halves are there', async () => {
    const { sources: s, heap } = sources(200 << 20);
    for (const id of ['a', 'b', 'c', 'd']) await s.addProxy(id, proxy(2700, 1), 0);
    for (const id of ['a', 'b', 'c']) await s.addProxy(id, proxy(1350, 2), 1);
    const before = heap.used;
    s.dropWholes();
    expect(heap.used).toBeLessThan(before - 3 * 2700 * 2700 * 3 + 1024);
    for (const id of ['a', 'b', 'c']) expect([s.has(id), s.has(id, true)]).toEqual([true, false]);
    expect(s.has('d', true)).toBe(true);
    await s.addProxy('a', proxy(2700, 3), 0);
    expect(s.has('a', true)).toBe(true);
  });
});
