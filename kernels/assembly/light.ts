// From codes to light: response tables, colour matrix, and the join of an ambient bracket.

import { gain4 } from "./shade";

// @ts-ignore: decorator
@inline
function look4(codes: usize, table: usize): v128 {
  let v = f32x4.splat(load<f32>(table + (<usize>load<u16>(codes) << 2)));
  v = f32x4.replace_lane(v, 1, load<f32>(table + (<usize>load<u16>(codes, 2) << 2)));
  v = f32x4.replace_lane(v, 2, load<f32>(table + (<usize>load<u16>(codes, 4) << 2)));
  return f32x4.replace_lane(v, 3, load<f32>(table + (<usize>load<u16>(codes, 6) << 2)));
}

/**
 * Codes (three u16 planes) to working light (three f32 planes): a 4096-entry table a channel holds
 * response, gain and white balance; then a row-major 3x3 matrix of f32.
 */
export function lineariseRow(codes: usize, codePlane: usize, n: i32, tables: usize, matrix: usize, out: usize, outPlane: usize): void {
  const m0 = v128.load32_splat(matrix), m1 = v128.load32_splat(matrix, 4), m2 = v128.load32_splat(matrix, 8);
  const m3 = v128.load32_splat(matrix, 12), m4 = v128.load32_splat(matrix, 16), m5 = v128.load32_splat(matrix, 20);
  const m6 = v128.load32_splat(matrix, 24), m7 = v128.load32_splat(matrix, 28), m8 = v128.load32_splat(matrix, 32);
  for (let i: i32 = 0; i < n; i += 4) {
    const from = codes + (<usize>i << 1);
    const to = out + (<usize>i << 2);
    const r = look4(from, tables);
    const g = look4(from + codePlane, tables + 16384);
    const b = look4(from + codePlane * 2, tables + 32768);
    v128.store(to, f32x4.add(f32x4.add(f32x4.mul(r, m0), f32x4.mul(g, m1)), f32x4.mul(b, m2)));
    v128.store(to + outPlane, f32x4.add(f32x4.add(f32x4.mul(r, m3), f32x4.mul(g, m4)), f32x4.mul(b, m5)));
    v128.store(to + outPlane * 2, f32x4.add(f32x4.add(f32x4.mul(r, m6), f32x4.mul(g, m7)), f32x4.mul(b, m8)));
  }
}

// @ts-ignore: decorator
@inline
function weigh4(largest: v128, weights: usize): v128 {
  let w = f32x4.splat(load<f32>(weights + (<usize>i16x8.extract_lane_u(largest, 0) << 2)));
  w = f32x4.replace_lane(w, 1, load<f32>(weights + (<usize>i16x8.extract_lane_u(largest, 1) << 2)));
  w = f32x4.replace_lane(w, 2, load<f32>(weights + (<usize>i16x8.extract_lane_u(largest, 2) << 2)));
  return f32x4.replace_lane(w, 3, load<f32>(weights + (<usize>i16x8.extract_lane_u(largest, 3) << 2)));
}

/**
 * Adds one bracket frame to the merge: acc += w * light, accW += w, rest -= w, with w = rest * weights[largest code of
 * the three channels] * cover, so that a clipped channel never shifts the hue. `rest` (f32) is what earlier frames left over;
 * light is made of the codes as by lineariseRow, and only where some of it counts.
 * gains: f32 at every 16th pixel, linear in between, as for shadeRow; 0 for none.
 */
export function joinRow(codes: usize, codePlane: usize, cover: usize, n: i32, weights: usize, tables: usize, matrix: usize, gains: usize, acc: usize, accPlane: usize, rest: usize): void {
  const m0 = v128.load32_splat(matrix), m1 = v128.load32_splat(matrix, 4), m2 = v128.load32_splat(matrix, 8);
  const m3 = v128.load32_splat(matrix, 12), m4 = v128.load32_splat(matrix, 16), m5 = v128.load32_splat(matrix, 20);
  const m6 = v128.load32_splat(matrix, 24), m7 = v128.load32_splat(matrix, 28), m8 = v128.load32_splat(matrix, 32);
  for (let i: i32 = 0; i < n; i += 4) {
    const from = codes + (<usize>i << 1);
    const at = <usize>i << 2;
    const left = v128.load(rest + at);
    if (!v128.any_true(left)) continue;
    const largest = i16x8.max_u(i16x8.max_u(v128.load64_zero(from), v128.load64_zero(from + codePlane)), v128.load64_zero(from + codePlane * 2));
    const w = f32x4.mul(f32x4.mul(weigh4(largest, weights), v128.load(cover + at)), left);
    if (!v128.any_true(w)) continue;
    v128.store(rest + at, f32x4.sub(left, w));
    const r = look4(from, tables), g = look4(from + codePlane, tables + 16384), b = look4(from + codePlane * 2, tables + 32768);
    const share = gains ? f32x4.mul(w, gain4(gains, i)) : w;
    const p = acc + at;
    v128.store(p, f32x4.add(v128.load(p), f32x4.mul(share, f32x4.add(f32x4.add(f32x4.mul(r, m0), f32x4.mul(g, m1)), f32x4.mul(b, m2)))));
    v128.store(p + accPlane, f32x4.add(v128.load(p + accPlane), f32x4.mul(share, f32x4.add(f32x4.add(f32x4.mul(r, m3), f32x4.mul(g, m4)), f32x4.mul(b, m5)))));
    v128.store(p + accPlane * 2, f32x4.add(v128.load(p + accPlane * 2), f32x4.mul(share, f32x4.add(f32x4.add(f32x4.mul(r, m6), f32x4.mul(g, m7)), f32x4.mul(b, m8)))));
    v128.store(p + accPlane * 3, f32x4.add(v128.load(p + accPlane * 3), w));
  }
}

/** The largest code of the three channels, as a share of the largest there is: 0..1, f32. */
export function topRow(codes: usize, codePlane: usize, n: i32, out: usize): void {
  const scale = f32x4.splat(1.0 / 4080.0);
  for (let i: i32 = 0; i < n; i += 4) {
    const from = codes + (<usize>i << 1);
    const largest = i16x8.max_u(i16x8.max_u(v128.load64_zero(from), v128.load64_zero(from + codePlane)), v128.load64_zero(from + codePlane * 2));
    v128.store(out + (<usize>i << 2), f32x4.mul(f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(largest)), scale));
  }
}

/** Ends a merge: divides the three planes by the fourth; cover becomes 1 where any frame had light. */
export function normaliseRow(acc: usize, accPlane: usize, n: i32, cover: usize): void {
  const tiny = f32x4.splat(1e-12);
  const one = f32x4.splat(1);
  for (let i: i32 = 0; i < n; i += 4) {
    const r = acc + (<usize>i << 2);
    const w = v128.load(r + accPlane * 3);
    const inverse = f32x4.div(one, f32x4.max(w, tiny));
    v128.store(r, f32x4.mul(v128.load(r), inverse));
    v128.store(r + accPlane, f32x4.mul(v128.load(r + accPlane), inverse));
    v128.store(r + accPlane * 2, f32x4.mul(v128.load(r + accPlane * 2), inverse));
    v128.store(cover + (<usize>i << 2), v128.and(f32x4.gt(w, tiny), one));
  }
}

/** light = max(0, light - share * other) on three planes: what a flash added to the ambient light. */
export function subtractRow(light: usize, plane: usize, other: usize, otherPlane: usize, n: i32, share: f32): void {
  const zero = f32x4.splat(0);
  const k = f32x4.splat(share);
  for (let c: usize = 0; c < 3; c++) {
    for (let i: i32 = 0; i < n; i += 4) {
      const at = light + plane * c + (<usize>i << 2);
      const o = v128.load(other + otherPlane * c + (<usize>i << 2));
      v128.store(at, f32x4.max(zero, f32x4.sub(v128.load(at), f32x4.mul(k, o))));
    }
  }
}
