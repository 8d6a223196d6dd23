import { packHeaded, readHeaded } from '../image/headedFile';
import { createPlane, type Plane } from '../image/plane';
import type { FrameId, Mix } from '@zaddle/document';
import { findingKey, type EdgedFinding, type Found, type FoundEdge } from './found';

/** Version of the detections: findings of an older one stay as they are until somebody asks for new ones. */
export const FOUND_VERSION = 1;

/** What the masks of a mix refer to. */
export type Wanted = EdgedFinding | { readonly what: 'share'; readonly frame: FrameId; readonly among: readonly FrameId[] };

const keyOf = (wanted: Wanted): string => (wanted.what === 'share' ? `share ${[wanted.frame, ...wanted.among].join()}` : findingKey(wanted));

/** Everything found that the masks of a mix refer to, each once. */
export function wantedBy(mix: Pick<Mix, 'passes'>): Wanted[] {
  const all = mix.passes.flatMap((pass) => pass.mask).flatMap((area): Wanted[] => (area.kind !== 'found' ? [] : area.what === 'lit' ? [{ what: 'share', frame: area.frame, among: area.among }] : [area]));
  return [...new Map(all.map((wanted) => [keyOf(wanted), wanted])).values()];
}

/** What the masks of a mix refer to, as one text. */
export const wantedText = (mix: Pick<Mix, 'passes'>): string => wantedBy(mix).map(keyOf).sort().join('; ');

interface StoredPlane {
  readonly key: string;
  /** Shares lie in 0..1 and are kept in 16 bits; coefficients as they are. */
  readonly form: 'share' | 'number';
}
interface Head {
  readonly version: number;
  readonly reference: FrameId;
  readonly width: number;
  readonly height: number;
  readonly planes: readonly StoredPlane[];
  readonly rows: Readonly<Record<string, readonly [number, number]>>;
}

/** Bytes of a plane's number in each form. */
const FORM_BYTES = { share: 2, number: 4 } as const;

/** Values of a plane as it was packed. */
function unpackPlane(bytes: Uint8Array, form: StoredPlane['form'], width: number, height: number): Plane {
  // A copy of its own, aligned: what is given may be a view into something larger.
  const { buffer } = new Uint8Array(bytes);
  if (form === 'number') return createPlane(width, height, new Float32Array(buffer));
  const shares = new Uint16Array(buffer);
  const plane = createPlane(width, height);
  for (let i = 0; i < shares.length; i++) plane.data[i] = shares[i] / 65535;
  return plane;
}

/** Findings as they are kept and sent: each plane is read when it is first asked for, then at hand, always the same. */
export class StoredFound implements Found {
  readonly reference: FrameId;
  private readonly planes = new Map<string, Plane>();

  get width(): number {
    return this.head.width;
  }

  get height(): number {
    return this.head.height;
  }

  private constructor(private readonly head: Head, private readonly packed: ReadonlyMap<string, { readonly bytes: Uint8Array; readonly form: StoredPlane['form'] }>) {
    this.reference = head.reference;
  }

  private plane(key: string): Plane | null {
    const packed = this.packed.get(key);
    if (!packed) return null;
    let plane = this.planes.get(key);
    if (!plane) this.planes.set(key, (plane = unpackPlane(packed.bytes, packed.form, this.head.width, this.head.height)));
    return plane;
  }

  /** Whether everything is there. */
  has(wanted: readonly Wanted[]): boolean {
    return wanted.every((w) => this.packed.has(w.what === 'share' ? keyOf(w) : `${keyOf(w)} a`));
  }

  edgeFound(finding: EdgedFinding): FoundEdge | null {
    const key = findingKey(finding);
    const a = this.plane(`${key} a`);
    const b = this.plane(`${key} b`);
    if (!a || !b) return null;
    const [top, bottom] = this.head.rows[key];
    return { a, b, top, bottom };
  }

  share(frame: FrameId, among: readonly FrameId[]): Plane | null {
    return this.plane(keyOf({ what: 'share', frame, among }));
  }

  /** @throws RangeError when the file is damaged or of another version */
  static unpack(packed: Uint8Array): StoredFound {
    const { head, at: first } = readHeaded<Head>(packed);
    if (head.version !== FOUND_VERSION) throw new RangeError('Findings of another version.');
    const planes = new Map<string, { readonly bytes: Uint8Array; readonly form: StoredPlane['form'] }>();
    let at = first;
    const count = head.width * head.height;
    for (const { key, form } of head.planes) {
      const bytes = packed.subarray(at, at + count * FORM_BYTES[form]);
      if (bytes.byteLength < count * FORM_BYTES[form]) throw new RangeError('A file of findings is cut off.');
      planes.set(key, { bytes, form });
      at += bytes.byteLength;
    }
    return new StoredFound(head, planes);
  }
}

/** What either knows, of two findings on one reference. */
export const eitherFound = (one: Found, other: Found): Found => ({ reference: one.reference, edgeFound: (finding) => one.edgeFound(finding) ?? other.edgeFound(finding), share: (frame, among) => one.share(frame, among) ?? other.share(frame, among) });

/** A share of a flash as it is kept: in 16 bits. */
const sixteen = (v: number): number => Math.round(65535 * Math.min(1, Math.max(0, v)));
/** The same as it comes back: what rests on it is the same whether it was kept or found just now. */
export const keptShare = (v: number): number => sixteen(v) / 65535;

/** Packs what was wanted of findings. Planes of one size. */
export function packFound(found: Found, wanted: readonly Wanted[], width: number, height: number): Uint8Array {
  const planes: StoredPlane[] = [];
  const rows: Record<string, readonly [number, number]> = {};
  const data: (Uint16Array | Float32Array)[] = [];
  for (const w of wanted) {
    const key = keyOf(w);
    if (w.what === 'share') {
      const plane = found.share(w.frame, w.among);
      if (!plane) continue;
      planes.push({ key, form: 'share' });
      data.push(Uint16Array.from(plane.data, sixteen));
      continue;
    }
    const edge = found.edgeFound(w);
    if (!edge) continue;
    rows[key] = [edge.top, edge.bottom];
    planes.push({ key: `${key} a`, form: 'number' }, { key: `${key} b`, form: 'number' });
    data.push(edge.a.data, edge.b.data);
  }
  return packHeaded({ version: FOUND_VERSION, reference: found.reference, width, height, planes, rows } satisfies Head, data);
}
