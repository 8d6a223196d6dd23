import { Eye, EyeRay, type Place } from '../trace/eyeRay';
import type { GridSurfaces } from '../trace/gridSurfaces';
import type { PathTracer } from '../trace/pathTracer';
import type { View } from '../scene/room';
import { CornerRow, SURFACE } from './cornerRow';
import { GridLight } from '../trace/gridLight';

/** Samples along each side of a pixel. */
const SIDE = 4;
/** Relative difference of reflectance within a pixel that four samples do justice. */
const CALM = 0.2;

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
function addTo(sample: Float32Array, values: Float32Array, r: number, g: number, b: number): void {
  for (let k = 0; k < sample.length; k += 3) {
    sample[k] += r * values[k];
    sample[k + 1] += g * values[k + 1];
    sample[k + 2] += b * values[k + 2];
  }
}

/** out, a picture a layer, at a pixel <- sample times a factor. */
function put(out: readonly Float32Array[], pixel: number, sample: Float32Array, factor: number): void {
  const at = pixel * 3;
  for (let k = 0; k < out.length; k++) {
    const layer = out[k];
    layer[at] = sample[k * 3] * factor;
    layer[at + 1] = sample[k * 3 + 1] * factor;
    layer[at + 2] = sample[k * 3 + 2] * factor;
  }
}

/** Makes pictures of single lights from their light on the grid, for one thread. */
export class DetailBand {
  private readonly ray: EyeRay;
  private readonly on: GridLight;
  private readonly gloss: GridLight;
  private readonly d = new Float64Array(3);
  private readonly mean = new Float64Array(3);
  /** Normal and place of what is located. */
  private readonly place = new Float64Array(6);
  /** What the pixel at hand shows, by layer. */
  private readonly sample: Float32Array;
  /** Light where the pixel at hand last fell on a triangle: within a pixel it hardly changes. */
  private readonly lit: Reading;
  private readonly mirrored: Reading;

  constructor(private readonly scene: PathTracer, private readonly view: View, private readonly room: RoomLight) {
    const { width, height, scattering, glossy } = room.surfaces;
    this.ray = new EyeRay(scene);
    this.on = new GridLight(width, height, scattering);
    this.gloss = new GridLight(width, height, glossy);
    this.sample = new Float32Array(scene.layers.length * 3);
    this.lit = { triangle: -1, values: new Float32Array(scene.layers.length * 3) };
    this.mirrored = { triangle: -1, values: new Float32Array(scene.layers.length * 3) };
  }

  /** Radiance of rows y0 .. y0 + rows of pictures, RGB, into `out`, a picture a layer. */
  rows(width: number, height: number, y0: number, rows: number, out: readonly Float32Array[]): void {
    const eye = new Eye(this.view, width, height);
    let above = new CornerRow(this.scene.mesh, width + 1);
    let below = new CornerRow(this.scene.mesh, width + 1);
    this.look(eye, width, y0, above);
    for (let y = 0; y < rows; y++) {
      this.look(eye, width, y0 + y + 1, below);
      for (let x = 0; x < width; x++) {
        this.sample.fill(0);
        this.lit.triangle = this.mirrored.triangle = -1;
        const kind = above.alike(below, x);
        if (kind === 0) this.apart(eye, width, height, x, y0 + y);
        else this.together(eye, width, height, x, y0 + y, above, below, kind);
        put(out, (y0 + y) * width + x, this.sample, 1 / (SIDE * SIDE));
      }
      [above, below] = [below, above];
    }
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

  /** A pixel that lies on one surface, or in the view: where its samples fall follows from its corners. */
  private together(eye: Eye, width: number, height: number, x: number, y: number, above: CornerRow, below: CornerRow, kind: number): void {
    const { scene, room, sample, d } = this;
    const [u, v] = this.onGrid(x, y, width, height);
    const share = above.share(below, x);
    if (kind === SURFACE) {
      above.middle(below, x, false, this.place);
      this.on.locate(u, v, this.place);
      this.on.read(room.light, this.lit.values);
    }
    if (kind === SURFACE) {
      this.meanReflectance(above, below, x);
      const n = SIDE * SIDE * share;
      addTo(sample, this.lit.values, n * this.mean[0], n * this.mean[1], n * this.mean[2]);
    } else this.meanView(eye, x, y, share);
    if (above.glossy[x] < 0) return;
    above.middle(below, x, true, this.place);
    this.gloss.locate(u, v, this.place);
    this.gloss.read(room.gloss, this.mirrored.values);
    const [nx, ny, nz, px, py, pz] = this.place;
    const mirrored = SIDE * SIDE * above.mirrored(below, x);
    addTo(sample, this.mirrored.values, mirrored, mirrored, mirrored);
    if (scene.materials[above.glossy[x]].roughness > 0) return;
    eye.direction(x, y, d);
    const k = -2 * (d[0] * nx + d[1] * ny + d[2] * nz);
    scene.addHeads(sample, px, py, pz, d[0] + nx * k, d[1] + ny * k, d[2] + nz * k, mirrored);
  }

  /** The view in a pixel: of 4 directions where they agree, else of 16. */
  private meanView(eye: Eye, x: number, y: number, share: number): void {
    const { sample } = this;
    if (this.sampleView(eye, x, y, 2, 4 * share) < CALM) return;
    sample.fill(0);
    this.sampleView(eye, x, y, SIDE, share);
  }

  /** Adds side x side directions, each by a share; returns how far their greens lie apart, as a share of their mean. */
  private sampleView(eye: Eye, x: number, y: number, side: number, share: number): number {
    const { scene, sample, d } = this;
    let least = Infinity;
    let most = 0;
    let sum = 0;
    for (let j = 0; j < side; j++) {
      for (let i = 0; i < side; i++) {
        eye.direction(x + (i + 0.5) / side - 0.5, y + (j + 0.5) / side - 0.5, d);
        scene.addView(sample, d[0], d[1], d[2], share);
        const green = scene.colour[1];
        sum += green;
        if (green < least) least = green;
        if (green > most) most = green;
      }
    }
    return ((most - least) * side * side) / (sum + 1e-6);
  }

  /** Mean reflectance over a pixel that lies on one surface, into `mean`: of 4 places where they agree, else of 16. */
  private meanReflectance(above: CornerRow, below: CornerRow, x: number): void {
    if (this.sampleReflectance(above, below, x, 2) < CALM) return;
    this.sampleReflectance(above, below, x, SIDE);
  }

  /** Mean of side x side places; returns how far their greens lie apart, as a share of it. */
  private sampleReflectance(above: CornerRow, below: CornerRow, x: number, side: number): number {
    const { scene, mean, d } = this;
    const { colour } = scene;
    const { texture } = scene.materials[above.material[x]];
    let least = Infinity;
    let most = 0;
    mean.fill(0);
    for (let j = 0; j < side; j++) {
      for (let i = 0; i < side; i++) {
        above.coordinates(below, x, (i + 0.5) / side, (j + 0.5) / side, d);
        texture(d[0], d[1], colour);
        for (let c = 0; c < 3; c++) mean[c] += colour[c];
        if (colour[1] < least) least = colour[1];
        if (colour[1] > most) most = colour[1];
      }
    }
    for (let c = 0; c < 3; c++) mean[c] /= side * side;
    return (most - least) / (mean[1] + 1e-6);
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
    for (const { layer, colour, share } of ray.glows) for (let c = 0; c < 3; c++) sample[layer * 3 + c] += share * colour[c];
    for (const m of ray.mirrors) scene.addHeads(sample, m.x, m.y, m.z, m.dx, m.dy, m.dz, m.share);
    if (ray.view.is) scene.addView(sample, ray.view.dx, ray.view.dy, ray.view.dz, ray.view.share);
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
