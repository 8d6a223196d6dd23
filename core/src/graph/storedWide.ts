import { hash } from 'ohash';
import type { FrameId } from '@zaddle/document';
import type { Bordered } from '../area/border';
import { FOUND_VERSION } from '../found/storedFound';
import type { Extent } from '../geometry/composedMap';
import { createPlane, type Light, type Plane } from '../image/plane';
import { packHeaded, readHeaded } from '../image/headedFile';
import { dequantize, quantize, type Quantization } from '../image/quantize';
import type { PreparedArea, PreparedMix, PreparedPass } from './prepareMix';

/** Version of how all this is worked out: what an older one made is made anew. */
const WIDE_VERSION = 2;

/** What was worked out for a pass in a wide context, and for the borders of its areas. */
export type WideResults = Pick<PreparedPass, 'tone' | 'veil' | 'glow' | 'cast' | 'around'> & { readonly borders: readonly (Bordered | null)[] };

/** A plane in a file, by its number; light is three. */
type PlaneNumber = number;
type LightNumbers = readonly [PlaneNumber, PlaneNumber, PlaneNumber];
interface StoredPass {
  readonly pass: string;
  readonly name: string;
  readonly tone: { readonly a: PlaneNumber; readonly b: PlaneNumber } | null;
  readonly veil: PlaneNumber | null;
  readonly glow: LightNumbers | null;
  readonly cast: { readonly red: PlaneNumber; readonly blue: PlaneNumber } | null;
  readonly around: { readonly light: LightNumbers; readonly whole: Extent } | null;
  readonly borders: readonly ({ readonly plane: PlaneNumber } | { readonly a: PlaneNumber; readonly b: PlaneNumber; readonly frame: FrameId } | null)[];
}
interface Head {
  readonly passes: readonly StoredPass[];
  readonly planes: readonly Quantization[];
}

/** An area with those that it is linked to. */
const whole = ({ of, linked }: PreparedArea): unknown => (linked ? [of, linked.map(whole)] : of);
/** As it comes out of a document that was kept: without what is left open. */
const plain = (value: unknown): unknown => JSON.parse(JSON.stringify(value));

/** Names each pass with all that lies below it: all that its wide context is worked out from, the same on every machine. */
function namesOf({ mix, passes, foundOn }: PreparedMix): string[] {
  const { reference, lens, corrects, response, frames, merge } = mix;
  let name = hash(plain([WIDE_VERSION, FOUND_VERSION, foundOn, reference, lens, corrects, response, frames, merge]));
  return passes.map(({ pass, mask }) => (name = hash([name, plain([{ ...pass, name: null, why: null, mask: null }, mask.map(whole)])])));
}

/** What was worked out in a wide context for a shot's picture before, wherever that was: slow to make, and small beside pixels of frames. */
export class StoredWide {
  private constructor(private readonly head: Head, private readonly values: readonly Uint16Array[]) {}

  private plane = (k: PlaneNumber): Plane => dequantize(this.head.planes[k], this.values[k]);

  private light([r, g, b]: LightNumbers): Light {
    const { width, height, data } = this.plane(r);
    return { width, height, r: data, g: this.plane(g).data, b: this.plane(b).data };
  }

  private results({ tone, veil, glow, cast, around, borders }: StoredPass): WideResults {
    return {
      tone: tone && { a: this.plane(tone.a), b: this.plane(tone.b) },
      veil: veil === null ? null : this.plane(veil),
      glow: glow && this.light(glow),
      cast: cast && { red: this.plane(cast.red), blue: this.plane(cast.blue) },
      around: around && { light: this.light(around.light), whole: around.whole },
      borders: borders.map((each) => each && ('plane' in each ? { plane: this.plane(each.plane) } : { a: this.plane(each.a), b: this.plane(each.b), frame: each.frame })),
    };
  }

  /** For each pass what was worked out from the very same things; null where nothing was. */
  of(prepared: PreparedMix): (WideResults | null)[] {
    const names = namesOf(prepared);
    return prepared.passes.map(({ pass }, index) => {
      const stored = this.head.passes.find((each) => each.pass === pass.id && each.name === names[index]);
      return stored ? this.results(stored) : null;
    });
  }

  /** @throws RangeError when the file is damaged */
  static unpack(packed: Uint8Array): StoredWide {
    const { head, at: first } = readHeaded<Head>(packed);
    let at = first;
    return new StoredWide(head, head.planes.map(({ width, height }) => {
      const bytes = packed.slice(at, at + 2 * width * height);
      if (bytes.byteLength < 2 * width * height) throw new RangeError('A file of wide context is cut off.');
      at += bytes.byteLength;
      return new Uint16Array(bytes.buffer);
    }));
  }
}

/** Planes on their way into a file. */
class PlaneList {
  readonly hows: Quantization[] = [];
  readonly values: Uint16Array[] = [];
  /** Whether all of them are numbers. */
  sound = true;

  take(plane: Plane, scale: Quantization['scale'] = 'even'): PlaneNumber {
    const made = quantize(plane, scale);
    if (!made) this.sound = false;
    else {
      this.hows.push(made.how);
      this.values.push(made.values);
    }
    return this.hows.length - 1;
  }

  light({ width, height, r, g, b }: Light): LightNumbers {
    const of = (data: Float32Array): PlaneNumber => this.take(createPlane(width, height, data), 'root');
    return [of(r), of(g), of(b)];
  }
}

function storedPass({ pass, tone, veil, glow, cast, around, mask }: PreparedPass, name: string, planes: PlaneList): StoredPass {
  return {
    pass: pass.id, name,
    tone: tone && { a: planes.take(tone.a), b: planes.take(tone.b) },
    veil: veil && planes.take(veil, 'root'),
    glow: glow && planes.light(glow),
    cast: cast && { red: planes.take(cast.red), blue: planes.take(cast.blue) },
    around: around && { light: planes.light(around.light), whole: around.whole },
    borders: mask.map(({ bordered }) => bordered && ('plane' in bordered ? { plane: planes.take(bordered.plane) } : { a: planes.take(bordered.a), b: planes.take(bordered.b), frame: bordered.frame })),
  };
}
const hasAny = ({ tone, veil, glow, cast, around, mask }: PreparedPass): boolean => [tone, veil, glow, cast, around].some((each) => each !== null) || mask.some(({ bordered }) => bordered !== null);

/** Packs what was worked out for a mix; null where nothing was, or what is no number. */
export function packWide(prepared: PreparedMix): Uint8Array | null {
  if (!prepared.passes.some(hasAny)) return null;
  const [planes, names] = [new PlaneList(), namesOf(prepared)];
  const passes = prepared.passes.flatMap((each, index) => (hasAny(each) ? [storedPass(each, names[index], planes)] : []));
  if (!planes.sound) return null;
  return packHeaded({ passes, planes: planes.hows } satisfies Head, planes.values);
}
