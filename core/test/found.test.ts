import { describe, expect, test } from 'vitest';
import type { Found } from '../src/found/found';
import { eitherFound, packFound, StoredFound, wantedBy } from '../src/found/storedFound';
import { createPlane, mapPlane } from '../src/image/plane';
import type { Area, Mix, Pass } from '@zaddle/document';

const [W, H] = [75, 50];
const plane = (k: number) => mapPlane(createPlane(W, H), (_, i) => ((i * 31 + k * 7) % 101) / 100);
const found: Found = {
  reference: 'r',
  edgeFound: (finding) => (finding.edge === 'none' ? null : { a: mapPlane(plane(1), (v) => v * 20 - 10), b: plane(2), top: -3, bottom: 41 }),
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
      expect([stored.reference, stored.has(wanted), stored.has([{ what: 'glass', edge: 'other' }])]).toEqual(['r', true, false]);
      expect(stored.edgeFound({ what: 'glass', edge: 'v' })).toEqual(found.edgeFound({ what: 'glass', edge: 'v' }));
      const share = stored.share('p', ['q'])!;
      expect([share.width, share.height]).toEqual([W, H]);
      share.data.forEach((v, i) => expect(Math.abs(v - found.share('p', ['q'])!.data[i])).toBeLessThan(1e-5));
      expect(stored.share('p', [])).toBeNull();
    }
  });
  test('surfaces are told apart by their place and what they take in, and what was found later joins what was there', () => {
    const surface = (x: number, takes: number) => ({ what: 'surface', edge: 'r', at: [x, 0.3], takes }) as const;
    const later: Found = { reference: 'r', edgeFound: (finding) => (finding.what === 'surface' ? { a: plane(100 * finding.at[0]), b: plane(finding.takes), top: 0, bottom: H } : null), share: () => null };
    const wanted = wantedBy({ passes: [pass(area(surface(0.2, 1)), area(surface(0.4, 1)), area(surface(0.2, 2)), area({ what: 'glass', edge: 'v' }))] });
    expect(wanted).toHaveLength(4);
    const kept = StoredFound.unpack(packFound(found, wantedBy(mix), W, H));
    const [fresh, both] = [StoredFound.unpack(packFound(later, wanted.slice(0, 3), W, H)), [...wantedBy(mix), ...wanted]];
    const joined = StoredFound.unpack(packFound(eitherFound(fresh, kept), both, W, H));
    expect([kept.has(wanted), fresh.has(wanted), joined.has(both)]).toEqual([false, false, true]);
    for (const finding of [surface(0.2, 1), surface(0.4, 1), surface(0.2, 2)]) expect(joined.edgeFound(finding)).toEqual(later.edgeFound(finding));
    expect(joined.edgeFound({ what: 'glass', edge: 'v' })).toEqual(kept.edgeFound({ what: 'glass', edge: 'v' }));
    expect(joined.share('p', ['q'])).toEqual(kept.share('p', ['q']));
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
