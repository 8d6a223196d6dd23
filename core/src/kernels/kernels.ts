import type { AreaBase } from '@zaddle/document';

/** A byte offset into the memory that kernels work on. */
export type Pointer = number;

/** How an area joins the mask so far; `INVERTED` more turns it inside out first. */
export const JOIN_CODES = { add: 0, subtract: 1, intersect: 2 } as const satisfies Readonly<Record<AreaBase['join'], number>>;
export const INVERTED = 4;

/** Output pixels between two exactly mapped positions of a row; kernels interpolate the map linearly. */
export const SEGMENT = 16;
/** Pixels that are skipped or worked on together; a multiple of SEGMENT. */
export const CHUNK = 64;
/** Kernels read and write up to this many bytes past the end of a row or picture: every buffer is padded by it. */
export const PADDING = 64;
/** Largest code of the warp: an 8-bit sample times 16. */
export const CODE_MAX = 4080;
export const CODE_COUNT = 4096;

/**
 * The hot loops. Two implementations exist: WebAssembly SIMD (`loadKernels`) and a plain TypeScript twin
 * (`twinKernels`), which tests compare. All arguments called Pointer are byte offsets into `memory`;
 * row lengths n are in pixels; plane arguments are distances in bytes between colour planes.
 */
export interface Kernels {
  readonly memory: { readonly buffer: ArrayBufferLike };
  warpRow8(src: Pointer, w: number, h: number, coords: Pointer, n: number, phases: Pointer, out: Pointer, plane: number, cover: Pointer): void;
  warpRow16(src: Pointer, w: number, h: number, coords: Pointer, n: number, phases: Pointer, out: Pointer, plane: number, cover: Pointer): void;
  lineariseRow(codes: Pointer, codePlane: number, n: number, tables: Pointer, matrix: Pointer, out: Pointer, outPlane: number): void;
  joinRow(codes: Pointer, codePlane: number, cover: Pointer, n: number, weights: Pointer, tables: Pointer, matrix: Pointer, gains: Pointer, acc: Pointer, accPlane: number, rest: Pointer): void;
  topRow(codes: Pointer, codePlane: number, n: number, out: Pointer): void;
  normaliseRow(acc: Pointer, accPlane: number, n: number, cover: Pointer): void;
  subtractRow(light: Pointer, plane: number, other: Pointer, otherPlane: number, n: number, share: number): void;
  mixRow(below: Pointer, belowPlane: number, src: Pointer, srcPlane: number, mask: Pointer, n: number, brightness: number, colour: number): void;
  blendRow(below: Pointer, belowPlane: number, src: Pointer, srcPlane: number, n: number, mode: number): void;
  layerRow(layer: Pointer, layerPlane: number, src: Pointer, plain: Pointer, srcPlane: number, mask: Pointer, n: number, brightness: number, colour: number): void;
  overRow(light: Pointer, plane: number, layer: Pointer, layerPlane: number, n: number): void;
  fillRow(light: Pointer, plane: number, n: number, share: Pointer, r: number, g: number, b: number, toR: number, toG: number, toB: number): void;
  tonesRow(logY: Pointer, n: number, from: number, to: number, width: number, out: Pointer): void;
  channelRow(light: Pointer, plane: number, n: number, component: number, from: number, to: number, out: Pointer): void;
  huesRow(light: Pointer, plane: number, n: number, matrix: Pointer, cos: number, sin: number, width: number, softness: number, chroma: number, out: Pointer): void;
  curveRow(logY: Pointer, n: number, from: number, per: number, table: Pointer, count: number, out: Pointer): void;
  foldRow(mask: Pointer, area: Pointer, n: number, how: number): void;
  finishMaskRow(mask: Pointer, cover: Pointer, n: number, factor: number): number;
  chunksRow(values: Pointer, n: number, least: number, flags: Pointer): number;
  logLuminanceRow(light: Pointer, plane: number, n: number, out: Pointer): void;
  planeRow(planeAt: Pointer, width: number, height: number, coords: Pointer, n: number, out: Pointer): void;
  guidedRow(a: Pointer, b: Pointer, guidance: Pointer, n: number, out: Pointer): void;
  gainRow(light: Pointer, plane: number, logY: Pointer, a: Pointer, b: Pointer, mask: Pointer, n: number, globalA: number, globalB: number, saturation: number): void;
  balanceRow(light: Pointer, plane: number, mask: Pointer, n: number, gr: number, gg: number, gb: number): void;
  shadeRow(light: Pointer, plane: number, n: number, gains: Pointer): void;
  encodeDeepRow(light: Pointer, plane: number, n: number, display: Pointer, out: Pointer): void;
  encodeRow(light: Pointer, plane: number, n: number, display: Pointer, out: Pointer): void;
  strokeRow(coords: Pointer, first: number, n: number, ax: number, ay: number, bx: number, by: number, radius: number, width: number, strength: number, out: Pointer): void;
  rampRow(coords: Pointer, n: number, fromX: number, fromY: number, dx: number, dy: number, out: Pointer): void;
  spotRow(coords: Pointer, n: number, atX: number, atY: number, ux: number, uy: number, vx: number, vy: number, end: number, width: number, out: Pointer): void;
  outlineRow(coords: Pointer, n: number, edges: Pointer, count: number, width: number, out: Pointer): void;
  boxBlur(src: Pointer, w: number, h: number, radius: number, across: Pointer, sums: Pointer, out: Pointer): void;
  multiply(a: Pointer, b: Pointer, n: number, out: Pointer): void;
  windowModel(mean: Pointer, meanSquare: Pointer, meanInput: Pointer, meanProduct: Pointer, epsilon: number, n: number, a: Pointer, b: Pointer): void;
  applyModel(a: Pointer, b: Pointer, guidance: Pointer, n: number, out: Pointer): void;
  halveBinomial(src: Pointer, w: number, h: number, across: Pointer, out: Pointer): void;
  doubleBinomial(src: Pointer, halfWidth: number, halfHeight: number, w: number, h: number, tall: Pointer, out: Pointer): void;
  detailOfTone(src: Pointer, n: number, tone: number, width: number, out: Pointer): void;
  addNearTone(sum: Pointer, there: Pointer, fine: Pointer, coarse: Pointer, n: number, tone: number, spacing: number): void;
  correlate(a: Pointer, aw: number, ah: number, b: Pointer, bw: number, bh: number, dx: number, dy: number, sums: Pointer): void;
  trackPoints(from: Pointer, fw: number, fh: number, to: Pointer, tw: number, th: number, points: Pointer, n: number, out: Pointer, scratch: Pointer, reach: number): void;
  sumRows8(rows: Pointer, stride: number, count: number, n: number, acc: Pointer): void;
  addRow8(row: Pointer, n: number, weight: number, acc: Pointer): void;
  shrinkSums(acc: Pointer, srcWidth: number, factor: number, weight: number, n: number, out: Pointer): void;
  greyRow8(rgb: Pointer, n: number, red: number, green: number, blue: number, out: Pointer): void;
  bandsRow(light: Pointer, plane: number, n: number, mask: Pointer, matrix: Pointer, inverse: Pointer, table: Pointer, per: number, muted: number): void;
  tableRow(light: Pointer, plane: number, n: number, mask: Pointer, block: Pointer, strength: number): void;
  denoiseRow(src: Pointer, step: number, w: number, h: number, y: number, grains: Pointer, luma: number, colour: number, spacing: number, ring: Pointer, stride: number, side: number, out: Pointer): void;
  sharpenRow(src: Pointer, step: number, w: number, h: number, y: number, weights: Pointer, radius: number, amount: number, least: number, soft: number, halo: number, ring: Pointer, stride: number, mask: number, out: Pointer): void;
  halveRow(upper: Pointer, lower: Pointer, n: number, out: Pointer): void;
}

/** Bytes of scratch that `trackPoints` needs. */
export const TRACK_SCRATCH = 4 * (16 * 15 * 4 + 64) + 128;
