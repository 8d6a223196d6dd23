// Coverage of painted strokes, exact at the pixel of whatever grid is asked for.

/**
 * out <- max(out, coverage of one segment of a stroke) for n pixels of a row from `first` on (a multiple of 4).
 * coords: f64 (x, y) positions, in the stroke's own units, of every 16th pixel of the row. The segment runs from a to b;
 * coverage is `strength` within `radius - width` of it, falls smoothly over `width`, and is 0 from `radius` on.
 */
export function strokeRow(coords: usize, first: i32, n: i32, ax: f32, ay: f32, bx: f32, by: f32, radius: f32, width: f32, strength: f32, out: usize): void {
  const dx: f32 = bx - ax, dy: f32 = by - ay;
  const length: f32 = dx * dx + dy * dy;
  const scale: f32 = length > 0 ? 1 / length : 0;
  const vdx = f32x4.splat(dx), vdy = f32x4.splat(dy), zero = f32x4.splat(0), one = f32x4.splat(1), two = f32x4.splat(2), three = f32x4.splat(3);
  const lanes = f32x4(0, 1, 2, 3);
  for (let i: i32 = first; i < first + n; i += 4) {
    const stop = coords + (<usize>(i >> 4) << 4);
    const x0 = <f32>(load<f64>(stop) - ax), y0 = <f32>(load<f64>(stop, 8) - ay);
    const sx = (<f32>(load<f64>(stop, 16) - ax) - x0) * 0.0625, sy = (<f32>(load<f64>(stop, 24) - ay) - y0) * 0.0625;
    const k = f32x4.add(f32x4.splat(<f32>(i & 15)), lanes);
    const px = f32x4.add(f32x4.splat(x0), f32x4.mul(k, f32x4.splat(sx)));
    const py = f32x4.add(f32x4.splat(y0), f32x4.mul(k, f32x4.splat(sy)));
    let t = f32x4.mul(f32x4.add(f32x4.mul(px, vdx), f32x4.mul(py, vdy)), f32x4.splat(scale));
    t = f32x4.min(one, f32x4.max(zero, t));
    const ex = f32x4.sub(px, f32x4.mul(t, vdx)), ey = f32x4.sub(py, f32x4.mul(t, vdy));
    const d = f32x4.sqrt(f32x4.add(f32x4.mul(ex, ex), f32x4.mul(ey, ey)));
    let v = f32x4.mul(f32x4.sub(f32x4.splat(radius), d), f32x4.splat(1 / width));
    v = f32x4.min(one, f32x4.max(zero, v));
    v = f32x4.mul(f32x4.mul(f32x4.mul(v, v), f32x4.sub(three, f32x4.mul(two, v))), f32x4.splat(strength));
    const at = out + (<usize>i << 2);
    v128.store(at, f32x4.max(v128.load(at), v));
  }
}

/** out <- smoothstep of the position along a ramp: 0 at `from`, 1 a whole (dx, dy) further. coords as in strokeRow. */
export function rampRow(coords: usize, n: i32, fromX: f64, fromY: f64, dx: f64, dy: f64, out: usize): void {
  const length = max(1e-12, dx * dx + dy * dy);
  const zero = f32x4.splat(0), one = f32x4.splat(1), two = f32x4.splat(2), three = f32x4.splat(3);
  const lanes = f32x4(0, 1, 2, 3);
  for (let i: i32 = 0; i < n; i += 4) {
    const stop = coords + (<usize>(i >> 4) << 4);
    const t0 = ((load<f64>(stop) - fromX) * dx + (load<f64>(stop, 8) - fromY) * dy) / length;
    const t1 = ((load<f64>(stop, 16) - fromX) * dx + (load<f64>(stop, 24) - fromY) * dy) / length;
    const k = f32x4.add(f32x4.splat(<f32>(i & 15)), lanes);
    let t = f32x4.add(f32x4.splat(<f32>t0), f32x4.mul(k, f32x4.splat(<f32>((t1 - t0) * 0.0625))));
    t = f32x4.min(one, f32x4.max(zero, t));
    v128.store(out + (<usize>i << 2), f32x4.mul(f32x4.mul(t, t), f32x4.sub(three, f32x4.mul(two, t))));
  }
}
