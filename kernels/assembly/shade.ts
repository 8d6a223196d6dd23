// The fall-off of light in a lens.

/** Gains of pixels i to i + 3 from those (f32) at every 16th pixel, linear in between. i: a multiple of 4. */
// @ts-ignore: decorator
@inline
export function gain4(gains: usize, i: i32): v128 {
  const at = gains + (<usize>(i >> 4) << 2);
  const from = load<f32>(at);
  const t = f32x4.add(v128.mul<f32>(f32x4(0, 1, 2, 3), f32x4.splat(1.0 / 16.0)), f32x4.splat(<f32>(i & 15) / 16.0));
  return f32x4.add(f32x4.splat(from), f32x4.mul(f32x4.splat(load<f32>(at, 4) - from), t));
}

/** Multiplies three planes by gains given at every 16th pixel. */
export function shadeRow(light: usize, plane: usize, n: i32, gains: usize): void {
  for (let i: i32 = 0; i < n; i += 4) {
    const gain = gain4(gains, i);
    const p = light + (<usize>i << 2);
    v128.store(p, f32x4.mul(v128.load(p), gain));
    v128.store(p + plane, f32x4.mul(v128.load(p + plane), gain));
    v128.store(p + plane * 2, f32x4.mul(v128.load(p + plane * 2), gain));
  }
}
