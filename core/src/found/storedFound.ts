import { createPlane, type Plane } from '../image/plane';
import type { FrameId, Mix } from '@zaddle/document';
import type { Found, GlassEdge } from './found';

/** Version of the detections: findings of an older one stay as they are until somebody asks for new ones. */
export const FOUND_VERSION = 1;

/** What the masks of a mix refer to. */
export type Wanted = { readonly kind: 'glass'; readonly edge: FrameId } | { readonly kind: 'share'; readonly frame: FrameId; readonly among: readonly FrameId[] };

const keyOf = (wanted: Wanted): string => (wanted.kind === 'glass' ? `glass ${wanted.edge}` : `share ${[wanted.frame, ...wanted.among].join()}`);

/** Everything found that the masks of a mix refer to, each once. */
export function wantedBy(mix: Pick<Mix, 'passes'>): Wanted[] {
  const all = mix.passes.flatMap((pass) => pass.mask).flatMap((area): Wanted[] => (area.kind !== 'found' ? [] : area.what === 'glass' ? [{ kind: 'glass', edge: area.edge }] : [{ kind: 'share', frame: area.frame, among: area.among }]));
  return [...new Map(all.map((wanted) => [keyOf(wanted), wanted])).values()];
}

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

/** Findings as they are kept and sent: read once, then at hand. */
export class StoredFound implements Found {
  readonly reference: FrameId;

  private constructor(private readonly head: Head, private readonly planes: ReadonlyMap<string, Plane>) {
    this.reference = head.reference;
  }

  /** Whether everything is there. */
  has(wanted: readonly Wanted[]): boolean {
    return wanted.every((w) => this.planes.has(w.kind === 'glass' ? `${keyOf(w)} a` : keyOf(w)));
  }

  glass(edge: FrameId): GlassEdge | null {
    const key = keyOf({ kind: 'glass', edge });
    const a = this.planes.get(`${key} a`);
    const b = this.planes.get(`${key} b`);
    if (!a || !b) return null;
    const [top, bottom] = this.head.rows[key];
    return { a, b, top, bottom };
  }

  share(frame: FrameId, among: readonly FrameId[]): Plane | null {
    return this.planes.get(keyOf({ kind: 'share', frame, among })) ?? null;
  }

  /** @throws RangeError when the file is damaged or of another version */
  static unpack(packed: Uint8Array): StoredFound {
    const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength);
    const length = view.getUint32(0, true);
    if (length > packed.byteLength - 4) throw new RangeError('A file of findings is damaged.');
    const head = JSON.parse(new TextDecoder().decode(packed.subarray(4, 4 + length))) as Head;
    if (head.version !== FOUND_VERSION) throw new RangeError('Findings of another version.');
    const planes = new Map<string, Plane>();
    let at = 4 + length;
    const count = head.width * head.height;
    for (const { key, form } of head.planes) {
      // A copy of its own, aligned: what is given may be a view into something larger.
      const bytes = Uint8Array.from(packed.subarray(at, at + count * (form === 'share' ? 2 : 4)));
      if (bytes.byteLength < count * (form === 'share' ? 2 : 4)) throw new RangeError('A file of findings is cut off.');
      planes.set(key, createPlane(head.width, head.height, form === 'share' ? Float32Array.from(new Uint16Array(bytes.buffer), (v) => v / 65535) : new Float32Array(bytes.buffer)));
      at += bytes.byteLength;
    }
    return new StoredFound(head, planes);
  }
}

/** Packs what was wanted of findings. Planes of one size. */
export function packFound(found: Found, wanted: readonly Wanted[], width: number, height: number): Uint8Array {
  const planes: StoredPlane[] = [];
  const rows: Record<string, readonly [number, number]> = {};
  const data: Uint8Array[] = [];
  const bytesOf = (values: Uint16Array | Float32Array): Uint8Array => new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
  for (const w of wanted) {
    const key = keyOf(w);
    if (w.kind === 'share') {
      const plane = found.share(w.frame, w.among);
      if (!plane) continue;
      planes.push({ key, form: 'share' });
      data.push(bytesOf(Uint16Array.from(plane.data, (v) => Math.round(65535 * Math.min(1, Math.max(0, v))))));
      continue;
    }
    const glass = found.glass(w.edge);
    if (!glass) continue;
    rows[key] = [glass.top, glass.bottom];
    planes.push({ key: `${key} a`, form: 'number' }, { key: `${key} b`, form: 'number' });
    data.push(bytesOf(glass.a.data), bytesOf(glass.b.data));
  }
  const head = new TextEncoder().encode(JSON.stringify({ version: FOUND_VERSION, reference: found.reference, width, height, planes, rows } satisfies Head));
  const out = new Uint8Array(4 + head.length + data.reduce((sum, d) => sum + d.length, 0));
  new DataView(out.buffer).setUint32(0, head.length, true);
  out.set(head, 4);
  let at = 4 + head.length;
  for (const part of data) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
