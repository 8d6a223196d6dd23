import type { Triple } from '@zaddle/document';

/** Numbers that stand for colours: for each colour that comes in, what comes out. */
export interface ColourTable {
  readonly title: string;
  /** `curves`: one for each of red, green, blue. `lattice`: a cube of colours, red running fastest, then green. */
  readonly kind: 'curves' | 'lattice';
  /** Values a curve, or along each edge of the cube. */
  readonly size: number;
  /** Encoded values that the first and the last of them stand for. */
  readonly from: Triple;
  readonly to: Triple;
  /** Red, green, blue of each: `size` or `size`³ of them. */
  readonly values: Float32Array;
}

/** Colour tables by the digests of their files. */
export type ColourTables = ReadonlyMap<string, ColourTable>;
export const NO_TABLES: ColourTables = new Map();

/** Most values along an edge of a cube, and a curve. */
export const LARGEST_LATTICE = 65;
export const LONGEST_CURVE = 65_536;

/** A table that changes nothing. */
export function neutralTable(size: number, title = ''): ColourTable {
  const values = new Float32Array(3 * size ** 3);
  const at = (k: number): number => k / (size - 1);
  for (let i = 0; i < size ** 3; i++) values.set([at(i % size), at(Math.floor(i / size) % size), at(Math.floor(i / size ** 2))], 3 * i);
  return { title, kind: 'lattice', size, from: [0, 0, 0], to: [1, 1, 1], values };
}
