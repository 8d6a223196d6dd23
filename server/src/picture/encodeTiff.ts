import sharp from 'sharp';
import utif from 'utif2';
import { disclosureXmp } from '@zaddle/core/clean/disclosureXmp';
import type { OutputProfile } from '@zaddle/document';
import type { DeliveryMeta } from './deliveryMeta';
import { opRgbProfile } from './opRgbProfile';

/** Tags of TIFF 6.0 and its supplements that are written. */
const ICC_PROFILE = 34675;
const BYTES_TYPE = 7;
/** Bytes before the pixels: header, tags, profile and what was changed. */
const LARGEST_HEAD = 20_000;
/** White point and primaries of sRGB, for light that no profile describes. */
const rational = (v: number): readonly [number, number] => [Math.round(v * 10_000), 10_000];
const LINEAR_SRGB = { t318: [0.3127, 0.329].map(rational), t319: [0.64, 0.33, 0.3, 0.6, 0.15, 0.06].map(rational) };

/** Bytes of that for what was changed. */
const LARGEST_XMP = 11_000;

/** What was changed, as XMP; a list that is longer than there is room for ends with how many more there are. */
function changedXmp({ changed, words }: Pick<DeliveryMeta, 'changed' | 'words'>): Uint8Array {
  for (let kept = changed.length; ; kept--) {
    const xmp = Buffer.from(disclosureXmp(kept === changed.length ? changed : [...changed.slice(0, kept), `and ${changed.length - kept} more`], words));
    if (xmp.length <= LARGEST_XMP || kept === 0) return xmp;
  }
}

const profiles = new Map<OutputProfile, Promise<Buffer>>();

/** What a file embeds of a profile. */
function profileOf(name: OutputProfile): Promise<Buffer> {
  let known = profiles.get(name);
  if (!known) profiles.set(name, (known = name === 'oprgb' ? Promise.resolve(opRgbProfile()) : sharp({ create: { width: 1, height: 1, channels: 3, background: '#000' } }).withIccProfile(name).png().toBuffer().then((file) => sharp(file).metadata()).then(({ icc }) => icc!)));
  return known;
}

/**
 * A TIFF of RGB samples, uncompressed, one strip: integers of 8 or 16 bit with a profile, or 32-bit floats of linear light with its
 * primaries and white point (TIFF 6.0, sections 8, 19, 20). @param data row by row, in colours of the profile
 */
export async function encodeTiff({ width, height, data }: { readonly width: number; readonly height: number; readonly data: Uint8Array | Uint16Array | Float32Array }, meta: DeliveryMeta, profile: OutputProfile = 'srgb'): Promise<Buffer> {
  const isFloat = data instanceof Float32Array;
  const bits = 8 * data.BYTES_PER_ELEMENT;
  const format = isFloat ? 3 : 1;
  // What is not plain ASCII is told by the XMP.
  const text = (value: string): readonly [string] => [value.normalize('NFKD').replace(/[^\x20-\x7e]/g, '')];
  const density = meta.ppi ?? 300;
  utif._types.basic.rest[ICC_PROFILE] = BYTES_TYPE;
  const icc: Record<string, Uint8Array> = isFloat ? {} : { [`t${ICC_PROFILE}`]: new Uint8Array(await profileOf(profile)) };
  const head = utif.encode([{
    t256: [width], t257: [height], t258: [bits, bits, bits], t259: [1], t262: [2], t270: text(isFloat ? `${meta.description}. Linear light, 1.0 is white.` : meta.description), t273: [LARGEST_HEAD], t274: [1], t277: [3], t278: [height],
    t279: [data.byteLength], t282: [[density, 1]], t283: [[density, 1]], t284: [1], t296: [2], t305: ['Zaddle'], ...(meta.taken ? { t306: [meta.taken] } : {}), ...(meta.words?.creator ? { t315: text(meta.words.creator) } : {}), ...(isFloat ? LINEAR_SRGB : {}), t339: [format, format, format],
    t700: changedXmp(meta), ...icc,
  }]);
  const file = Buffer.alloc(LARGEST_HEAD + data.byteLength);
  file.set(new Uint8Array(head).subarray(0, LARGEST_HEAD));
  file.set(new Uint8Array(data.buffer, data.byteOffset, data.byteLength), LARGEST_HEAD);
  // The head is big-endian, so samples are, too.
  const samples = file.subarray(LARGEST_HEAD);
  if (isFloat) samples.swap32();
  else if (bits === 16) samples.swap16();
  return file;
}
