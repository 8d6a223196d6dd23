import { linearToSrgb } from '../colour/transfer';

/** Tones below this are left as they are; above it they roll off. */
const KNEE = 0.5;
/** Linear value that becomes white. */
const WHITE = 6;

/**
 * The display curve: identity up to the knee, above it a Reinhard shoulder with a white point (Reinhard et al.,
 * "Photographic tone reproduction", 2002, eq. 4) joined with equal slope, so that nothing clips abruptly.
 * @param v linear light. @returns linear display value 0..1.
 */
export function toneCurve(v: number): number {
  if (v <= KNEE) return Math.max(0, v);
  const span = 1 - KNEE;
  const w = (WHITE - KNEE) / span;
  const t = Math.min((v - KNEE) / span, w);
  return KNEE + (span * t * (1 + t / (w * w))) / (1 + t);
}

/** The inverse of `toneCurve`, for 0..1, by bisection. */
export function inverseToneCurve(y: number): number {
  let low = 0;
  let high = WHITE;
  for (let i = 0; i < 50; i++) {
    const middle = (low + high) / 2;
    if (toneCurve(middle) < y) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** Table for the encode kernel: 16 octaves from 2^-12 with 512 steps each, display curve and sRGB encoding, 0..255. The first entry is for all that is darker. */
export function encodeTable(): Uint8Array {
  const table = new Uint8Array(8192);
  for (let i = 1; i < table.length; i++) {
    const value = 2 ** (Math.floor(i / 512) - 12) * (1 + ((i % 512) + 0.5) / 512);
    table[i] = Math.round(255 * linearToSrgb(toneCurve(value)));
  }
  return table;
}
