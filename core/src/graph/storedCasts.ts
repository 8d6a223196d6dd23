import { hash } from 'ohash';
import type { CastField } from '../colour/castField';
import { FOUND_VERSION } from '../found/storedFound';
import { createPlane } from '../image/plane';
import type { PreparedArea, PreparedMix } from './prepareMix';

/** Version of how casts are worked out: those of an older one are worked out anew. */
const CAST_VERSION = 1;

interface Head {
  readonly casts: readonly { readonly pass: string; readonly name: string; readonly width: number; readonly height: number }[];
}

/** An area with those that it is linked to. */
const whole = ({ of, linked }: PreparedArea): unknown => (linked ? [of, linked.map(whole)] : of);

/** Names the colour of light below a pass, within its mask, by all that it is worked out from, the same on every machine. */
function castName({ mix, passes, foundOn }: PreparedMix, index: number): string {
  const { reference, lens, corrects, response, frames, merge } = mix;
  const below = passes.slice(0, index).map(({ pass, mask }) => [{ ...pass, name: null, why: null, mask: null }, mask.map(whole)]);
  return hash([CAST_VERSION, FOUND_VERSION, foundOn, reference, lens, corrects, response, frames, merge, below, passes[index].mask.map(whole)]);
}

/** How the colour of light goes over paint, as it was worked out for passes before, wherever that was: slow to make, and small. */
export class StoredCasts {
  private constructor(private readonly casts: ReadonlyMap<string, { readonly name: string; readonly field: CastField }>) {}

  static readonly none = new StoredCasts(new Map());

  /** The one of a pass, where it was worked out from the very same things; else null. */
  of(prepared: PreparedMix, index: number): CastField | null {
    const stored = this.casts.get(prepared.passes[index].pass.id);
    return stored && stored.name === castName(prepared, index) ? stored.field : null;
  }

  /** @throws RangeError when the file is damaged */
  static unpack(packed: Uint8Array): StoredCasts {
    if (packed.byteLength < 4) throw new RangeError('A file of casts is damaged.');
    const length = new DataView(packed.buffer, packed.byteOffset, packed.byteLength).getUint32(0, true);
    if (length > packed.byteLength - 4) throw new RangeError('A file of casts is damaged.');
    const head = JSON.parse(new TextDecoder().decode(packed.subarray(4, 4 + length))) as Head;
    let at = 4 + length;
    const plane = (width: number, height: number) => {
      const bytes = packed.slice(at, at + 4 * width * height);
      if (bytes.byteLength < 4 * width * height) throw new RangeError('A file of casts is cut off.');
      at += bytes.byteLength;
      return createPlane(width, height, new Float32Array(bytes.buffer));
    };
    return new StoredCasts(new Map(head.casts.map(({ pass, name, width, height }) => [pass, { name, field: { red: plane(width, height), blue: plane(width, height) } }])));
  }
}

/** Packs what was worked out for a mix; null where nothing of the kind was. */
export function packCasts(prepared: PreparedMix): Uint8Array | null {
  const all = prepared.passes.flatMap(({ pass, cast }, index) => (cast ? [{ pass: pass.id, name: castName(prepared, index), cast }] : []));
  if (all.length === 0) return null;
  const head = new TextEncoder().encode(JSON.stringify({ casts: all.map(({ pass, name, cast: { red: { width, height } } }) => ({ pass, name, width, height })) } satisfies Head));
  const planes = all.flatMap(({ cast }) => [cast.red, cast.blue]);
  const out = new Uint8Array(4 + head.length + planes.reduce((sum, { data }) => sum + data.byteLength, 0));
  new DataView(out.buffer).setUint32(0, head.length, true);
  out.set(head, 4);
  let at = 4 + head.length;
  for (const { data } of planes) {
    out.set(new Uint8Array(data.buffer, data.byteOffset, data.byteLength), at);
    at += data.byteLength;
  }
  return out;
}
