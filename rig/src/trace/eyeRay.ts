import type { View } from '../scene/room';
import { cross, normalize, sub, type Vec } from '../scene/vector';
import { intersect, normalAt, type Hit } from './bvh';
import type { PathTracer } from './pathTracer';

/** Mirrors and panes that are looked through, at most. */
const DEPTH = 8;
/** Share of the light that a pane lets through. */
const PANE = 0.92;

/** A place on a surface, with the ray that came there. */
export interface Place {
  is: boolean;
  x: number;
  y: number;
  z: number;
  nx: number;
  ny: number;
  nz: number;
  dx: number;
  dy: number;
  dz: number;
  triangle: number;
  u: number;
  v: number;
  /** What mirrors and panes on the way leave of its light. */
  share: number;
}

const place = (): Place => ({ is: false, x: 0, y: 0, z: 0, nx: 0, ny: 0, nz: 0, dx: 0, dy: 0, dz: 0, triangle: 0, u: 0, v: 0, share: 0 });

/** Where the pixels of a picture look to. Frames are 3:2; rows go down. */
export class Eye {
  private readonly ahead: Vec;
  private readonly right: Vec;
  private readonly down: Vec;
  private readonly focal: number;

  /** @param width, height of the picture in pixels. */
  constructor(private readonly view: View, private readonly width: number, private readonly height: number) {
    this.ahead = normalize(sub(view.to, view.from));
    this.right = normalize(cross(this.ahead, [0, 0, 1]));
    this.down = cross(this.ahead, this.right);
    this.focal = width / 2 / Math.tan((view.fieldOfView * Math.PI) / 360);
  }

  get from(): Vec {
    return this.view.from;
  }

  /** Direction of a pixel, into `out`. */
  direction(x: number, y: number, out: Float64Array): void {
    const [px, py] = [x - (this.width - 1) / 2, y - (this.height - 1) / 2];
    for (let k = 0; k < 3; k++) out[k] = this.ahead[k] * this.focal + this.right[k] * px + this.down[k] * py;
    const l = 1 / Math.hypot(out[0], out[1], out[2]);
    for (let k = 0; k < 3; k++) out[k] *= l;
  }
}

/** What an eye ray sees: through panes and by mirrors to the first surface that scatters light. One object serves all rays. */
export class EyeRay {
  /** The surface in the end. */
  readonly surface = place();
  /** The first surface on the way that mirrors a little: varnish, glaze, a pane. */
  readonly glossy = place();
  /** Share of the light that the glossy surface mirrors: Schlick 1994. */
  fresnel = 0;
  /** The view outside: its direction, and how much of it. */
  readonly view = { is: false, dx: 0, dy: 0, dz: 0, share: 0 };
  /** Radiance that things on the way give off by themselves: layer and colour of each. */
  readonly glows: { layer: number; colour: Vec; share: number }[] = [];
  /** Rays that mirrors sent on: lights are seen along them. */
  readonly mirrors: { x: number; y: number; z: number; dx: number; dy: number; dz: number; share: number }[] = [];
  private readonly hit: Hit = { t: 0, triangle: 0, u: 0, v: 0 };
  private readonly normal = new Float64Array(3);

  constructor(private readonly scene: PathTracer) {}

  follow(from: Vec, d: Float64Array): void {
    const { mesh, materials } = this.scene;
    let [ox, oy, oz] = from;
    let [dx, dy, dz] = d;
    let share = 1;
    this.surface.is = this.glossy.is = this.view.is = false;
    this.glows.length = this.mirrors.length = 0;
    for (let depth = 0; depth < DEPTH; depth++) {
      if (!intersect(mesh, ox, oy, oz, dx, dy, dz, 1e9, this.hit, null)) {
        Object.assign(this.view, { is: true, dx, dy, dz, share });
        return;
      }
      const { t, triangle, u, v } = this.hit;
      const material = materials[mesh.material[triangle]];
      const [x, y, z] = [ox + dx * t, oy + dy * t, oz + dz * t];
      normalAt(mesh, triangle, u, v, this.normal);
      const away = dx * mesh.normals[triangle * 3] + dy * mesh.normals[triangle * 3 + 1] + dz * mesh.normals[triangle * 3 + 2] > 0 ? -1 : 1;
      const [nx, ny, nz] = [away * this.normal[0], away * this.normal[1], away * this.normal[2]];
      const cosine = Math.max(0, -(dx * nx + dy * ny + dz * nz));
      if (material.glow) {
        this.glows.push({ layer: material.glow.layer, colour: material.glow.colour, share });
        if (!material.shadowless) return;
      }
      if (material.gloss >= 0.5) {
        share *= material.gloss;
        dx += nx * 2 * cosine;
        dy += ny * 2 * cosine;
        dz += nz * 2 * cosine;
        [ox, oy, oz] = [x, y, z];
        this.mirrors.push({ x, y, z, dx, dy, dz, share });
        continue;
      }
      if (material.gloss > 0 && !this.glossy.is) {
        this.fresnel = material.gloss + (1 - material.gloss) * (1 - cosine) ** 5;
        Object.assign(this.glossy, { is: true, x, y, z, nx, ny, nz, dx, dy, dz, triangle, u, v, share });
        if (!material.pane) share *= 1 - this.fresnel;
        if (material.roughness === 0) this.mirrors.push({ x, y, z, dx: dx + nx * 2 * cosine, dy: dy + ny * 2 * cosine, dz: dz + nz * 2 * cosine, share: this.glossy.share * this.fresnel });
      }
      if (material.pane) {
        share *= PANE;
        [ox, oy, oz] = [x + dx * 1e-4, y + dy * 1e-4, z + dz * 1e-4];
        continue;
      }
      Object.assign(this.surface, { is: true, x, y, z, nx, ny, nz, dx, dy, dz, triangle, u, v, share });
      return;
    }
  }
}
