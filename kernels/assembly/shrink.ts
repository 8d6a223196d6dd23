// Area averaging of 8-bit RGB down to proxies: rows are summed first, then their columns once for every output row.

/** acc (u16) += weight * row, for n bytes of a row, weight a whole number. Works in vectors of 16: acc has room for them. */
export function addRow8(row: usize, n: i32, weight: i32, acc: usize): void {
  const w = i16x8.splat(<i16>weight);
  for (let i: i32 = 0; i < n; i += 16) {
    const v = v128.load(row + <usize>i);
    const p = acc + (<usize>i << 1);
    v128.store(p, i16x8.add(v128.load(p), i16x8.mul(w, i16x8.extend_low_i8x16_u(v))));
    v128.store(p, i16x8.add(v128.load(p, 16), i16x8.mul(w, i16x8.extend_high_i8x16_u(v))), 16);
  }
}

/** acc (u16) <- sum of `count` rows, at most 257 of them, `stride` bytes apart, n bytes each. Works in vectors of 16: acc has room for them. */
export function sumRows8(rows: usize, stride: usize, count: i32, n: i32, acc: usize): void {
  for (let i: i32 = 0; i < n; i += 16) {
    let p = rows + <usize>i;
    let v = v128.load(p);
    let low = i16x8.extend_low_i8x16_u(v), high = i16x8.extend_high_i8x16_u(v);
    for (let k: i32 = 1; k < count; k++) {
      p += stride;
      v = v128.load(p);
      low = i16x8.add(low, i16x8.extend_low_i8x16_u(v));
      high = i16x8.add(high, i16x8.extend_high_i8x16_u(v));
    }
    const q = acc + (<usize>i << 1);
    v128.store(q, low);
    v128.store(q, high, 16);
  }
}

// @ts-ignore: decorator
@inline
function pixel(at: usize): v128 {
  return i32x4.extend_low_i16x8_u(v128.load64_zero(at));
}

/** Rounds and stores RGB; the byte behind it is overwritten, and is the next pixel's or padding. */
// @ts-ignore: decorator
@inline
function storeRgb(at: usize, mean: v128): void {
  const words = i32x4.trunc_sat_f32x4_u(f32x4.add(mean, f32x4.splat(0.5)));
  const bytes = i8x16.narrow_i16x8_u(i16x8.narrow_i32x4_u(words, words), i16x8.narrow_i32x4_u(words, words));
  store<u32>(at, <u32>i32x4.extract_lane(bytes, 0));
}

/** Whole factors whose sums stay within 16 bits. */
function shrinkNarrow(acc: usize, factor: i32, scale: v128, n: i32, out: usize): void {
  const step = <usize>factor * 6;
  for (let i: i32 = 0; i < n; i++, acc += step, out += 3) {
    let sum = v128.load64_zero(acc);
    for (let k: usize = 6; k < step; k += 6) sum = i16x8.add(sum, v128.load64_zero(acc + k));
    storeRgb(out, f32x4.mul(f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(sum)), scale));
  }
}

/** Whole factors: no column is shared by two output pixels. */
function shrinkWhole(acc: usize, factor: i32, scale: v128, n: i32, out: usize): void {
  const step = <usize>factor * 6;
  for (let i: i32 = 0; i < n; i++, acc += step, out += 3) {
    let sum = pixel(acc);
    for (let k: usize = 6; k < step; k += 6) sum = i32x4.add(sum, pixel(acc + k));
    storeRgb(out, f32x4.mul(f32x4.convert_i32x4_u(sum), scale));
  }
}

/**
 * Means of the columns of a summed row: output pixel i (n of them, RGB bytes, rounded) takes the source span
 * [i * factor, (i + 1) * factor), fractional ends counted in part. factor >= 1; acc holds srcWidth RGB pixels of u16, whose rows weigh `weight` together.
 */
export function shrinkSums(acc: usize, srcWidth: i32, factor: f64, weight: f64, n: i32, out: usize): void {
  const scale = f32x4.splat(<f32>(1.0 / (factor * weight)));
  const whole = <i32>factor;
  if (<f64>whole == factor && factor * weight <= 257) return shrinkNarrow(acc, whole, scale, n, out);
  if (<f64>whole == factor) return shrinkWhole(acc, whole, scale, n, out);
  for (let i: i32 = 0; i < n; i++) {
    const from = <f64>i * factor;
    const to = min(from + factor, <f64>srcWidth);
    const first = <i32>from;
    const last = min(<i32>to, srcWidth - 1);
    const p = acc + <usize>first * 6;
    const end = acc + <usize>last * 6;
    let ends = f32x4.mul(f32x4.splat(<f32>(min(<f64>(first + 1), to) - from)), f32x4.convert_i32x4_u(pixel(p)));
    const tail = <f32>(to - <f64>last);
    if (last > first && tail > 0) ends = f32x4.add(ends, f32x4.mul(f32x4.splat(tail), f32x4.convert_i32x4_u(pixel(end))));
    let sum = i32x4.splat(0);
    for (let q = p + 6; q < end; q += 6) sum = i32x4.add(sum, pixel(q));
    storeRgb(out + <usize>i * 3, f32x4.mul(f32x4.add(ends, f32x4.convert_i32x4_u(sum)), scale));
  }
}

/** Weighted sum of the channels, f32, of n RGB pixels of 8 bit: a rough luma, or one channel. */
export function greyRow8(rgb: usize, n: i32, red: f32, green: f32, blue: f32, out: usize): void {
  const r = f32x4.splat(red), g = f32x4.splat(green), b = f32x4.splat(blue);
  const zero = i8x16.splat(0);
  for (let i: i32 = 0; i < n; i += 4) {
    const v = v128.load(rgb + <usize>i * 3);
    // Four pixels, each byte widened to a lane of its own.
    const x = f32x4.convert_i32x4_u(i8x16.shuffle(v, zero, 0, 16, 16, 16, 3, 16, 16, 16, 6, 16, 16, 16, 9, 16, 16, 16));
    const y = f32x4.convert_i32x4_u(i8x16.shuffle(v, zero, 1, 16, 16, 16, 4, 16, 16, 16, 7, 16, 16, 16, 10, 16, 16, 16));
    const z = f32x4.convert_i32x4_u(i8x16.shuffle(v, zero, 2, 16, 16, 16, 5, 16, 16, 16, 8, 16, 16, 16, 11, 16, 16, 16));
    v128.store(out + (<usize>i << 2), f32x4.add(f32x4.add(f32x4.mul(x, r), f32x4.mul(y, g)), f32x4.mul(z, b)));
  }
}

/** Means of 2 x 2 of two rows of f32, n of them. */
export function halveRow(upper: usize, lower: usize, n: i32, out: usize): void {
  const quarter = f32x4.splat(0.25);
  for (let i: i32 = 0; i < n; i += 4) {
    const at = <usize>i << 3;
    const first = f32x4.add(v128.load(upper + at), v128.load(lower + at));
    const second = f32x4.add(v128.load(upper + at, 16), v128.load(lower + at, 16));
    const even = v128.shuffle<f32>(first, second, 0, 2, 4, 6);
    const odd = v128.shuffle<f32>(first, second, 1, 3, 5, 7);
    v128.store(out + (<usize>i << 2), f32x4.mul(quarter, f32x4.add(even, odd)));
  }
}
