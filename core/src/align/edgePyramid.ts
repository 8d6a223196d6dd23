import { createPlane, type Plane } from '../image/plane';
import type { GreyPyramid } from './structure';

/** Steepness, grey levels a pixel, that comes out as white. */
const STEEP = 60;
/** Grey of places without edges: away from where pixels count as clipped. */
const FLAT = 20;

/** How steep a plane is at each place, whichever way (central differences), as grey 20..240; faint edges are raised. */
function steepness({ width: w, height: h, data }: Plane): Plane {
  const out = createPlane(w, h);
  out.data.fill(FLAT);
  for (let y = 1; y < h - 1; y++) {
    for (let x = 1, i = y * w + 1; x < w - 1; x++, i++) {
      const gx = (data[i + 1] - data[i - 1]) / 2;
      const gy = (data[i + w] - data[i - w]) / 2;
      out.data[i] = FLAT + 220 * Math.sqrt(Math.min(1, Math.sqrt(gx * gx + gy * gy) / STEEP));
    }
  }
  return out;
}

/**
 * The edges of a pyramid, as one that frames can be lined up by where things are bright in one light and dark in another
 * (gradient magnitudes, as in multi-modal registration: Irani and Anandan, ICCV 1998).
 */
export const edgePyramid = ({ levels, structure }: GreyPyramid): GreyPyramid => ({ levels: levels.map(steepness), structure });
