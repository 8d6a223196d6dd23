import { responseTables } from '../colour/responseTable';
import { multiplyMatrices, SRGB_TO_WORKING, scaleMatrix, WORKING_TO_SRGB, type Triple } from '../colour/primaries';
import { composeMap, coordCount, fallsOff, writeRowCoords, writeRowGains } from '../geometry/composedMap';
import { invert, rescale } from '../geometry/homography';
import type { Optics } from '../geometry/lens';
import { placeMesh } from '../geometry/mesh';
import type { Response } from '../colour/responseTable';
import type { Arena } from '../kernels/arena';
import { cubicPhases } from '../kernels/cubicPhases';
import { CODE_MAX, PADDING, type Kernels } from '../kernels/kernels';
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

/**
 * Brings one proxy onto the guide grid of the reference.
 * @param referenceWidth, referenceHeight full size of the reference in pixels.
 */
export function makeGuide(kernels: Kernels, arena: Arena, proxy: Pixels, use: GuidePlacement, referenceWidth: number, referenceHeight: number): Guide {
  const mark = arena.mark();
  const size = shrunkSize(referenceWidth, referenceHeight, GUIDE_SIDE);
  const factor = Math.max(referenceWidth, referenceHeight) / Math.max(size.width, size.height);
  // Pixels of about the guide's scale, so that the warp neither skips nor blurs.
  const small = shrunkSize(proxy.width, proxy.height, (Math.max(use.width, use.height) / factor) * 1.0001);
  const src = arena.placeBytes(proxy.data as Uint8Array);
  const shrunk = shrinkPixels(kernels, arena, src, proxy.width, proxy.height, small.width, small.height);
  const pixels = arena.placeBytes(shrunk.data as Uint8Array);
  const phases = arena.placeBytes(new Uint8Array(cubicPhases().buffer));
  const toReference = invert(rescale(referenceWidth, referenceHeight, size.width, size.height));
  const map = composeMap(toReference, use.homography, rescale(use.width, use.height, small.width, small.height), use.lens, small.width, small.height, undefined, use.mesh && placeMesh(use.mesh, toReference, referenceWidth, referenceHeight, small.width / use.width));
  const plane = size.width * 4 + PADDING;
  const codes = arena.take(plane * 3);
  const light = arena.take(plane * 3);
  const cover = arena.take(plane);
  const coords = arena.take(coordCount(size.width) * 8);
  const tables = arena.placeFloats(responseTables(use.response));
  const matrix = arena.placeFloats(scaleMatrix(SRGB_TO_WORKING, [1, 1, 1], use.balance));
  const guide: Guide = { light: createLight(size.width, size.height), top: createPlane(size.width, size.height), cover: createPlane(size.width, size.height) };
  const gains = arena.take(coordCount(size.width) * 2);
  const gainView = arena.floats(gains, coordCount(size.width) / 2);
  const coordView = new Float64Array(arena.buffer, coords, coordCount(size.width));
  const codeView = new Uint16Array(arena.buffer, codes, (plane * 3) / 2);
  for (let y = 0; y < size.height; y++) {
    writeRowCoords(map, 0, y, size.width, coordView);
    kernels.warpRow8(pixels, small.width, small.height, coords, size.width, phases, codes, plane, cover);
    kernels.lineariseRow(codes, plane, size.width, tables, matrix, light, plane);
    if (fallsOff(map)) {
      writeRowGains(map, coordView, size.width, gainView);
      kernels.shadeRow(light, plane, size.width, gains);
    }
    const row = y * size.width;
    guide.light.r.set(arena.floats(light, size.width), row);
    guide.light.g.set(arena.floats(light + plane, size.width), row);
    guide.light.b.set(arena.floats(light + plane * 2, size.width), row);
    guide.cover.data.set(arena.floats(cover, size.width), row);
    for (let x = 0; x < size.width; x++) {
      guide.top.data[row + x] = Math.max(codeView[x], codeView[plane / 2 + x], codeView[plane + x]) / CODE_MAX;
    }
  }
  arena.release(mark);
  return guide;
}

/** Joins guides of ambient frames, in the exposure of the reference, with the weights of the full-size merge. */
export function mergeGuides(guides: readonly { guide: Guide; stops: number }[]): Light {
  const { width, height } = guides[0].guide.light;
  const out = createLight(width, height);
  const sum = new Float32Array(width * height);
  const rest = new Float32Array(width * height).fill(1);
  const members = longestFirst(guides);
  members.forEach(({ guide, stops }, k) => {
    const table = bracketWeights(k === members.length - 1);
    const scale = 2 ** -stops;
    const { r, g, b } = guide.light;
    for (let i = 0; i < sum.length; i++) {
      const w = table[(guide.top.data[i] * CODE_MAX + 0.5) | 0] * guide.cover.data[i] * rest[i];
      const scaled = w * scale;
      out.r[i] += scaled * r[i];
      out.g[i] += scaled * g[i];
      out.b[i] += scaled * b[i];
      sum[i] += w;
      rest[i] -= w;
    }
  });
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
    if (use) frames.set(id, makeGuide(kernels, arena, proxy, { ...use, lens: mix.lens, response: mix.response }, reference.width, reference.height));
  }
  const members = mix.merge.map((id) => ({ guide: frames.get(id)!, stops: mix.frames[id].stops }));
  const size = shrunkSize(reference.width, reference.height, GUIDE_SIDE);
  return { ...size, frames, merge: mergeGuides(members) };
}

/** Changes the gains on camera red, green, blue that light was made with, in place. @param balance against what it was made with. */
export function rebalance({ r, g, b }: Light, balance: Triple): void {
  const m = multiplyMatrices(scaleMatrix(SRGB_TO_WORKING, [1, 1, 1], balance), WORKING_TO_SRGB);
  for (let i = 0; i < r.length; i++) {
    const [x, y, z] = [r[i], g[i], b[i]];
    r[i] = m[0] * x + m[1] * y + m[2] * z;
    g[i] = m[3] * x + m[4] * y + m[5] * z;
    b[i] = m[6] * x + m[7] * y + m[8] * z;
  }
}
