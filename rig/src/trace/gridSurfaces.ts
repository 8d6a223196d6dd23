import { Eye, EyeRay, type Place } from './eyeRay';
import type { PathTracer } from './pathTracer';
import type { View } from '../scene/room';

/** Numbers of a surface at a grid pixel: normal and place, in metres. A normal of 0 is no surface. */
export const PER_PIXEL = 6;

/** What the middles of a grid's pixels see: the surface that scatters, and the glossy one before it. */
export interface GridSurfaces {
  readonly width: number;
  readonly height: number;
  readonly scattering: Float32Array;
  readonly glossy: Float32Array;
}

function note(to: Float32Array, pixel: number, p: Place, narrow: Uint8Array): void {
  if (!p.is || narrow[p.triangle]) return;
  const at = pixel * PER_PIXEL;
  to[at] = p.nx;
  to[at + 1] = p.ny;
  to[at + 2] = p.nz;
  to[at + 3] = p.x;
  to[at + 4] = p.y;
  to[at + 5] = p.z;
}

/** Looks through the middle of every pixel of a grid. */
export function gridSurfaces(scene: PathTracer, view: View, width: number, height: number): GridSurfaces {
  const eye = new Eye(view, width, height);
  const ray = new EyeRay(scene);
  const d = new Float64Array(3);
  const shared = (): Float32Array => new Float32Array(new SharedArrayBuffer(width * height * PER_PIXEL * 4));
  const [scattering, glossy] = [shared(), shared()];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      eye.direction(x, y, d);
      ray.follow(eye.from, d);
      note(scattering, y * width + x, ray.surface, scene.mesh.narrow);
      note(glossy, y * width + x, ray.glossy, scene.mesh.narrow);
    }
  }
  return { width, height, scattering, glossy };
}

/** How much two places belong to one surface, 0..1: their planes agree, within what a step on the grid may bring. @param far distance, metres, within which planes may differ */
export function likeness(a: Float32Array, i: number, b: Float32Array, q: number, far: number): number {
  const [ax, ay, az] = [a[i], a[i + 1], a[i + 2]];
  const turned = ax * b[q] + ay * b[q + 1] + az * b[q + 2];
  if (turned < 0.5) return 0;
  const off = (ax * (a[i + 3] - b[q + 3]) + ay * (a[i + 4] - b[q + 4]) + az * (a[i + 5] - b[q + 5])) / far;
  return Math.exp(-((1 - turned) * 14 + off * off));
}
