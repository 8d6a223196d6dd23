import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { asFile, fileNames, fromFile, namedOrderSchema, safeName, SHIPPED_ORDERS, told, type NamedPicture, type NamingOrder, type OrderAsFile } from '../src/index';

const picture = (room: string, number: number, more: Partial<NamedPicture> = {}): NamedPicture => ({ property: 'Tide Mill', room, number, date: '2026-05-04', frame: 'MILL0042.JPG', ...more });
const jpeg = (name: string, naming: string | null, alone = false): NamingOrder => ({ name, naming, extension: 'jpg', alone });
const names = fc.string({ unit: fc.constantFrom('a', 'B', 'ß', 'é', ' ', '/', '.', '-', '2', '{', '}', '\\', ':', '語'), maxLength: 8 });

describe('names of files', () => {
  test('say what their tokens say; numbers are padded; text of any script stays, paths do not', () => {
    expect(told('{property} {number:3} {room}, {date} ({frame}) for {client}, {output}', picture('Loft', 7), { output: 'Web', client: 'Harbour agent' })).toBe('Tide Mill 007 Loft, 2026-05-04 (MILL0042) for Harbour agent, Web');
    // Orders from before say of none whom they are for.
    expect(told('{client}{room}', picture('Loft', 7), { output: 'Web' })).toBe('Loft');
    expect(told('{number}{number:1} {street} {}', picture('Loft', 7), { output: 'Web' })).toBe('077 {street} {}');
    expect(fileNames([picture('../Küche/2', 3)], [jpeg('Portal', '{number:4}_{room}_{output}')])).toEqual([['0003_Küche2_portal.jpg']]);
    expect(fileNames([picture('Loft', 1)], [{ ...jpeg('Portal', '{client} {room}'), client: 'Quay & Sons / Lettings' }])).toEqual([['Quay-Sons-Lettings-Loft.jpg']]);
    expect(safeName('CON')).not.toMatch(/^con$/i);
    expect(safeName('  …')).toBe('picture');
  });
  test('rooms that are called alike are numbered, in all orders alike', () => {
    const pictures = [picture('Loft', 1), picture('loft', 2), picture('Loft-2', 3)];
    expect(fileNames(pictures, [jpeg('full', null, true), jpeg('web', null)])).toEqual([['Loft.jpg', 'loft-2.jpg', 'Loft-2-2.jpg'], ['Loft-web.jpg', 'loft-2-web.jpg', 'Loft-2-2-web.jpg']]);
  });
  test('are distinct however many pictures are called how, whatever the patterns, and the same each time', () => {
    fc.assert(fc.property(fc.array(names, { minLength: 1, maxLength: 40 }), fc.array(fc.constantFrom(null, '{property}', '{room}', '{number}', '{output}', 'x', '{frame}-{date}'), { minLength: 1, maxLength: 4 }), names, (rooms, patterns, property) => {
      const pictures = rooms.map((room, k) => picture(room, k + 1, { property }));
      const orders = patterns.map((naming, k) => jpeg(`o${k}`, naming));
      const made = fileNames(pictures, orders);
      const all = made.flat().map((name) => name.toLowerCase());
      expect(new Set(all).size).toBe(all.length);
      for (const name of made.flat()) expect(name).toMatch(/^[\p{L}\p{N} _-]+\.jpg$/u);
      expect(fileNames(pictures, orders)).toEqual(made);
    }), { numRuns: 60 });
  });
  test('given one picture at a time, keep clear of those that are given already', () => {
    const taken = new Set<string>();
    const made = [1, 2, 3].map((number) => fileNames([picture('Loft', number)], [jpeg('web', '{property}')], taken)[0][0]);
    expect(made).toEqual(['Tide-Mill.jpg', 'Tide-Mill-2.jpg', 'Tide-Mill-3.jpg']);
  });
  test('of five hundred shots without labels keep to their pictures', () => {
    const made = fileNames(Array.from({ length: 500 }, (_, k) => picture('Room', k + 1)), [jpeg('full', null, true)])[0];
    expect([made[0], made[1], made[499]]).toEqual(['Room.jpg', 'Room-2.jpg', 'Room-500.jpg']);
  });
});

describe('an order as a file', () => {
  test('is what it was, for all that ship; what is left out is as full size has it', () => {
    for (const { label, order } of Object.values(SHIPPED_ORDERS)) {
      const { error, value } = namedOrderSchema.validate(JSON.parse(JSON.stringify(asFile(label, order))), { convert: false });
      expect(error).toBeUndefined();
      expect(fromFile(value as OrderAsFile)).toEqual({ format: 'zaddle-order', version: 1, name: label, order });
    }
    const { value } = namedOrderSchema.validate({ format: 'zaddle-order', version: 1, name: 'x' }, { convert: false });
    expect(fromFile(value as OrderAsFile).order).toEqual(SHIPPED_ORDERS.full.order);
  });
  test.each([[{ file: 'tiff32', longerSide: 900 }, /JPEG/], [{ file: 'png', mostBytes: 90_000 }, /WebP and AVIF/], [{ file: 'openraster', profile: 'p3' }, /sRGB/], [{ naming: '{number:9}' }, /\{number:9\}/], [{ words: { title: '{who}' } }, /\{who\}/], [{ ratio: 0 }, /ratio/], [{ words: { owner: 'x' } }, /owner/], [{ name: 'a\u0000' }, /no text/]])('is refused with the field: %j', (more, words) => {
    expect(namedOrderSchema.validate({ format: 'zaddle-order', version: 1, name: 'x', ...more }, { convert: false }).error?.message).toMatch(words);
  });
});
