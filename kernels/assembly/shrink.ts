// Area averaging of 8-bit RGB down to proxies: rows are summed first, then their columns once for every output row.

/** acc (f32) += weight * row, for n bytes of a row. Works in whole vectors of 16: acc has room for them. */
export function addRow8(row: usize, n: i32, weight: f32, acc: usize): void {
  const w = f32x4.splat(weight);
  for (let i: i32 = 0; i < n; i += 16) {
    const v = v128.load(row + <usize>i);
    const low = i16x8.extend_low_i8x16_u(v), high = i16x8.extend_high_i8x16_u(v);
    const p = acc + (<usize>i << 2);
    v128.store(p, f32x4.add(v128.load(p), f32x4.mul(w, f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(low)))));
    v128.store(p, f32x4.add(v128.load(p, 16), f32x4.mul(w, f32x4.convert_i32x4_u(i32x4.extend_high_i16x8_u(low)))), 16);
    v128.store(p, f32x4.add(v128.load(p, 32), f32x4.mul(w, f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(high)))), 32);
    v128.store(p, f32x4.add(v128.load(p, 48), f32x4.mul(w, f32x4.convert_i32x4_u(i32x4.extend_high_i16x8_u(high)))), 48);
  }
}

/**
 * Means of the columns of a summed row: output pixel i (n of them, RGB bytes, rounded) takes the source span
 * [i * factor, (i + 1) * factor), fractional ends counted in part. factor >= 1; acc holds srcWidth RGB pixels of f32.
 */
export function shrinkSums(acc: usize, srcWidth: i32, factor: f64, n: i32, out: usize): void {
  const scale = f32x4.splat(<f32>(1.0 / factor));
  const half = f32x4.splat(0.5);
  for (let i: i32 = 0; i < n; i++) {
    const from = <f64>i * factor;
    const to = min(from + factor, <f64>srcWidth);
    let k = <i32>from;
    const last = min(<i32>to, srcWidth - 1);
    let p = acc + <usize>k * 12;
    let sum = f32x4.mul(f32x4.splat(<f32>(min(<f64>(k + 1), to) - from)), v128.load(p));
    for (k++, p += 12; k < last; k++, p += 12) sum = f32x4.add(sum, v128.load(p));
    const tail = <f32>(to - <f64>last);
    if (last > <i32>from && tail > 0) sum = f32x4.add(sum, f32x4.mul(f32x4.splat(tail), v128.load(p)));
    const bytes = i32x4.trunc_sat_f32x4_u(f32x4.add(f32x4.mul(sum, scale), half));
    const q = out + <usize>i * 3;
    store<u8>(q, i32x4.extract_lane(bytes, 0));
    store<u8>(q, i32x4.extract_lane(bytes, 1), 1);
    store<u8>(q, i32x4.extract_lane(bytes, 2), 2);
  }
}
