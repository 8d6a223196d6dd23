import { deflateSync } from 'node:zlib';
import type { DeliveryMeta } from './deliveryMeta';

/** Lines that are packed together by ZIP compression. */
const LINES = 16;
const ZIP = 3;
const HALF = 1;
/** A little packing is nearly as small as much, in a third of the time. */
const LEVEL = 3;
const LARGEST_HALF = 65_504;

const asFloat = new Float32Array(1);
const asBits = new Uint32Array(asFloat.buffer);
/** Bits of the half-precision number nearest to a value, IEEE 754-2008 binary16; what is larger than any is the largest, what is no number nothing. */
export function halfBits(value: number): number {
  if (Number.isNaN(value)) return 0;
  const sign = value < 0 ? 0x8000 : 0;
  const v = Math.min(LARGEST_HALF, Math.abs(value));
  // Below the smallest normal number steps are even.
  if (v < 2 ** -14) return sign | Math.round(v * 2 ** 24);
  asFloat[0] = v;
  const bits = asBits[0] - (112 << 23);
  // To the nearest, ties to even.
  return sign | Math.min(0x7bff, (bits + 0xfff + ((bits >>> 13) & 1)) >>> 13);
}

const text = (value: string): Buffer => Buffer.from(`${value}\0`, 'latin1');
const int = (...values: number[]): Buffer => Buffer.concat(values.map((v) => { const b = Buffer.alloc(4); b.writeInt32LE(v); return b; }));
const float = (...values: number[]): Buffer => Buffer.concat(values.map((v) => { const b = Buffer.alloc(4); b.writeFloatLE(v); return b; }));
const attribute = (name: string, type: string, value: Buffer): Buffer => Buffer.concat([text(name), text(type), int(value.length), value]);

/** Header of a single part of scan lines: half-precision blue, green, red, with the primaries and the white of sRGB. */
function header(width: number, height: number, { description, words }: Pick<DeliveryMeta, 'description' | 'words'>): Buffer {
  const plain = (value: string): Buffer => Buffer.from(value.normalize('NFKD').replace(/[^\x20-\x7e]/g, ''), 'ascii');
  const window = int(0, 0, width - 1, height - 1);
  const channels = Buffer.concat([...['B', 'G', 'R'].map((name) => Buffer.concat([text(name), int(HALF), Buffer.alloc(4), int(1, 1)])), Buffer.alloc(1)]);
  return Buffer.concat([
    int(20000630, 2),
    attribute('channels', 'chlist', channels), attribute('chromaticities', 'chromaticities', float(0.64, 0.33, 0.3, 0.6, 0.15, 0.06, 0.3127, 0.329)), attribute('comments', 'string', plain(`${description}. Linear light, 1.0 is white.`)),
    attribute('compression', 'compression', Buffer.from([ZIP])), attribute('dataWindow', 'box2i', window), attribute('displayWindow', 'box2i', window), attribute('lineOrder', 'lineOrder', Buffer.alloc(1)),
    ...(words?.creator ? [attribute('owner', 'string', plain(words.creator))] : []), attribute('pixelAspectRatio', 'float', float(1)), attribute('screenWindowCenter', 'v2f', float(0, 0)), attribute('screenWindowWidth', 'float', float(1)), Buffer.alloc(1),
  ]);
}

/** Bytes as they pack best: all first ones, then all second ones of the numbers, each told by what it adds to the one before. */
function apart(bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(bytes.length);
  const half = (bytes.length + 1) >> 1;
  for (let i = 0; i < bytes.length; i++) out[(i & 1) * half + (i >> 1)] = bytes[i];
  for (let i = bytes.length - 1; i > 0; i--) out[i] = (out[i] - out[i - 1] + 128) & 255;
  return out;
}

/**
 * Linear light as an OpenEXR picture, half precision, ZIP packed ("OpenEXR File Layout", Academy Software Foundation).
 * @param data red, green, blue of linear sRGB, 1.0 is white, row by row
 */
export function encodeOpenExr({ width, height, data }: { readonly width: number; readonly height: number; readonly data: Float32Array }, meta: Pick<DeliveryMeta, 'description' | 'words'>): Buffer {
  const head = header(width, height, meta);
  const blocks = Math.ceil(height / LINES);
  const offsets = Buffer.alloc(8 * blocks);
  const chunks: Buffer[] = [];
  let at = head.length + offsets.length;
  for (let block = 0; block < blocks; block++) {
    const [first, last] = [block * LINES, Math.min(height, (block + 1) * LINES)];
    const halves = new Uint16Array((last - first) * width * 3);
    for (let y = first, k = 0; y < last; y++) for (const c of [2, 1, 0]) for (let x = 0; x < width; x++) halves[k++] = halfBits(data[3 * (y * width + x) + c]);
    const plain = new Uint8Array(halves.buffer);
    const packed = deflateSync(apart(plain), { level: LEVEL });
    // What packing makes no smaller lies as it is.
    const body = packed.length < plain.length ? packed : Buffer.from(plain);
    offsets.writeBigUInt64LE(BigInt(at), 8 * block);
    chunks.push(int(first, body.length), body);
    at += 8 + body.length;
  }
  return Buffer.concat([head, offsets, ...chunks]);
}
