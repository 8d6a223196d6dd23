import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { TABLE_SPACES, type AdjustPass, type Mix, type TableSpace, type Triple } from '@zaddle/document';
import { applyMatrix, P3_TO_WORKING, SRGB_TO_WORKING, WORKING_TO_P3 } from '../src/colour/primaries';
import { neutralTable, NO_TABLES, type ColourTable, type ColourTables } from '../src/finish/colourTable';
import { InvalidCube, readCube } from '../src/finish/readCube';
import { decodeFromTable, encodeForTable, lightOfValue, tableBlock, valueOfLight } from '../src/finish/tableBlock';
import { WHITE } from '../src/finish/toneCurve';
import { writeCube } from '../src/finish/writeCube';
import { NO_LENS } from '../src/geometry/lens';
import { wholeGrid } from '../src/graph/placedMix';
import { readyMix } from '../src/graph/readyMix';
import { tabulatePass } from '../src/graph/tabulatePass';
import { Arena } from '../src/kernels/arena';
import type { Kernels } from '../src/kernels/kernels';
import { twinKernels } from '../src/kernels/twinKernels';
import { FOUND, H, PICTURES, render, tools, use, W } from './evaluation';
import { seeded, testKernels } from './kernelMemory';

const BYTES = 8 << 20;
const wasm = testKernels(BYTES);
const twin = twinKernels(new ArrayBuffer(BYTES));

/** Colours put through a table, with a mask of 1. */
function through(kernels: Kernels, colours: readonly Triple[], table: ColourTable, space: TableSpace, strength = 1, mask = 1): Triple[] {
  const n = colours.length;
  const plane = 4 * (n + 16);
  const arena = new Arena(kernels.memory.buffer);
  const light = arena.take(3 * plane);
  for (let c = 0; c < 3; c++) arena.floats(light + c * plane, n).set(colours.map((each) => each[c]));
  kernels.tableRow(light, plane, n, arena.placeFloats(new Float32Array(n + 8).fill(mask)), arena.placeFloats(tableBlock(table, space)), strength);
  return colours.map((_, i) => [0, 1, 2].map((c) => arena.floats(light + c * plane, n)[i]) as unknown as Triple);
}

/** A table of what a function makes of values. */
const tableOf = (size: number, make: (value: Triple) => Triple): ColourTable => {
  const table = neutralTable(size);
  return { ...table, values: table.values.map((_, i, all) => (i % 3 === 0 ? make([all[i], all[i + 1], all[i + 2]])[0] : make([all[i - (i % 3)], all[i - (i % 3) + 1], all[i - (i % 3) + 2]])[i % 3])) };
};
const random = (size: number, seed: number): ColourTable => {
  const next = seeded(seed);
  const table = neutralTable(size);
  return { ...table, values: table.values.map((v) => Math.min(1, Math.max(0, v + 0.4 * (next() - 0.5)))) };
};
const three = (min: number, max: number): fc.Arbitrary<Triple> => { const one = fc.double({ min, max, noNaN: true }); return fc.tuple(one, one, one); };
const light = three(-0.02, 9);
const lights = fc.array(light, { minLength: 1, maxLength: 20 });
const space = fc.constantFrom(...TABLE_SPACES);

describe('a colour table', () => {
  test('the kernel does what its plain twin does, cubes and curves, in every space, far beyond white', () => {
    fc.assert(fc.property(lights, space, fc.integer({ min: 2, max: 17 }), fc.boolean(), fc.integer(), fc.double({ min: 0, max: 1, noNaN: true }), (colours, where, size, curves, seed, strength) => {
      const cube = random(size, seed);
      const table: ColourTable = curves ? { ...cube, kind: 'curves', values: cube.values.slice(0, 3 * size), from: [-0.1, 0, 0.1], to: [1, 1.2, 0.9] } : cube;
      const [a, b] = [through(wasm, colours, table, where, strength), through(twin, colours, table, where, strength)];
      a.forEach((each, i) => each.forEach((v, c) => expect(Math.abs(v - b[i][c])).toBeLessThan(2e-3 * (1 + Math.abs(b[i][c])))));
    }), { numRuns: 150 });
  });
  test('that changes nothing leaves every colour to less than a 4096th of it, at any size and strength', () => {
    fc.assert(fc.property(lights, space, fc.constantFrom(2, 17, 33, 65), fc.double({ min: 0, max: 1, noNaN: true }), (colours, where, size, strength) => {
      through(wasm, colours, neutralTable(size), where, strength).forEach((each, i) => each.forEach((v, c) => expect(Math.abs(v - colours[i][c])).toBeLessThan((1 + Math.abs(colours[i][c])) / 4096)));
    }), { numRuns: 60 });
  });
  test('does to what is displayed what it says, between its own entries as well', () => {
    // A table that is linear in its values is met exactly by tetrahedra, whatever its size.
    const mixed = tableOf(9, ([r, g, b]) => [0.8 * r + 0.1 * g + 0.05, 0.7 * g + 0.2 * b, 0.9 * b + 0.05 * r]);
    const spaces = [['srgb', SRGB_TO_WORKING], ['p3', P3_TO_WORKING]] as const;
    fc.assert(fc.property(fc.constantFrom(...spaces), three(0.02, 0.95), ([where, matrix], [r, g, b]) => {
      const [out] = through(wasm, [applyMatrix(matrix, [r, g, b].map(decodeFromTable) as unknown as Triple)], mixed, where);
      const wished = applyMatrix(matrix, [0.8 * r + 0.1 * g + 0.05, 0.7 * g + 0.2 * b, 0.9 * b + 0.05 * r].map(decodeFromTable) as unknown as Triple);
      out.forEach((v, c) => expect(Math.abs(v - wished[c])).toBeLessThan(2e-3 * (1 + wished[c])));
    }));
  });
  test('counts by its strength and by its mask alike, and not at all at none', () => {
    const table = random(5, 3);
    fc.assert(fc.property(light, space, fc.double({ min: 0, max: 1, noNaN: true }), (colour, where, share) => {
      const [[whole], [weak], [masked]] = [through(wasm, [colour], table, where), through(wasm, [colour], table, where, share), through(wasm, [colour], table, where, 1, share)];
      weak.forEach((v, c) => {
        expect(v).toBeCloseTo(colour[c] + share * (whole[c] - colour[c]), 3);
        expect(masked[c]).toBeCloseTo(v, 5);
      });
      expect(through(wasm, [colour], table, where, 0)[0].map(Math.fround)).toEqual(colour.map(Math.fround));
    }));
  });
  test('whose domain lies below black, or far beyond white, leaves numbers that are numbers', () => {
    fc.assert(fc.property(lights, space, fc.constantFrom<readonly [Triple, Triple]>([[-2, -2, -2], [-1, -1, -1]], [[-1, 0, 0], [0, 1e-5, 900]], [[8, 8, 8], [9, 9, 9]]), (colours, where, [from, to]) => {
      for (const each of through(wasm, colours, { ...random(3, 5), from, to }, where)) for (const v of each) expect(Math.abs(v)).toBeLessThan(1e6);
    }));
  });
  test('of rising curves keeps greys in order, from black to far beyond white', () => {
    const greys = Array.from({ length: 400 }, (_, k): Triple => { const v = 12 * (k / 399) ** 3; return [v, v, v]; });
    const darker = tableOf(17, (v) => v.map((e) => 0.02 + 0.9 * e ** 1.4) as unknown as Triple);
    const out = through(wasm, greys, darker, 'srgb').map(([r]) => r);
    out.forEach((v, k) => expect(v).toBeGreaterThanOrEqual(k === 0 ? 0 : out[k - 1] * (1 - 3e-5)));
  });
  test('light and values lead to each other', () => {
    for (let k = 0; k <= 40; k++) expect(encodeForTable(decodeFromTable(k / 40))).toBeCloseTo(k / 40, 5);
    expect(decodeFromTable(1)).toBeCloseTo(WHITE, 3);
    for (const where of TABLE_SPACES) valueOfLight(lightOfValue([0.3, 0.6, 0.2], where), where).forEach((v, c) => expect(v).toBeCloseTo([0.3, 0.6, 0.2][c], 4));
    applyMatrix(WORKING_TO_P3, applyMatrix(P3_TO_WORKING, [0.2, 0.5, 0.9])).forEach((v, c) => expect(v).toBeCloseTo([0.2, 0.5, 0.9][c], 7));
  });
});

const wrongAt = (text: string): [number, string] => {
  try {
    readCube(text);
  } catch (error) {
    if (error instanceof InvalidCube) return [error.line, error.message];
    throw error;
  }
  return [0, ''];
};

describe('files of colour tables', () => {
  test('are read back as they were written', () => {
    fc.assert(fc.property(fc.integer({ min: 2, max: 9 }), fc.integer(), fc.boolean(), fc.stringMatching(/^[A-Za-z0-9 äß-]{0,30}$/), (size, seed, domain, title) => {
      const table: ColourTable = { ...random(size, seed), title, ...(domain ? { from: [-0.5, 0, 0.25] as Triple, to: [1, 2.5, 1] as Triple } : {}) };
      const read = readCube(writeCube(table));
      expect({ ...read, values: null }).toEqual({ ...table, values: null });
      expect(read.values.reduce((most, v, i) => Math.max(most, Math.abs(v - table.values[i])), 0)).toBeLessThan(1e-6);
    }), { numRuns: 40 });
    const longest = { ...random(2, 1), size: 4, kind: 'curves' as const, values: Float32Array.from({ length: 12 }, (_, i) => i / 12) };
    expect(readCube(writeCube(longest)).kind).toBe('curves');
    expect(readCube(writeCube(neutralTable(65))).values.length).toBe(3 * 65 ** 3);
  });
  test('may hold comments, empty lines, other line ends, and any notation of numbers', () => {
    const table = readCube('\uFEFF# made up\r\nTITLE "Slack water"\r\n\r\nLUT_1D_SIZE 2\r\nLUT_1D_INPUT_RANGE 0 2\r\n 0 0.0 .0\r\n1e0\t+1.0 1.\r\n\r\n');
    expect(table).toEqual({ title: 'Slack water', kind: 'curves', size: 2, from: [0, 0, 0], to: [2, 2, 2], values: Float32Array.from([0, 0, 0, 1, 1, 1]) });
  });
  test.each([
    ['LUT_3D_SIZE 2\n0 0 0\n0 0\n', 3, /3 numbers, here are 2/],
    ['LUT_3D_SIZE 2\n0 0 zero\n', 2, /“zero” is no number/],
    ['LUT_3D_SIZE 2\n0 0 NaN\n', 2, /no number/],
    ['LUT_3D_SIZE 2\n0 0 1e300\n', 2, /no number/],
    ['LUT_3D_SIZE 66\n', 1, /size from 2 to 65/],
    ['LUT_3D_SIZE 2.5\n', 1, /size from 2 to 65/],
    ['LUT_1D_SIZE 1\n', 1, /size from 2 to 65536/],
    ['LUT_1D_SIZE 2\nLUT_3D_SIZE 2\n', 2, /another before/],
    ['0 0 0\n', 1, /LUT_1D_SIZE or LUT_3D_SIZE is missing/],
    ['# nothing\n', 2, /without a table/],
    ['', 1, /without a table/],
    ['TITLE Slack\n', 1, /quotation marks/],
    ['GAMMA 2.2\n', 1, /“GAMMA” is no word/],
    ['LUT_1D_SIZE 2\n0 0 0\nTITLE "late"\n', 3, /only values may follow/],
    ['LUT_1D_SIZE 2\n0 0 0\n1 1 1\n2 2 2\n', 4, /too many: 2 were announced/],
    ['LUT_3D_SIZE 2\n0 0 0\n', 3, /ends after 1 of 8/],
    ['DOMAIN_MIN 0 0 1\nLUT_1D_SIZE 2\n0 0 0\n1 1 1\n', 3, /DOMAIN_MAX must lie above/],
    ['\0\u0001\u0002binary', 1, /no text/],
  ])('are refused with the line that is wrong: %j', (text, line, message) => {
    const [at, told] = wrongAt(text);
    expect([at, told]).toEqual([line, expect.stringMatching(message)]);
    expect(told.startsWith(`Line ${line}: `)).toBe(true);
  });
  test('of any content are refused or read, never anything else', () => {
    fc.assert(fc.property(fc.array(fc.oneof(fc.constantFrom('LUT_3D_SIZE 2', 'LUT_1D_SIZE 2', 'TITLE "a"', 'DOMAIN_MIN 0 0 0', 'DOMAIN_MAX 1 1 1', '0 0 0', '1 1 1', '#'), fc.string({ maxLength: 20 })), { maxLength: 14 }), (lines) => {
      const text = lines.join('\n');
      const [at] = wrongAt(text);
      if (at === 0) expect(readCube(text).values.every(Number.isFinite)).toBe(true);
      else expect(at).toBeLessThanOrEqual(text.split(/\r\n|\n|\r/).length);
    }), { numRuns: 500 });
  });
});

describe('what a pass does to colours, as a table', () => {
  const own = 'e'.repeat(64);
  const adjust = (changes: Partial<AdjustPass>): AdjustPass => ({ id: 'x', name: 'Evening', why: '', kind: 'adjust', on: true, opacity: 1, within: null, mask: [], exposure: 0, balance: [1, 1, 1], contrast: 1, highlights: 0, shadows: 0, curve: [], tied: false, saturation: 1, ...changes });
  const mixWith = (pass: AdjustPass): Mix => ({
    reference: 'a', lens: { ...NO_LENS }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: W, height: H, frames: { a: use(0) }, merge: ['a'],
    passes: [{ id: 'under', name: '', within: null, why: '', kind: 'light', source: { kind: 'merge' }, alignment: null, mode: 'normal', brightness: 1, colour: 1, on: true, opacity: 1, mask: [], exposure: -1, balance: [1, 1, 1] }, pass],
  });
  const tabulated = (pass: AdjustPass, where: TableSpace): ColourTable => tabulatePass(tools, mixWith(pass), pass, FOUND, NO_TABLES, where, pass.name);
  const seen = (pass: AdjustPass, tables: ColourTables = NO_TABLES): Uint8Array => { const mix = mixWith(pass); return render(readyMix(tools, mix, FOUND, PICTURES, undefined, tables).prepared, wholeGrid(mix, 120, 80)); };

  test('changes nothing where the pass does not, or only by what lies around', () => {
    for (const where of TABLE_SPACES) {
      const { values, size, title } = tabulated(adjust({ highlights: -1, localContrast: 0.8, veil: 0.5, opacity: 0.3 }), where);
      expect([size, title]).toEqual([33, 'Evening']);
      expect(neutralTable(33).values.reduce((most, v, i) => Math.max(most, Math.abs(v - values[i])), 0)).toBeLessThan(1 / 4096);
    }
  });
  test('gives the picture that the pass gives', () => {
    fc.assert(fc.property(fc.record({ exposure: fc.double({ min: -0.6, max: 0.2, noNaN: true }), contrast: fc.double({ min: 0.85, max: 1.2, noNaN: true }), saturation: fc.double({ min: 0.6, max: 1.1, noNaN: true }), balance: fc.constantFrom<Triple>([1, 1, 1], [1.08, 1, 0.9]), curve: fc.constantFrom<AdjustPass['curve']>([], [[-3, 0.3], [1, -0.2]]) }), fc.constantFrom<TableSpace>('srgb', 'p3'), (changes, where) => {
      const pass = adjust(changes);
      const [by, through] = [seen(pass), seen(adjust({ table: { digest: own, name: 'Evening', space: where, strength: 1 } }), new Map([[own, readCube(writeCube(tabulated(pass, where)))]]))];
      const off = by.reduce((sum, v, i) => sum + Math.abs(v - through[i]), 0) / by.length;
      expect(off).toBeLessThan(0.2);
      // Where contrast bends the darkest tones most, 33 values an edge are coarse.
      const offs = by.map((v, i) => Math.abs(v - through[i])).sort();
      expect(offs[Math.floor(0.99 * offs.length)]).toBeLessThan(3);
      expect(offs[offs.length - 1]).toBeLessThan(14);
      expect(seen(adjust({})).reduce((sum, v, i) => sum + Math.abs(v - by[i]), 0) / by.length).toBeGreaterThan(off);
    }), { numRuns: 12 });
  });
  test('that is not at hand leaves the picture as it is', () => {
    expect(seen(adjust({ table: { digest: own, name: 'Gone', space: 'srgb', strength: 1 } }))).toEqual(seen(adjust({})));
  });
});
