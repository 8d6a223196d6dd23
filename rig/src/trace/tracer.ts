import { Builder, facing, type Material } from '../scene/builder';
import type { Layer, LightSource, Room } from '../scene/room';
import { creekView } from '../scene/textures';
import { cross, normalize, sub, type Vec } from '../scene/vector';
import { buildMesh, intersect, type Hit, type Mesh } from './bvh';

/** Per-pixel sums of one band of rows, before denoising. */
export interface Band {
  readonly width: number;
  readonly y0: number;
  readonly rows: number;
  /** Light on the first diffuse surface divided by its reflectance, RGB, a layer after the other. */
  readonly irradiance: Float32Array[];
  /** Mirrored and self-glowing light and the view outside, RGB, by layer. */
  readonly direct: Float32Array[];
  /** Reflectance of the first diffuse surface, RGB; 0 where there is none. */
  readonly albedo: Float32Array;
  /** Normal x, y, z and distance of that surface. */
  readonly feature: Float32Array;
  /** Light on the first diffuse surface times its reflectance, sample by sample, RGB, a layer after the other: right also where samples fall on several surfaces. */
  readonly reflected: Float32Array[];
  /** 1 where samples fell on different surfaces. */
  readonly mixed: Uint8Array;
}

const MAX_BOUNCES = 5;
/** Least squared distance to a light that counts, metres squared; larger after a bounce, where closeness would only make sparks. */
const NEAR = 0.01;
const NEAR_BOUNCED = 0.5;
/** Largest radiance of a flash head seen in a glossy surface. */
const HEAD = 60;

/** A path tracer with next event estimation (Kajiya 1986; Shirley, Wang, Zimmerman 1996) that keeps every light apart. */
export class Tracer {
  private readonly mesh: Mesh;
  private readonly materials: readonly Material[];
  private readonly skip: Uint8Array;
  private readonly panels: ReadonlyMap<LightSource, Vec>;
  readonly layers: readonly Layer[];
  private readonly hit: Hit = { t: 0, triangle: 0, u: 0, v: 0 };
  private readonly colour = new Float64Array(3);
  private state = 1;
  /** The surface that the first sample of the pixel at hand fell on. */
  private seen = false;
  private readonly first = { nx: 0, ny: 0, nz: 0, distance: 0 };
  /** What one sample adds, by layer, before the reflectance of the first surface. */
  private readonly sample: Float32Array[];

  constructor(private readonly room: Room) {
    const builder = new Builder();
    this.layers = room.furnish(builder);
    this.mesh = buildMesh(builder);
    this.materials = builder.materials;
    this.panels = new Map(this.layers.flatMap((layer) => layer.sources).flatMap((source) => (source.kind === 'panel' ? [[source, facing(source.rect)] as const] : [])));
    this.sample = this.layers.map(() => new Float32Array(3));
    this.skip = Uint8Array.from(this.materials.map((m) => (m.pane || m.shadowless || m.glow ? 1 : 0)));
  }

  /** Uniform number in 0..1 (xorshift, Marsaglia 2003). */
  private random(): number {
    let s = this.state;
    s ^= s << 13;
    s ^= s >>> 17;
    s ^= s << 5;
    this.state = s;
    return (s >>> 0) / 4294967296;
  }

  /** Traces rows y0 .. y0 + rows with this many samples a pixel. */
  traceBand(width: number, height: number, y0: number, rows: number, samples: number): Band {
    const layers = this.layers.length;
    const n = width * rows;
    const band: Band = {
      width, y0, rows,
      irradiance: Array.from({ length: layers }, () => new Float32Array(n * 3)),
      direct: Array.from({ length: layers }, () => new Float32Array(n * 3)),
      albedo: new Float32Array(n * 3),
      feature: new Float32Array(n * 4),
      reflected: Array.from({ length: layers }, () => new Float32Array(n * 3)),
      mixed: new Uint8Array(n),
    };
    const { from, to, fieldOfView } = this.room.view;
    const ahead = normalize(sub(to, from));
    const right = normalize(cross(ahead, [0, 0, 1]));
    const down = cross(ahead, right);
    const focal = width / 2 / Math.tan((fieldOfView * Math.PI) / 360);
    const side = Math.round(Math.sqrt(samples));
    for (let row = 0; row < rows; row++) {
      for (let x = 0; x < width; x++) {
        this.state = ((y0 + row) * 9781 + x * 6271 + 12345) | 1;
        for (let k = 0; k < 4; k++) this.random();
        this.seen = false;
        for (let s = 0; s < side * side; s++) {
          const px = x - (width - 1) / 2 + ((s % side) + this.random()) / side - 0.5;
          const py = y0 + row - (height - 1) / 2 + (Math.floor(s / side) + this.random()) / side - 0.5;
          const d = normalize([ahead[0] * focal + right[0] * px + down[0] * py, ahead[1] * focal + right[1] * px + down[1] * py, ahead[2] * focal + right[2] * px + down[2] * py]);
          this.eye(band, row * width + x, from[0], from[1], from[2], d[0], d[1], d[2], 1 / (side * side));
        }
      }
    }
    return band;
  }

  /** Follows an eye ray through panes and mirrors to the first diffuse surface. */
  private eye(band: Band, pixel: number, ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, weight: number): void {
    let distance = 0;
    let mirrored = false;
    let share = 1;
    for (let depth = 0; depth < 8; depth++) {
      if (!intersect(this.mesh, ox, oy, oz, dx, dy, dz, 1e9, this.hit, null)) {
        this.addView(band, pixel, dx, dy, dz, weight * share);
        return;
      }
      const { t, triangle, u, v } = this.hit;
      const material = this.materials[this.mesh.material[triangle]];
      distance += t;
      const hx = ox + dx * t;
      const hy = oy + dy * t;
      const hz = oz + dz * t;
      let nx = this.mesh.normals[triangle * 3];
      let ny = this.mesh.normals[triangle * 3 + 1];
      let nz = this.mesh.normals[triangle * 3 + 2];
      let cosine = -(dx * nx + dy * ny + dz * nz);
      if (cosine < 0) {
        nx = -nx;
        ny = -ny;
        nz = -nz;
        cosine = -cosine;
      }
      if (material.glow) {
        const out = band.direct[material.glow.layer];
        for (let c = 0; c < 3; c++) out[pixel * 3 + c] += weight * share * material.glow.colour[c];
        if (material.shadowless === false) return;
      }
      // Every sample tells what surface this is, also one that goes on to what is mirrored there.
      if (!material.pane && material.gloss < 0.5) {
        this.reflectance(triangle, this.hit.u, this.hit.v, material);
        const [r, g, b] = this.colour;
        const f = pixel * 4;
        band.albedo[pixel * 3] += weight * r;
        band.albedo[pixel * 3 + 1] += weight * g;
        band.albedo[pixel * 3 + 2] += weight * b;
        band.feature[f] += weight * nx;
        band.feature[f + 1] += weight * ny;
        band.feature[f + 2] += weight * nz;
        band.feature[f + 3] += weight * distance * (mirrored ? 1.3 : 1);
        this.note(band, pixel, nx, ny, nz, distance);
      }
      if (material.gloss > 0) {
        // Schlick 1994.
        const fresnel = material.gloss + (1 - material.gloss) * (1 - cosine) ** 5;
        const chance = material.gloss >= 0.5 ? 1 : Math.min(0.5, Math.max(0.12, fresnel));
        if (this.random() < chance) {
          const k = 2 * cosine;
          let rx = dx + nx * k;
          let ry = dy + ny * k;
          let rz = dz + nz * k;
          if (material.roughness > 0) {
            rx += (this.random() - 0.5) * material.roughness;
            ry += (this.random() - 0.5) * material.roughness;
            rz += (this.random() - 0.5) * material.roughness;
            const l = 1 / Math.hypot(rx, ry, rz);
            rx *= l;
            ry *= l;
            rz *= l;
          }
          if (material.gloss >= 0.5) {
            share *= material.gloss;
            this.addHeads(band, pixel, hx, hy, hz, rx, ry, rz, weight * share);
            [ox, oy, oz, dx, dy, dz] = [hx, hy, hz, rx, ry, rz];
            mirrored = true;
            continue;
          }
          this.mirrored(band, pixel, hx, hy, hz, rx, ry, rz, (weight * share * fresnel) / chance);
          return;
        }
        share /= 1 - chance;
        if (!material.pane) share *= 1 - fresnel;
      }
      if (material.pane) {
        share *= 0.92;
        [ox, oy, oz] = [hx + dx * 1e-4, hy + dy * 1e-4, hz + dz * 1e-4];
        continue;
      }
      this.reflectance(triangle, u, v, material);
      const [r, g, b] = this.colour;
      for (const light of this.sample) light.fill(0);
      this.gather(this.sample, 0, hx, hy, hz, nx, ny, nz, weight * share, weight * share, weight * share);
      for (let k = 0; k < this.sample.length; k++) {
        const light = this.sample[k];
        const p = pixel * 3;
        for (let c = 0; c < 3; c++) band.irradiance[k][p + c] += light[c];
        band.reflected[k][p] += light[0] * r;
        band.reflected[k][p + 1] += light[1] * g;
        band.reflected[k][p + 2] += light[2] * b;
      }
      return;
    }
  }

  /** Notes whether all samples of a pixel fall on one surface. */
  private note(band: Band, pixel: number, nx: number, ny: number, nz: number, distance: number): void {
    const { first } = this;
    if (!this.seen) {
      this.seen = true;
      Object.assign(first, { nx, ny, nz, distance });
    } else if (first.nx * nx + first.ny * ny + first.nz * nz < 0.95 || Math.abs(first.distance - distance) > 0.02 * first.distance) band.mixed[pixel] = 1;
  }

  private addView(band: Band, pixel: number, dx: number, dy: number, dz: number, weight: number): void {
    creekView(Math.atan2(dx, dy), Math.atan2(dz, Math.hypot(dx, dy)), this.colour);
    this.layers.forEach((layer, k) => {
      if (layer.view > 0) for (let c = 0; c < 3; c++) band.direct[k][pixel * 3 + c] += weight * layer.view * this.colour[c];
    });
  }

  /** Flash heads and bulbs are seen in what mirrors them. */
  private addHeads(band: Band, pixel: number, ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, weight: number): void {
    this.layers.forEach((layer, k) => {
      for (const source of layer.sources) {
        if (source.kind === 'panel') continue;
        const [cx, cy, cz] = [source.centre[0] - ox, source.centre[1] - oy, source.centre[2] - oz];
        const along = cx * dx + cy * dy + cz * dz;
        if (along <= 0 || cx * cx + cy * cy + cz * cz - along * along > source.radius ** 2) continue;
        if (intersect(this.mesh, ox, oy, oz, dx, dy, dz, along - source.radius, this.hit, this.skip)) continue;
        for (let c = 0; c < 3; c++) band.direct[k][pixel * 3 + c] += weight * Math.min(HEAD, source.power[c] / (4 * Math.PI * Math.PI * source.radius ** 2));
      }
    });
  }

  /** What a glossy surface mirrors: one further surface, lit. */
  private mirrored(band: Band, pixel: number, ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, weight: number): void {
    this.addHeads(band, pixel, ox, oy, oz, dx, dy, dz, weight);
    if (!intersect(this.mesh, ox, oy, oz, dx, dy, dz, 1e9, this.hit, null)) {
      this.addView(band, pixel, dx, dy, dz, weight);
      return;
    }
    const { t, triangle } = this.hit;
    const material = this.materials[this.mesh.material[triangle]];
    if (material.glow) for (let c = 0; c < 3; c++) band.direct[material.glow.layer][pixel * 3 + c] += weight * material.glow.colour[c];
    if (material.pane) {
      this.addView(band, pixel, dx, dy, dz, weight * 0.9);
      return;
    }
    const n = this.mesh.normals;
    const flip = dx * n[triangle * 3] + dy * n[triangle * 3 + 1] + dz * n[triangle * 3 + 2] > 0 ? -1 : 1;
    this.reflectance(triangle, this.hit.u, this.hit.v, material);
    const [r, g, b] = this.colour;
    this.gather(band.direct, pixel, ox + dx * t, oy + dy * t, oz + dz * t, flip * n[triangle * 3], flip * n[triangle * 3 + 1], flip * n[triangle * 3 + 2], weight * r, weight * g, weight * b);
  }

  private reflectance(triangle: number, u: number, v: number, material: Material): void {
    const c = this.mesh.coords;
    const p = triangle * 6;
    const w = 1 - u - v;
    material.texture(w * c[p] + u * c[p + 2] + v * c[p + 4], w * c[p + 1] + u * c[p + 3] + v * c[p + 5], this.colour);
  }

  /** Adds the light that reaches a diffuse point, direct and by way of others, to every layer, times (r, g, b). */
  private gather(out: Float32Array[], pixel: number, x: number, y: number, z: number, nx: number, ny: number, nz: number, r: number, g: number, b: number): void {
    for (let bounce = 0; bounce < MAX_BOUNCES; bounce++) {
      // Later bounces are smooth: half of the layers at a time, counted double.
      const half = bounce > 0;
      for (let k = 0; k < this.layers.length; k++) {
        if (half && this.random() < 0.5) continue;
        for (const source of this.layers[k].sources) this.fromSource(out[k], pixel, source, x, y, z, nx, ny, nz, half ? 2 * r : r, half ? 2 * g : g, half ? 2 * b : b, half ? NEAR_BOUNCED : NEAR);
      }
      // Cosine-weighted direction about the normal.
      const a = 2 * Math.PI * this.random();
      const h = 2 * this.random() - 1;
      const s = Math.sqrt(1 - h * h);
      let dx = nx + s * Math.cos(a);
      let dy = ny + s * Math.sin(a);
      let dz = nz + h;
      const l = 1 / (Math.sqrt(dx * dx + dy * dy + dz * dz) || 1);
      dx *= l;
      dy *= l;
      dz *= l;
      if (!intersect(this.mesh, x + nx * 1e-4, y + ny * 1e-4, z + nz * 1e-4, dx, dy, dz, 1e9, this.hit, null)) return;
      const { t, triangle } = this.hit;
      const material = this.materials[this.mesh.material[triangle]];
      if (material.pane || material.glow) return;
      if (material.gloss >= 0.5) return;
      this.reflectance(triangle, this.hit.u, this.hit.v, material);
      r *= this.colour[0];
      g *= this.colour[1];
      b *= this.colour[2];
      const strongest = Math.max(r, g, b);
      if (bounce > 1) {
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
    }
  }

  /** Light of one source at a point, times the colour over pi. */
  private fromSource(out: Float32Array, pixel: number, source: LightSource, x: number, y: number, z: number, nx: number, ny: number, nz: number, r: number, g: number, b: number, nearest: number): void {
    let sx: number;
    let sy: number;
    let sz: number;
    if (source.kind === 'panel') {
      const { middle, u, v } = source.rect;
      const p = 2 * this.random() - 1;
      const q = 2 * this.random() - 1;
      sx = middle[0] + p * u[0] + q * v[0];
      sy = middle[1] + p * u[1] + q * v[1];
      sz = middle[2] + p * u[2] + q * v[2];
    } else {
      const h = 2 * this.random() - 1;
      const a = 2 * Math.PI * this.random();
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
    if (intersect(this.mesh, x + nx * 1e-4, y + ny * 1e-4, z + nz * 1e-4, dx, dy, dz, d - 2e-3, this.hit, this.skip)) return;
    const power = source.kind === 'panel' ? source.radiance : source.power;
    out[pixel * 3] += strength * r * power[0];
    out[pixel * 3 + 1] += strength * g * power[1];
    out[pixel * 3 + 2] += strength * b * power[2];
  }
}
