import type { View } from '../scene/room';
import { Eye, EyeRay } from './eyeRay';
import type { PathTracer } from './pathTracer';

/** Light at the middles of a band of grid pixels, RGB, a layer after the other. */
export interface LightBand {
  readonly y0: number;
  /** What arrives at the surface, over pi: times its reflectance it is what the surface gives off. */
  readonly light: Float32Array[];
  /** What the glossy surface before it mirrors, were it a mirror of its roughness. */
  readonly gloss: Float32Array[];
}

/** Traces the light of some rows of a grid. @param samples a pixel */
export function traceBand(scene: PathTracer, view: View, width: number, height: number, y0: number, rows: number, samples: number): LightBand {
  const eye = new Eye(view, width, height);
  const ray = new EyeRay(scene);
  const d = new Float64Array(3);
  const planes = (): Float32Array[] => scene.layers.map(() => new Float32Array(width * rows * 3));
  const [light, gloss] = [planes(), planes()];
  for (let row = 0; row < rows; row++) {
    for (let x = 0; x < width; x++) {
      const pixel = row * width + x;
      scene.seed((y0 + row) * width + x);
      eye.direction(x, y0 + row, d);
      ray.follow(eye.from, d);
      const { surface: s, glossy: g } = ray;
      const weight = 1 / samples;
      if (s.is) for (let k = 0; k < samples; k++) scene.gather(light, pixel, s.x, s.y, s.z, s.nx, s.ny, s.nz, weight, weight, weight);
      if (!g.is) continue;
      const { roughness } = scene.materials[scene.mesh.material[g.triangle]];
      const cosine = -2 * (g.dx * g.nx + g.dy * g.ny + g.dz * g.nz);
      for (let k = 0; k < samples; k++) {
        let mx = g.dx + g.nx * cosine + (scene.random() - 0.5) * roughness;
        let my = g.dy + g.ny * cosine + (scene.random() - 0.5) * roughness;
        let mz = g.dz + g.nz * cosine + (scene.random() - 0.5) * roughness;
        const l = 1 / Math.hypot(mx, my, mz);
        mx *= l;
        my *= l;
        mz *= l;
        scene.addMirrored(gloss, pixel, g.x, g.y, g.z, mx, my, mz, weight, roughness > 0);
      }
    }
  }
  return { y0, light, gloss };
}
