import type { EyeRay, Place } from '../trace/eyeRay';

/** What kind of thing a corner sees; only like ones are joined. */
export const SURFACE = 1;
export const VIEW = 2;
/** Lights, mirrors: every sample is looked at by itself. */
export const SPECIAL = 3;

const NUMBERS = 20;
const [U, V, SHARE, FRESNEL, GLOSSY_SHARE, AT, GLOSSY_AT] = [0, 1, 2, 3, 4, 5, 11];

/** What eye rays through the corners of a row of pixels see. */
export class CornerRow {
  readonly kind: Uint8Array;
  readonly triangle: Int32Array;
  readonly glossy: Int32Array;
  private readonly numbers: Float64Array;

  constructor(corners: number) {
    this.kind = new Uint8Array(corners);
    this.triangle = new Int32Array(corners);
    this.glossy = new Int32Array(corners);
    this.numbers = new Float64Array(corners * NUMBERS);
  }

  note(k: number, { surface, glossy, view, fresnel, glows, mirrors }: EyeRay): void {
    // A pane or glaze without roughness sends one ray on; a mirror is more than that.
    const special = glows.length > 0 || mirrors.length > 1 || (mirrors.length === 1 && !glossy.is);
    this.kind[k] = special ? SPECIAL : surface.is ? SURFACE : view.is ? VIEW : SPECIAL;
    this.triangle[k] = surface.is ? surface.triangle : -1;
    this.glossy[k] = glossy.is ? glossy.triangle : -1;
    const p = k * NUMBERS;
    this.numbers[p + U] = surface.u;
    this.numbers[p + V] = surface.v;
    this.numbers[p + SHARE] = surface.is ? surface.share : view.share;
    this.numbers[p + FRESNEL] = fresnel;
    this.numbers[p + GLOSSY_SHARE] = glossy.share;
    this.put(p + AT, surface);
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
    const kind = this.kind[k];
    const same = (a: CornerRow, i: number): boolean => a.kind[i] === kind && a.triangle[i] === this.triangle[k] && a.glossy[i] === this.glossy[k];
    return kind !== SPECIAL && same(this, k + 1) && same(below, k) && same(below, k + 1) ? kind : 0;
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
