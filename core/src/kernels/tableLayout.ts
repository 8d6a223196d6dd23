/** Steps an octave of the table that encodes light, from 2^-12 on, and octaves; steps of the one that decodes values. */
export const ENCODE_STEPS = 64;
export const ENCODE_OCTAVES = 16;
export const DECODE_STEPS = 4096;
const ENCODE = 32;
const DECODE = ENCODE + ENCODE_OCTAVES * ENCODE_STEPS + 1;
/** Where parts of the block that a kernel reads of a colour table begin, in floats: matrices, domain, what kind of table it is, the knee of the display curve, both ways between light and values, the values; and how many of nothing follow these. */
export const BLOCK = { into: 0, back: 9, from: 18, scale: 21, size: 24, curves: 25, top: 26, encoded: 27, knee: 28, encode: ENCODE, decode: DECODE, values: DECODE + DECODE_STEPS + 1 } as const;
export const BEHIND = 4;
