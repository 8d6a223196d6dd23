import { log2Of } from '../image/log2Of';
import { createPlane, type Light, type Plane } from '../image/plane';

/** log2 luminance at half the guide's size; NaN where the frame does not have the place. */
export function halfLog(light: Light, cover: Plane | null, guides: { readonly width: number; readonly height: number }): Plane {
  const [width, height] = [guides.width >> 1, guides.height >> 1];
  const out = new Float32Array(width * height);
  for (let y = 0, k = 0; y < height; y++) {
    for (let x = 0; x < width; x++, k++) {
      const i = 2 * y * guides.width + 2 * x;
      let sum = 0;
      for (let part = 0; part < 4; part++) {
        const at = i + (part & 1) + (part >> 1) * guides.width;
        sum += cover?.data[at] === 0 ? NaN : 0.2627 * light.r[at] + 0.678 * light.g[at] + 0.0593 * light.b[at];
      }
      out[k] = sum === sum ? log2Of(Math.max(1e-4, sum / 4)) : NaN;
    }
  }
  return createPlane(width, height, out);
}
