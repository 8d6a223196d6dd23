import { THINGS, type Thing } from '../scene/builder';
import type { View } from '../scene/room';
import { Eye, EyeRay } from '../trace/eyeRay';
import type { PathTracer } from '../trace/pathTracer';

/** Looks along each side of a pixel. */
const SIDE = 2;

/** What a room shows, free of any light: pictures of the reference frame, without lens error. */
export interface RoomLook {
  readonly width: number;
  readonly height: number;
  /** Share of each pixel that shows a thing, 0..1; only things that are seen. */
  readonly things: ReadonlyMap<Thing, Float32Array>;
  /** Reflectance of what scatters light, linear sRGB, 0 where the view is. */
  readonly paint: Float32Array;
  /** Radiance of the view through panes alone, linear, relative to a bright sky of 1. */
  readonly view: Float32Array;
}

/** Looks through every pixel. The first thing on the way counts: a pane before what lies behind it. */
export function lookRoom(scene: PathTracer, view: View, width: number, height: number): RoomLook {
  const eye = new Eye(view, width, height);
  const ray = new EyeRay(scene);
  const d = new Float64Array(3);
  const things = new Map<Thing, Float32Array>();
  const paint = new Float32Array(width * height * 3);
  const outside = new Float32Array(width * height * 3);
  const share = 1 / (SIDE * SIDE);
  for (let pixel = 0; pixel < width * height; pixel++) {
    for (let k = 0; k < SIDE * SIDE; k++) {
      eye.direction((pixel % width) + ((k % SIDE) + 0.5) / SIDE - 0.5, Math.floor(pixel / width) + (Math.floor(k / SIDE) + 0.5) / SIDE - 0.5, d);
      ray.follow(eye.from, d);
      const what = thingAt(scene, eye.from, d);
      if (what) {
        if (!things.has(what)) things.set(what, new Float32Array(width * height));
        things.get(what)![pixel] += share;
      }
      if (ray.surface.is && ray.mirrors.length === 0) {
        scene.reflectance(ray.surface.triangle, ray.surface.u, ray.surface.v);
        for (let c = 0; c < 3; c++) paint[pixel * 3 + c] += share * scene.colour[c];
      } else if (ray.view.is) {
        scene.lookOutside(ray.view.dx, ray.view.dy, ray.view.dz);
        for (let c = 0; c < 3; c++) outside[pixel * 3 + c] += share * scene.colour[c];
      }
    }
  }
  return { width, height, things: new Map(THINGS.flatMap((thing) => (things.has(thing) ? [[thing, things.get(thing)!] as const] : []))), paint, view: outside };
}

function thingAt(scene: PathTracer, from: readonly [number, number, number], d: Float64Array): Thing | null {
  const triangle = scene.tree.nearest(from[0], from[1], from[2], d[0], d[1], d[2], 1e9);
  return triangle < 0 ? null : (scene.materials[scene.mesh.material[triangle]].what ?? null);
}

/** Share of each pixel in which the heads of one light are seen, straight, mirrored or in gloss: where it glares. */
export function lookForGlare(scene: PathTracer, view: View, layer: number, width: number, height: number): Float32Array {
  const eye = new Eye(view, width, height);
  const ray = new EyeRay(scene);
  const d = new Float64Array(3);
  const heads = new Float32Array(scene.layers.length * 3);
  const out = new Float32Array(width * height);
  for (let pixel = 0; pixel < width * height; pixel++) {
    eye.direction(pixel % width, Math.floor(pixel / width), d);
    ray.follow(eye.from, d);
    heads.fill(0);
    for (const m of ray.mirrors) scene.addHeads(heads, m.x, m.y, m.z, m.dx, m.dy, m.dz, 1);
    const g = ray.glossy;
    if (g.is && ray.mirrors.length === 0) {
      const k = -2 * (g.dx * g.nx + g.dy * g.ny + g.dz * g.nz);
      scene.addHeads(heads, g.x, g.y, g.z, g.dx + g.nx * k, g.dy + g.ny * k, g.dz + g.nz * k, 1);
    }
    if (heads[layer * 3 + 1] > 0) out[pixel] = 1;
  }
  return out;
}

/**
 * Where each pixel of one view is seen from another, as what its place moves by, x then y, in pixels; NaN where there is no
 * surface. Exact for what does not mirror; what is hidden from the other view is moved all the same.
 */
export function displacement(scene: PathTracer, from: View, to: View, width: number, height: number): Float32Array {
  const [eye, other] = [new Eye(from, width, height), new Eye(to, width, height)];
  const d = new Float64Array(3);
  const at = new Float64Array(2);
  const out = new Float32Array(width * height * 2).fill(NaN);
  for (let pixel = 0; pixel < width * height; pixel++) {
    const [x, y] = [pixel % width, Math.floor(pixel / width)];
    eye.direction(x, y, d);
    const [ox, oy, oz] = eye.from;
    const triangle = scene.tree.nearest(ox, oy, oz, d[0], d[1], d[2], 1e9);
    // What is infinitely far is followed far enough.
    const t = triangle < 0 ? 1e5 : scene.tree.t;
    if (!other.project(ox + d[0] * t, oy + d[1] * t, oz + d[2] * t, at)) continue;
    out[pixel * 2] = at[0] - x;
    out[pixel * 2 + 1] = at[1] - y;
  }
  return out;
}
