import type { DeliveryMeta } from './deliveryMeta';

/** Widths that rows of runs are known for; others lie as they are. */
const NARROWEST = 8;
const WIDEST = 32_767;
/** Longest run, and longest stretch without one; shortest run that is worth its two bytes. */
const RUN = 127;
const STRETCH = 128;
const WORTH_IT = 4;
/** Exponents are told from this one on. */
const EXCESS = 128;

const asFloat = new Float32Array(1);
const asBits = new Uint32Array(asFloat.buffer);
/** The power of two that a positive value is below: v = f 2^e with f in 0.5..1. */
function exponentOf(v: number): number {
  asFloat[0] = v;
  return ((asBits[0] >>> 23) & 0xff) - 126;
}

/** Pixels of a row as mantissas of red, green, blue and their common exponent, one component after the other. */
function componentsOf(data: Float32Array, from: number, width: number, out: Uint8Array): void {
  for (let x = 0; x < width; x++) {
    const at = from + 3 * x;
    const r = Math.max(0, data[at]);
    const g = Math.max(0, data[at + 1]);
    const b = Math.max(0, data[at + 2]);
    const most = Math.max(r, g, b);
    const exponent = most < 1e-32 ? -EXCESS : exponentOf(most);
    const scale = most < 1e-32 ? 0 : 2 ** (8 - exponent);
    out[x] = Math.min(255, r * scale);
    out[width + x] = Math.min(255, g * scale);
    out[2 * width + x] = Math.min(255, b * scale);
    out[3 * width + x] = scale === 0 ? 0 : exponent + EXCESS;
  }
}

/** How many values from k on are the same, up to a longest run. */
function runAt(own: Uint8Array, k: number): number {
  let length = 1;
  while (k + length < own.length && length < RUN && own[k + length] === own[k]) length++;
  return length;
}

/** One component of a row as runs and stretches. @returns where it ends in the file */
function packed(own: Uint8Array, file: Uint8Array, start: number): number {
  let at = start;
  let x = 0;
  while (x < own.length) {
    const run = runAt(own, x);
    if (run >= WORTH_IT) {
      file[at++] = STRETCH + run;
      file[at++] = own[x];
      x += run;
      continue;
    }
    const first = x;
    while (x < own.length && x - first < STRETCH && runAt(own, x) < WORTH_IT) x++;
    file[at++] = x - first;
    for (let k = first; k < x; k++) file[at++] = own[k];
  }
  return at;
}

/**
 * Linear light as a Radiance picture: 8-bit mantissas with a common exponent (Ward, "Real pixels", Graphics Gems II, 1991), rows packed in runs
 * (the format's own description, "Radiance file formats", 1997). Accurate to 1 in 256 of the strongest colour, over all the range that light has.
 * @param data red, green, blue of linear sRGB, 1.0 is white, row by row; what is below nothing is nothing
 */
export function encodeRadiance({ width, height, data }: { readonly width: number; readonly height: number; readonly data: Float32Array }, { description }: Pick<DeliveryMeta, 'description'>): Buffer {
  const words = description.normalize('NFKD').replace(/[^\x20-\x7e]/g, '');
  const head = `#?RADIANCE\n# ${words}. Linear light, 1.0 is white.\nSOFTWARE=Zaddle\nFORMAT=32-bit_rle_rgbe\nPRIMARIES=0.64 0.33 0.3 0.6 0.15 0.06 0.3127 0.329\n\n-Y ${height} +X ${width}\n`;
  const inRuns = width >= NARROWEST && width <= WIDEST;
  // Stretches cost a byte for each 128 at most.
  const file = new Uint8Array(head.length + height * (4 + 4 * (width + Math.ceil(width / STRETCH) + 1)));
  file.set(Buffer.from(head, 'ascii'));
  let at = head.length;
  const row = new Uint8Array(4 * width);
  for (let y = 0; y < height; y++) {
    componentsOf(data, 3 * y * width, width, row);
    if (inRuns) {
      file.set([2, 2, width >> 8, width & 255], at);
      at += 4;
      for (let c = 0; c < 4; c++) at = packed(row.subarray(c * width, (c + 1) * width), file, at);
    } else for (let x = 0; x < width; x++) for (let c = 0; c < 4; c++) file[at++] = row[c * width + x];
  }
  return Buffer.from(file.buffer, 0, at);
}
