import { createPlane, type Plane } from '../image/plane';

/** Stops from a tone up to which differences count as detail of it; farther off they are edges, and stay as they are. */
const DETAIL = 0.7;
/** Tones that are looked at from, stops apart. */
const SPACING = 0.6;
/** Levels of the pyramid: what is broader than about 2^LEVELS pixels of half the guide is light, not contrast. */
const LEVELS = 5;
/** Stops about middle grey between which contrast changes whole, and over which that ends: neither blacks nor whites are meant. */
const FROM = -5;
const TO = 1.4;
const ENDS = 1.2;

/** log2 of middle grey. */
const MIDDLE = Math.log2(0.18);

const mirrored = (i: number, n: number): number => (i < 0 ? Math.min(n - 1, -i) : i >= n ? Math.max(0, 2 * n - 2 - i) : i);

/** The binomial of five taps along a row, at every other place. */
function halveRow(data: Float32Array, row: number, w: number, out: Float32Array, at: number, hw: number): void {
  const sides = (c: number): number => (data[row + mirrored(c - 2, w)] + data[row + mirrored(c + 2, w)] + 4 * (data[row + mirrored(c - 1, w)] + data[row + mirrored(c + 1, w)]) + 6 * data[row + c]) / 16;
  const inner = Math.max(1, Math.min(hw, (w - 2) >> 1));
  out[at] = sides(0);
  for (let x = 1, c = row + 2; x < inner; x++, c += 2) out[at + x] = (data[c - 2] + data[c + 2] + 4 * (data[c - 1] + data[c + 1]) + 6 * data[c]) / 16;
  for (let x = inner; x < hw; x++) out[at + x] = sides(2 * x);
}

/** Half the size, by the binomial of five taps (Burt, Adelson 1983). */
function halved({ width: w, height: h, data }: Plane): Plane {
  const [hw, hh] = [(w + 1) >> 1, (h + 1) >> 1];
  const across = new Float32Array(hw * h);
  for (let y = 0; y < h; y++) halveRow(data, y * w, w, across, y * hw, hw);
  const out = createPlane(hw, hh);
  for (let y = 0; y < hh; y++) {
    const [a, b, c, d, e] = [-2, -1, 0, 1, 2].map((k) => mirrored(2 * y + k, h) * hw);
    for (let x = 0; x < hw; x++) out.data[y * hw + x] = (across[a + x] + across[e + x] + 4 * (across[b + x] + across[d + x]) + 6 * across[c + x]) / 16;
  }
  return out;
}

/** A plane of half the size carried up again, by the same binomial. */
function doubled({ width: hw, height: hh, data }: Plane, width: number, height: number): Plane {
  const tall = new Float32Array(hw * height);
  for (let y = 0; y < height; y++) {
    const k = y >> 1;
    const at = k * hw;
    const next = Math.min(hh - 1, k + 1) * hw;
    const last = Math.max(0, k - 1) * hw;
    for (let x = 0; x < hw; x++) tall[y * hw + x] = y & 1 ? (data[at + x] + data[next + x]) / 2 : (data[last + x] + 6 * data[at + x] + data[next + x]) / 8;
  }
  const out = createPlane(width, height);
  for (let y = 0; y < height; y++) {
    const row = y * hw;
    for (let x = 0; x < width; x++) {
      const k = x >> 1;
      const next = tall[row + Math.min(hw - 1, k + 1)];
      out.data[y * width + x] = x & 1 ? (tall[row + k] + next) / 2 : (tall[row + Math.max(0, k - 1)] + 6 * tall[row + k] + next) / 8;
    }
  }
  return out;
}

function pyramidOf(plane: Plane, levels: number): Plane[] {
  const pyramid = [plane];
  while (pyramid.length < levels && Math.min(pyramid[pyramid.length - 1].width, pyramid[pyramid.length - 1].height) > 4) pyramid.push(halved(pyramid[pyramid.length - 1]));
  return pyramid;
}

/** Adds one tone's part to the Laplacian pyramid: at each place as much as the picture there is near to that tone. */
function addTone(sums: readonly Plane[], picture: readonly Plane[], detail: readonly Plane[], tone: number): void {
  for (let level = 0; level + 1 < sums.length; level++) {
    const [{ data: sum, width, height }, { data: there }, { data: fine }] = [sums[level], picture[level], detail[level]];
    const coarse = doubled(detail[level + 1], width, height).data;
    for (let i = 0; i < sum.length; i++) {
      const share = 1 - Math.abs(there[i] - tone) / SPACING;
      if (share > 0) sum[i] += share * (fine[i] - coarse[i]);
    }
  }
}

/** How much of the change a tone takes, 0..1. @param tone stops about middle grey */
function ofMiddle(tone: number): number {
  const t = Math.min(1, Math.max(0, Math.min(tone - FROM, TO - tone) / ENDS + 1));
  return t * t * (3 - 2 * t);
}

/**
 * What local contrast adds to a picture by its full strength, stops: a local Laplacian filter, by which edges keep their height and neither
 * halos nor reversals of gradients come up (Paris, Hasinoff, Kautz, "Local Laplacian Filters", 2011; fast, with differences that fade
 * as a Gaussian: Aubry and others, 2014). It is linear in its strength, so that any is a multiple of this one.
 * @param logY log2 luminance on the guide, middle grey at log2 .18 @returns of the same size
 */
export function localContrast(logY: Plane): Plane {
  const half = halved(logY);
  const picture = pyramidOf(half, LEVELS);
  const sums = picture.map(({ width, height }) => createPlane(width, height));
  let [least, most] = [Infinity, -Infinity];
  for (const v of half.data) {
    if (v < least) least = v;
    if (v > most) most = v;
  }
  const detail = createPlane(half.width, half.height);
  // A ladder that does not depend on the picture; what lies beyond it is not changed.
  for (let tone = MIDDLE + FROM - ENDS - SPACING; tone < MIDDLE + TO + ENDS + SPACING; tone += SPACING) {
    if (tone < least - SPACING || tone > most + SPACING) continue;
    for (let i = 0; i < half.data.length; i++) {
      const d = (half.data[i] - tone) / DETAIL;
      detail.data[i] = d * d > 30 ? 0 : DETAIL * d * Math.exp(-0.5 * d * d);
    }
    addTone(sums, picture, pyramidOf(detail, LEVELS), tone);
  }
  let made = sums[sums.length - 1];
  for (let level = sums.length - 2; level >= 0; level--) {
    const { width, height, data } = sums[level];
    const up = doubled(made, width, height);
    for (let i = 0; i < data.length; i++) up.data[i] += data[i];
    made = up;
  }
  const whole = doubled(made, logY.width, logY.height);
  for (let i = 0; i < whole.data.length; i++) whole.data[i] *= ofMiddle(logY.data[i] - MIDDLE);
  return whole;
}
