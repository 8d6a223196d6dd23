import { createPlane, type Light, type Plane } from './plane';

/** A part of a picture, whole pixels; right and bottom lie beyond it. */
export interface Part {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** The part of a plane that holds all places where its value is in a range, and some pixels about it; null: there are none. */
export function partWhere({ width, height, data }: Plane, isIn: (value: number) => boolean, about: number): Part | null {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (!isIn(data[i])) continue;
      if (x < left) left = x;
      if (x > right) right = x;
      if (y < top) top = y;
      bottom = y;
    }
  }
  if (right < 0) return null;
  return { left: Math.max(0, left - about), top: Math.max(0, top - about), right: Math.min(width, right + about + 1), bottom: Math.min(height, bottom + about + 1) };
}

function cut(from: Float32Array, stride: number, { left, top, right, bottom }: Part): Float32Array {
  const width = right - left;
  const part = new Float32Array(width * (bottom - top));
  for (let y = top; y < bottom; y++) part.set(from.subarray(y * stride + left, y * stride + right), (y - top) * width);
  return part;
}

/** A part of a plane. */
export const cutPlane = (plane: Plane, part: Part): Plane => createPlane(part.right - part.left, part.bottom - part.top, cut(plane.data, plane.width, part));

/** A part of a picture. */
export const cutLight = (light: Light, part: Part): Light => ({
  width: part.right - part.left, height: part.bottom - part.top, r: cut(light.r, light.width, part), g: cut(light.g, light.width, part), b: cut(light.b, light.width, part),
});
