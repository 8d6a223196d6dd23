import type { Matrix3, TableSpace, Triple } from '@zaddle/document';
import { applyMatrix, P3_TO_WORKING, SRGB_TO_WORKING, WORKING_TO_P3, WORKING_TO_SRGB } from '../colour/primaries';
import { linearToSrgb, srgbToLinear } from '../colour/transfer';
import { BEHIND, BLOCK, DECODE_STEPS, ENCODE_OCTAVES, ENCODE_STEPS } from '../kernels/tableLayout';
import type { ColourTable } from './colourTable';
import { inverseToneCurve, KNEE, toneCurve, WHITE } from './toneCurve';

/** How a table's space is reached from working light: its primaries, and whether values are encoded as displays want them. */
const SPACES: Readonly<Record<TableSpace, { readonly into: Matrix3; readonly back: Matrix3; readonly encoded: boolean }>> = {
  srgb: { into: WORKING_TO_SRGB, back: SRGB_TO_WORKING, encoded: true },
  p3: { into: WORKING_TO_P3, back: P3_TO_WORKING, encoded: true },
  linear: { into: WORKING_TO_SRGB, back: SRGB_TO_WORKING, encoded: false },
};

/** Linear light as a table of encoded values meets it: brought to what can be displayed by the display curve, and encoded as sRGB is. */
export const encodeForTable = (v: number): number => linearToSrgb(toneCurve(v));
/** The way back. */
export const decodeFromTable = (e: number): number => inverseToneCurve(srgbToLinear(e));

/** Largest linear light that a table tells apart: beyond, colours keep what becomes of it. One whose domain lies below black tells nothing apart, and still has one. */
const topOf = ({ to }: ColourTable, encoded: boolean): number => (encoded ? WHITE : Math.max(LEAST_TOP, ...to));
const LEAST_TOP = 1e-3;

let coders: readonly [Float32Array, Float32Array] | null = null;
/** Both ways between light and encoded values, worked out once. */
function codingTables(): readonly [Float32Array, Float32Array] {
  coders ??= [
    Float32Array.from({ length: ENCODE_OCTAVES * ENCODE_STEPS + 1 }, (_, k) => encodeForTable(2 ** (Math.floor(k / ENCODE_STEPS) - 12) * (1 + (k % ENCODE_STEPS) / ENCODE_STEPS))),
    Float32Array.from({ length: DECODE_STEPS + 1 }, (_, k) => decodeFromTable(k / DECODE_STEPS)),
  ];
  return coders;
}

const blocks = new WeakMap<ColourTable, Map<TableSpace, Float32Array>>();

/** A table as the kernel reads it, made once for each space. */
export function tableBlock(table: ColourTable, space: TableSpace): Float32Array {
  const made = blocks.get(table) ?? new Map<TableSpace, Float32Array>();
  blocks.set(table, made);
  const there = made.get(space);
  if (there) return there;
  const { into, back, encoded } = SPACES[space];
  const block = new Float32Array(BLOCK.values + table.values.length + BEHIND);
  block.set(into, BLOCK.into);
  block.set(back, BLOCK.back);
  block.set(table.from, BLOCK.from);
  block.set(table.to.map((to, c) => (table.size - 1) / (to - table.from[c])), BLOCK.scale);
  block.set([table.size, table.kind === 'curves' ? 1 : 0, topOf(table, encoded), encoded ? 1 : 0, KNEE], BLOCK.size);
  const [encode, decode] = codingTables();
  block.set(encode, BLOCK.encode);
  block.set(decode, BLOCK.decode);
  block.set(table.values, BLOCK.values);
  made.set(space, block);
  return block;
}

/** The working light that a table's own value stands for, and the other way round, where all of it can be displayed. */
export const lightOfValue = (value: Triple, space: TableSpace): Triple => applyMatrix(SPACES[space].back, SPACES[space].encoded ? (value.map(decodeFromTable) as unknown as Triple) : value);
export const valueOfLight = (light: Triple, space: TableSpace): Triple => {
  const own = applyMatrix(SPACES[space].into, light);
  return SPACES[space].encoded ? (own.map(encodeForTable) as unknown as Triple) : own;
};
