import type { View } from '../scene/room';
import { add, cross, dot, normalize, scale, sub, type Vec } from '../scene/vector';
import { normalAt } from './mesh';
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

function settle(p: Place, x: number, y: number, z: number, nx: number, ny: number, nz: number, dx: number, dy: number, dz: number, triangle: number, u: number, v: number, share: number): void {
  p.is = true;
  p.x = x;
  p.y = y;
  p.z = z;
  p.nx = nx;
  p.ny = ny;
  p.nz = nz;
  p.dx = dx;
  p.dy = dy;
  p.dz = dz;
  p.triangle = triangle;
  p.u = u;
  p.v = v;
  p.share = share;
}

/** Where the pixels of a picture look to. Frames are 3:2; rows go down. */
export class Eye {
  private readonly ahead: Vec;
  private readonly right: Vec;
  private readonly down: Vec;
  private readonly focal: number;

  /** @param width, height of the picture in pixels. */
  constructor(private readonly view: View, private readonly width: number, private readonly height: number) {
    this.ahead = normalize(sub(view.to, view.from));
    const level = normalize(cross(this.ahead, [0, 0, 1]));
    const plumb = cross(this.ahead, level);
    const roll = ((view.roll ?? 0) * Math.PI) / 180;
    this.right = add(scale(level, Math.cos(roll)), scale(plumb, Math.sin(roll)));
    this.down = add(scale(plumb, Math.cos(roll)), scale(level, -Math.sin(roll)));
    this.focal = width / 2 / Math.tan((view.fieldOfView * Math.PI) / 360);
  }

  get from(): Vec {
    return this.view.from;
  }

  /** Pixel at which a place is seen, into `out`; false where it lies behind. */
  project(x: number, y: number, z: number, out: Float64Array): boolean {
    const p: Vec = sub([x, y, z], this.view.from);
    const far = dot(p, this.ahead);
    if (far <= 0) return false;
    out[0] = (this.width - 1) / 2 + (this.focal * dot(p, this.right)) / far;
    out[1] = (this.height - 1) / 2 + (this.focal * dot(p, this.down)) / far;
    return true;
  }

  /**
   * Homography, row-major, from this view to that of a level camera in the same place: it makes verticals vertical and
   * keeps the middle where it is.
   */
  toLevel(): number[] {
    const ahead = normalize([this.ahead[0], this.ahead[1], 0]);
    const right = normalize(cross(ahead, [0, 0, 1]));
    const down: Vec = [0, 0, -1];
    const [cx, cy] = [(this.width - 1) / 2, (this.height - 1) / 2];
    // A direction's coordinates in the level camera, by those in this one.
    const row = (axis: Vec): Vec => [dot(axis, this.right), dot(axis, this.down), dot(axis, this.ahead)];
    const f = this.focal;
    const [r, d, a] = [row(right), row(down), row(ahead)];
    const pixels = (of: Vec, c: number): Vec => [f * of[0] + c * a[0], f * of[1] + c * a[1], f * of[2] + c * a[2]];
    const fromPixels = ([p, q, s]: Vec): Vec => [p / f, q / f, s - (p * cx + q * cy) / f];
    const h = [pixels(r, cx), pixels(d, cy), a].map(fromPixels);
    // Shifted so that the middle stays.
    const at = (k: number): number => h[k][0] * cx + h[k][1] * cy + h[k][2];
    const [mx, my] = [at(0) / at(2) - cx, at(1) / at(2) - cy];
    const moved = [0, 1, 2].flatMap((k) => [0, 1, 2].map((j) => h[k][j] - (k === 0 ? mx : k === 1 ? my : 0) * h[2][j]));
    return moved.map((v) => v / moved[8]);
  }

  /** Direction of a pixel, into `out`. */
  direction(x: number, y: number, out: Float64Array): void {
    const px = x - (this.width - 1) / 2;
    const py = y - (this.height - 1) / 2;
    for (let k = 0; k < 3; k++) out[k] = this.ahead[k] * this.focal + this.right[k] * px + this.down[k] * py;
    const l = 1 / Math.sqrt(out[0] * out[0] + out[1] * out[1] + out[2] * out[2]);
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
  private readonly normal = new Float64Array(3);

  constructor(private readonly scene: PathTracer) {}

  follow(from: Vec, d: Float64Array): void {
    const { mesh, tree, materials } = this.scene;
    let ox = from[0];
    let oy = from[1];
    let oz = from[2];
    let dx = d[0];
    let dy = d[1];
    let dz = d[2];
    let share = 1;
    this.surface.is = this.glossy.is = this.view.is = false;
    if (this.glows.length > 0) this.glows.length = 0;
    if (this.mirrors.length > 0) this.mirrors.length = 0;
    for (let depth = 0; depth < DEPTH; depth++) {
      const triangle = tree.nearest(ox, oy, oz, dx, dy, dz, 1e9);
      if (triangle < 0) {
        this.sees(dx, dy, dz, share);
        return;
      }
      const { t, u, v } = tree;
      const material = materials[mesh.material[triangle]];
      const x = ox + dx * t;
      const y = oy + dy * t;
      const z = oz + dz * t;
      normalAt(mesh, triangle, u, v, this.normal);
      const away = dx * mesh.normals[triangle * 3] + dy * mesh.normals[triangle * 3 + 1] + dz * mesh.normals[triangle * 3 + 2] > 0 ? -1 : 1;
      const nx = away * this.normal[0];
      const ny = away * this.normal[1];
      const nz = away * this.normal[2];
      const cosine = Math.max(0, -(dx * nx + dy * ny + dz * nz));
      if (material.glow) {
        this.glows.push({ layer: material.glow.layer, colour: material.glow.colour, share: share * this.scene.shine(triangle, u, v) });
        if (!material.shadowless) return;
      }
      if (material.gloss >= 0.5) {
        share *= material.gloss;
        dx += nx * 2 * cosine;
        dy += ny * 2 * cosine;
        dz += nz * 2 * cosine;
        ox = x;
        oy = y;
        oz = z;
        this.mirrors.push({ x, y, z, dx, dy, dz, share });
        continue;
      }
      if (material.gloss > 0 && !this.glossy.is) {
        this.fresnel = material.gloss + (1 - material.gloss) * (1 - cosine) ** 5;
        settle(this.glossy, x, y, z, nx, ny, nz, dx, dy, dz, triangle, u, v, share);
        if (!material.pane) share *= 1 - this.fresnel;
        if (material.roughness === 0) this.mirrors.push({ x, y, z, dx: dx + nx * 2 * cosine, dy: dy + ny * 2 * cosine, dz: dz + nz * 2 * cosine, share: this.glossy.share * this.fresnel });
      }
      if (material.pane) {
        share *= PANE;
        ox = x + dx * 1e-4;
        oy = y + dy * 1e-4;
        oz = z + dz * 1e-4;
        continue;
      }
      settle(this.surface, x, y, z, nx, ny, nz, dx, dy, dz, triangle, u, v, share);
      return;
    }
  }

  private sees(dx: number, dy: number, dz: number, share: number): void {
    const { view } = this;
    view.is = true;
    view.dx = dx;
    view.dy = dy;
    view.dz = dz;
    view.share = share;
  }
}
