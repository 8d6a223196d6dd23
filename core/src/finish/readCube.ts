import type { Triple } from '@zaddle/document';
import { LARGEST_LATTICE, LONGEST_CURVE, type ColourTable } from './colourTable';

/** A file that is no colour table, and the line that is wrong. */
export class InvalidCube extends Error {
  constructor(readonly line: number, message: string) {
    super(`Line ${line}: ${message}`);
  }
}

const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$/;
/** Largest value that a table may hold: any more is a broken file. */
const LARGEST = 1e4;

/** The words before the values, as far as they were read. */
interface Head {
  title: string;
  kind: ColourTable['kind'] | null;
  size: number;
  from: Triple;
  to: Triple;
}

function numbers(words: readonly string[], count: number, line: number, what: string): number[] {
  if (words.length !== count) throw new InvalidCube(line, `${what} takes ${count} ${count === 1 ? 'number' : 'numbers'}, here are ${words.length}.`);
  return words.map((word) => {
    const value = NUMBER.test(word) ? Number(word) : NaN;
    if (!(Math.abs(value) <= LARGEST)) throw new InvalidCube(line, `“${word.slice(0, 40)}” is no number that a table can hold.`);
    return value;
  });
}

function readSize(head: Head, kind: ColourTable['kind'], words: readonly string[], line: number): void {
  if (head.kind) throw new InvalidCube(line, 'a table has one size, this one has another before. Tables with curves and a cube in one file are not read.');
  const [size] = numbers(words, 1, line, 'A size');
  const most = kind === 'curves' ? LONGEST_CURVE : LARGEST_LATTICE;
  if (!Number.isInteger(size) || size < 2 || size > most) throw new InvalidCube(line, `a size from 2 to ${most} was expected, not ${words[0]}.`);
  head.kind = kind;
  head.size = size;
}

/** One line before the values. */
function readWord(head: Head, text: string, line: number): void {
  const [word, ...rest] = text.split(/\s+/);
  const all = (value: number): Triple => [value, value, value];
  switch (word) {
    case 'TITLE': {
      const title = /^TITLE\s+"([^"]*)"$/.exec(text);
      if (!title) throw new InvalidCube(line, 'a title stands between quotation marks.');
      head.title = title[1].slice(0, 120);
      return;
    }
    case 'LUT_1D_SIZE': return readSize(head, 'curves', rest, line);
    case 'LUT_3D_SIZE': return readSize(head, 'lattice', rest, line);
    case 'DOMAIN_MIN': head.from = numbers(rest, 3, line, word) as unknown as Triple; return;
    case 'DOMAIN_MAX': head.to = numbers(rest, 3, line, word) as unknown as Triple; return;
    case 'LUT_1D_INPUT_RANGE':
    case 'LUT_3D_INPUT_RANGE': {
      const [from, to] = numbers(rest, 2, line, word);
      head.from = all(from);
      head.to = all(to);
      return;
    }
    default: throw new InvalidCube(line, `“${word.slice(0, 40)}” is no word that is known in such a file.`);
  }
}

/**
 * Reads a colour table in the text format .cube: words, then a line of red, green and blue for each value, red running fastest in a cube.
 * @throws InvalidCube with the line that is wrong
 */
export function readCube(text: string): ColourTable {
  const head: Head = { title: '', kind: null, size: 0, from: [0, 0, 0], to: [1, 1, 1] };
  const lines = text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/);
  let values: Float32Array | null = null;
  let [count, wanted] = [0, 0];
  lines.forEach((raw, k) => {
    const line = k + 1;
    const own = raw.trim();
    if (own === '' || own.startsWith('#')) return;
    if (/^[A-Za-z_]/.test(own)) {
      if (values) throw new InvalidCube(line, 'only values may follow once the first of them stood there.');
      return readWord(head, own, line);
    }
    if (!head.kind) throw new InvalidCube(line, own.includes('\0') ? 'this is no text. Choose a .cube file.' : 'values before a size: LUT_1D_SIZE or LUT_3D_SIZE is missing.');
    if (!values) {
      if (head.to.some((to, c) => !(to - head.from[c] > 1e-6))) throw new InvalidCube(line, 'the values above begin where they should end: DOMAIN_MAX must lie above DOMAIN_MIN.');
      wanted = head.kind === 'curves' ? head.size : head.size ** 3;
      values = new Float32Array(3 * wanted);
    }
    if (count === wanted) throw new InvalidCube(line, `a value too many: ${wanted} were announced.`);
    values.set(numbers(own.split(/\s+/), 3, line, 'A value'), 3 * count++);
  });
  if (!head.kind) throw new InvalidCube(lines.length, 'the file ends without a table: LUT_1D_SIZE or LUT_3D_SIZE is missing.');
  if (!values || count < wanted) throw new InvalidCube(lines.length, `the file ends after ${count} of ${head.kind === 'curves' ? head.size : head.size ** 3} values.`);
  return { title: head.title, kind: head.kind, size: head.size, from: head.from, to: head.to, values };
}
