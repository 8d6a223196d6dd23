// Local tone, edge-aware upsampling of guide maps, and encoding for output.

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
function log2x4(x: v128): v128 {
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
function exp2x4(x: v128): v128 {
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
 * One output row of a guide-sized plane, bilinear. coords: f64 (x, y) plane positions of every 16th output
 * pixel, one more than there are segments; positions outside take the edge.
 */
export function planeRow(plane: usize, width: i32, height: i32, coords: usize, n: i32, out: usize): void {
  const lastX = <f32>(width - 1), lastY = <f32>(height - 1);
  for (let start: i32 = 0; start < n; start += 16) {
    const at = coords + (<usize>start);
    let x = <f32>load<f64>(at), y = <f32>load<f64>(at, 8);
    const stepX = (<f32>load<f64>(at, 16) - x) / 16, stepY = (<f32>load<f64>(at, 24) - y) / 16;
    const end = min(start + 16, n);
    for (let i = start; i < end; i++, x += stepX, y += stepY) {
      const cx = min(max(x, 0), lastX), cy = min(max(y, 0), lastY);
      const ix = min(<i32>cx, width - 2), iy = min(<i32>cy, height - 2);
      const fx = cx - <f32>ix;
      const p = plane + (<usize>(iy * width + ix) << 2);
      const q = p + (<usize>width << 2);
      const a = load<f32>(p), b = load<f32>(q);
      const upper = a + fx * (load<f32>(p, 4) - a);
      const lower = b + fx * (load<f32>(q, 4) - b);
      store<f32>(out + (<usize>i << 2), upper + (cy - <f32>iy) * (lower - upper));
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

const FIRST_EXPONENT: i32 = 127 - 12;

// @ts-ignore: decorator
@inline
function encode(value: f32, table: usize): u8 {
  if (!(value >= <f32>(1.0 / 4096.0))) return 0;
  const index = (reinterpret<i32>(value) >> 14) - (FIRST_EXPONENT << 9);
  return load<u8>(table + <usize>min(index, 8191));
}

/**
 * Working light to 8-bit RGB: row-major matrix to the output primaries, then a table indexed by the
 * float's upper bits (16 octaves from 2^-12 with 512 steps each) that holds tone curve and transfer function.
 */
export function encodeRow(light: usize, plane: usize, n: i32, matrix: usize, table: usize, out: usize): void {
  const m0 = load<f32>(matrix), m1 = load<f32>(matrix, 4), m2 = load<f32>(matrix, 8);
  const m3 = load<f32>(matrix, 12), m4 = load<f32>(matrix, 16), m5 = load<f32>(matrix, 20);
  const m6 = load<f32>(matrix, 24), m7 = load<f32>(matrix, 28), m8 = load<f32>(matrix, 32);
  for (let i: i32 = 0; i < n; i++) {
    const p = light + (<usize>i << 2);
    const r = load<f32>(p), g = load<f32>(p + plane), b = load<f32>(p + plane * 2);
    const q = out + <usize>i * 3;
    store<u8>(q, encode(r * m0 + g * m1 + b * m2, table));
    store<u8>(q, encode(r * m3 + g * m4 + b * m5, table), 1);
    store<u8>(q, encode(r * m6 + g * m7 + b * m8, table), 2);
  }
}
