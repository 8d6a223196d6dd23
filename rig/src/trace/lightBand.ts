import type { View } from '../scene/room';
import { Eye, EyeRay } from './eyeRay';
import type { PathTracer } from './pathTracer';

/** What is traced: what sources send to surfaces, what other surfaces send there (both over pi: times the reflectance they are what a surface gives off), or what glossy surfaces mirror, were they mirrors of their roughness. */
export type Light = 'direct' | 'indirect' | 'gloss';

/** Rows of a grid to trace. */
export interface Band {
  readonly width: number;
  readonly height: number;
  readonly y0: number;
  readonly rows: number;
  /** A pixel, times its effort. */
  readonly samples: number;
  /** As in `sampleEffort`, one value a pixel of the whole grid. */
  readonly effort: Uint8Array;
}

/** What the glossy surface that a ray came to mirrors, the mean of some samples. */
function mirrored(scene: PathTracer, ray: EyeRay, samples: number, out: Float32Array): void {
  const { glossy: g } = ray;
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
    scene.addMirrored(out, g.x, g.y, g.z, mx, my, mz, 1 / samples, roughness > 0);
  }
}

/** Traces one kind of light at the middles of some rows of a grid: RGB, a layer after the other. */
export function traceBand(scene: PathTracer, view: View, light: Light, { width, height, y0, rows, samples, effort }: Band): Float32Array[] {
  const eye = new Eye(view, width, height);
  const ray = new EyeRay(scene);
  const d = new Float64Array(3);
  const { narrow } = scene.mesh;
  const planes = scene.layers.map(() => new Float32Array(width * rows * 3));
  const sample = new Float32Array(scene.layers.length * 3);
  for (let pixel = 0; pixel < width * rows; pixel++) {
    const [x, y] = [pixel % width, y0 + Math.floor(pixel / width)];
    scene.seed(y * width + x);
    eye.direction(x, y, d);
    ray.follow(eye.from, d);
    const at = light === 'gloss' ? ray.glossy : ray.surface;
    if (!at.is || narrow[at.triangle]) continue;
    sample.fill(0);
    const count = samples * effort[y * width + x];
    if (light === 'direct') scene.directMean(sample, at.x, at.y, at.z, at.nx, at.ny, at.nz, count);
    else if (light === 'gloss') mirrored(scene, ray, count, sample);
    else scene.indirectMean(sample, at.x, at.y, at.z, at.nx, at.ny, at.nz, count);
    for (let k = 0; k < planes.length; k++) for (let c = 0; c < 3; c++) planes[k][pixel * 3 + c] = sample[k * 3 + c];
  }
  return planes;
}
