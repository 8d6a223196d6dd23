import { Builder, facing, type Material } from '../scene/builder';
import type { Layer, LightSource, Room } from '../scene/room';
import { creekView } from '../scene/outside';
import type { Vec } from '../scene/vector';
import { coordsAt, meshOf, type Mesh } from './mesh';
import { RayTree } from './rayTree';

const MAX_BOUNCES = 5;
/** Least squared distance to a light that counts, metres squared; larger after a bounce, where closeness would only make sparks. */
const NEAR = 0.01;
const NEAR_BOUNCED = 0.5;
/** Layers looked at after the first bounce, and after each further one, on average. */
const FEW = [10, 3] as const;
/** Steps of a row of well-spread points in a square (Roberts 2018, the R2 sequence). */
const R2 = [0.7548776662466927, 0.5698402909980532] as const;
/** Largest radiance of a flash head seen in a glossy surface. */
const HEAD = 60;

/** A path tracer with next event estimation (Kajiya 1986; Shirley, Wang, Zimmerman 1996) that keeps every light apart. */
export class PathTracer {
  readonly mesh: Mesh;
  readonly tree: RayTree;
  readonly materials: readonly Material[];
  readonly layers: readonly Layer[];
  readonly colour = new Float64Array(3);
  private readonly coords = new Float64Array(2);
  private readonly panels: ReadonlyMap<LightSource, Vec>;
  private readonly outside: NonNullable<Room['outside']>;
  private state = 1;
  /** Where on sources the samples of this place fall: a row of well-spread points, begun by chance. */
  private readonly spread = { on: false, p: 0, q: 0 };

  constructor(room: Room) {
    this.outside = room.outside ?? creekView;
    const builder = new Builder();
    this.layers = room.furnish(builder);
    this.mesh = meshOf(builder);
    this.materials = builder.materials;
    const passes = this.materials.map((m) => m.pane || m.shadowless || m.glow !== null);
    this.tree = new RayTree(builder.positions, (t) => passes[this.mesh.material[t]]);
    this.panels = new Map(this.layers.flatMap((layer) => layer.sources).flatMap((source) => (source.kind === 'panel' ? [[source, facing(source.rect)] as const] : [])));
  }

  /** Starts the row of chance anew. */
  seed(seed: number): void {
    this.state = (seed * 747796405 + 2891336453) | 1;
    for (let k = 0; k < 4; k++) this.random();
  }

  /** Begins a row of well-spread points on the sources for a place. */
  private begin(): void {
    this.spread.on = true;
    this.spread.p = this.random();
    this.spread.q = this.random();
  }

  /** Uniform number in 0..1 (xorshift, Marsaglia 2003). */
  random(): number {
    let s = this.state;
    s ^= s << 13;
    s ^= s >>> 17;
    s ^= s << 5;
    this.state = s;
    return (s >>> 0) / 4294967296;
  }

  /** Flash heads and bulbs, as they are seen along a ray that something mirrored. Radiance goes to `out`, RGB, a layer after the other, here as below. */
  addHeads(out: Float32Array, ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, weight: number): void {
    for (let k = 0; k < this.layers.length; k++) {
      for (const source of this.layers[k].sources) {
        if (source.kind === 'panel') continue;
        const [cx, cy, cz] = [source.centre[0] - ox, source.centre[1] - oy, source.centre[2] - oz];
        const along = cx * dx + cy * dy + cz * dz;
        if (along <= 0 || cx * cx + cy * cy + cz * cz - along * along > source.radius ** 2) continue;
        if (this.tree.blocked(ox, oy, oz, dx, dy, dz, along - source.radius)) continue;
        for (let c = 0; c < 3; c++) out[k * 3 + c] += weight * Math.min(HEAD, source.power[c] / (4 * Math.PI * Math.PI * source.radius ** 2));
      }
    }
  }

  /** Radiance outside in a direction, relative to a bright sky of 1, into `colour`. */
  lookOutside(dx: number, dy: number, dz: number): void {
    this.outside(Math.atan2(dx, dy), Math.atan2(dz, Math.hypot(dx, dy)), this.colour);
  }

  /** The view outside, to the layers that it belongs to. */
  addView(out: Float32Array, dx: number, dy: number, dz: number, weight: number): void {
    this.lookOutside(dx, dy, dz);
    for (let k = 0; k < this.layers.length; k++) {
      const { view } = this.layers[k];
      if (view > 0) for (let c = 0; c < 3; c++) out[k * 3 + c] += weight * view * this.colour[c];
    }
  }

  /** What a glossy surface mirrors in one direction: one further surface, lit. @param heads whether lights themselves count */
  addMirrored(out: Float32Array, ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, weight: number, heads: boolean): void {
    if (heads) this.addHeads(out, ox, oy, oz, dx, dy, dz, weight);
    const triangle = this.tree.nearest(ox, oy, oz, dx, dy, dz, 1e9);
    if (triangle < 0) return this.addView(out, dx, dy, dz, weight);
    const { t, u, v } = this.tree;
    const material = this.materials[this.mesh.material[triangle]];
    if (material.glow) {
      const shine = weight * this.shine(triangle, u, v);
      for (let c = 0; c < 3; c++) out[material.glow.layer * 3 + c] += shine * material.glow.colour[c];
    }
    if (material.pane) return this.addView(out, dx, dy, dz, weight * 0.9);
    const n = this.mesh.normals;
    const flip = dx * n[triangle * 3] + dy * n[triangle * 3 + 1] + dz * n[triangle * 3 + 2] > 0 ? -1 : 1;
    this.reflectance(triangle, u, v);
    const [r, g, b] = this.colour;
    this.gather(out, ox + dx * t, oy + dy * t, oz + dz * t, flip * n[triangle * 3], flip * n[triangle * 3 + 1], flip * n[triangle * 3 + 2], weight * r, weight * g, weight * b);
  }

  /** Reflectance of a place on a triangle, into `colour`. */
  reflectance(triangle: number, u: number, v: number): void {
    coordsAt(this.mesh, triangle, u, v, this.coords);
    this.materials[this.mesh.material[triangle]].texture(this.coords[0], this.coords[1], this.colour);
  }

  /** How much of its glow a place on a triangle gives. */
  shine(triangle: number, u: number, v: number): number {
    const { glow } = this.materials[this.mesh.material[triangle]];
    if (!glow?.shine) return 1;
    coordsAt(this.mesh, triangle, u, v, this.coords);
    return glow.shine(this.coords[0], this.coords[1]);
  }

  /** Adds the light that reaches a diffuse point, direct and by way of others, to every layer, times (r, g, b). */
  gather(out: Float32Array, x: number, y: number, z: number, nx: number, ny: number, nz: number, r: number, g: number, b: number): void {
    this.direct(out, x, y, z, nx, ny, nz, r, g, b);
    this.indirect(out, x, y, z, nx, ny, nz, r, g, b, this.random(), this.random());
  }

  /** As `gather`, what comes from the sources themselves, as the mean of some samples. */
  directMean(out: Float32Array, x: number, y: number, z: number, nx: number, ny: number, nz: number, samples: number): void {
    const { spread } = this;
    this.begin();
    for (let k = 0; k < samples; k++) {
      spread.p = (spread.p + R2[0]) % 1;
      spread.q = (spread.q + R2[1]) % 1;
      this.direct(out, x, y, z, nx, ny, nz, 1 / samples, 1 / samples, 1 / samples);
    }
    spread.on = false;
  }

  private direct(out: Float32Array, x: number, y: number, z: number, nx: number, ny: number, nz: number, r: number, g: number, b: number): void {
    for (let k = 0; k < this.layers.length; k++) for (const source of this.layers[k].sources) this.fromSource(out, k * 3, source, x, y, z, nx, ny, nz, r, g, b, NEAR);
  }

  /** As `gather`, what other surfaces send, as the mean of some samples that leave in well-spread directions. */
  indirectMean(out: Float32Array, x: number, y: number, z: number, nx: number, ny: number, nz: number, samples: number): void {
    let p = this.random();
    let q = this.random();
    for (let k = 0; k < samples; k++) {
      p = (p + R2[0]) % 1;
      q = (q + R2[1]) % 1;
      this.indirect(out, x, y, z, nx, ny, nz, 1 / samples, 1 / samples, 1 / samples, p, q);
    }
  }

  /** One path to what other surfaces send, that leaves in the direction that p and q, 0..1, stand for. */
  private indirect(out: Float32Array, x: number, y: number, z: number, nx: number, ny: number, nz: number, r: number, g: number, b: number, p: number, q: number): void {
    for (let bounce = 1; bounce < MAX_BOUNCES; bounce++) {
      // Cosine-weighted direction about the normal.
      const a = 2 * Math.PI * (bounce === 1 ? p : this.random());
      const h = 2 * (bounce === 1 ? q : this.random()) - 1;
      const s = Math.sqrt(1 - h * h);
      let dx = nx + s * Math.cos(a);
      let dy = ny + s * Math.sin(a);
      let dz = nz + h;
      const l = 1 / (Math.sqrt(dx * dx + dy * dy + dz * dz) || 1);
      dx *= l;
      dy *= l;
      dz *= l;
      const triangle = this.tree.nearest(x + nx * 1e-4, y + ny * 1e-4, z + nz * 1e-4, dx, dy, dz, 1e9);
      if (triangle < 0) return;
      const { t } = this.tree;
      const material = this.materials[this.mesh.material[triangle]];
      if (material.pane || material.glow) return;
      if (material.gloss >= 0.5) return;
      this.reflectance(triangle, this.tree.u, this.tree.v);
      r *= this.colour[0];
      g *= this.colour[1];
      b *= this.colour[2];
      const strongest = Math.max(r, g, b);
      if (bounce > 2) {
        // Russian roulette.
        const keep = Math.min(0.9, this.colour[1] + 0.2);
        if (strongest === 0 || this.random() > keep) return;
        r /= keep;
        g /= keep;
        b /= keep;
      }
      x += nx * 1e-4 + dx * t;
      y += ny * 1e-4 + dy * t;
      z += nz * 1e-4 + dz * t;
      const n = this.mesh.normals;
      const flip = dx * n[triangle * 3] + dy * n[triangle * 3 + 1] + dz * n[triangle * 3 + 2] > 0 ? -1 : 1;
      nx = flip * n[triangle * 3];
      ny = flip * n[triangle * 3 + 1];
      nz = flip * n[triangle * 3 + 2];
      // What comes by way of others is smooth: some of the layers at a time, counted for all.
      const share = bounce === 1 ? Math.min(1, FEW[0] / this.layers.length) : Math.min(0.5, FEW[1] / this.layers.length);
      for (let k = 0; k < this.layers.length; k++) {
        if (this.random() >= share) continue;
        for (const source of this.layers[k].sources) this.fromSource(out, k * 3, source, x, y, z, nx, ny, nz, r / share, g / share, b / share, NEAR_BOUNCED);
      }
    }
  }

  /** Light of one source at a point, times the colour over pi. */
  private fromSource(out: Float32Array, at: number, source: LightSource, x: number, y: number, z: number, nx: number, ny: number, nz: number, r: number, g: number, b: number, nearest: number): void {
    let sx: number;
    let sy: number;
    let sz: number;
    const across = this.spread.on ? this.spread.p : this.random();
    const up = this.spread.on ? this.spread.q : this.random();
    if (source.kind === 'panel') {
      const { middle, u, v } = source.rect;
      const p = 2 * across - 1;
      const q = 2 * up - 1;
      sx = middle[0] + p * u[0] + q * v[0];
      sy = middle[1] + p * u[1] + q * v[1];
      sz = middle[2] + p * u[2] + q * v[2];
    } else {
      const h = 2 * up - 1;
      const a = 2 * Math.PI * across;
      const s = Math.sqrt(1 - h * h) * source.radius;
      sx = source.centre[0] + s * Math.cos(a);
      sy = source.centre[1] + s * Math.sin(a);
      sz = source.centre[2] + h * source.radius;
    }
    let dx = sx - x;
    let dy = sy - y;
    let dz = sz - z;
    const d2 = dx * dx + dy * dy + dz * dz;
    const d = Math.sqrt(d2);
    dx /= d;
    dy /= d;
    dz /= d;
    const cosine = dx * nx + dy * ny + dz * nz;
    if (cosine <= 0) return;
    let strength: number;
    if (source.kind === 'panel') {
      const f = this.panels.get(source)!;
      const away = -(dx * f[0] + dy * f[1] + dz * f[2]);
      if (away <= 0) return;
      const { u, v } = source.rect;
      const area = 4 * Math.sqrt((u[0] * u[0] + u[1] * u[1] + u[2] * u[2]) * (v[0] * v[0] + v[1] * v[1] + v[2] * v[2]));
      strength = (area * away * cosine) / (Math.PI * Math.max(d2, nearest));
    } else {
      strength = cosine / (4 * Math.PI * Math.PI * Math.max(d2, nearest));
      if (source.kind === 'flash') {
        const ahead = -(dx * source.aim[0] + dy * source.aim[1] + dz * source.aim[2]);
        strength *= 0.25 + 1.75 * Math.max(0, ahead) ** 1.5;
      }
    }
    if (this.tree.blocked(x + nx * 1e-4, y + ny * 1e-4, z + nz * 1e-4, dx, dy, dz, d - 2e-3)) return;
    const power = source.kind === 'panel' ? source.radiance : source.power;
    out[at] += strength * r * power[0];
    out[at + 1] += strength * g * power[1];
    out[at + 2] += strength * b * power[2];
  }
}
