import { CODE_COUNT, CODE_MAX } from '../kernels/kernels';
import { srgbToLinear } from './transfer';

/**
 * A camera's response against sRGB's: log2 light of an encoded value v (0..1) is that of sRGB plus the sum over k of
 * response[k] (1 - v)^(k + 1), so that white stays white. Empty: sRGB.
 */
export type Response = readonly number[];

/** Stops that a response adds to what sRGB says of the encoded value v, 0..1. */
export function responseStops(response: Response, v: number): number {
  let sum = 0;
  for (let k = response.length - 1; k >= 0; k--) sum = (sum + response[k]) * (1 - v);
  return sum;
}

/** Linear light of every code of the warp; three equal channel tables in a row. */
export function responseTables(response: Response): Float32Array {
  const tables = new Float32Array(CODE_COUNT * 3);
  for (let code = 0; code < CODE_COUNT; code++) {
    const encoded = Math.min(code, CODE_MAX) / CODE_MAX;
    const value = srgbToLinear(encoded) * 2 ** responseStops(response, encoded);
    tables[code] = value;
    tables[CODE_COUNT + code] = value;
    tables[2 * CODE_COUNT + code] = value;
  }
  return tables;
}
