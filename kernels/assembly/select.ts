// Masks from tones and colours.
import { exp2x4, log2x4 } from "./tone";

// @ts-ignore: decorator
@inline
function step(t: v128): v128 {
  const c = f32x4.min(f32x4.splat(1), f32x4.max(f32x4.splat(0), t));
  return f32x4.mul(f32x4.mul(c, c), f32x4.sub(f32x4.splat(3), f32x4.mul(f32x4.splat(2), c)));
}

/** out <- 1 where log2 luminance lies within from..to, a smoothstep of `width` stops about either end. */
export function tonesRow(logY: usize, n: i32, from: f32, to: f32, width: f32, out: usize): void {
  const k = f32x4.splat(1 / width), half = f32x4.splat(0.5);
  for (let i: i32 = 0; i < n; i += 4) {
    const l = v128.load(logY + (<usize>i << 2));
    const up = step(f32x4.add(half, f32x4.mul(f32x4.sub(l, f32x4.splat(from)), k)));
    const down = step(f32x4.add(half, f32x4.mul(f32x4.sub(f32x4.splat(to), l), k)));
    v128.store(out + (<usize>i << 2), f32x4.mul(up, down));
  }
}

/** out <- the square root of a component of light (0 red, 1 green, 2 blue, 3 luminance), from..to brought to 0..1. */
export function channelRow(light: usize, plane: usize, n: i32, component: i32, from: f32, to: f32, out: usize): void {
  const zero = f32x4.splat(0), one = f32x4.splat(1);
  const wr = f32x4.splat(component == 0 ? 1 : component == 3 ? 0.2627 : 0), wg = f32x4.splat(component == 1 ? 1 : component == 3 ? 0.678 : 0), wb = f32x4.splat(component == 2 ? 1 : component == 3 ? 0.0593 : 0);
  const k = f32x4.splat(1 / (to - from));
  for (let i: i32 = 0; i < n; i += 4) {
    const p = light + (<usize>i << 2);
    const v = f32x4.add(f32x4.add(f32x4.mul(v128.load(p), wr), f32x4.mul(v128.load(p + plane), wg)), f32x4.mul(v128.load(p + plane * 2), wb));
    const t = f32x4.mul(f32x4.sub(f32x4.sqrt(f32x4.max(zero, v)), f32x4.splat(from)), k);
    v128.store(out + (<usize>i << 2), f32x4.min(one, f32x4.max(zero, t)));
  }
}

// @ts-ignore: decorator
@inline
export function cubeRoot(v: v128): v128 {
  return exp2x4(f32x4.mul(log2x4(f32x4.max(f32x4.splat(1e-9), v)), f32x4.splat(1.0 / 3.0)));
}

// @ts-ignore: decorator
@inline
export function dot3(r: v128, g: v128, b: v128, m: usize): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(r, v128.load32_splat(m)), f32x4.mul(g, v128.load32_splat(m, 4))), f32x4.mul(b, v128.load32_splat(m, 8)));
}

/**
 * out <- how far a colour's hue (OKLab; Ottosson 2020) lies within a band: 1 up to `width` radians from the hue whose cosine and sine
 * are given, a smoothstep of `softness` about that; less where chroma is below twice `chroma`, nothing below it.
 * matrix: working light to the cone responses. Arc cosine by Abramowitz and Stegun 4.4.45 (error < 7e-5).
 */
export function huesRow(light: usize, plane: usize, n: i32, matrix: usize, cos: f32, sin: f32, width: f32, softness: f32, chroma: f32, out: usize): void {
  const zero = f32x4.splat(0), one = f32x4.splat(1), half = f32x4.splat(0.5);
  for (let i: i32 = 0; i < n; i += 4) {
    const p = light + (<usize>i << 2);
    const lr = v128.load(p), lg = v128.load(p + plane), lb = v128.load(p + plane * 2);
    const l = cubeRoot(dot3(lr, lg, lb, matrix)), m = cubeRoot(dot3(lr, lg, lb, matrix + 12)), s = cubeRoot(dot3(lr, lg, lb, matrix + 24));
    const a = f32x4.add(f32x4.add(f32x4.mul(l, f32x4.splat(1.9779984951)), f32x4.mul(m, f32x4.splat(-2.428592205))), f32x4.mul(s, f32x4.splat(0.4505937099)));
    const b = f32x4.add(f32x4.add(f32x4.mul(l, f32x4.splat(0.0259040371)), f32x4.mul(m, f32x4.splat(0.7827717662))), f32x4.mul(s, f32x4.splat(-0.808675766)));
    const c = f32x4.sqrt(f32x4.add(f32x4.mul(a, a), f32x4.mul(b, b)));
    const along = f32x4.div(f32x4.add(f32x4.mul(a, f32x4.splat(cos)), f32x4.mul(b, f32x4.splat(sin))), f32x4.max(f32x4.splat(1e-6), c));
    const x = f32x4.min(one, f32x4.abs(along));
    let poly = f32x4.add(f32x4.splat(0.074261), f32x4.mul(x, f32x4.splat(-0.0187293)));
    poly = f32x4.add(f32x4.splat(1.5707288), f32x4.mul(x, f32x4.add(f32x4.splat(-0.2121144), f32x4.mul(x, poly))));
    const acute = f32x4.mul(f32x4.sqrt(f32x4.sub(one, x)), poly);
    const angle = v128.bitselect(f32x4.sub(f32x4.splat(3.14159265), acute), acute, f32x4.lt(along, zero));
    const within = step(f32x4.add(half, f32x4.mul(f32x4.sub(f32x4.splat(width), angle), f32x4.splat(1 / softness))));
    const strong = f32x4.min(one, f32x4.max(zero, f32x4.mul(f32x4.sub(c, f32x4.splat(chroma)), f32x4.splat(1 / chroma))));
    v128.store(out + (<usize>i << 2), f32x4.mul(within, strong));
  }
}

/** out <- out + a curve over log2 luminance: `count` values from tone `from` on, `per` of them a stop, linear in between, level beyond. */
export function curveRow(logY: usize, n: i32, from: f32, per: f32, table: usize, count: i32, out: usize): void {
  const last = <f32>(count - 1);
  for (let i: i32 = 0; i < n; i++) {
    const at = min(last, max(<f32>0, (load<f32>(logY + (<usize>i << 2)) - from) * per));
    const k = min(<i32>at, count - 2);
    const a = load<f32>(table + (<usize>k << 2)), b = load<f32>(table + (<usize>k << 2), 4);
    const p = out + (<usize>i << 2);
    store<f32>(p, load<f32>(p) + a + (at - <f32>k) * (b - a));
  }
}
