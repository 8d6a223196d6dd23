// Lining up: correlation of small structure planes, and following windows from one grey plane to another.

/**
 * Sums over the pixels of a (aw x ah, f32) whose counterpart in b, dx and dy further on, exists and where neither is 0:
 * a·b, a², b² and the count, four f64 at `sums`.
 */
export function correlate(a: usize, aw: i32, ah: i32, b: usize, bw: i32, bh: i32, dx: i32, dy: i32, sums: usize): void {
  const zero = f32x4.splat(0), one = f32x4.splat(1);
  const left = max(0, -dx), right = min(aw, bw - dx);
  let ab: f64 = 0, aa: f64 = 0, bb: f64 = 0, count: f64 = 0;
  for (let y = max(0, -dy), end = min(ah, bh - dy); y < end; y++) {
    let p = a + (<usize>(y * aw + left) << 2);
    let q = b + (<usize>((y + dy) * bw + left + dx) << 2);
    let vab = zero, vaa = zero, vbb = zero, vn = zero;
    let x = left;
    for (; x + 4 <= right; x += 4, p += 16, q += 16) {
      const v = v128.load(p), w = v128.load(q);
      const both = v128.and(f32x4.ne(v, zero), f32x4.ne(w, zero));
      const u = v128.and(v, both), t = v128.and(w, both);
      vab = f32x4.add(vab, f32x4.mul(u, t));
      vaa = f32x4.add(vaa, f32x4.mul(u, u));
      vbb = f32x4.add(vbb, f32x4.mul(t, t));
      vn = f32x4.add(vn, v128.and(one, both));
    }
    ab += <f64>total(vab);
    aa += <f64>total(vaa);
    bb += <f64>total(vbb);
    count += <f64>total(vn);
    for (; x < right; x++, p += 4, q += 4) {
      const v = load<f32>(p), w = load<f32>(q);
      if (v == 0 || w == 0) continue;
      ab += <f64>(v * w);
      aa += <f64>(v * v);
      bb += <f64>(w * w);
      count += 1;
    }
  }
  store<f64>(sums, ab);
  store<f64>(sums, aa, 8);
  store<f64>(sums, bb, 16);
  store<f64>(sums, count, 24);
}

const RADIUS: i32 = 7;
const SIDE: i32 = 15;
const AREA: f32 = 225;
/** Floats from one row of a window to the next; the last is always 0. */
const STRIDE: i32 = 16;
const WINDOW: usize = 16 * 15 * 4;
const STEPS: i32 = 12;

// @ts-ignore: decorator
@inline
function total(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3);
}

/** Reads the window about (x, y), bilinear, as zero-mean unit-norm values. Returns how many are clipped; -1 when it is flat, too much clipped or outside. */
function readWindow(plane: usize, w: i32, h: i32, x: f64, y: f64, out: usize): f32 {
  const floorX = <i32>Math.floor(x), floorY = <i32>Math.floor(y);
  const left = floorX - RADIUS, top = floorY - RADIUS;
  if (left < 0 || top < 0 || left + SIDE >= w || top + SIDE >= h) return -1;
  const fx = <f32>(x - <f64>floorX), fy = <f32>(y - <f64>floorY);
  const w00 = f32x4.splat((1 - fx) * (1 - fy)), w10 = f32x4.splat(fx * (1 - fy)), w01 = f32x4.splat((1 - fx) * fy), w11 = f32x4.splat(fx * fy);
  const high = f32x4.splat(251), low = f32x4.splat(1.5), one = f32x4.splat(1);
  const last = i32x4(-1, -1, -1, 0);
  const stride = <usize>w << 2;
  let sums = f32x4.splat(0), clipped = f32x4.splat(0);
  for (let j: i32 = 0; j < SIDE; j++) {
    const p = plane + <usize>(top + j) * stride + (<usize>left << 2);
    const q = out + (<usize>(j * STRIDE) << 2);
    for (let k: usize = 0; k < 64; k += 16) {
      let v = f32x4.add(
        f32x4.add(f32x4.mul(w00, v128.load(p + k)), f32x4.mul(w10, v128.load(p + k + 4))),
        f32x4.add(f32x4.mul(w01, v128.load(p + k + stride)), f32x4.mul(w11, v128.load(p + k + stride + 4))));
      let bad = v128.and(one, v128.or(f32x4.gt(v, high), f32x4.lt(v, low)));
      if (k == 48) {
        v = v128.and(v, last);
        bad = v128.and(bad, last);
      }
      sums = f32x4.add(sums, v);
      clipped = f32x4.add(clipped, bad);
      v128.store(q + k, v);
    }
  }
  const spoilt = total(clipped);
  if (spoilt > AREA * 0.4) return -1;
  const mean = f32x4.splat(total(sums) / AREA);
  let norms = f32x4.splat(0);
  for (let j: i32 = 0; j < SIDE; j++) {
    const q = out + (<usize>(j * STRIDE) << 2);
    for (let k: usize = 0; k < 64; k += 16) {
      let v = f32x4.sub(v128.load(q + k), mean);
      if (k == 48) v = v128.and(v, last);
      norms = f32x4.add(norms, f32x4.mul(v, v));
      v128.store(q + k, v);
    }
  }
  const norm = total(norms);
  // Under about 1 grey level of deviation there is only noise.
  if (norm < AREA * 0.8) return -1;
  const scale = f32x4.splat(1 / Mathf.sqrt(norm));
  for (let k: usize = 0; k < WINDOW; k += 16) v128.store(out + k, f32x4.mul(v128.load(out + k), scale));
  return spoilt;
}

/**
 * Follows n windows of `from` (f32 grey 0..255, fw x fh) into `to`: inverse compositional Lucas-Kanade on windows
 * normalised for brightness and contrast. points: four f64 each: x, y in `from`, and where to start in `to`.
 * out: four f64 each: x, y in `to`, the correlation at the end (-2 where the window has no structure, leaves the
 * picture, or moves more than `reach` from its start), and the larger clipped share of the two windows. scratch: 4 windows of 16 x 15 f32, 64 bytes before and after.
 */
export function trackPoints(from: usize, fw: i32, fh: i32, to: usize, tw: i32, th: i32, points: usize, n: i32, out: usize, scratch: usize, reach: f64): void {
  const template = scratch + 64, gradientX = template + WINDOW + 64, gradientY = gradientX + WINDOW + 64, sample = gradientY + WINDOW + 64;
  const first = i32x4(0, -1, -1, -1), last = i32x4(-1, -1, 0, 0), half = f32x4.splat(0.5);
  for (let i: i32 = 0; i < n; i++, points += 32, out += 32) {
    store<f64>(out, -2, 16);
    const startX = load<f64>(points, 16), startY = load<f64>(points, 24);
    const before = readWindow(from, fw, fh, load<f64>(points), load<f64>(points, 8), template);
    if (before < 0) continue;
    let vxx = f32x4.splat(0), vxy = f32x4.splat(0), vyy = f32x4.splat(0);
    for (let j: i32 = 0; j < SIDE; j++) {
      const row = <usize>(j * STRIDE) << 2;
      const inner = j > 0 && j < SIDE - 1;
      for (let k: usize = 0; k < 64; k += 16) {
        const p = template + row + k;
        let gx = f32x4.mul(half, f32x4.sub(v128.load(p, 4), v128.load(p - 4)));
        if (k == 0) gx = v128.and(gx, first);
        if (k == 48) gx = v128.and(gx, last);
        const gy = inner ? f32x4.mul(half, f32x4.sub(v128.load(p, 64), v128.load(p - 64))) : f32x4.splat(0);
        v128.store(gradientX + row + k, gx);
        v128.store(gradientY + row + k, gy);
        vxx = f32x4.add(vxx, f32x4.mul(gx, gx));
        vxy = f32x4.add(vxy, f32x4.mul(gx, gy));
        vyy = f32x4.add(vyy, f32x4.mul(gy, gy));
      }
    }
    const xx = <f64>total(vxx), xy = <f64>total(vxy), yy = <f64>total(vyy);
    const determinant = xx * yy - xy * xy;
    if (determinant < 1e-5) continue;
    let x = startX, y = startY;
    let lost = false;
    for (let step: i32 = 0; step < STEPS; step++) {
      if (readWindow(to, tw, th, x, y, sample) < 0) {
        lost = true;
        break;
      }
      let vx = f32x4.splat(0), vy = f32x4.splat(0);
      for (let k: usize = 0; k < WINDOW; k += 16) {
        const difference = f32x4.sub(v128.load(sample + k), v128.load(template + k));
        vx = f32x4.add(vx, f32x4.mul(difference, v128.load(gradientX + k)));
        vy = f32x4.add(vy, f32x4.mul(difference, v128.load(gradientY + k)));
      }
      const bx = <f64>total(vx), by = <f64>total(vy);
      const dx = (yy * bx - xy * by) / determinant;
      const dy = (xx * by - xy * bx) / determinant;
      x -= max(-2.0, min(2.0, dx));
      y -= max(-2.0, min(2.0, dy));
      if (Math.abs(x - startX) > reach || Math.abs(y - startY) > reach) {
        lost = true;
        break;
      }
      if (dx * dx + dy * dy < 4e-4) break;
    }
    if (lost) continue;
    const after = readWindow(to, tw, th, x, y, sample);
    if (after < 0) continue;
    let score = f32x4.splat(0);
    for (let k: usize = 0; k < WINDOW; k += 16) score = f32x4.add(score, f32x4.mul(v128.load(sample + k), v128.load(template + k)));
    store<f64>(out, x);
    store<f64>(out, y, 8);
    store<f64>(out, <f64>total(score), 16);
    store<f64>(out, <f64>(max(before, after) / AREA), 24);
  }
}
