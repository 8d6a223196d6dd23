// Area averaging of 8-bit RGB down to proxies.

/**
 * Adds one source row, weighted, to an accumulator row of f32 RGB: each output pixel takes the mean of
 * the source span [i * factor, (i + 1) * factor), fractional ends counted in part. factor >= 1.
 */
export function shrinkRow8(src: usize, srcWidth: i32, factor: f64, weight: f32, n: i32, acc: usize): void {
  const scale = weight / <f32>factor;
  for (let i: i32 = 0; i < n; i++) {
    const from = <f64>i * factor;
    const to = min(from + factor, <f64>srcWidth);
    let k = <i32>from;
    const last = min(<i32>to, srcWidth - 1);
    const head = <f32>(<f64>(k + 1) - from);
    let p = src + <usize>k * 3;
    let r = head * <f32>load<u8>(p), g = head * <f32>load<u8>(p, 1), b = head * <f32>load<u8>(p, 2);
    for (k++, p += 3; k < last; k++, p += 3) {
      r += <f32>load<u8>(p);
      g += <f32>load<u8>(p, 1);
      b += <f32>load<u8>(p, 2);
    }
    const tail = <f32>(to - <f64>last);
    if (last > <i32>from && tail > 0) {
      r += tail * <f32>load<u8>(p);
      g += tail * <f32>load<u8>(p, 1);
      b += tail * <f32>load<u8>(p, 2);
    }
    const q = acc + <usize>i * 12;
    store<f32>(q, load<f32>(q) + r * scale);
    store<f32>(q, load<f32>(q, 4) + g * scale, 4);
    store<f32>(q, load<f32>(q, 8) + b * scale, 8);
  }
}
