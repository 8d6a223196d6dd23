import { afterEach, expect, test, vi } from 'vitest';
import { fetchPixels } from '../src/engine/fetchProxies';

afterEach(() => vi.unstubAllGlobals());

const answer = (bytes: Uint8Array, status = 200): void => void vi.stubGlobal('fetch', () => Promise.resolve(new Response(new Uint8Array(bytes), { status })));
const packed = (width: number, height: number, values: Uint8Array | Uint16Array): Uint8Array => {
  const out = new Uint8Array(8 + values.byteLength);
  new DataView(out.buffer).setUint32(0, width, true);
  new DataView(out.buffer).setUint32(4, height, true);
  out.set(new Uint8Array(values.buffer), 8);
  return out;
};

test('pixels come as deep as they were sent', async () => {
  const eight = Uint8Array.from({ length: 5 * 3 * 3 }, (_, k) => k);
  answer(packed(5, 3, eight));
  expect(await fetchPixels('/x')).toEqual({ width: 5, height: 3, data: eight });
  const sixteen = Uint16Array.from({ length: 5 * 3 * 3 }, (_, k) => 1000 * k);
  answer(packed(5, 3, sixteen));
  expect(await fetchPixels('/x')).toEqual({ width: 5, height: 3, data: sixteen });
});

test('what the server refuses is told in words', async () => {
  answer(new Uint8Array(0), 404);
  await expect(fetchPixels('/x')).rejects.toThrow(/could not be loaded \(404\). Reload/);
});
