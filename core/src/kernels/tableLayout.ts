/** Steps an octave of the table that encodes light, from 2^-12 on, and octaves; steps of the one that decodes values. */
export const ENCODE_STEPS = 64;
export const ENCODE_OCTAVES = 16;
export const DECODE_STEPS = 4096;
/** Where parts of the block that a kernel reads begin, in floats: matrices, domain, what kind of table it is, then tables. */
export const BLOCK = { into: 0, back: 9, from: 18, scale: 21, size: 24, curves: 25, top: 26, encoded: 27, encode: 32, decode: 32 + ENCODE_OCTAVES * ENCODE_STEPS + 1, values: 32 + ENCODE_OCTAVES * ENCODE_STEPS + 1 + DECODE_STEPS + 1 } as const;
