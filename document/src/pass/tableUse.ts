import Joi from 'joi';
import { unitField, wholeText } from '../fields';

/** Encodings that a colour table may be made for: as displays want light, sRGB or Display P3, or linear sRGB. */
export const TABLE_SPACES = ['srgb', 'p3', 'linear'] as const;
export type TableSpace = (typeof TABLE_SPACES)[number];

/** A colour table that a pass puts colours through. Its values are kept apart, by content. */
export interface TableUse {
  /** SHA-256 of the file, 64 hexadecimal digits. */
  readonly digest: string;
  readonly name: string;
  readonly space: TableSpace;
  /** 0..1 */
  readonly strength: number;
}

const digestField = Joi.string().pattern(/^[0-9a-f]{64}$/).messages({ 'string.pattern.base': '{{#label}} must be 64 hexadecimal digits, the SHA-256 of a file' });

export const tableUseSchema = Joi.object({
  digest: digestField.required(),
  name: Joi.string().min(1).max(120).custom(wholeText).required(),
  space: Joi.valid(...TABLE_SPACES).required(),
  strength: unitField.required(),
});

/** Digests of the colour tables that passes name, each once. */
export function tablesOf(passes: readonly object[]): string[] {
  const digestOf = (pass: object): unknown => ('table' in pass ? (pass.table as Partial<TableUse> | null)?.digest : undefined);
  return [...new Set(passes.map(digestOf).filter((digest) => typeof digest === 'string'))];
}
