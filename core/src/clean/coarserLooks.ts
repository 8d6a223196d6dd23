import { createLight, createPlane, type Light, type Plane } from '../image/plane';
import type { PlaceLooks } from './lookAtPlace';

function halfOf(from: Float32Array, width: number, height: number): Float32Array {
  const [w, h] = [width >> 1, height >> 1];
  const out = new Float32Array(w * h);
  for (let y = 0, k = 0; y < h; y++) {
    for (let x = 0; x < w; x++, k++) {
      const i = 2 * y * width + 2 * x;
      out[k] = (from[i] + from[i + 1] + from[i + width] + from[i + width + 1]) / 4;
    }
  }
  return out;
}

/** A plane of half the size, by means of four. */
export const halfPlane = ({ width, height, data }: Plane): Plane => createPlane(width >> 1, height >> 1, halfOf(data, width, height));
/** A picture of half the size, by means of four. */
export function halfLight({ width, height, r, g, b }: Light): Light {
  const half = createLight(width >> 1, height >> 1);
  half.r.set(halfOf(r, width, height));
  half.g.set(halfOf(g, width, height));
  half.b.set(halfOf(b, width, height));
  return half;
}

/** A place on a grid so coarse that its longer side has at most so many pixels: what is told of large places needs no more. */
export function coarserLooks(looks: PlaceLooks, side: number): PlaceLooks {
  let now = looks;
  while (Math.max(now.coverage.width, now.coverage.height) > side && Math.min(now.coverage.width, now.coverage.height) > 3) {
    now = {
      pixel: now.pixel * 2, left: now.left + now.pixel / 2, top: now.top + now.pixel / 2, coverage: halfPlane(now.coverage), picture: halfLight(now.picture),
      frames: new Map([...now.frames].map(([id, { light, cover }]) => [id, { light: halfLight(light), cover: halfPlane(cover) }] as const)),
    };
  }
  return now;
}
