import { Eye, EyeRay, type Place } from '../trace/eyeRay';
import type { GridSurfaces } from '../trace/gridSurfaces';
import type { PathTracer } from '../trace/pathTracer';
import type { View } from '../scene/room';
import { CornerRow, SURFACE } from './cornerRow';
import { GridLight } from './gridLight';

/** Samples along each side of a pixel. */
const SIDE = 4;

/** The light of a room on its grid, a layer after the other. */
export interface RoomLight {
  readonly surfaces: GridSurfaces;
  readonly light: readonly Float32Array[];
  readonly gloss: readonly Float32Array[];
}

interface Reading {
  triangle: number;
  readonly values: Float32Array;
}

function placeOf({ nx, ny, nz, x, y, z }: Place, out: Float64Array): Float64Array {
  out[0] = nx;
  out[1] = ny;
  out[2] = nz;
  out[3] = x;
  out[4] = y;
  out[5] = z;
  return out;
}

/** sample <- sample + values times (r, g, b), a layer after the other. */
function addTo(sample: readonly Float32Array[], values: Float32Array, r: number, g: number, b: number): void {
  for (let k = 0; k < sample.length; k++) {
    sample[k][0] += r * values[k * 3];
    sample[k][1] += g * values[k * 3 + 1];
    sample[k][2] += b * values[k * 3 + 2];
  }
}

/** Makes pictures of single lights from their light on the grid, for one thread. */
export class DetailBand {
  private readonly ray: EyeRay;
  private readonly on: GridLight;
  private readonly gloss: GridLight;
  private readonly d = new Float64Array(3);
  /** Normal and place of what is located. */
  private readonly place = new Float64Array(6);
  /** What the pixel at hand shows, by layer. */
  private readonly sample: Float32Array[];
  /** Light where the pixel at hand last fell on a triangle: within a pixel it hardly changes. */
  private readonly lit: Reading;
  private readonly mirrored: Reading;

  constructor(private readonly scene: PathTracer, private readonly view: View, private readonly room: RoomLight) {
    const { width, height, scattering, glossy } = room.surfaces;
    this.ray = new EyeRay(scene);
    this.on = new GridLight(width, height, scattering);
    this.gloss = new GridLight(width, height, glossy);
    this.sample = scene.layers.map(() => new Float32Array(3));
    this.lit = { triangle: -1, values: new Float32Array(scene.layers.length * 3) };
    this.mirrored = { triangle: -1, values: new Float32Array(scene.layers.length * 3) };
  }

  /** Radiance of rows y0 .. y0 + rows of a picture, RGB, by layer. */
  rows(width: number, height: number, y0: number, rows: number): Float32Array[] {
    const eye = new Eye(this.view, width, height);
    const out = this.scene.layers.map(() => new Float32Array(width * rows * 3));
    let above = new CornerRow(width + 1);
    let below = new CornerRow(width + 1);
    this.look(eye, width, y0, above);
    for (let y = 0; y < rows; y++) {
      this.look(eye, width, y0 + y + 1, below);
      for (let x = 0; x < width; x++) {
        for (const light of this.sample) light.fill(0);
        this.lit.triangle = this.mirrored.triangle = -1;
        const kind = above.alike(below, x);
        if (kind === 0) this.apart(eye, width, height, x, y0 + y);
        else this.together(eye, width, height, x, y0 + y, above, below, kind);
        for (let k = 0; k < out.length; k++) for (let c = 0; c < 3; c++) out[k][(y * width + x) * 3 + c] = this.sample[k][c] / (SIDE * SIDE);
      }
      [above, below] = [below, above];
    }
    return out;
  }

  /** Looks through the corners above a row of pixels. */
  private look(eye: Eye, width: number, y: number, corners: CornerRow): void {
    for (let x = 0; x <= width; x++) {
      eye.direction(x - 0.5, y - 0.5, this.d);
      this.ray.follow(eye.from, this.d);
      corners.note(x, this.ray);
    }
  }

  /** A pixel with edges in it: every sample by a ray of its own. */
  private apart(eye: Eye, width: number, height: number, x: number, y: number): void {
    for (let j = 0; j < SIDE; j++) for (let i = 0; i < SIDE; i++) this.shade(eye, x + (i + 0.5) / SIDE - 0.5, y + (j + 0.5) / SIDE - 0.5, width, height);
  }

  /** A pixel that lies on one triangle, or in the view: where its samples fall follows from its corners. */
  private together(eye: Eye, width: number, height: number, x: number, y: number, above: CornerRow, below: CornerRow, kind: number): void {
    const { scene, room, sample, d } = this;
    const [u, v] = this.onGrid(x, y, width, height);
    const share = above.share(below, x);
    if (kind === SURFACE) {
      above.middle(below, x, false, this.place);
      this.on.locate(u, v, this.place);
      this.on.read(room.light, this.lit.values);
    }
    for (let j = 0; j < SIDE; j++) {
      for (let i = 0; i < SIDE; i++) {
        const [fx, fy] = [(i + 0.5) / SIDE, (j + 0.5) / SIDE];
        if (kind === SURFACE) {
          above.coordinates(below, x, fx, fy, d);
          scene.reflectance(above.triangle[x], d[0], d[1]);
          addTo(sample, this.lit.values, share * scene.colour[0], share * scene.colour[1], share * scene.colour[2]);
        } else {
          eye.direction(x + fx - 0.5, y + fy - 0.5, d);
          scene.addView(sample, 0, d[0], d[1], d[2], share);
        }
      }
    }
    if (above.glossy[x] < 0) return;
    above.middle(below, x, true, this.place);
    this.gloss.locate(u, v, this.place);
    this.gloss.read(room.gloss, this.mirrored.values);
    const [nx, ny, nz, px, py, pz] = this.place;
    const mirrored = SIDE * SIDE * above.mirrored(below, x);
    addTo(sample, this.mirrored.values, mirrored, mirrored, mirrored);
    if (scene.materials[scene.mesh.material[above.glossy[x]]].roughness > 0) return;
    eye.direction(x, y, d);
    const k = -2 * (d[0] * nx + d[1] * ny + d[2] * nz);
    scene.addHeads(sample, 0, px, py, pz, d[0] + nx * k, d[1] + ny * k, d[2] + nz * k, mirrored);
  }

  private onGrid(x: number, y: number, width: number, height: number): readonly [number, number] {
    const { surfaces } = this.room;
    return [((x + 0.5) * surfaces.width) / width - 0.5, ((y + 0.5) * surfaces.height) / height - 0.5];
  }

  private shade(eye: Eye, x: number, y: number, width: number, height: number): void {
    const { scene, ray, room, sample } = this;
    eye.direction(x, y, this.d);
    ray.follow(eye.from, this.d);
    const [u, v] = this.onGrid(x, y, width, height);
    for (const { layer, colour, share } of ray.glows) for (let c = 0; c < 3; c++) sample[layer][c] += share * colour[c];
    for (const m of ray.mirrors) scene.addHeads(sample, 0, m.x, m.y, m.z, m.dx, m.dy, m.dz, m.share);
    if (ray.view.is) scene.addView(sample, 0, ray.view.dx, ray.view.dy, ray.view.dz, ray.view.share);
    const s = ray.surface;
    if (s.is) {
      if (s.triangle !== this.lit.triangle) {
        this.lit.triangle = s.triangle;
        this.on.locate(u, v, placeOf(s, this.place));
        this.on.read(room.light, this.lit.values);
      }
      scene.reflectance(s.triangle, s.u, s.v);
      const [r, g, b] = [scene.colour[0] * s.share, scene.colour[1] * s.share, scene.colour[2] * s.share];
      addTo(sample, this.lit.values, r, g, b);
    }
    const m = ray.glossy;
    if (!m.is) return;
    if (m.triangle !== this.mirrored.triangle) {
      this.mirrored.triangle = m.triangle;
      this.gloss.locate(u, v, placeOf(m, this.place));
      this.gloss.read(room.gloss, this.mirrored.values);
    }
    const share = m.share * ray.fresnel;
    addTo(sample, this.mirrored.values, share, share, share);
  }
}
