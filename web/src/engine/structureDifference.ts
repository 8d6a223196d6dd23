import { localStructure } from '@zaddle/core/align/structure';
import { createPlane, type Plane } from '@zaddle/core/image/plane';

/** Neighbourhood, pixels, in which brightness and contrast are taken out before a difference, and noise that is no structure. */
const NEIGHBOURHOOD = 10;
const NOISE = 5;
/** Structure, in local deviations, that shows white. */
const FULL = 1.6;

/** What two pictures (RGBA) differ in beyond their light, as grey RGBA: black where they lie on each other, whatever flash was fired. */
export function structureDifference(first: Uint8ClampedArray, second: Uint8ClampedArray, width: number, height: number): Uint8ClampedArray {
  const structure = (rgba: Uint8ClampedArray): Plane => {
    const grey = createPlane(width, height);
    for (let i = 0, p = 0; i < grey.data.length; i++, p += 4) grey.data[i] = 0.3 * rgba[p] + 0.6 * rgba[p + 1] + 0.1 * rgba[p + 2];
    return localStructure(grey, NEIGHBOURHOOD, NOISE);
  };
  const [a, b] = [structure(first).data, structure(second).data];
  const out = new Uint8ClampedArray(first.length);
  for (let i = 0, p = 0; i < a.length; i++, p += 4) {
    out[p] = out[p + 1] = out[p + 2] = (255 * Math.abs(a[i] - b[i])) / FULL;
    out[p + 3] = 255;
  }
  return out;
}
