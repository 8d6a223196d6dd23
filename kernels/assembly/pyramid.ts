// Pyramids of planes by the binomial of five taps (Burt, Adelson 1983), and the parts of a local Laplacian filter.
import { exp2x4 } from "./tone";

// @ts-ignore: decorator
@inline
function at(row: usize, x: i32): f32 {
  return load<f32>(row + (<usize>x << 2));
}

/** Mirrored at the ends. */
// @ts-ignore: decorator
@inline
function mirrored(i: i32, n: i32): i32 {
  return i < 0 ? min(n - 1, -i) : i >= n ? max(0, 2 * n - 2 - i) : i;
}

// @ts-ignore: decorator
@inline
function binomial(a: f32, b: f32, c: f32, d: f32, e: f32): f32 {
  return (a + e + 4 * (b + d) + 6 * c) * 0.0625;
}

/** out <- half the size, rounded up. across: (w + 1) / 2 floats for each row. */
export function halveBinomial(src: usize, w: i32, h: i32, across: usize, out: usize): void {
  const hw = (w + 1) >> 1, hh = (h + 1) >> 1;
  const stride = <usize>hw << 2;
  const inner = max(1, min(hw, (w - 2) >> 1));
  for (let y: i32 = 0; y < h; y++) {
    const from = src + ((<usize>w * <usize>y) << 2), to = across + stride * <usize>y;
    for (let x: i32 = 0; x < hw; x++) {
      const c = 2 * x;
      const value = x > 0 && x < inner
        ? binomial(at(from, c - 2), at(from, c - 1), at(from, c), at(from, c + 1), at(from, c + 2))
        : binomial(at(from, mirrored(c - 2, w)), at(from, mirrored(c - 1, w)), at(from, c), at(from, mirrored(c + 1, w)), at(from, mirrored(c + 2, w)));
      store<f32>(to + (<usize>x << 2), value);
    }
  }
  const four = f32x4.splat(4), six = f32x4.splat(6), share = f32x4.splat(0.0625);
  for (let y: i32 = 0; y < hh; y++) {
    const a = across + stride * <usize>mirrored(2 * y - 2, h), b = across + stride * <usize>mirrored(2 * y - 1, h), c = across + stride * <usize>(2 * y);
    const d = across + stride * <usize>mirrored(2 * y + 1, h), e = across + stride * <usize>mirrored(2 * y + 2, h);
    const to = out + stride * <usize>y;
    // What is written behind a row's end the next row writes again.
    for (let x: i32 = 0; x < hw; x += 4) {
      const i = <usize>x << 2;
      const outer = f32x4.add(v128.load(a + i), v128.load(e + i)), near = f32x4.add(v128.load(b + i), v128.load(d + i));
      v128.store(to + i, f32x4.mul(share, f32x4.add(f32x4.add(outer, f32x4.mul(four, near)), f32x4.mul(six, v128.load(c + i)))));
    }
  }
}

/** out <- a plane of half the size, hw by hh, carried up to w by h. tall: hw floats for each row of out. */
export function doubleBinomial(src: usize, hw: i32, hh: i32, w: i32, h: i32, tall: usize, out: usize): void {
  const stride = <usize>hw << 2;
  const half = f32x4.splat(0.5), six = f32x4.splat(6), eighth = f32x4.splat(0.125);
  for (let y: i32 = 0; y < h; y++) {
    const k = y >> 1;
    const here = src + stride * <usize>k, next = src + stride * <usize>min(hh - 1, k + 1), last = src + stride * <usize>max(0, k - 1);
    const to = tall + stride * <usize>y;
    for (let x: i32 = 0; x < hw; x += 4) {
      const i = <usize>x << 2;
      const c = v128.load(here + i), n = v128.load(next + i);
      v128.store(to + i, y & 1 ? f32x4.mul(half, f32x4.add(c, n)) : f32x4.mul(eighth, f32x4.add(f32x4.add(v128.load(last + i), n), f32x4.mul(six, c))));
    }
  }
  for (let y: i32 = 0; y < h; y++) {
    const from = tall + stride * <usize>y, to = out + ((<usize>w * <usize>y) << 2);
    for (let x: i32 = 0; x < w; x++) {
      const k = x >> 1;
      const here = at(from, k), next = at(from, min(hw - 1, k + 1));
      store<f32>(to + (<usize>x << 2), x & 1 ? (here + next) * 0.5 : (at(from, max(0, k - 1)) + 6 * here + next) * 0.125);
    }
  }
}

/** out <- what of each value is detail of a tone: their difference, fading as a Gaussian of a width with it. */
export function detailOfTone(src: usize, n: i32, tone: f32, width: f32, out: usize): void {
  const middle = f32x4.splat(tone), fades = f32x4.splat(-0.7213475204 / (width * width));
  for (let i: i32 = 0; i < n; i += 4) {
    const p = <usize>i << 2;
    const d = f32x4.sub(v128.load(src + p), middle);
    v128.store(out + p, f32x4.mul(d, exp2x4(f32x4.mul(fades, f32x4.mul(d, d)))));
  }
}

/** sum <- sum + (fine - coarse), as much as what is there is nearer to a tone than a spacing. */
export function addNearTone(sum: usize, there: usize, fine: usize, coarse: usize, n: i32, tone: f32, spacing: f32): void {
  const middle = f32x4.splat(tone), per = f32x4.splat(1 / spacing), one = f32x4.splat(1), none = f32x4.splat(0);
  for (let i: i32 = 0; i < n; i += 4) {
    const p = <usize>i << 2;
    const share = f32x4.max(none, f32x4.sub(one, f32x4.mul(per, f32x4.abs(f32x4.sub(v128.load(there + p), middle)))));
    v128.store(sum + p, f32x4.add(v128.load(sum + p), f32x4.mul(share, f32x4.sub(v128.load(fine + p), v128.load(coarse + p)))));
  }
}
