import type { ColourTable } from './colourTable';

/** Digits after the point: more than 16 bits. */
const DIGITS = 7;

/** A colour table as a text file in the format .cube. */
export function writeCube({ title, kind, size, from, to, values }: ColourTable): string {
  const lines = [`TITLE "${title.replace(/["\r\n]/g, ' ')}"`, `LUT_${kind === 'curves' ? '1D' : '3D'}_SIZE ${size}`];
  if (from.some((v) => v !== 0)) lines.push(`DOMAIN_MIN ${from.join(' ')}`);
  if (to.some((v) => v !== 1)) lines.push(`DOMAIN_MAX ${to.join(' ')}`);
  for (let i = 0; i < values.length; i += 3) lines.push(`${values[i].toFixed(DIGITS)} ${values[i + 1].toFixed(DIGITS)} ${values[i + 2].toFixed(DIGITS)}`);
  return `${lines.join('\n')}\n`;
}
