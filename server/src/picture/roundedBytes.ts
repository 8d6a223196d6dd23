/** 16-bit values rounded to 8 bit. A loop: what the language offers takes seconds for a camera's picture. */
export function roundedBytes(deep: ArrayLike<number>): Uint8Array {
  const out = new Uint8Array(deep.length);
  for (let i = 0; i < out.length; i++) out[i] = (deep[i] + 128) / 257;
  return out;
}
