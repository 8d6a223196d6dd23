// The display curve, and encoding for output.

import { exp2x4, log2x4 } from "./tone";

const FIRST_EXPONENT: i32 = 127 - 12;

// @ts-ignore: decorator
@inline
function tableIndex(value: v128): v128 {
  // What is no number takes the first entry, as does what is too dark for the table.
  const index = i32x4.sub(i32x4.shr_u(f32x4.pmax(f32x4.splat(0), value), 14), i32x4.splat(FIRST_EXPONENT << 9));
  return i32x4.min_s(i32x4.max_s(index, i32x4.splat(0)), i32x4.splat(8191));
}

// @ts-ignore: decorator
@inline
function look(table: usize, index: i32): u32 {
  return <u32>load<u8>(table + <usize>index);
}

// @ts-ignore: decorator
@inline
function rolledOff(value: v128, knee: v128, perSpan: v128, w: v128, perW: v128, span: v128, least: v128): v128 {
  const t = f32x4.pmin(w, f32x4.mul(f32x4.sub(value, knee), perSpan));
  const rolled = f32x4.add(knee, f32x4.div(f32x4.mul(f32x4.mul(span, t), f32x4.add(f32x4.splat(1), f32x4.mul(t, perW))), f32x4.add(f32x4.splat(1), t)));
  return v128.bitselect(rolled, f32x4.pmax(least, value), f32x4.gt(value, knee));
}

/** What lies where in a display block (`finish/displayBlock`), in bytes. */
const CURVE = 36, TO_PROFILE = 48, TRANSFER = 84, WIDE = 104, TABLE = 128;

/** 0..1 by a profile's transfer function as whole numbers up to `most`: a power of what lies above a limit, straight below it. */
// @ts-ignore: decorator
@inline
function transferred(value: v128, display: usize, most: i32): v128 {
  const power = v128.load32_splat(display, TRANSFER), scale = v128.load32_splat(display, TRANSFER + 4), offset = v128.load32_splat(display, TRANSFER + 8);
  const slope = v128.load32_splat(display, TRANSFER + 12), limit = v128.load32_splat(display, TRANSFER + 16);
  const x = f32x4.pmin(f32x4.splat(1), f32x4.pmax(f32x4.splat(0), value));
  const curved = f32x4.sub(f32x4.mul(scale, exp2x4(f32x4.mul(power, log2x4(f32x4.pmax(f32x4.splat(1e-12), x))))), offset);
  const v = v128.bitselect(f32x4.mul(slope, x), curved, f32x4.le(x, limit));
  return i32x4.min_s(i32x4.splat(most), i32x4.trunc_sat_f32x4_u(f32x4.add(f32x4.mul(v, f32x4.splat(<f32>most)), f32x4.splat(0.5))));
}

// @ts-ignore: decorator
@inline
function dot(m: usize, r: v128, g: v128, b: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(r, v128.load32_splat(m)), f32x4.mul(g, v128.load32_splat(m, 4))), f32x4.mul(b, v128.load32_splat(m, 8)));
}

/** Stores up to four pixels of three 16-bit numbers: red and green of each in one vector, blue in another. */
// @ts-ignore: decorator
@inline
function storeDeep(q: usize, r: v128, g: v128, b: v128, count: i32): void {
  const rg = v128.or(r, i32x4.shl(g, 16));
  store<u32>(q, <u32>i32x4.extract_lane(rg, 0));
  store<u16>(q, <u16>i32x4.extract_lane(b, 0), 4);
  if (count < 2) return;
  store<u32>(q, <u32>i32x4.extract_lane(rg, 1), 6);
  store<u16>(q, <u16>i32x4.extract_lane(b, 1), 10);
  if (count < 3) return;
  store<u32>(q, <u32>i32x4.extract_lane(rg, 2), 12);
  store<u16>(q, <u16>i32x4.extract_lane(b, 2), 16);
  if (count < 4) return;
  store<u32>(q, <u32>i32x4.extract_lane(rg, 3), 18);
  store<u16>(q, <u16>i32x4.extract_lane(b, 3), 22);
}

/** Light as it is displayed, stored as bytes or as 16-bit numbers. wide: what is negative in sRGB is a colour of the profile. */
// @ts-ignore: decorator
@inline
function encode(light: usize, plane: usize, n: i32, display: usize, out: usize, deep: bool, wide: bool): void {
  const matrix = display, table = display + TABLE, toProfile = display + TO_PROFILE;
  const knee = load<f32>(display, CURVE), white = load<f32>(display, CURVE + 4), fullChroma = load<f32>(display, CURVE + 8);
  const least = f32x4.splat(wide ? <f32>-1e9 : 0);
  const one = f32x4.splat(1), zero = f32x4.splat(0), half = f32x4.splat(0.5);
  const k = f32x4.splat(knee), span = f32x4.splat(1 - knee), w = f32x4.splat((white - knee) / (1 - knee)), perSpan = f32x4.splat(1 / (1 - knee)), perW = f32x4.splat(((1 - knee) / (white - knee)) * ((1 - knee) / (white - knee)));
  const full = f32x4.splat(fullChroma), rest = f32x4.splat(1 - fullChroma), perRest = f32x4.splat(1 / (1 - fullChroma));
  const m0 = v128.load32_splat(matrix), m1 = v128.load32_splat(matrix, 4), m2 = v128.load32_splat(matrix, 8);
  const m3 = v128.load32_splat(matrix, 12), m4 = v128.load32_splat(matrix, 16), m5 = v128.load32_splat(matrix, 20);
  const m6 = v128.load32_splat(matrix, 24), m7 = v128.load32_splat(matrix, 28), m8 = v128.load32_splat(matrix, 32);
  for (let i: i32 = 0; i < n; i += 4) {
    const p = light + (<usize>i << 2);
    const lr = v128.load(p), lg = v128.load(p + plane), lb = v128.load(p + plane * 2);
    const sr = f32x4.add(f32x4.add(f32x4.mul(lr, m0), f32x4.mul(lg, m1)), f32x4.mul(lb, m2));
    const sg = f32x4.add(f32x4.add(f32x4.mul(lr, m3), f32x4.mul(lg, m4)), f32x4.mul(lb, m5));
    const sb = f32x4.add(f32x4.add(f32x4.mul(lr, m6), f32x4.mul(lg, m7)), f32x4.mul(lb, m8));
    const y = f32x4.pmax(zero, f32x4.add(f32x4.add(f32x4.mul(sr, f32x4.splat(0.2126)), f32x4.mul(sg, f32x4.splat(0.7152))), f32x4.mul(sb, f32x4.splat(0.0722))));
    const shown = rolledOff(y, k, perSpan, w, perW, span, zero);
    const gain = f32x4.div(shown, f32x4.max(y, f32x4.splat(1e-12)));
    const most = f32x4.mul(f32x4.pmax(sr, f32x4.pmax(sg, sb)), gain);
    const excess = f32x4.div(f32x4.sub(most, shown), f32x4.max(f32x4.sub(one, shown), f32x4.splat(1e-4)));
    const beyond = f32x4.mul(f32x4.sub(excess, full), perRest);
    const held = f32x4.add(full, f32x4.div(f32x4.mul(rest, beyond), f32x4.add(one, beyond)));
    const chroma = v128.bitselect(f32x4.div(held, excess), one, f32x4.gt(excess, full));
    let dr = f32x4.mul(half, f32x4.add(f32x4.add(shown, f32x4.mul(chroma, f32x4.sub(f32x4.mul(sr, gain), shown))), rolledOff(sr, k, perSpan, w, perW, span, least)));
    let dg = f32x4.mul(half, f32x4.add(f32x4.add(shown, f32x4.mul(chroma, f32x4.sub(f32x4.mul(sg, gain), shown))), rolledOff(sg, k, perSpan, w, perW, span, least)));
    let db = f32x4.mul(half, f32x4.add(f32x4.add(shown, f32x4.mul(chroma, f32x4.sub(f32x4.mul(sb, gain), shown))), rolledOff(sb, k, perSpan, w, perW, span, least)));
    if (wide) {
      const pr = dot(toProfile, dr, dg, db), pg = dot(toProfile + 12, dr, dg, db);
      db = dot(toProfile + 24, dr, dg, db);
      dr = pr;
      dg = pg;
    }
    if (deep) {
      storeDeep(out + <usize>i * 6, transferred(dr, display, 65535), transferred(dg, display, 65535), transferred(db, display, 65535), n - i);
      continue;
    }
    let first: u32, second: u32, third: u32, fourth: u32;
    if (wide) {
      const rgb = v128.or(v128.or(transferred(dr, display, 255), i32x4.shl(transferred(dg, display, 255), 8)), i32x4.shl(transferred(db, display, 255), 16));
      first = <u32>i32x4.extract_lane(rgb, 0);
      second = <u32>i32x4.extract_lane(rgb, 1);
      third = <u32>i32x4.extract_lane(rgb, 2);
      fourth = <u32>i32x4.extract_lane(rgb, 3);
    } else {
      const r = tableIndex(dr), g = tableIndex(dg), b = tableIndex(db);
      first = look(table, i32x4.extract_lane(r, 0)) | (look(table, i32x4.extract_lane(g, 0)) << 8) | (look(table, i32x4.extract_lane(b, 0)) << 16);
      second = look(table, i32x4.extract_lane(r, 1)) | (look(table, i32x4.extract_lane(g, 1)) << 8) | (look(table, i32x4.extract_lane(b, 1)) << 16);
      third = look(table, i32x4.extract_lane(r, 2)) | (look(table, i32x4.extract_lane(g, 2)) << 8) | (look(table, i32x4.extract_lane(b, 2)) << 16);
      fourth = look(table, i32x4.extract_lane(r, 3)) | (look(table, i32x4.extract_lane(g, 3)) << 8) | (look(table, i32x4.extract_lane(b, 3)) << 16);
    }
    const q = out + <usize>i * 3;
    if (i + 4 <= n) {
      store<u32>(q, first | (second << 24));
      store<u32>(q, (second >> 8) | (third << 16), 4);
      store<u32>(q, (third >> 16) | (fourth << 8), 8);
      continue;
    }
    // The next row's pixels may lie right behind, and be another thread's.
    storeEnd(q, first);
    if (i + 1 < n) storeEnd(q + 3, second);
    if (i + 2 < n) storeEnd(q + 6, third);
  }
}

/**
 * Working light to 8-bit RGB by a display block (`finish/displayBlock`): matrix to linear sRGB, the display curve (`displayLight` of
 * `finish/toneCurve`), then a table indexed by the float's upper bits (16 octaves from 2^-12 with 512 steps each) that holds the transfer
 * function. Where the profile is a wider one: on to its colours, and its transfer function worked out.
 */
export function encodeRow(light: usize, plane: usize, n: i32, display: usize, out: usize): void {
  if (load<f32>(display, WIDE) != 0) encode(light, plane, n, display, out, false, true);
  else encode(light, plane, n, display, out, false, false);
}

/** The same to 16-bit RGB, the transfer function worked out. */
export function encodeDeepRow(light: usize, plane: usize, n: i32, display: usize, out: usize): void {
  if (load<f32>(display, WIDE) != 0) encode(light, plane, n, display, out, true, true);
  else encode(light, plane, n, display, out, true, false);
}

// @ts-ignore: decorator
@inline
function storeEnd(at: usize, rgb: u32): void {
  store<u16>(at, <u16>rgb);
  store<u8>(at, <u8>(rgb >> 16), 2);
}
