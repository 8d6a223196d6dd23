import { responseTables } from '../colour/responseTable';
import { SRGB_TO_WORKING, scaleMatrix } from '../colour/primaries';
import { composeMap, coordCount, fallsOff, writeRowCoords, writeRowGains, type ComposedMap } from '../geometry/composedMap';
import { invert, rescale } from '../geometry/homography';
import type { Optics } from '../geometry/lens';
import { placeMesh } from '../geometry/mesh';
import type { Response } from '../colour/responseTable';
import type { Arena } from '../kernels/arena';
import { cubicPhases } from '../kernels/cubicPhases';
import { CODE_MAX, PADDING, type Kernels, type Pointer } from '../kernels/kernels';
import { bracketWeights, longestFirst } from '../merge/bracketWeights';
import { createLight, createPlane, type Light, type Pixels, type Plane } from '../image/plane';
import { shrinkPixels, shrunkSize } from '../image/shrink';
import type { FrameId, FrameUse, Mix } from '@zaddle/document';

/** Longer side of the guide, on which masks, weights and local tone are computed, in pixels. */
export const GUIDE_SIDE = 750;

/** A frame on the guide grid: lined up with the reference, balanced, in its own exposure. */
export interface Guide {
  readonly light: Light;
  /** Brightest channel's encoded value, 0..1: tells clipping. */
  readonly top: Plane;
  /** 1 where the frame has the place, else 0. */
  readonly cover: Plane;
}

export interface GuideSet {
  readonly width: number;
  readonly height: number;
  readonly frames: ReadonlyMap<FrameId, Guide>;
  /** The ambient frames joined, in the exposure of the reference. */
  readonly merge: Light;
}

/** What a guide needs to know about how its frame lies. */
export interface GuidePlacement extends Pick<FrameUse, 'width' | 'height' | 'homography' | 'mesh' | 'balance'> {
  readonly lens: Optics;
  readonly response: Response;
}

/** A frame's encoded values on the guide grid, interpolated once: what light is made of them can change. */
export interface GuideCodes {
  readonly map: ComposedMap;
  /** Three planes one behind the other, rows without gaps. */
  readonly codes: Uint16Array;
  readonly top: Plane;
  readonly cover: Plane;
}

/**
 * Brings one proxy onto the guide grid of the reference.
 * @param referenceWidth, referenceHeight full size of the reference in pixels.
 */
export function warpGuide(kernels: Kernels, arena: Arena, proxy: Pixels, use: Omit<GuidePlacement, 'response' | 'balance'>, referenceWidth: number, referenceHeight: number): GuideCodes {
  const mark = arena.mark();
  const { width, height } = shrunkSize(referenceWidth, referenceHeight, GUIDE_SIDE);
  const factor = Math.max(referenceWidth, referenceHeight) / Math.max(width, height);
  // Pixels of about the guide's scale, so that the warp neither skips nor blurs.
  const small = shrunkSize(proxy.width, proxy.height, (Math.max(use.width, use.height) / factor) * 1.0001);
  const src = arena.placeBytes(proxy.data as Uint8Array);
  const shrunk = shrinkPixels(kernels, arena, src, proxy.width, proxy.height, small.width, small.height);
  const pixels = arena.placeBytes(shrunk.data as Uint8Array);
  const phases = arena.placeBytes(new Uint8Array(cubicPhases().buffer));
  const toReference = invert(rescale(referenceWidth, referenceHeight, width, height));
  const map = composeMap(toReference, use.homography, rescale(use.width, use.height, small.width, small.height), use.lens, small.width, small.height, undefined, use.mesh && placeMesh(use.mesh, toReference, referenceWidth, referenceHeight, small.width / use.width));
  const n = width * height;
  // Rows lie one behind the other: what a kernel writes behind one is the next one's beginning, made later.
  const codePlane = n * 2 + PADDING;
  const codes = arena.take(codePlane * 3);
  const [cover, top] = [arena.take(n * 4 + PADDING), arena.take(n * 4 + PADDING)];
  const coords = arena.take(coordCount(width) * 8);
  const coordView = new Float64Array(arena.buffer, coords, coordCount(width));
  for (let y = 0; y < height; y++) {
    writeRowCoords(map, 0, y, width, coordView);
    kernels.warpRow8(pixels, small.width, small.height, coords, width, phases, codes + y * width * 2, codePlane, cover + y * width * 4);
  }
  kernels.topRow(codes, codePlane, n, top);
  const packed = new Uint16Array(n * 3);
  for (let c = 0; c < 3; c++) packed.set(new Uint16Array(arena.buffer, codes + c * codePlane, n), c * n);
  const plane = (at: Pointer): Plane => createPlane(width, height, arena.floats(at, n).slice());
  const guide = { map, codes: packed, top: plane(top), cover: plane(cover) };
  arena.release(mark);
  return guide;
}

/** The light of a frame on the guide grid, by the camera's response, a white balance, and the lens's fall-off. */
export function lightGuide(kernels: Kernels, arena: Arena, { map, codes, top, cover }: GuideCodes, { response, balance, lens }: Pick<GuidePlacement, 'response' | 'balance' | 'lens'>): Guide {
  const mark = arena.mark();
  const { width, height } = top;
  const n = width * height;
  const from = arena.take(n * 6 + PADDING);
  const placed = new Uint16Array(arena.buffer, from, n * 3 + PADDING / 2);
  placed.set(codes);
  placed.fill(0, n * 3);
  const plane = n * 4 + PADDING;
  const light = arena.take(plane * 3);
  const [tables, matrix] = [arena.placeFloats(responseTables(response)), arena.placeFloats(scaleMatrix(SRGB_TO_WORKING, [1, 1, 1], balance))];
  const shaded = { ...map, lens };
  const coords = new Float64Array(coordCount(width));
  const gains = arena.take(coordCount(width) * 2 + PADDING);
  const gainView = arena.floats(gains, coordCount(width) / 2);
  for (let y = 0; y < height; y++) {
    kernels.lineariseRow(from + y * width * 2, n * 2, width, tables, matrix, light + y * width * 4, plane);
    if (!fallsOff(shaded)) continue;
    writeRowCoords(map, 0, y, width, coords);
    writeRowGains(shaded, coords, width, gainView);
    kernels.shadeRow(light + y * width * 4, plane, width, gains);
  }
  const kept = (c: number): Float32Array => arena.floats(light + c * plane, n).slice();
  const guide = { light: { width, height, r: kept(0), g: kept(1), b: kept(2) }, top, cover };
  arena.release(mark);
  return guide;
}

/** Adds what one frame of a bracket gives. @param sum of the weights so far @param rest of the weight that is left, place by place @param table weight by encoded value */
function addMember(out: Light, sum: Float32Array, rest: Float32Array, { light: { r, g, b }, top: { data: top }, cover: { data: cover } }: Guide, table: Float32Array, scale: number): void {
  const [outR, outG, outB] = [out.r, out.g, out.b];
  for (let i = 0; i < sum.length; i++) {
    if (rest[i] === 0) continue;
    const w = table[(top[i] * CODE_MAX + 0.5) | 0] * cover[i] * rest[i];
    if (w === 0) continue;
    const scaled = w * scale;
    outR[i] += scaled * r[i];
    outG[i] += scaled * g[i];
    outB[i] += scaled * b[i];
    sum[i] += w;
    rest[i] -= w;
  }
}

/** Joins guides of ambient frames, in the exposure of the reference, with the weights of the full-size merge. */
export function mergeGuides(guides: readonly { guide: Guide; stops: number }[]): Light {
  const { width, height } = guides[0].guide.light;
  const out = createLight(width, height);
  const sum = new Float32Array(width * height);
  const rest = new Float32Array(width * height).fill(1);
  const members = longestFirst(guides);
  members.forEach(({ guide, stops }, k) => addMember(out, sum, rest, guide, bracketWeights(k === members.length - 1), 2 ** -stops));
  for (let i = 0; i < sum.length; i++) {
    const inverse = 1 / Math.max(sum[i], 1e-12);
    out.r[i] *= inverse;
    out.g[i] *= inverse;
    out.b[i] *= inverse;
  }
  return out;
}

/** All guides of a mix from its frames' proxies. */
export function makeGuides(kernels: Kernels, arena: Arena, mix: Mix, proxies: ReadonlyMap<FrameId, Pixels>): GuideSet {
  const reference = mix.frames[mix.reference];
  const frames = new Map<FrameId, Guide>();
  for (const [id, proxy] of proxies) {
    const use = mix.frames[id];
    if (!use) continue;
    const placed = { ...use, lens: mix.lens, response: mix.response };
    frames.set(id, lightGuide(kernels, arena, warpGuide(kernels, arena, proxy, placed, reference.width, reference.height), placed));
  }
  const members = mix.merge.map((id) => ({ guide: frames.get(id)!, stops: mix.frames[id].stops }));
  const size = shrunkSize(reference.width, reference.height, GUIDE_SIDE);
  return { ...size, frames, merge: mergeGuides(members) };
}
