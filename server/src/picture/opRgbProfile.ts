/** Tags of an ICC profile begin here, after its header and how many there are. */
const FIRST_TAG = 132;
const TAG_BYTES = 12;
/** The white that profiles are relative to, D50, and opRGB's red, green and blue adapted to it (Bradford), in CIE XYZ. */
const D50 = [0.9642, 1, 0.8249] as const;
const COLOURS = { r: [0.60974, 0.31111, 0.01947], g: [0.20528, 0.62567, 0.06087], b: [0.14919, 0.06322, 0.74457] } as const;
/** From D65 to D50 by Bradford's matrix. */
const ADAPTATION = [1.04788, 0.02292, -0.05022, 0.02959, 0.99048, -0.01708, -0.00925, 0.01508, 0.75168] as const;
/** Its transfer function: a power of 563 / 256. */
const GAMMA = 563;

/** s15Fixed16Number. */
function fixed(values: readonly number[]): Buffer {
  const out = Buffer.alloc(values.length * 4);
  values.forEach((v, k) => out.writeInt32BE(Math.round(v * 65536), k * 4));
  return out;
}

/** An element: its type's signature, four bytes of nothing, and what is in it, up to a multiple of four bytes. */
const element = (type: string, data: Buffer): Buffer => Buffer.concat([Buffer.from(type, 'latin1'), Buffer.alloc(4), data, Buffer.alloc((4 - (data.length % 4)) % 4)]);

/** multiLocalizedUnicodeType with one text. */
function text(value: string): Buffer {
  const units = Buffer.from(value, 'utf16le').swap16();
  const head = Buffer.alloc(20);
  head.writeUInt32BE(1, 0);
  head.writeUInt32BE(TAG_BYTES, 4);
  head.write('enUS', 8, 'latin1');
  head.writeUInt32BE(units.length, 12);
  head.writeUInt32BE(28, 16);
  return element('mluc', Buffer.concat([head, units]));
}

function header(bytes: number): Buffer {
  const head = Buffer.alloc(128);
  head.writeUInt32BE(bytes, 0);
  head.writeUInt32BE(0x04200000, 8);
  head.write('mntrRGB XYZ ', 12, 'latin1');
  [2026, 1, 1].forEach((part, k) => head.writeUInt16BE(part, 24 + 2 * k));
  head.write('acsp', 36, 'latin1');
  fixed(D50).copy(head, 68);
  return head;
}

/**
 * An ICC profile of opRGB (IEC 61966-2-5) as files embed it: three colours and a power (ISO 15076-1, matrix and tone curves).
 * No library here ships one.
 */
export function opRgbProfile(): Buffer {
  const curve = element('curv', Buffer.from([0, 0, 0, 1, GAMMA >> 8, GAMMA & 255]));
  const tags: readonly (readonly [string, Buffer])[] = [
    ['desc', text('opRGB (IEC 61966-2-5)')], ['cprt', text('Free of rights')], ['wtpt', element('XYZ ', fixed(D50))], ['chad', element('sf32', fixed(ADAPTATION))],
    ...(['r', 'g', 'b'] as const).map((c) => [`${c}XYZ`, element('XYZ ', fixed(COLOURS[c]))] as const), ...(['r', 'g', 'b'] as const).map((c) => [`${c}TRC`, curve] as const),
  ];
  const table = Buffer.alloc(4 + tags.length * TAG_BYTES);
  table.writeUInt32BE(tags.length, 0);
  let at = FIRST_TAG + tags.length * TAG_BYTES;
  tags.forEach(([name, data], k) => {
    const row = 4 + k * TAG_BYTES;
    table.write(name, row, 'latin1');
    table.writeUInt32BE(at, row + 4);
    table.writeUInt32BE(data.length, row + 8);
    at += data.length;
  });
  return Buffer.concat([header(at), table, ...tags.map(([, data]) => data)]);
}
