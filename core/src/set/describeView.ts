import { boxBlur } from '../image/boxBlur';
import { bilinear, createPlane, type Plane } from '../image/plane';

/** Things of a picture by which others that show the same are told: where they are, what colour each has, and how it looks about it. */
export interface ViewFeatures {
  /** Where each is seen by a level camera: x right, y down, z ahead, of length 1. */
  readonly rays: Float32Array;
  /** Red and blue over green about each, stops. */
  readonly colours: Float32Array;
  /** 128 bytes each: gradients by place and direction. */
  readonly looks: Uint8Array;
}

/** A direction: x right, y down, z ahead. */
export type Ray = readonly [number, number, number];

/** Longer side of the picture at the finest scale, how much coarser each next one is, and corners taken at each at most. */
const SIDE = 720;
const COARSER = Math.SQRT1_2;
const MOST = [160, 130, 100, 70, 50];
/** Pixels between corners of one scale, and from the border. */
const APART = 6;
const BORDER = 10;
/** Harris: trace against determinant; a corner is one where its measure is above this share of the picture's strongest. */
const HARRIS = 0.05;
const WEAKEST = 1e-3;
/** A corner is described by 4 x 4 fields of 4 pixels, 8 directions each. */
const FIELDS = 4;
const FIELD = 4;
const DIRECTIONS = 8;
export const LOOK_BYTES = FIELDS * FIELDS * DIRECTIONS;
/** Colours are means over this part of the longer side. */
const ABOUT = 200;
/** No direction tells more than this share of all. */
const HELD = 0.2;

function resized(plane: Plane, width: number, height: number): Plane {
  const out = createPlane(width, height);
  const smooth = boxBlur(plane, Math.max(0, Math.round((plane.width / width - 1) / 2)));
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) out.data[y * width + x] = bilinear(smooth, ((x + 0.5) * plane.width) / width - 0.5, ((y + 0.5) * plane.height) / height - 0.5);
  return out;
}

/** Central differences along x and y. */
function gradients({ width, height, data }: Plane): { readonly gx: Float32Array; readonly gy: Float32Array } {
  const gx = new Float32Array(data.length);
  const gy = new Float32Array(data.length);
  for (let y = 1; y < height - 1; y++) {
    for (let i = y * width + 1; i < (y + 1) * width - 1; i++) {
      gx[i] = data[i + 1] - data[i - 1];
      gy[i] = data[i + width] - data[i - width];
    }
  }
  return { gx, gy };
}

/** Corners by Harris and Stephens 1988, strongest first, none near a stronger one. */
function cornersOf({ width, height }: Plane, gx: Float32Array, gy: Float32Array, most: number): number[] {
  const product = (a: Float32Array, b: Float32Array): Float32Array => boxBlur(boxBlur(createPlane(width, height, a.map((v, i) => v * b[i])), 1), 1).data;
  const [xx, yy, xy] = [product(gx, gx), product(gy, gy), product(gx, gy)];
  const measure = xx.map((v, i) => v * yy[i] - xy[i] * xy[i] - HARRIS * (v + yy[i]) ** 2);
  const found: number[] = [];
  for (let y = BORDER; y < height - BORDER; y++) {
    for (let i = y * width + BORDER; i < (y + 1) * width - BORDER; i++) {
      const v = measure[i];
      if (v > 0 && v >= measure[i - 1] && v > measure[i + 1] && v >= measure[i - width] && v > measure[i + width]) found.push(i);
    }
  }
  found.sort((a, b) => measure[b] - measure[a]);
  const taken = new Uint8Array(width * height);
  const corners: number[] = [];
  for (const i of found) {
    if (corners.length === most || measure[i] < WEAKEST * measure[found[0]]) break;
    if (taken[i]) continue;
    corners.push(i);
    const [cx, cy] = [i % width, Math.floor(i / width)];
    for (let y = Math.max(0, cy - APART); y <= Math.min(height - 1, cy + APART); y++) taken.fill(1, y * width + Math.max(0, cx - APART), y * width + Math.min(width, cx + APART + 1));
  }
  return corners;
}

/** How it looks about a corner: a histogram of gradients (Lowe 2004, not turned, since cameras stand level), as square roots (Arandjelovic, Zisserman 2012). */
function lookAt(width: number, gx: Float32Array, gy: Float32Array, corner: number, out: Uint8Array): void {
  const histogram = new Float32Array(LOOK_BYTES);
  const half = (FIELDS * FIELD) / 2;
  for (let dy = -half; dy < half; dy++) {
    for (let dx = -half; dx < half; dx++) {
      const i = corner + dy * width + dx;
      const strength = Math.hypot(gx[i], gy[i]) * Math.exp(-((dx + 0.5) ** 2 + (dy + 0.5) ** 2) / (half * half));
      if (strength === 0) continue;
      const fx = (dx + half + 0.5) / FIELD - 0.5;
      const fy = (dy + half + 0.5) / FIELD - 0.5;
      const fd = ((Math.atan2(gy[i], gx[i]) / (2 * Math.PI) + 1) * DIRECTIONS) % DIRECTIONS;
      const d = Math.floor(fd);
      // Shared out between the fields and directions beside it.
      for (let y = Math.max(0, Math.floor(fy)); y <= Math.min(FIELDS - 1, Math.floor(fy) + 1); y++) {
        for (let x = Math.max(0, Math.floor(fx)); x <= Math.min(FIELDS - 1, Math.floor(fx) + 1); x++) {
          const weight = strength * (1 - Math.abs(x - fx)) * (1 - Math.abs(y - fy));
          const at = (y * FIELDS + x) * DIRECTIONS;
          histogram[at + (d % DIRECTIONS)] += weight * (1 - (fd - d));
          histogram[at + ((d + 1) % DIRECTIONS)] += weight * (fd - d);
        }
      }
    }
  }
  const norm = Math.hypot(...histogram) || 1;
  const held = histogram.map((v) => Math.min(HELD, v / norm));
  const sum = held.reduce((a, b) => a + b, 0) || 1;
  held.forEach((v, k) => (out[k] = Math.round(255 * Math.sqrt(v / sum))));
}

/** Describes what a picture shows. @param luma its tones as they are seen. @param red, blue over green, stops. @param rayAt where a place looks to from a level camera, by column and row of the planes */
export function describeView(luma: Plane, red: Plane, blue: Plane, rayAt: (x: number, y: number) => Ray): ViewFeatures {
  const longer = Math.max(luma.width, luma.height);
  const [rays, colours, looks]: [number[], number[], Uint8Array[]] = [[], [], []];
  const [reds, blues] = [red, blue].map((plane) => boxBlur(plane, Math.round(longer / ABOUT)));
  MOST.forEach((most, k) => {
    const scale = Math.min(1, (SIDE * COARSER ** k) / longer);
    const plane = resized(luma, Math.round(luma.width * scale), Math.round(luma.height * scale));
    const { gx, gy } = gradients(boxBlur(plane, 1));
    for (const corner of cornersOf(plane, gx, gy, most)) {
      const [x, y] = [(((corner % plane.width) + 0.5) * luma.width) / plane.width - 0.5, ((Math.floor(corner / plane.width) + 0.5) * luma.height) / plane.height - 0.5];
      const look = new Uint8Array(LOOK_BYTES);
      lookAt(plane.width, gx, gy, corner, look);
      rays.push(...rayAt(x, y));
      colours.push(bilinear(reds, x, y), bilinear(blues, x, y));
      looks.push(look);
    }
  });
  const all = new Uint8Array(looks.length * LOOK_BYTES);
  looks.forEach((look, k) => all.set(look, k * LOOK_BYTES));
  return { rays: Float32Array.from(rays), colours: Float32Array.from(colours), looks: all };
}
