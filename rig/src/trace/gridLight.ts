import { likeness, PER_PIXEL } from './gridSurfaces';

/** Places on the grid that a sample takes its light from, at most. */
const MOST = 25;
/** Distance between planes, metres, within which grid pixels lie on the sample's surface. */
const PLANES = 0.012;
/** Pixels within which the nearest surface is looked for, one after the other. */
const REACHES = [4, 16, 48];
/** Cosine of the angle between surfaces from which on they are turned alike. */
const ALIKE = 0.7;
/** Sum of weights below which the four nearest grid pixels say nothing of the sample's surface. */
const ENOUGH = 0.02;

/** Where on the grid a sample's light is read: pixels and weights that sum to one. */
export class GridLight {
  readonly pixels = new Int32Array(MOST);
  readonly weights = new Float64Array(MOST);
  count = 0;
  private readonly own = new Float32Array(PER_PIXEL);

  /**
   * @param alikeFirst where nothing of a sample's own surface is near, one that is turned alike is taken, however far: the side
   * of a bar is near its front, and lit otherwise. Else whatever lies nearest, so that small things look like what they lie on.
   */
  constructor(private readonly width: number, private readonly height: number, private readonly surfaces: Float32Array, private readonly alikeFirst = false) {}

  private offer(x: number, y: number, share: number): number {
    if (x < 0 || y < 0 || x >= this.width || y >= this.height || share <= 0) return 0;
    const pixel = y * this.width + x;
    const w = share * likeness(this.own, 0, this.surfaces, pixel * PER_PIXEL, PLANES);
    if (w <= 1e-9) return 0;
    this.pixels[this.count] = pixel;
    this.weights[this.count++] = w;
    return w;
  }

  /**
   * Joint bilateral upsampling (Kopf et al. 2007): the nearest grid pixels on the same surface, weighed by distance; farther
   * ones where edges leave none.
   * @param u, v position on the grid; @param place normal and place, as in `GridSurfaces`.
   */
  locate(u: number, v: number, place: Float64Array): void {
    this.own.set(place);
    this.count = 0;
    const [iu, iv] = [Math.floor(u), Math.floor(v)];
    const [fu, fv] = [u - iu, v - iv];
    let sum = this.offer(iu, iv, (1 - fu) * (1 - fv)) + this.offer(iu + 1, iv, fu * (1 - fv)) + this.offer(iu, iv + 1, (1 - fu) * fv) + this.offer(iu + 1, iv + 1, fu * fv);
    if (sum < ENOUGH) sum = this.search(iu, iv, u, v);
    for (let k = 0; k < this.count; k++) this.weights[k] /= sum;
  }

  /** All within two, then the nearest in space of those about: a thin bar before glass may have nothing of its kind for many pixels. */
  private search(iu: number, iv: number, u: number, v: number): number {
    this.count = 0;
    let sum = 0;
    for (let j = -2; j <= 2; j++) for (let i = -2; i <= 2; i++) sum += this.offer(iu + i, iv + j, 1 / (0.5 + (iu + i - u) ** 2 + (iv + j - v) ** 2));
    if (sum > 1e-4) return sum;
    this.count = 1;
    this.weights[0] = 1;
    this.pixels[0] = Math.min(this.height - 1, Math.max(0, Math.round(v))) * this.width + Math.min(this.width - 1, Math.max(0, Math.round(u)));
    const [near] = REACHES;
    const alike = (): boolean => REACHES.some((reach) => this.nearest(iu, iv, reach, ALIKE));
    const any = (): boolean => this.nearest(iu, iv, near, -1);
    const [first, second] = this.alikeFirst ? [alike, any] : [any, alike];
    if (!first()) second();
    return 1;
  }

  /** Takes the pixel within reach whose surface lies nearest in space; false where there is none that is turned alike. @param least cosine of the angle between the two */
  private nearest(iu: number, iv: number, reach: number, least: number): boolean {
    const { surfaces: s, own } = this;
    let best = Infinity;
    for (let y = Math.max(0, iv - reach); y <= Math.min(this.height - 1, iv + 1 + reach); y++) {
      for (let x = Math.max(0, iu - reach); x <= Math.min(this.width - 1, iu + 1 + reach); x++) {
        const q = (y * this.width + x) * PER_PIXEL;
        if (s[q] === 0 && s[q + 1] === 0 && s[q + 2] === 0) continue;
        const turned = s[q] * own[0] + s[q + 1] * own[1] + s[q + 2] * own[2];
        if (turned < least) continue;
        const far = (s[q + 3] - own[3]) ** 2 + (s[q + 4] - own[4]) ** 2 + (s[q + 5] - own[5]) ** 2 + 0.02 * (1 - turned);
        if (far >= best) continue;
        best = far;
        this.pixels[0] = y * this.width + x;
      }
    }
    return best < Infinity;
  }

  /** The lights' values there, RGB, one after the other. */
  read(lights: readonly Float32Array[], out: Float32Array): void {
    for (let l = 0; l < lights.length; l++) {
      const light = lights[l];
      let r = 0;
      let g = 0;
      let b = 0;
      for (let k = 0; k < this.count; k++) {
        const p = this.pixels[k] * 3;
        const w = this.weights[k];
        r += w * light[p];
        g += w * light[p + 1];
        b += w * light[p + 2];
      }
      out[l * 3] = r;
      out[l * 3 + 1] = g;
      out[l * 3 + 2] = b;
    }
  }
}
