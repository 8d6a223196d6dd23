import { randomUUID } from 'node:crypto';
import type { Dice } from '../dice';

/** What people, programs and attackers put where something else belongs. */
const ODD: readonly unknown[] = [
  null, true, false, 0, -0, -1, 0.5, 2, 1e-12, 5e-324, 2 ** 31, 2 ** 53, 1e308, -1e308, 'NaN', '', ' ', 'x', 'x'.repeat(201), 'x'.repeat(100_000), '\u0000', 'a\u0000b', '\ud800', '\u202e', '\u{1f4f7}', '../../etc/passwd', '__proto__', 'constructor', 'toString', "'; DROP TABLE frames; --", '${7*7}', '{x}',
  '<script>alert(1)</script>', [], [null], {}, [[]], { length: 1e9 }, '9999-12-31T23:59:60Z', '+275760-09-13T00:00:00.001Z', '0000-01-01',
];
const ODD_IDS = ['__proto__', 'constructor', 'toString', '..%2f..%2f..%2fetc%2fpasswd', '%2e%2e', '%00', "'%20OR%201=1--", 'NaN', '-1', '0', '9'.repeat(400), 'x'.repeat(6000), '%F0%9F%93%B7', '%ff', '%E0%A4%A', '%0d%0aX-A:%20b', 'null', '*', '%5c..%5c'];

/** Where values lie within a value. */
const placesOf = (value: unknown, at: readonly string[] = []): string[][] => (value !== null && typeof value === 'object' ? [[...at], ...Object.entries(value).flatMap(([key, inner]) => placesOf(inner, [...at, key]))] : [[...at]]);

function changed(dice: Dice, was: unknown): unknown {
  if (typeof was === 'number' && dice.between(0, 1) < 0.5) return dice.pick([-was, was * 1e3, was * 1e-6, was + 1e-9, was + 1, was * 1e300, String(was)]);
  if (Array.isArray(was) && dice.between(0, 1) < 0.5) return dice.pick([[...(was as unknown[]), ...(was as unknown[])], was.slice(1), Array.from({ length: 3000 }, () => was[0] as unknown)]);
  if (typeof was === 'string' && dice.between(0, 1) < 0.4) return dice.pick([`${was}\u0000`, was.toUpperCase(), `${was} `, `[${was}]`, was.replace(/-/g, ':'), was.slice(1)]);
  return dice.pick(ODD);
}

/** A value with some of it taken away, added, or changed into something else. @param times how often */
export function mutated(dice: Dice, value: unknown, times: number): unknown {
  const whole: { inner: unknown } = { inner: structuredClone(value) };
  for (let k = 0; k < times; k++) {
    const [, ...places] = placesOf(whole);
    const place = dice.pick(places);
    const holder = place.slice(0, -1).reduce<unknown>((at, key) => (at as Record<string, unknown>)[key], whole) as Record<string, unknown>;
    const key = place.at(-1)!;
    const way = Math.floor(dice.between(0, 6));
    if (way === 0 && place.length > 1) { if (Array.isArray(holder)) holder.splice(Number(key), 1); else delete holder[key]; }
    else if (way === 1 && place.length > 1 && !Array.isArray(holder)) Object.defineProperty(holder, dice.pick(['extra', 'id', 'kind', 'length', '__proto__', 'toString']), { value: dice.pick(ODD), enumerable: true, configurable: true, writable: true });
    else holder[key] = changed(dice, holder[key]);
  }
  return whole.inner;
}

/** A path with one of its ids changed into something else, or a query that nobody asked for. */
export function mutatedPath(dice: Dice, path: string): string {
  const [plain, query] = path.split('?');
  const parts = plain.split('/');
  const ids = parts.flatMap((part, k) => (/^[0-9a-f]{8}/.test(part) ? [k] : []));
  if (ids.length > 0 && dice.between(0, 1) < 0.7) {
    const k = dice.pick(ids);
    parts[k] = dice.pick([...ODD_IDS, randomUUID(), parts[k].toUpperCase(), `${parts[k]}%00`, parts[k].replace(/-/g, ''), `{${parts[k]}}`]);
    return parts.join('/') + (query ? `?${query}` : '');
  }
  return `${plain}?${dice.pick(['name=', 'name=%00', 'name[]=a&name[]=b', 'name[x]=1', `name=${'x'.repeat(3000)}`, 'side=1e9', 'size=-1', 'originals=maybe', '__proto__[a]=1', `a=${'b'.repeat(9000)}`, '%', 'draft=NaN', 'name=..%2f..%2fx.jpg'])}`;
}

/** Bytes of a body that is not what it says. */
export function mutatedBytes(dice: Dice, body: Buffer): Buffer {
  const way = Math.floor(dice.between(0, 6));
  if (way === 0) return body.subarray(0, Math.floor(dice.between(0, body.length)));
  if (way === 1) return Buffer.from('['.repeat(20_000) + ']'.repeat(20_000));
  if (way === 2) return Buffer.concat([body, body]);
  if (way === 3) return Buffer.from([0xff, 0xfe, ...body.subarray(0, 200)]);
  if (way === 4) return Buffer.from('{"__proto__":{"kind":"changePass"},"kind":"changePass","kind":"addPass"}');
  const copy = Buffer.from(body);
  for (let k = 0; k < 4 && copy.length > 0; k++) copy[Math.floor(dice.between(0, copy.length))] ^= 1 << Math.floor(dice.between(0, 8));
  return copy;
}
