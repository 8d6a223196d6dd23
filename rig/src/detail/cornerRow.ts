import type { EyeRay, Place } from '../trace/eyeRay';
import { coordsAt, type Mesh } from '../trace/mesh';

/** What kind of thing a corner sees; only like ones are joined. */
export const SURFACE = 1;
export const VIEW = 2;
/** Lights, mirrors: every sample is looked at by itself. */
export const SPECIAL = 3;

const NUMBERS = 20;
const [S, T, SHARE, FRESNEL, GLOSSY_SHARE, AT, GLOSSY_AT, FACE] = [0, 1, 2, 3, 4, 5, 11, 17];
/** How far, as a share of what lies between them, corners of one surface may be out of line. */
const OUT_OF_LINE = 0.2;
/** Sine of the angle by which they may leave its plane. */
const OUT_OF_PLANE = 0.05;

function inPlane(p: Float64Array, i: number, q: Float64Array, j: number, which: number, face: number): boolean {
  let turned = 0;
  let out = 0;
  let far = 0;
  for (let c = 0; c < 3; c++) {
    const step = q[j + which + 3 + c] - p[i + which + 3 + c];
    turned += (q[j + which + c] - p[i + which + c]) ** 2;
    out += step * p[i + face + c];
    far += step * step;
  }
  // 0.06: some 14 degrees.
  return turned < 0.06 && out * out <= OUT_OF_PLANE * OUT_OF_PLANE * far;
}

/** What eye rays through the corners of a row of pixels see. */
export class CornerRow {
  readonly kind: Uint8Array;
  /** Materials of the surface and of the glossy one before it, or -1. */
  readonly material: Int32Array;
  readonly glossy: Int32Array;
  /** 1: the glossy surface is another than the one that scatters. */
  private readonly apart: Uint8Array;
  private readonly numbers: Float64Array;
  private readonly coords = new Float64Array(2);

  constructor(private readonly mesh: Mesh, corners: number) {
    this.kind = new Uint8Array(corners);
    this.material = new Int32Array(corners);
    this.glossy = new Int32Array(corners);
    this.apart = new Uint8Array(corners);
    this.numbers = new Float64Array(corners * NUMBERS);
  }

  note(k: number, { surface, glossy, view, fresnel, glows, mirrors }: EyeRay): void {
    // A pane or glaze without roughness sends one ray on; a mirror is more than that.
    const special = glows.length > 0 || mirrors.length > 1 || (mirrors.length === 1 && !glossy.is);
    this.kind[k] = special ? SPECIAL : surface.is ? SURFACE : view.is ? VIEW : SPECIAL;
    this.material[k] = surface.is ? this.mesh.material[surface.triangle] : -1;
    this.glossy[k] = glossy.is ? this.mesh.material[glossy.triangle] : -1;
    this.apart[k] = glossy.is && glossy.triangle !== surface.triangle ? 1 : 0;
    const p = k * NUMBERS;
    if (surface.is) coordsAt(this.mesh, surface.triangle, surface.u, surface.v, this.coords);
    this.numbers[p + S] = this.coords[0];
    this.numbers[p + T] = this.coords[1];
    this.numbers[p + SHARE] = surface.is ? surface.share : view.share;
    this.numbers[p + FRESNEL] = fresnel;
    this.numbers[p + GLOSSY_SHARE] = glossy.share;
    this.put(p + AT, surface);
    for (let c = 0; c < 3; c++) this.numbers[p + FACE + c] = surface.is ? this.mesh.normals[surface.triangle * 3 + c] : 0;
    this.put(p + GLOSSY_AT, glossy);
  }

  private put(at: number, { nx, ny, nz, x, y, z }: Place): void {
    const n = this.numbers;
    n[at] = nx;
    n[at + 1] = ny;
    n[at + 2] = nz;
    n[at + 3] = x;
    n[at + 4] = y;
    n[at + 5] = z;
  }

  private mean(below: CornerRow, k: number, which: number): number {
    const [a, b] = [k * NUMBERS + which, (k + 1) * NUMBERS + which];
    return (this.numbers[a] + this.numbers[b] + below.numbers[a] + below.numbers[b]) / 4;
  }

  /** What all four corners of pixel k see alike, or 0. @param below the row of corners beneath */
  alike(below: CornerRow, k: number): number {
    if (this.kind[k] === SPECIAL || !this.like(k, this, k + 1) || !this.like(k, below, k) || !this.like(k, below, k + 1)) return 0;
    if (this.kind[k] === SURFACE && !(this.smooth(below, k, AT, FACE) && this.inLine(below, k, S, 2))) return 0;
    return this.apart[k] === 1 && !this.smooth(below, k, GLOSSY_AT, GLOSSY_AT) ? 0 : this.kind[k];
  }

  private like(k: number, other: CornerRow, i: number): boolean {
    return other.kind[i] === this.kind[k] && other.material[i] === this.material[k] && other.glossy[i] === this.glossy[k];
  }

  /** Whether numbers at four corners lie as on a parallelogram. */
  private inLine(below: CornerRow, k: number, which: number, count: number): boolean {
    const [a, b] = [k * NUMBERS + which, (k + 1) * NUMBERS + which];
    let off = 0;
    let across = 0;
    for (let c = 0; c < count; c++) {
      const [p, q, r, s] = [this.numbers[a + c], this.numbers[b + c], below.numbers[a + c], below.numbers[b + c]];
      off += (p + s - q - r) ** 2;
      across += (s - p) ** 2 + (r - q) ** 2;
    }
    return off <= OUT_OF_LINE * OUT_OF_LINE * across;
  }

  /** Whether places and normals at four corners lie on one surface without an edge or a step. @param face where its face's normal is kept */
  private smooth(below: CornerRow, k: number, which: number, face: number): boolean {
    const [a, b] = [k * NUMBERS, (k + 1) * NUMBERS];
    return this.inLine(below, k, which + 3, 3) && inPlane(this.numbers, a, below.numbers, b, which, face) && inPlane(this.numbers, b, below.numbers, a, which, face);
  }

  /** Surface coordinates at a place in pixel k, 0..1 across and down, into `out`. */
  coordinates(below: CornerRow, k: number, x: number, y: number, out: Float64Array): void {
    const [a, b] = [k * NUMBERS, (k + 1) * NUMBERS];
    for (let c = 0; c < 2; c++) {
      const upper = this.numbers[a + c] + x * (this.numbers[b + c] - this.numbers[a + c]);
      const lower = below.numbers[a + c] + x * (below.numbers[b + c] - below.numbers[a + c]);
      out[c] = upper + y * (lower - upper);
    }
  }

  share(below: CornerRow, k: number): number {
    return this.mean(below, k, SHARE);
  }

  /** How much pixel k shows of what its glossy surface mirrors. */
  mirrored(below: CornerRow, k: number): number {
    return this.mean(below, k, FRESNEL) * this.mean(below, k, GLOSSY_SHARE);
  }

  /** Normal and place in the middle of pixel k: of the surface, or of the glossy one. */
  middle(below: CornerRow, k: number, ofGlossy: boolean, out: Float64Array): void {
    for (let c = 0; c < 6; c++) out[c] = this.mean(below, k, (ofGlossy ? GLOSSY_AT : AT) + c);
    const l = 1 / (Math.hypot(out[0], out[1], out[2]) || 1);
    for (let c = 0; c < 3; c++) out[c] *= l;
  }
}
