/** out <- smoothstep of the elliptic distance from (atX, atY): 0 from `end` on, 1 a `width` further in. Distances are 1 where u and v say. coords as in strokeRow. */
export function spotRow(coords: usize, n: i32, atX: f64, atY: f64, ux: f64, uy: f64, vx: f64, vy: f64, end: f32, width: f32, out: usize): void {
  const zero = f32x4.splat(0), one = f32x4.splat(1), two = f32x4.splat(2), three = f32x4.splat(3);
  const lanes = f32x4(0, 1, 2, 3);
  for (let i: i32 = 0; i < n; i += 4) {
    const stop = coords + (<usize>(i >> 4) << 4);
    const x0 = load<f64>(stop) - atX, y0 = load<f64>(stop, 8) - atY;
    const x1 = load<f64>(stop, 16) - atX, y1 = load<f64>(stop, 24) - atY;
    const p0 = x0 * ux + y0 * uy, q0 = x0 * vx + y0 * vy;
    const k = f32x4.add(f32x4.splat(<f32>(i & 15)), lanes);
    const p = f32x4.add(f32x4.splat(<f32>p0), f32x4.mul(k, f32x4.splat(<f32>((x1 * ux + y1 * uy - p0) * 0.0625))));
    const q = f32x4.add(f32x4.splat(<f32>q0), f32x4.mul(k, f32x4.splat(<f32>((x1 * vx + y1 * vy - q0) * 0.0625))));
    const d = f32x4.sqrt(f32x4.add(f32x4.mul(p, p), f32x4.mul(q, q)));
    let t = f32x4.mul(f32x4.sub(f32x4.splat(end), d), f32x4.splat(1 / width));
    t = f32x4.min(one, f32x4.max(zero, t));
    v128.store(out + (<usize>i << 2), f32x4.mul(f32x4.mul(t, t), f32x4.sub(three, f32x4.mul(two, t))));
  }
}
