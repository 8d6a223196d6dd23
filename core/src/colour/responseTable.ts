import { CODE_COUNT, CODE_MAX } from '../kernels/kernels';
import { srgbToLinear } from './transfer';

/** Linear light of every code of the warp for an sRGB-like camera response; three equal channel tables in a row. */
export function responseTables(): Float32Array {
  const tables = new Float32Array(CODE_COUNT * 3);
  for (let code = 0; code < CODE_COUNT; code++) {
    const value = srgbToLinear(Math.min(code, CODE_MAX) / CODE_MAX);
    tables[code] = value;
    tables[CODE_COUNT + code] = value;
    tables[2 * CODE_COUNT + code] = value;
  }
  return tables;
}
