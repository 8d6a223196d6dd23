/** A minimal DNG (DNG 1.4, TIFF 6.0): 16-bit RGGB mosaic, uncompressed, with the EXIF that gathering reads. For tests only. */
export interface Dng {
  readonly width: number;
  readonly height: number;
  /** Linear camera light 0..1 of colour c at a pixel. */
  readonly light: (x: number, y: number, c: 0 | 1 | 2) => number;
  readonly orientation: number;
  readonly seconds: readonly [number, number];
  readonly taken: string;
}

type Tag = { readonly tag: number; readonly type: number; readonly count: number; readonly data: Buffer };
const BYTES = 1, ASCII = 2, SHORT = 3, LONG = 4, RATIONAL = 5, SRATIONAL = 10;

const shorts = (tag: number, ...v: number[]): Tag => ({ tag, type: SHORT, count: v.length, data: Buffer.from(Uint16Array.from(v).buffer) });
const longs = (tag: number, ...v: number[]): Tag => ({ tag, type: LONG, count: v.length, data: Buffer.from(Uint32Array.from(v).buffer) });
const text = (tag: number, s: string): Tag => ({ tag, type: ASCII, count: s.length + 1, data: Buffer.from(`${s}\0`, 'latin1') });
const bytes = (tag: number, ...v: number[]): Tag => ({ tag, type: BYTES, count: v.length, data: Buffer.from(v) });
const rationals = (tag: number, type: number, ...v: number[]): Tag => ({ tag, type, count: v.length, data: Buffer.from(Int32Array.from(v.flatMap((x) => [Math.round(x * 10000), 10000])).buffer) });

/** One directory with its values behind it. */
function directory(tags: readonly Tag[], at: number): Buffer {
  const sorted = [...tags].sort((a, b) => a.tag - b.tag);
  const head = Buffer.alloc(2 + sorted.length * 12 + 4);
  head.writeUInt16LE(sorted.length, 0);
  const values: Buffer[] = [];
  let offset = at + head.length;
  sorted.forEach(({ tag, type, count, data }, k) => {
    const p = 2 + k * 12;
    head.writeUInt16LE(tag, p);
    head.writeUInt16LE(type, p + 2);
    head.writeUInt32LE(count, p + 4);
    if (data.length <= 4) data.copy(head, p + 8);
    else {
      head.writeUInt32LE(offset, p + 8);
      const padded = Buffer.concat([data, Buffer.alloc(data.length % 2)]);
      values.push(padded);
      offset += padded.length;
    }
  });
  return Buffer.concat([head, ...values]);
}

export function writeDng({ width, height, light, orientation, seconds, taken }: Dng): Buffer {
  const mosaic = new Uint16Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const c = y % 2 === 0 ? (x % 2 === 0 ? 0 : 1) : x % 2 === 0 ? 1 : 2;
      mosaic[y * width + x] = Math.round(512 + Math.min(1, Math.max(0, light(x, y, c))) * (16000 - 512));
    }
  }
  const exif = (at: number): Buffer => directory([
    { tag: 33434, type: RATIONAL, count: 1, data: Buffer.from(Uint32Array.from(seconds).buffer) }, rationals(33437, RATIONAL, 8), shorts(34855, 200), text(36867, taken), rationals(37386, RATIONAL, 19),
  ], at);
  // sRGB's own primaries as the camera's, so that numbers stay what they are: XYZ to linear sRGB.
  const matrix = [3.2406, -1.5372, -0.4986, -0.9689, 1.8758, 0.0415, 0.0557, -0.204, 1.057];
  const main = (strip: number, exifAt: number): Buffer => directory([
    longs(254, 0), longs(256, width), longs(257, height), shorts(258, 16), shorts(259, 1), shorts(262, 32803), text(271, 'Rig'), text(272, 'Rig One'), longs(273, strip), shorts(274, orientation),
    shorts(277, 1), longs(278, height), longs(279, mosaic.byteLength), shorts(284, 1), longs(34665, exifAt),
    shorts(33421, 2, 2), bytes(33422, 0, 1, 1, 2), bytes(50706, 1, 4, 0, 0), text(50708, 'Rig One'), shorts(50714, 512), longs(50717, 16000),
    rationals(50721, SRATIONAL, ...matrix), rationals(50728, RATIONAL, 1, 1, 1), shorts(50778, 21),
  ], 8);
  const size = main(0, 0).length;
  const exifAt = 8 + size;
  const strip = exifAt + exif(exifAt).length;
  return Buffer.concat([Buffer.from([0x49, 0x49, 42, 0, 8, 0, 0, 0]), main(strip, exifAt), exif(exifAt), Buffer.from(mosaic.buffer)]);
}
