declare module 'utif2' {
  /** Tags of one picture: 't' and the number of each, and its values. */
  type Tags = Record<`t${number}`, readonly unknown[] | Uint8Array>;
  const utif: {
    /** What comes before a file's pixels: a big-endian header, and its tags. */
    encode(pictures: readonly Tags[]): ArrayBuffer;
    /** Types of tags that the package does not know by itself may be added to `rest`: 7 is bytes. */
    readonly _types: { readonly basic: { readonly rest: Record<number, number> } };
  };
  export default utif;
}
