// Local tone, and edge-aware upsampling of guide maps.

// @ts-ignore: decorator
@inline
function luminance(r: v128, g: v128, b: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(r, f32x4.splat(0.2627)), f32x4.mul(g, f32x4.splat(0.678))), f32x4.mul(b, f32x4.splat(0.0593)));
}

const LOG_C1: f32 = 1.442553129774413, LOG_C2: f32 = -0.7182817070857375, LOG_C3: f32 = 0.4582698368789593;
const LOG_C4: f32 = -0.2795361940340004, LOG_C5: f32 = 0.12344971271640187, LOG_C6: f32 = -0.026456846646508644;
const EXP_C1: f32 = 0.6931524715979701, EXP_C2: f32 = 0.24015280667226283, EXP_C3: f32 = 0.0558359291131452;
const EXP_C4: f32 = 0.008973376387060342, EXP_C5: f32 = 0.001885298231684154;

/** log2 of positive normal floats; exponent from the bits, mantissa by a polynomial fitted on [1, 2) (error < 2e-5). */
// @ts-ignore: decorator
@inline
export function log2x4(x: v128): v128 {
  const bits = i32x4.sub(i32x4.shr_u(x, 23), i32x4.splat(127));
  const m = v128.or(v128.and(x, i32x4.splat(0x007fffff)), i32x4.splat(0x3f800000));
  const t = f32x4.sub(m, f32x4.splat(1));
  let p = f32x4.splat(LOG_C6);
  p = f32x4.add(f32x4.mul(p, t), f32x4.splat(LOG_C5));
  p = f32x4.add(f32x4.mul(p, t), f32x4.splat(LOG_C4));
  p = f32x4.add(f32x4.mul(p, t), f32x4.splat(LOG_C3));
  p = f32x4.add(f32x4.mul(p, t), f32x4.splat(LOG_C2));
  p = f32x4.add(f32x4.mul(p, t), f32x4.splat(LOG_C1));
  return f32x4.add(f32x4.convert_i32x4_s(bits), f32x4.mul(p, t));
}

/** 2 to the x for x in -100..100; a polynomial for the fraction (relative error < 1e-5). */
// @ts-ignore: decorator
@inline
export function exp2x4(x: v128): v128 {
  const c = f32x4.min(f32x4.max(x, f32x4.splat(-100)), f32x4.splat(100));
  const whole = f32x4.floor(c);
  const t = f32x4.sub(c, whole);
  let p = f32x4.splat(EXP_C5);
  p = f32x4.add(f32x4.mul(p, t), f32x4.splat(EXP_C4));
  p = f32x4.add(f32x4.mul(p, t), f32x4.splat(EXP_C3));
  p = f32x4.add(f32x4.mul(p, t), f32x4.splat(EXP_C2));
  p = f32x4.add(f32x4.mul(p, t), f32x4.splat(EXP_C1));
  p = f32x4.add(f32x4.mul(p, t), f32x4.splat(1));
  const scale = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23);
  return f32x4.mul(p, scale);
}

/** out <- log2(max(luminance, 2^-12)) of three planes of light. */
export function logLuminanceRow(light: usize, plane: usize, n: i32, out: usize): void {
  const least = f32x4.splat(1.0 / 4096.0);
  for (let i: i32 = 0; i < n; i += 4) {
    const p = light + (<usize>i << 2);
    v128.store(out + (<usize>i << 2), log2x4(f32x4.max(least, luminance(v128.load(p), v128.load(p + plane), v128.load(p + plane * 2)))));
  }
}

/**
 * Sixteen pixels of a guide-sized plane that lie between two of its rows and at most four of its columns, away from its edges: what
 * they are made of is loaded once. False, and nothing done, where they do not. What lies behind a row's end is written, too: rows have room for it.
 */
function withinCells(plane: usize, width: i32, height: i32, x: f64, y: f64, endX: f64, endY: f64, out: usize): bool {
  if (!(y >= 0 && y < <f64>(height - 1) && endY >= 0 && endY < <f64>(height - 1) && x >= 0 && endX >= x && endX < <f64>(width - 1))) return false;
  const first = <i32>x, row = <i32>y;
  if (<i32>endX - first > 2 || <i32>endY != row) return false;
  const p = plane + ((<usize>row * <usize>width + <usize>first) << 2);
  const upper = v128.load(p), lower = v128.load(p + (<usize>width << 2));
  if (y != endY) {
    slantedCells(upper, lower, <f32>(x - <f64>first), <f32>(y - <f64>row), <f32>((endX - x) / 16), <f32>((endY - y) / 16), out);
    return true;
  }
  const joined = f32x4.add(upper, f32x4.mul(f32x4.splat(<f32>(y - <f64>row)), f32x4.sub(lower, upper)));
  const step = <f32>((endX - x) / 16);
  let t = f32x4.add(f32x4.splat(<f32>(x - <f64>first)), f32x4.mul(f32x4(0, 1, 2, 3), f32x4.splat(step)));
  const next = f32x4.splat(step * 4);
  for (let i: usize = 0; i < 64; i += 16, t = f32x4.add(t, next)) {
    const column = i32x4.trunc_sat_f32x4_s(t);
    // Four bytes a column, each lane's own.
    const left = i32x4.add(i32x4.mul(column, i32x4.splat(0x04040404)), i32x4.splat(0x03020100));
    const a = i8x16.swizzle(joined, left), b = i8x16.swizzle(joined, i32x4.add(left, i32x4.splat(0x04040404)));
    v128.store(out + i, f32x4.add(a, f32x4.mul(f32x4.sub(t, f32x4.convert_i32x4_s(column)), f32x4.sub(b, a))));
  }
  return true;
}

/** Such pixels along a slant, from four places of two rows. x, y: where the first lies from the upper left one. */
// @ts-ignore: decorator
@inline
function slantedCells(upper: v128, lower: v128, x: f32, y: f32, stepX: f32, stepY: f32, out: usize): void {
  const lanes = f32x4(0, 1, 2, 3);
  let t = f32x4.add(f32x4.splat(x), f32x4.mul(lanes, f32x4.splat(stepX)));
  let v = f32x4.add(f32x4.splat(y), f32x4.mul(lanes, f32x4.splat(stepY)));
  const nextT = f32x4.splat(stepX * 4), nextV = f32x4.splat(stepY * 4);
  for (let i: usize = 0; i < 64; i += 16, t = f32x4.add(t, nextT), v = f32x4.add(v, nextV)) {
    const column = i32x4.trunc_sat_f32x4_s(t);
    const left = i32x4.add(i32x4.mul(column, i32x4.splat(0x04040404)), i32x4.splat(0x03020100)), right = i32x4.add(left, i32x4.splat(0x04040404));
    const fx = f32x4.sub(t, f32x4.convert_i32x4_s(column));
    const a = i8x16.swizzle(upper, left), c = i8x16.swizzle(lower, left);
    const high = f32x4.add(a, f32x4.mul(fx, f32x4.sub(i8x16.swizzle(upper, right), a)));
    const low = f32x4.add(c, f32x4.mul(fx, f32x4.sub(i8x16.swizzle(lower, right), c)));
    v128.store(out + i, f32x4.add(high, f32x4.mul(v, f32x4.sub(low, high))));
  }
}

/**
 * One output row of a guide-sized plane, bilinear. coords: f64 (x, y) plane positions of every 16th output
 * pixel, one more than there are segments; positions outside take the edge.
 */
export function planeRow(plane: usize, width: i32, height: i32, coords: usize, n: i32, out: usize): void {
  const zero = f32x4.splat(0), lanes = f32x4(0, 1, 2, 3);
  const lastX = f32x4.splat(<f32>(width - 1)), lastY = f32x4.splat(<f32>(height - 1));
  const maxX = i32x4.splat(width - 2), maxY = i32x4.splat(height - 2), stride = i32x4.splat(width);
  const below = <usize>width << 2;
  for (let start: i32 = 0; start < n; start += 16) {
    const at = coords + (<usize>start);
    if (withinCells(plane, width, height, load<f64>(at), load<f64>(at, 8), load<f64>(at, 16), load<f64>(at, 24), out + (<usize>start << 2))) continue;
    const stepX = <f32>((load<f64>(at, 16) - load<f64>(at)) / 16), stepY = <f32>((load<f64>(at, 24) - load<f64>(at, 8)) / 16);
    let x = f32x4.add(f32x4.splat(<f32>load<f64>(at)), f32x4.mul(lanes, f32x4.splat(stepX)));
    let y = f32x4.add(f32x4.splat(<f32>load<f64>(at, 8)), f32x4.mul(lanes, f32x4.splat(stepY)));
    const nextX = f32x4.splat(4 * stepX), nextY = f32x4.splat(4 * stepY);
    for (let i = start, end = min(start + 16, n); i < end; i += 4, x = f32x4.add(x, nextX), y = f32x4.add(y, nextY)) {
      const cx = f32x4.min(f32x4.max(x, zero), lastX), cy = f32x4.min(f32x4.max(y, zero), lastY);
      const ix = i32x4.min_s(i32x4.trunc_sat_f32x4_s(cx), maxX), iy = i32x4.min_s(i32x4.trunc_sat_f32x4_s(cy), maxY);
      const fx = f32x4.sub(cx, f32x4.convert_i32x4_s(ix)), fy = f32x4.sub(cy, f32x4.convert_i32x4_s(iy));
      const index = i32x4.shl(i32x4.add(i32x4.mul(iy, stride), ix), 2);
      const p0 = plane + <usize>i32x4.extract_lane(index, 0), p1 = plane + <usize>i32x4.extract_lane(index, 1);
      const p2 = plane + <usize>i32x4.extract_lane(index, 2), p3 = plane + <usize>i32x4.extract_lane(index, 3);
      // Pairs of neighbours, two pixels a vector, then left and right apart.
      const u01 = v128.load64_lane(p1, v128.load64_zero(p0), 1), u23 = v128.load64_lane(p3, v128.load64_zero(p2), 1);
      const l01 = v128.load64_lane(p1 + below, v128.load64_zero(p0 + below), 1), l23 = v128.load64_lane(p3 + below, v128.load64_zero(p2 + below), 1);
      const a = v128.shuffle<f32>(u01, u23, 0, 2, 4, 6), b = v128.shuffle<f32>(u01, u23, 1, 3, 5, 7);
      const c = v128.shuffle<f32>(l01, l23, 0, 2, 4, 6), d = v128.shuffle<f32>(l01, l23, 1, 3, 5, 7);
      const upper = f32x4.add(a, f32x4.mul(fx, f32x4.sub(b, a))), lower = f32x4.add(c, f32x4.mul(fx, f32x4.sub(d, c)));
      v128.store(out + (<usize>i << 2), f32x4.add(upper, f32x4.mul(fy, f32x4.sub(lower, upper))));
    }
  }
}

/** mask <- clamp01(a * guidance + b): the linear model of the guided filter, evaluated at full size. */
export function guidedRow(a: usize, b: usize, guidance: usize, n: i32, out: usize): void {
  const zero = f32x4.splat(0), one = f32x4.splat(1);
  for (let i: i32 = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const v = f32x4.add(f32x4.mul(v128.load(a + at), v128.load(guidance + at)), v128.load(b + at));
    v128.store(out + at, f32x4.min(one, f32x4.max(zero, v)));
  }
}

/**
 * light <- light scaled by 2^(mask * (a * logY + b + globalA * logY + globalB)), then saturation about the luminance.
 * a, b: local coefficients in stops; logY: log2 luminance of the light.
 */
export function gainRow(light: usize, plane: usize, logY: usize, a: usize, b: usize, mask: usize, n: i32, globalA: f32, globalB: f32, saturation: f32): void {
  const ga = f32x4.splat(globalA), gb = f32x4.splat(globalB);
  const extra = f32x4.splat(saturation - 1);
  for (let i: i32 = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const m = v128.load(mask + at);
    if (!v128.any_true(m)) continue;
    const l = v128.load(logY + at);
    const stops = f32x4.add(f32x4.mul(f32x4.add(v128.load(a + at), ga), l), f32x4.add(v128.load(b + at), gb));
    const gain = exp2x4(f32x4.mul(m, stops));
    const p = light + at;
    const r = f32x4.mul(v128.load(p), gain), g = f32x4.mul(v128.load(p + plane), gain), bl = f32x4.mul(v128.load(p + plane * 2), gain);
    const y = luminance(r, g, bl);
    const s = f32x4.mul(m, extra);
    v128.store(p, f32x4.add(r, f32x4.mul(s, f32x4.sub(r, y))));
    v128.store(p + plane, f32x4.add(g, f32x4.mul(s, f32x4.sub(g, y))));
    v128.store(p + plane * 2, f32x4.add(bl, f32x4.mul(s, f32x4.sub(bl, y))));
  }
}

/** light <- lerp(light, light * gain per channel, mask): white balance of an adjust pass. */
export function balanceRow(light: usize, plane: usize, mask: usize, n: i32, gr: f32, gg: f32, gb: f32): void {
  const r = f32x4.splat(gr - 1), g = f32x4.splat(gg - 1), b = f32x4.splat(gb - 1);
  for (let i: i32 = 0; i < n; i += 4) {
    const m = v128.load(mask + (<usize>i << 2));
    const p = light + (<usize>i << 2);
    const lr = v128.load(p), lg = v128.load(p + plane), lb = v128.load(p + plane * 2);
    v128.store(p, f32x4.add(lr, f32x4.mul(m, f32x4.mul(lr, r))));
    v128.store(p + plane, f32x4.add(lg, f32x4.mul(m, f32x4.mul(lg, g))));
    v128.store(p + plane * 2, f32x4.add(lb, f32x4.mul(m, f32x4.mul(lb, b))));
  }
}
