import { log2Plane } from '../image/log2Of';
import { luminance, type Light, type Plane } from '../image/plane';

/** Linear light below which a logarithm goes no deeper, as in the kernel. */
const LEAST = 1 / 4096;

const luminances = new WeakMap<Light, Plane>();
const logs = new WeakMap<Light, Plane>();

/** Luminance of a light on the guide, worked out once: nobody changes such a light. */
export function luminanceOf(light: Light): Plane {
  let plane = luminances.get(light);
  if (!plane) luminances.set(light, (plane = luminance(light)));
  return plane;
}

/** log2 of the same, at least -12, as the kernel computes it. */
export function logLuminanceOf(light: Light): Plane {
  let plane = logs.get(light);
  if (!plane) logs.set(light, (plane = log2Plane(luminanceOf(light), LEAST)));
  return plane;
}
