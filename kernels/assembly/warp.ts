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

// @ts-ignore: decorator
@inline
function covered(x: f64, y: f64, w: i32, h: i32): f32 {
  return x >= -0.5 && y >= -0.5 && x <= <f64>w - 0.5 && y <= <f64>h - 0.5 ? 1 : 0;
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

/**
 * One output row from an 8-bit RGB picture.
 * coords: f64 (x, y) source positions of every 16th output pixel, one more than there are segments.
 * phases: 128 x (4 x i16 vertical weights summing to 128, 4 x i16 horizontal weights summing to 16384).
 * out: three planes of u16 codes, `plane` bytes apart. cover: f32, 1 where the source has the pixel.
 */
export function warpRow8(src: usize, w: i32, h: i32, coords: usize, n: i32, phases: usize, out: usize, plane: usize, cover: usize): void {
  const sign = i8x16.splat(-128);
  const bias = i32x4.splat((128 << 21) + (1 << 16));
  const top = i32x4.splat(CODE_MAX);
  const zero = i32x4.splat(0);
  const stride = <usize>w * 3;
  for (let start: i32 = 0; start < n; start += SEGMENT) {
    const at = coords + (<usize>(start / SEGMENT) << 4);
    let x = load<f64>(at);
    let y = load<f64>(at, 8);
    const stepX = (load<f64>(at, 16) - x) / SEGMENT;
    const stepY = (load<f64>(at, 24) - y) / SEGMENT;
    const end = min(start + SEGMENT, n);
    for (let i = start; i < end; i++, x += stepX, y += stepY) {
      const inside = covered(x, y, w, h);
      store<f32>(cover + (<usize>i << 2), inside);
      const target = out + (<usize>i << 1);
      if (inside == 0) {
        store<u16>(target, 0);
        store<u16>(target + plane, 0);
        store<u16>(target + plane * 2, 0);
        continue;
      }
      const qx = <i32>Math.floor(x * 128 + 0.5);
      const qy = <i32>Math.floor(y * 128 + 0.5);
      const ix = qx >> 7;
      const iy = qy >> 7;
      const wy = phases + (<usize>(qy & 127) << 4);
      const wx = phases + (<usize>(qx & 127) << 4) + 8;
      if (ix < 1 || iy < 1 || ix + 2 >= w || iy + 2 >= h) {
        borderPixel8(src, w, h, ix, iy, wy, wx, target, plane);
        continue;
      }
      let p = src + <usize>(iy - 1) * stride + <usize>(ix - 1) * 3;
      let v = v128.xor(v128.load(p), sign);
      let k = v128.load16_splat(wy);
      let lo = i16x8.mul(i16x8.extend_low_i8x16_s(v), k);
      let hi = i16x8.mul(i16x8.extend_high_i8x16_s(v), k);
      p += stride;
      v = v128.xor(v128.load(p), sign);
      k = v128.load16_splat(wy, 2);
      lo = i16x8.add(lo, i16x8.mul(i16x8.extend_low_i8x16_s(v), k));
      hi = i16x8.add(hi, i16x8.mul(i16x8.extend_high_i8x16_s(v), k));
      p += stride;
      v = v128.xor(v128.load(p), sign);
      k = v128.load16_splat(wy, 4);
      lo = i16x8.add(lo, i16x8.mul(i16x8.extend_low_i8x16_s(v), k));
      hi = i16x8.add(hi, i16x8.mul(i16x8.extend_high_i8x16_s(v), k));
      p += stride;
      v = v128.xor(v128.load(p), sign);
      k = v128.load16_splat(wy, 6);
      lo = i16x8.add(lo, i16x8.mul(i16x8.extend_low_i8x16_s(v), k));
      hi = i16x8.add(hi, i16x8.mul(i16x8.extend_high_i8x16_s(v), k));
      // Interleaved RGBRGBRGBRGB to RRRRGGGG and BBBBBBBB, then one dot product a channel.
      const weights = v128.load64_splat(wx);
      const rg = i32x4.dot_i16x8_s(v128.shuffle<i16>(lo, hi, 0, 3, 6, 9, 1, 4, 7, 10), weights);
      const bb = i32x4.dot_i16x8_s(v128.shuffle<i16>(lo, hi, 2, 5, 8, 11, 2, 5, 8, 11), weights);
      let sum = i32x4.add(v128.shuffle<i32>(rg, bb, 0, 2, 4, 6), v128.shuffle<i32>(rg, bb, 1, 3, 5, 7));
      sum = i32x4.shr_s(i32x4.add(sum, bias), 17);
      sum = i32x4.min_s(i32x4.max_s(sum, zero), top);
      store<u16>(target, <u16>i32x4.extract_lane(sum, 0));
      store<u16>(target + plane, <u16>i32x4.extract_lane(sum, 1));
      store<u16>(target + plane * 2, <u16>i32x4.extract_lane(sum, 2));
    }
  }
}

/** As warpRow8 for a 16-bit RGB picture; floating point, since 16-bit frames are few. */
export function warpRow16(src: usize, w: i32, h: i32, coords: usize, n: i32, phases: usize, out: usize, plane: usize, cover: usize): void {
  for (let start: i32 = 0; start < n; start += SEGMENT) {
    const at = coords + (<usize>(start / SEGMENT) << 4);
    let x = load<f64>(at);
    let y = load<f64>(at, 8);
    const stepX = (load<f64>(at, 16) - x) / SEGMENT;
    const stepY = (load<f64>(at, 24) - y) / SEGMENT;
    const end = min(start + SEGMENT, n);
    for (let i = start; i < end; i++, x += stepX, y += stepY) {
      const inside = covered(x, y, w, h);
      store<f32>(cover + (<usize>i << 2), inside);
      const target = out + (<usize>i << 1);
      const qx = <i32>Math.floor(x * 128 + 0.5);
      const qy = <i32>Math.floor(y * 128 + 0.5);
      const ix = qx >> 7;
      const iy = qy >> 7;
      const wy = phases + (<usize>(qy & 127) << 4);
      const wx = phases + (<usize>(qx & 127) << 4) + 8;
      for (let c: usize = 0; c < 3; c++) {
        let sum: f32 = 0;
        if (inside != 0) {
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
