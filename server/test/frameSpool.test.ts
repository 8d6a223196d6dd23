import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';
import { FrameSpool } from '../src/picture/frameSpool';

const folder = mkdtempSync(join(tmpdir(), 'zaddle-spool-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test.each([['8 bit', Uint8Array], ['16 bit', Uint16Array]] as const)('rows of %s come back as they were, from several frames in turn, and leave no name on disk', async (_, Kind) => {
  const spool = new FrameSpool(folder);
  const frames = [[7, 5], [3, 9]].map(([width, height], k) => ({ width, height, data: new Kind(Array.from({ length: width * height * 3 }, (_v, i) => (i * 31 + k) % 251)) }));
  for (const [k, frame] of frames.entries()) await spool.add(String(k), frame);
  expect(readdirSync(folder)).toEqual([]);
  for (const [top, count] of [[0, 1], [2, 3], [4, 1]]) {
    for (const [k, { width, data }] of frames.entries()) {
      const out = new Uint8Array(width * count * 3 * Kind.BYTES_PER_ELEMENT + 4);
      out.fill(99);
      await spool.readRows(String(k), top, count, out);
      const rows = data.slice(top * width * 3, (top + count) * width * 3);
      expect(out.subarray(0, -4)).toEqual(new Uint8Array(rows.buffer));
      // Not a byte more than was asked for.
      expect([...out.subarray(-4)]).toEqual([99, 99, 99, 99]);
    }
  }
  expect(spool.sizeOf('1')).toMatchObject({ width: 3, height: 9, depth: 8 * Kind.BYTES_PER_ELEMENT });
  await expect(spool.readRows('0', 5, 1, new Uint8Array(100))).rejects.toThrow(/cut off/);
  await spool.close();
  expect(readdirSync(folder)).toEqual([]);
});
