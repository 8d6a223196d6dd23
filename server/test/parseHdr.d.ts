declare module 'parse-hdr' {
  /** Pixels of a Radiance picture: red, green, blue and one, row by row. */
  export default function parseHdr(file: Uint8Array): { readonly shape: ArrayLike<number> & Iterable<number>; readonly data: Float32Array };
}
