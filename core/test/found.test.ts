import { describe, expect, test } from 'vitest';
import type { Found } from '../src/found/found';
import { packFound, StoredFound, wantedBy } from '../src/found/storedFound';
import { createPlane, mapPlane } from '../src/image/plane';
import type { Area, Mix, Pass } from '@zaddle/document';

const [W, H] = [75, 50];
const plane = (k: number) => mapPlane(createPlane(W, H), (_, i) => ((i * 31 + k * 7) % 101) / 100);
const found: Found = {
  reference: 'r',
  edgeFound: (_, edge) => (edge === 'none' ? null : { a: mapPlane(plane(1), (v) => v * 20 - 10), b: plane(2), top: -3, bottom: 41 }),
  share: (frame, among) => plane(frame.length + among.length),
};
const area = (more: object): Area => ({ id: 'x', join: 'add', inverted: false, kind: 'found', ...more }) as Area;
const pass = (...mask: Area[]): Pass => ({ mask }) as unknown as Pass;
const mix: Pick<Mix, 'passes'> = { passes: [pass(area({ what: 'glass', edge: 'v' })), pass(area({ what: 'lit', frame: 'p', among: ['q'] }), area({ what: 'lit', frame: 'q', among: [] })), pass(area({ what: 'glass', edge: 'v' }))] };

describe('what was found, kept', () => {
  test('is what the masks of a mix refer to, each once, and comes back as it was', () => {
    const wanted = wantedBy(mix);
    expect(wanted).toHaveLength(3);
    const packed = packFound(found, wanted, W, H);
    // As a file or a message gives it: a view into something larger, at an odd place.
    const larger = new Uint8Array(packed.length + 7);
    larger.set(packed, 3);
    for (const given of [packed, larger.subarray(3, 3 + packed.length), Buffer.from(packed)]) {
      const stored = StoredFound.unpack(given);
      expect([stored.reference, stored.has(wanted), stored.has([{ kind: 'glass', edge: 'other' }])]).toEqual(['r', true, false]);
      expect(stored.edgeFound('glass', 'v')).toEqual(found.edgeFound('glass', 'v'));
      const share = stored.share('p', ['q'])!;
      expect([share.width, share.height]).toEqual([W, H]);
      share.data.forEach((v, i) => expect(Math.abs(v - found.share('p', ['q'])!.data[i])).toBeLessThan(1e-5));
      expect(stored.share('p', [])).toBeNull();
    }
  });
  test('damaged files and those of other versions are told, so that it can be found again', () => {
    const packed = packFound(found, wantedBy(mix), W, H);
    expect(() => StoredFound.unpack(packed.subarray(0, packed.length - 9))).toThrow(RangeError);
    expect(() => StoredFound.unpack(packed.subarray(0, 40))).toThrow(RangeError);
    const other = Buffer.from(packed);
    other.write('"version":9', other.indexOf('"version":1'));
    expect(() => StoredFound.unpack(other)).toThrow(RangeError);
  });
});
