/** A file of a head, as JSON, and numbers after it: the head's length (32 bit, little-endian), the head, then all numbers in their order. */
export function packHeaded(head: object, values: readonly (Uint16Array | Float32Array)[]): Uint8Array {
  const text = new TextEncoder().encode(JSON.stringify(head));
  const out = new Uint8Array(4 + text.length + values.reduce((sum, { byteLength }) => sum + byteLength, 0));
  new DataView(out.buffer).setUint32(0, text.length, true);
  out.set(text, 4);
  let at = 4 + text.length;
  for (const { buffer, byteOffset, byteLength } of values) {
    out.set(new Uint8Array(buffer, byteOffset, byteLength), at);
    at += byteLength;
  }
  return out;
}

/** The head of such a file, and where its numbers begin. @throws RangeError when it is damaged */
export function readHeaded<T>(packed: Uint8Array): { readonly head: T; readonly at: number } {
  const length = packed.byteLength < 4 ? Infinity : new DataView(packed.buffer, packed.byteOffset, packed.byteLength).getUint32(0, true);
  if (length > packed.byteLength - 4) throw new RangeError('A file of findings is damaged.');
  return { head: JSON.parse(new TextDecoder().decode(packed.subarray(4, 4 + length))) as T, at: 4 + length };
}
