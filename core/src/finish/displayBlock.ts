import type { OutputProfile } from '@zaddle/document';
import { SRGB_TO_OPRGB, SRGB_TO_WORKING, WORKING_TO_P3, WORKING_TO_SRGB, applyMatrix, type Matrix3 } from '../colour/primaries';
import { encodeTable, FULL_CHROMA, KNEE, WHITE } from './toneCurve';

/** Floats before the table. */
const HEAD = 32;

/** A transfer function: `scale` times a power less `offset` above a limit of linear light, straight below it. */
type Transfer = readonly [power: number, scale: number, offset: number, slope: number, limit: number];
/** IEC 61966-2-1; Display P3 has the same. */
const SRGB: Transfer = [1 / 2.4, 1.055, 0.055, 12.92, 0.0031308];
/** IEC 61966-2-5: a power of 563 / 256 all the way. */
const OPRGB: Transfer = [256 / 563, 1, 0, 0, 0];

const IDENTITY: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];
const columns = [0, 1, 2].map((k) => applyMatrix(WORKING_TO_P3, [SRGB_TO_WORKING[k], SRGB_TO_WORKING[3 + k], SRGB_TO_WORKING[6 + k]]));
const SRGB_TO_P3 = [0, 1, 2].flatMap((row) => columns.map((column) => column[row])) as unknown as Matrix3;

const PROFILES: Readonly<Record<OutputProfile, { readonly fromSrgb: Matrix3; readonly transfer: Transfer }>> = {
  srgb: { fromSrgb: IDENTITY, transfer: SRGB },
  p3: { fromSrgb: SRGB_TO_P3, transfer: SRGB },
  oprgb: { fromSrgb: SRGB_TO_OPRGB, transfer: OPRGB },
};

function newBlock(profile: OutputProfile): Uint8Array {
  const { fromSrgb, transfer } = PROFILES[profile];
  const wide = profile === 'srgb' ? 0 : 1;
  const head = new Float32Array(HEAD);
  head.set([...WORKING_TO_SRGB, KNEE, WHITE, FULL_CHROMA, ...fromSrgb, ...transfer, wide]);
  const table = wide ? new Uint8Array(0) : encodeTable();
  const block = new Uint8Array(HEAD * 4 + table.length);
  block.set(new Uint8Array(head.buffer));
  block.set(table, HEAD * 4);
  return block;
}

const blocks = new Map<OutputProfile, Uint8Array>();

/**
 * All that the encoding kernels take to show working light in colours of a profile, as they read it: nine floats of the matrix to linear
 * sRGB (rows first), knee, white and full chroma of the display curve, nine floats on to the profile, five of its transfer function,
 * whether it is wider than sRGB, padding to 32 floats; of sRGB, the table of 8192 bytes. Tones are the same in all: the curve works in
 * sRGB's primaries, and a wider profile keeps the colours that those would clip at nothing.
 */
export function displayBlock(profile: OutputProfile): Uint8Array {
  let block = blocks.get(profile);
  if (!block) blocks.set(profile, (block = newBlock(profile)));
  return block;
}
