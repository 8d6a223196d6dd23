// Changes of hue, chroma and lightness by hue, in OKLab.
import { cubeRoot, dot3 } from "./select";
import { exp2x4 } from "./tone";

// @ts-ignore: decorator
@inline
function sum3(l: v128, m: v128, s: v128, x: f32, y: f32, z: f32): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(l, f32x4.splat(x)), f32x4.mul(m, f32x4.splat(y))), f32x4.mul(s, f32x4.splat(z)));
}

// @ts-ignore: decorator
@inline
function cube(v: v128): v128 {
  return f32x4.mul(f32x4.mul(v, v), v);
}

/** Place of a hue in a table: its angle on the square |a| + |b| = 1, `per` steps a quarter turn. */
// @ts-ignore: decorator
@inline
function placeOf(a: f32, b: f32, per: f32): f32 {
  const size = max<f32>(1e-12, abs(a) + abs(b));
  return per * (b >= 0 ? (a >= 0 ? b / size : 1 - a / size) : a < 0 ? 2 - b / size : 3 + a / size);
}

// @ts-ignore: decorator
@inline
function read(table: usize, k: i32, t: f32, c: i32): f32 {
  const p = table + (<usize>(3 * k + c) << 2);
  const v = load<f32>(p);
  return v + t * (load<f32>(p, 12) - v);
}

/**
 * light += mask times what becomes of it when its hue is turned and its chroma and lightness are scaled, by hue. table: 4 per + 1 entries of
 * three, each from `per` steps a quarter turn of the square of (a, b): the cosine and the sine of the turn times the chroma's factor, and the lightness's
 * factor less 1. Greys keep their lightness. muted: what weak chroma grows by, fading as e^-(c/0.1)². matrix: light to cones, inverse: back.
 */
export function bandsRow(light: usize, plane: usize, n: i32, mask: usize, matrix: usize, inverse: usize, table: usize, per: f32, muted: f32): void {
  const one = f32x4.splat(1);
  for (let i: i32 = 0; i < n; i += 4) {
    const w = v128.load(mask + (<usize>i << 2));
    if (!v128.any_true(f32x4.gt(w, f32x4.splat(0)))) continue;
    const p = light + (<usize>i << 2);
    const r = v128.load(p), g = v128.load(p + plane), b0 = v128.load(p + plane * 2);
    const l = cubeRoot(dot3(r, g, b0, matrix)), m = cubeRoot(dot3(r, g, b0, matrix + 12)), s = cubeRoot(dot3(r, g, b0, matrix + 24));
    const L = sum3(l, m, s, 0.2104542553, 0.793617785, -0.0040720468);
    const a = sum3(l, m, s, 1.9779984951, -2.428592205, 0.4505937099), b = sum3(l, m, s, 0.0259040371, 0.7827717662, -0.808675766);
    let cos = one, sin = f32x4.splat(0), lift = f32x4.splat(0);
    const d0 = placeOf(f32x4.extract_lane(a, 0), f32x4.extract_lane(b, 0), per), d1 = placeOf(f32x4.extract_lane(a, 1), f32x4.extract_lane(b, 1), per);
    const d2 = placeOf(f32x4.extract_lane(a, 2), f32x4.extract_lane(b, 2), per), d3 = placeOf(f32x4.extract_lane(a, 3), f32x4.extract_lane(b, 3), per);
    const most: i32 = <i32>(per * 4) - 1;
    const k0 = min(most, <i32>d0), k1 = min(most, <i32>d1), k2 = min(most, <i32>d2), k3 = min(most, <i32>d3);
    const t0 = d0 - <f32>k0, t1 = d1 - <f32>k1, t2 = d2 - <f32>k2, t3 = d3 - <f32>k3;
    cos = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(read(table, k0, t0, 0)), 1, read(table, k1, t1, 0)), 2, read(table, k2, t2, 0)), 3, read(table, k3, t3, 0));
    sin = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(read(table, k0, t0, 1)), 1, read(table, k1, t1, 1)), 2, read(table, k2, t2, 1)), 3, read(table, k3, t3, 1));
    lift = f32x4.replace_lane(f32x4.replace_lane(f32x4.replace_lane(f32x4.splat(read(table, k0, t0, 2)), 1, read(table, k1, t1, 2)), 2, read(table, k2, t2, 2)), 3, read(table, k3, t3, 2));
    // Beyond white chroma grows along with lightness: it is told as it would be at white.
    const square = f32x4.div(f32x4.add(f32x4.mul(a, a), f32x4.mul(b, b)), f32x4.max(one, f32x4.mul(L, L)));
    const grow = f32x4.add(one, f32x4.mul(f32x4.splat(muted), exp2x4(f32x4.mul(square, f32x4.splat(-144.2695041)))));
    const coloured = f32x4.min(one, f32x4.mul(square, f32x4.splat(400)));
    const a1 = f32x4.mul(grow, f32x4.sub(f32x4.mul(cos, a), f32x4.mul(sin, b))), b1 = f32x4.mul(grow, f32x4.add(f32x4.mul(sin, a), f32x4.mul(cos, b)));
    const L1 = f32x4.mul(L, f32x4.add(one, f32x4.mul(lift, coloured)));
    const dl = f32x4.sub(cube(sum3(L1, a1, b1, 1, 0.3963377774, 0.2158037573)), cube(sum3(L, a, b, 1, 0.3963377774, 0.2158037573)));
    const dm = f32x4.sub(cube(sum3(L1, a1, b1, 1, -0.1055613458, -0.0638541728)), cube(sum3(L, a, b, 1, -0.1055613458, -0.0638541728)));
    const ds = f32x4.sub(cube(sum3(L1, a1, b1, 1, -0.0894841775, -1.291485548)), cube(sum3(L, a, b, 1, -0.0894841775, -1.291485548)));
    v128.store(p, f32x4.add(r, f32x4.mul(w, dot3(dl, dm, ds, inverse))));
    v128.store(p + plane, f32x4.add(g, f32x4.mul(w, dot3(dl, dm, ds, inverse + 12))));
    v128.store(p + plane * 2, f32x4.add(b0, f32x4.mul(w, dot3(dl, dm, ds, inverse + 24))));
  }
}
