import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';
import { orderNamed, ordersNamed } from '../src/commands/orderNamed';
import { UsageError } from '../src/commands/usageError';
import { ORDERS } from '../src/picture/orders';

const folder = mkdtempSync(join(tmpdir(), 'zaddle-orders-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
function file(name: string, content: unknown): string {
  const path = join(folder, name);
  writeFileSync(path, typeof content === 'string' ? content : JSON.stringify(content));
  return path;
}
const own = (more: object): object => ({ format: 'zaddle-order', version: 1, name: 'Portfolio, groß', ...more });

test('orders that ship are known by name; one from a file has what it says, the rest as full size has it', async () => {
  expect(await orderNamed('listing')).toEqual({ name: 'listing', order: ORDERS.listing });
  expect(await orderNamed(file('a.json', own({ ratio: 1.5, longerSide: 3000 })))).toEqual({ name: 'portfolio-groß', order: { ...ORDERS.full, ratio: 1.5, longerSide: 3000 } });
  expect((await orderNamed(file('b.json', own({ file: 'tiff16', ppi: 240 })))).order).toEqual({ ...ORDERS.full, file: 'tiff16', ppi: 240 });
  expect((await orderNamed(file('c.json', own({ name: '../../etc' })))).name).toBe('etc');
});

test('what is no order is refused with what is wrong, and so are two of one name', async () => {
  const cases: [string, RegExp][] = [
    ['poster', /no order poster.*full/], ['toString', /no order toString/], [file('d.json', '{"format":'), /no JSON/], [file('e.json', { name: 'x' }), /format/], [file('f.json', own({ longerSide: 3 })), /longerSide/],
    [file('g.json', own({ file: 'tiff32', longerSide: 3000 })), /for orders of JPEG, WebP, AVIF/], [file('h.json', own({ file: 'gif' })), /file/], [file('i.json', own({ quality: 3 })), /quality/], [file('l.json', own({ naming: '{room}-{street}' })), /\{street\}, which is no token.*\{property\}/], [file('m.json', own({ file: 'tiff32', profile: 'p3' })), /sRGB/], [file('j.json', '[]'), /object/],
  ];
  for (const [name, words] of cases) {
    const refused = await orderNamed(name).catch((error: unknown) => error);
    expect(refused).toBeInstanceOf(UsageError);
    expect((refused as Error).message).toMatch(words);
  }
  await expect(ordersNamed(['web', file('k.json', own({ name: 'Web' }))])).rejects.toThrow(/Two orders are called web/);
  expect((await ordersNamed(['web', 'full', 'web'])).map(({ name }) => name)).toEqual(['web', 'full']);
});
