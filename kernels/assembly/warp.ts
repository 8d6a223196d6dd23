// Bicubic resampling of encoded pixels. Fixed point is right here and only here: 8-bit samples,
// 7-bit vertical and 14-bit horizontal weights, 12-bit codes out (sample value x 16).

const CODE_MAX: i32 = 4080;
/** Output pixels between two exactly mapped positions; the map is linear in between. */
const SEGMENT: i32 = 16;

// @ts-ignore: decorator
@inline
function clampIndex(i: i32, size: i32): i32 {
  return i < 0 ? 0 : i >= size ? size - 1 : i;
}

/** Border pixels: the same sum as the vector path, one sample at a time, edge samples repeated. */
function borderPixel8(src: usize, w: i32, h: i32, ix: i32, iy: i32, wy: usize, wx: usize, out: usize, plane: usize): void {
  for (let c: i32 = 0; c < 3; c++) {
    let sum: i32 = 0;
    for (let i: i32 = 0; i < 4; i++) {
      const column = clampIndex(ix - 1 + i, w);
      let vertical: i32 = 0;
      for (let j: i32 = 0; j < 4; j++) {
        const row = clampIndex(iy - 1 + j, h);
        const value = <i32>load<u8>(src + (<usize>row * <usize>w + <usize>column) * 3 + c) - 128;
        vertical += value * <i32>load<i16>(wy + (j << 1));
      }
      sum += vertical * <i32>load<i16>(wx + (i << 1));
    }
    const code = (sum + (128 << 21) + (1 << 16)) >> 17;
    store<u16>(out + plane * <usize>c, <u16>min(max(code, 0), CODE_MAX));
  }
}

// Positions step in whole numbers of 2^-32 pixel, so that every path below finds the same phase.
const HALF: i64 = 0x80000000;
/** Positions further away, and what is no number, count as lying here. */
const FAR: f64 = 536870912.0;
/** To phases of 1/128 pixel, rounded. */
const PHASE_ROUND: i64 = 0x1000000;
const PHASE_SHIFT: i64 = 25;

// @ts-ignore: decorator
@inline
function phaseOf(position: i64): i32 {
  return <i32>((position + PHASE_ROUND) >> PHASE_SHIFT);
}

// @ts-ignore: decorator
@inline
function fixed(position: f64): i64 {
  return <i64>Math.floor((position > -FAR ? (position < FAR ? position : FAR) : -FAR) * 4294967296.0);
}

// @ts-ignore: decorator
@inline
function covered(x: i64, y: i64, w: i32, h: i32): bool {
  return x >= -HALF && y >= -HALF && x <= (<i64>w << 32) - HALF && y <= (<i64>h << 32) - HALF;
}

/** Weighted sums of four rows, eight samples of them, as signed 16 bit. */
// @ts-ignore: decorator
@inline
function verticalSums(p: usize, stride: usize, k0: v128, k1: v128, k2: v128, k3: v128): v128 {
  const sign = i8x16.splat(-128);
  const first = i16x8.add(i16x8.mul(i16x8.extend_low_i8x16_s(v128.xor(v128.load64_zero(p), sign)), k0), i16x8.mul(i16x8.extend_low_i8x16_s(v128.xor(v128.load64_zero(p + stride), sign)), k1));
  const second = i16x8.add(i16x8.mul(i16x8.extend_low_i8x16_s(v128.xor(v128.load64_zero(p + stride * 2), sign)), k2), i16x8.mul(i16x8.extend_low_i8x16_s(v128.xor(v128.load64_zero(p + stride * 3), sign)), k3));
  return i16x8.add(first, second);
}

/** Eight codes from 18 vertical sums of interleaved RGB that begin with those of `a`; weights in pairs. */
// @ts-ignore: decorator
@inline
function horizontal(a: v128, b: v128, c: v128, w01: v128, w23: v128): v128 {
  const bias = i32x4.splat((128 << 21) + (1 << 16));
  const second = v128.shuffle<i16>(a, b, 3, 4, 5, 6, 7, 8, 9, 10);
  const third = v128.shuffle<i16>(a, b, 6, 7, 8, 9, 10, 11, 12, 13);
  const fourth = v128.shuffle<i16>(b, c, 1, 2, 3, 4, 5, 6, 7, 8);
  const low = i32x4.add(i32x4.dot_i16x8_s(v128.shuffle<i16>(a, second, 0, 8, 1, 9, 2, 10, 3, 11), w01), i32x4.dot_i16x8_s(v128.shuffle<i16>(third, fourth, 0, 8, 1, 9, 2, 10, 3, 11), w23));
  const high = i32x4.add(i32x4.dot_i16x8_s(v128.shuffle<i16>(a, second, 4, 12, 5, 13, 6, 14, 7, 15), w01), i32x4.dot_i16x8_s(v128.shuffle<i16>(third, fourth, 4, 12, 5, 13, 6, 14, 7, 15), w23));
  const codes = i16x8.narrow_i32x4_s(i32x4.shr_s(i32x4.add(low, bias), 17), i32x4.shr_s(i32x4.add(high, bias), 17));
  return i16x8.min_s(i16x8.max_s(codes, i16x8.splat(0)), i16x8.splat(<i16>CODE_MAX));
}

/** Eight pixels of interleaved RGB to three planes. */
// @ts-ignore: decorator
@inline
function storePlanes(a: v128, b: v128, c: v128, target: usize, plane: usize): void {
  v128.store(target, v128.shuffle<i16>(v128.shuffle<i16>(a, b, 0, 3, 6, 9, 12, 15, 0, 0), c, 0, 1, 2, 3, 4, 5, 10, 13));
  v128.store(target + plane, v128.shuffle<i16>(v128.shuffle<i16>(a, b, 1, 4, 7, 10, 13, 0, 0, 0), c, 0, 1, 2, 3, 4, 8, 11, 14));
  v128.store(target + plane * 2, v128.shuffle<i16>(v128.shuffle<i16>(a, b, 2, 5, 8, 11, 14, 0, 0, 0), c, 0, 1, 2, 3, 4, 9, 12, 15));
}

/** A segment whose pixels all lie at one phase, one source pixel apart: filtered down its columns once, then along. p: its first sample. */
function warpEven(p: usize, stride: usize, wy: usize, wx: usize, target: usize, plane: usize): void {
  const k0 = v128.load16_splat(wy), k1 = v128.load16_splat(wy, 2), k2 = v128.load16_splat(wy, 4), k3 = v128.load16_splat(wy, 6);
  const w01 = v128.load32_splat(wx), w23 = v128.load32_splat(wx, 4);
  const v0 = verticalSums(p, stride, k0, k1, k2, k3), v1 = verticalSums(p + 8, stride, k0, k1, k2, k3), v2 = verticalSums(p + 16, stride, k0, k1, k2, k3);
  const v3 = verticalSums(p + 24, stride, k0, k1, k2, k3), v4 = verticalSums(p + 32, stride, k0, k1, k2, k3);
  storePlanes(horizontal(v0, v1, v2, w01, w23), horizontal(v1, v2, v3, w01, w23), horizontal(v2, v3, v4, w01, w23), target, plane);
  const v5 = verticalSums(p + 40, stride, k0, k1, k2, k3), v6 = verticalSums(p + 48, stride, k0, k1, k2, k3), v7 = verticalSums(p + 56, stride, k0, k1, k2, k3);
  storePlanes(horizontal(v3, v4, v5, w01, w23), horizontal(v4, v5, v6, w01, w23), horizontal(v5, v6, v7, w01, w23), target + 16, plane);
}

/** Red, green and blue (twice) sums of one pixel away from the border, before rounding. */
// @ts-ignore: decorator
@inline
function pixelSums(p: usize, stride: usize, wy: usize, wx: usize): v128 {
  const sign = i8x16.splat(-128);
  let v = v128.xor(v128.load(p), sign);
  let k = v128.load16_splat(wy);
  let lo = i16x8.mul(i16x8.extend_low_i8x16_s(v), k);
  let hi = i16x8.mul(i16x8.extend_high_i8x16_s(v), k);
  v = v128.xor(v128.load(p + stride), sign);
  k = v128.load16_splat(wy, 2);
  lo = i16x8.add(lo, i16x8.mul(i16x8.extend_low_i8x16_s(v), k));
  hi = i16x8.add(hi, i16x8.mul(i16x8.extend_high_i8x16_s(v), k));
  v = v128.xor(v128.load(p + stride * 2), sign);
  k = v128.load16_splat(wy, 4);
  lo = i16x8.add(lo, i16x8.mul(i16x8.extend_low_i8x16_s(v), k));
  hi = i16x8.add(hi, i16x8.mul(i16x8.extend_high_i8x16_s(v), k));
  v = v128.xor(v128.load(p + stride * 3), sign);
  k = v128.load16_splat(wy, 6);
  lo = i16x8.add(lo, i16x8.mul(i16x8.extend_low_i8x16_s(v), k));
  hi = i16x8.add(hi, i16x8.mul(i16x8.extend_high_i8x16_s(v), k));
  // Interleaved RGBRGBRGBRGB to RRRRGGGG and BBBBBBBB, then one dot product a channel.
  const weights = v128.load64_splat(wx);
  const rg = i32x4.dot_i16x8_s(v128.shuffle<i16>(lo, hi, 0, 3, 6, 9, 1, 4, 7, 10), weights);
  const bb = i32x4.dot_i16x8_s(v128.shuffle<i16>(lo, hi, 2, 5, 8, 11, 2, 5, 8, 11), weights);
  return i32x4.add(v128.shuffle<i32>(rg, bb, 0, 2, 4, 6), v128.shuffle<i32>(rg, bb, 1, 3, 5, 7));
}

/** The sums of a pixel at (x, y), in 2^-32 pixel. */
// @ts-ignore: decorator
@inline
function sumsAt(src: usize, stride: usize, x: i64, y: i64, phases: usize): v128 {
  const qx = phaseOf(x), qy = phaseOf(y);
  return pixelSums(src + <usize>((qy >> 7) - 1) * stride + <usize>((qx >> 7) - 1) * 3, stride, phases + (<usize>(qy & 127) << 4), phases + (<usize>(qx & 127) << 4) + 8);
}

/** Sums to codes. */
// @ts-ignore: decorator
@inline
function codesOf(sums: v128): v128 {
  const codes = i32x4.shr_s(i32x4.add(sums, i32x4.splat((128 << 21) + (1 << 16))), 17);
  return i32x4.min_s(i32x4.max_s(codes, i32x4.splat(0)), i32x4.splat(CODE_MAX));
}

/** A whole segment away from the border, four pixels at a time. */
function warpInner(src: usize, stride: usize, x: i64, y: i64, stepX: i64, stepY: i64, phases: usize, target: usize, plane: usize): void {
  for (let i: i32 = 0; i < SEGMENT; i += 4, target += 8) {
    const a = codesOf(sumsAt(src, stride, x, y, phases)), b = codesOf(sumsAt(src, stride, x + stepX, y + stepY, phases));
    const c = codesOf(sumsAt(src, stride, x + stepX * 2, y + stepY * 2, phases)), d = codesOf(sumsAt(src, stride, x + stepX * 3, y + stepY * 3, phases));
    // R R G G B B of two pixels each, as 16 bit, then four of a colour together.
    const ab = i16x8.narrow_i32x4_u(a, b), cd = i16x8.narrow_i32x4_u(c, d);
    const rg = v128.shuffle<i16>(ab, cd, 0, 4, 8, 12, 1, 5, 9, 13);
    v128.store64_lane(target, rg, 0);
    v128.store64_lane(target + plane, rg, 1);
    v128.store64_lane(target + plane * 2, v128.shuffle<i16>(ab, cd, 2, 6, 10, 14, 2, 6, 10, 14), 0);
    x += stepX * 4;
    y += stepY * 4;
  }
}

/** Pixels at the border or beyond it, one at a time; nothing is sampled there that is not needed. */
function warpOuter(src: usize, w: i32, h: i32, x: i64, y: i64, stepX: i64, stepY: i64, n: i32, phases: usize, target: usize, plane: usize, cover: usize): void {
  for (let i: i32 = 0; i < n; i++, x += stepX, y += stepY, target += 2, cover += 4) {
    const inside = covered(x, y, w, h);
    store<f32>(cover, inside ? 1 : 0);
    if (!inside) {
      store<u16>(target, 0);
      store<u16>(target + plane, 0);
      store<u16>(target + plane * 2, 0);
      continue;
    }
    const qx = phaseOf(x), qy = phaseOf(y);
    borderPixel8(src, w, h, qx >> 7, qy >> 7, phases + (<usize>(qy & 127) << 4), phases + (<usize>(qx & 127) << 4) + 8, target, plane);
  }
}

/** Whether all four rows and columns about a position, in phases, are there. */
// @ts-ignore: decorator
@inline
function within(q: i32, size: i32): bool {
  return q >= 128 && (q >> 7) + 2 < size;
}

/**
 * One output row from an 8-bit RGB picture.
 * coords: f64 (x, y) source positions of every 16th output pixel, one more than there are segments.
 * phases: 128 x (4 x i16 vertical weights summing to 128, 4 x i16 horizontal weights summing to 16384).
 * out: three planes of u16 codes, `plane` bytes apart. cover: f32, 1 where the source has the pixel.
 */
export function warpRow8(src: usize, w: i32, h: i32, coords: usize, n: i32, phases: usize, out: usize, plane: usize, cover: usize): void {
  const stride = <usize>w * 3;
  const ones = f32x4.splat(1);
  for (let start: i32 = 0; start < n; start += SEGMENT) {
    const at = coords + (<usize>(start / SEGMENT) << 4);
    const x = fixed(load<f64>(at)), y = fixed(load<f64>(at, 8));
    const stepX = (fixed(load<f64>(at, 16)) - x) >> 4, stepY = (fixed(load<f64>(at, 24)) - y) >> 4;
    const target = out + (<usize>start << 1);
    const shown = cover + (<usize>start << 2);
    const qx = phaseOf(x), qy = phaseOf(y), lastX = phaseOf(x + stepX * (SEGMENT - 1)), lastY = phaseOf(y + stepY * (SEGMENT - 1));
    if (start + SEGMENT > n || !within(qx, w) || !within(qy, h) || !within(lastX, w) || !within(lastY, h)) {
      warpOuter(src, w, h, x, y, stepX, stepY, min(SEGMENT, n - start), phases, target, plane, shown);
      continue;
    }
    v128.store(shown, ones);
    v128.store(shown, ones, 16);
    v128.store(shown, ones, 32);
    v128.store(shown, ones, 48);
    if (qy == lastY && lastX - qx == (SEGMENT - 1) << 7) {
      warpEven(src + <usize>((qy >> 7) - 1) * stride + <usize>((qx >> 7) - 1) * 3, stride, phases + (<usize>(qy & 127) << 4), phases + (<usize>(qx & 127) << 4) + 8, target, plane);
    } else warpInner(src, stride, x, y, stepX, stepY, phases, target, plane);
  }
}

/** As warpRow8 for a 16-bit RGB picture; floating point, since 16-bit frames are few. */
export function warpRow16(src: usize, w: i32, h: i32, coords: usize, n: i32, phases: usize, out: usize, plane: usize, cover: usize): void {
  for (let start: i32 = 0; start < n; start += SEGMENT) {
    const at = coords + (<usize>(start / SEGMENT) << 4);
    let x = fixed(load<f64>(at)), y = fixed(load<f64>(at, 8));
    const stepX = (fixed(load<f64>(at, 16)) - x) >> 4, stepY = (fixed(load<f64>(at, 24)) - y) >> 4;
    const end = min(start + SEGMENT, n);
    for (let i = start; i < end; i++, x += stepX, y += stepY) {
      const inside = covered(x, y, w, h);
      store<f32>(cover + (<usize>i << 2), inside ? 1 : 0);
      const target = out + (<usize>i << 1);
      const qx = phaseOf(x), qy = phaseOf(y);
      const ix = qx >> 7;
      const iy = qy >> 7;
      const wy = phases + (<usize>(qy & 127) << 4);
      const wx = phases + (<usize>(qx & 127) << 4) + 8;
      for (let c: usize = 0; c < 3; c++) {
        let sum: f32 = 0;
        if (inside) {
          for (let j: i32 = 0; j < 4; j++) {
            const row = <usize>clampIndex(iy - 1 + j, h) * <usize>w;
            let horizontal: f32 = 0;
            for (let k: i32 = 0; k < 4; k++) {
              const column = <usize>clampIndex(ix - 1 + k, w);
              horizontal += <f32>load<u16>(src + ((row + column) * 3 + c) * 2) * <f32>load<i16>(wx + (k << 1));
            }
            sum += horizontal * <f32>load<i16>(wy + (j << 1));
          }
          // 65535 is code 4080.
          sum = sum * <f32>(4080.0 / 65535.0 / 128.0 / 16384.0) + 0.5;
        }
        store<u16>(target + plane * c, <u16>min(max(<i32>sum, 0), CODE_MAX));
      }
    }
  }
}
