// The guided filter on planes: means over windows, and the linear model of each window.

/** out <- mean over a (2 radius + 1)² window, cut at the border, by running sums. across: as large as the plane; sums: w doubles. */
export function boxBlur(src: usize, w: i32, h: i32, radius: i32, across: usize, sums: usize, out: usize): void {
  const stride = <usize>w << 2;
  // Four rows at a time: none waits for another's sum.
  for (let y: i32 = 0; y < h; y += 4) {
    const oa = stride * <usize>y, ob = stride * <usize>min(y + 1, h - 1), oc = stride * <usize>min(y + 2, h - 1), od = stride * <usize>min(y + 3, h - 1);
    let a: f64 = 0, b: f64 = 0, c: f64 = 0, d: f64 = 0;
    for (let x: i32 = 0; x < min(radius, w); x++) {
      const at = src + (<usize>x << 2);
      a += <f64>load<f32>(at + oa); b += <f64>load<f32>(at + ob); c += <f64>load<f32>(at + oc); d += <f64>load<f32>(at + od);
    }
    for (let x: i32 = 0; x < w; x++) {
      const enter = x + radius, leave = x - radius - 1;
      if (enter < w) {
        const at = src + (<usize>enter << 2);
        a += <f64>load<f32>(at + oa); b += <f64>load<f32>(at + ob); c += <f64>load<f32>(at + oc); d += <f64>load<f32>(at + od);
      }
      if (leave >= 0) {
        const at = src + (<usize>leave << 2);
        a -= <f64>load<f32>(at + oa); b -= <f64>load<f32>(at + ob); c -= <f64>load<f32>(at + oc); d -= <f64>load<f32>(at + od);
      }
      const k: f64 = 1 / <f64>(min(enter, w - 1) - max(leave, -1));
      const at = across + (<usize>x << 2);
      store<f32>(at + oa, <f32>(a * k)); store<f32>(at + ob, <f32>(b * k)); store<f32>(at + oc, <f32>(c * k)); store<f32>(at + od, <f32>(d * k));
    }
  }
  memory.fill(sums, 0, <usize>w << 3);
  for (let y: i32 = 0; y < min(radius, h); y++) addColumns(across + stride * <usize>y, w, 1, sums);
  for (let y: i32 = 0; y < h; y++) {
    if (y + radius < h) addColumns(across + stride * <usize>(y + radius), w, 1, sums);
    if (y > radius) addColumns(across + stride * <usize>(y - radius - 1), w, -1, sums);
    const k: f64 = 1 / <f64>(min(y + radius, h - 1) - max(y - radius, 0) + 1);
    const row = out + stride * <usize>y;
    for (let x: i32 = 0; x < w; x++) store<f32>(row + (<usize>x << 2), <f32>(load<f64>(sums + (<usize>x << 3)) * k));
  }
}

// @ts-ignore: decorator
@inline
function addColumns(row: usize, w: i32, sign: f64, sums: usize): void {
  for (let x: i32 = 0; x < w; x++) {
    const at = sums + (<usize>x << 3);
    store<f64>(at, load<f64>(at) + sign * <f64>load<f32>(row + (<usize>x << 2)));
  }
}

/** out <- a b */
export function multiply(a: usize, b: usize, n: i32, out: usize): void {
  for (let i: i32 = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    v128.store(out + at, f32x4.mul(v128.load(a + at), v128.load(b + at)));
  }
}

/** Linear model of each window: from means of guidance, its square, the input, and their product. a, b may be the places of meanProduct and meanInput. */
export function windowModel(mean: usize, meanSquare: usize, meanInput: usize, meanProduct: usize, epsilon: f32, n: i32, a: usize, b: usize): void {
  const zero = f32x4.splat(0), eps = f32x4.splat(epsilon);
  for (let i: i32 = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const m = v128.load(mean + at), p = v128.load(meanInput + at);
    const variance = f32x4.max(zero, f32x4.sub(v128.load(meanSquare + at), f32x4.mul(m, m)));
    const slope = f32x4.div(f32x4.sub(v128.load(meanProduct + at), f32x4.mul(m, p)), f32x4.add(variance, eps));
    v128.store(a + at, slope);
    v128.store(b + at, f32x4.sub(p, f32x4.mul(slope, m)));
  }
}

/** out <- a guidance + b */
export function applyModel(a: usize, b: usize, guidance: usize, n: i32, out: usize): void {
  for (let i: i32 = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    v128.store(out + at, f32x4.add(f32x4.mul(v128.load(a + at), v128.load(guidance + at)), v128.load(b + at)));
  }
}
