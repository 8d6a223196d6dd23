// Colours put through a colour table, a curve a channel or a cube of colours.
import { dot3 } from "./select";

// Where parts of the block begin, in bytes: as core/src/kernels/tableLayout.ts has them in floats.
const BACK: usize = 36, FROM: usize = 72, SCALE: usize = 84, SIZE: usize = 96, CURVES: usize = 100, TOP: usize = 104, ENCODED: usize = 108, ENCODE: usize = 128, DECODE: usize = 128 + 4 * 1025, VALUES: usize = DECODE + 4 * 4097;

// @ts-ignore: decorator
@inline
function clamp(v: v128, low: v128, high: v128): v128 {
  return f32x4.min(high, f32x4.max(low, v));
}

/** Four values of a table, each a part of the way from an entry to the next. */
// @ts-ignore: decorator
@inline
function between(table: usize, k: v128, part: v128): v128 {
  const k0 = v128.load64_zero(table + (<usize>i32x4.extract_lane(k, 0) << 2)), k1 = v128.load64_zero(table + (<usize>i32x4.extract_lane(k, 1) << 2));
  const k2 = v128.load64_zero(table + (<usize>i32x4.extract_lane(k, 2) << 2)), k3 = v128.load64_zero(table + (<usize>i32x4.extract_lane(k, 3) << 2));
  const low = v128.shuffle<f32>(k0, k1, 0, 4, 1, 5), high = v128.shuffle<f32>(k2, k3, 0, 4, 1, 5);
  const a = v128.shuffle<f32>(low, high, 0, 1, 4, 5), b = v128.shuffle<f32>(low, high, 2, 3, 6, 7);
  return f32x4.add(a, f32x4.mul(part, f32x4.sub(b, a)));
}

/** Linear light, from 0 to what the table tells apart, as it is encoded: 64 steps an octave from 2^-12 on; below, a straight line. */
// @ts-ignore: decorator
@inline
function encode(block: usize, v: v128): v128 {
  const k = i32x4.max_s(i32x4.splat(0), i32x4.sub(i32x4.shr_u(v, 17), i32x4.splat((127 - 12) << 6)));
  const part = f32x4.mul(f32x4.convert_i32x4_s(v128.and(v, i32x4.splat(0x1ffff))), f32x4.splat(1.0 / 131072.0));
  return v128.bitselect(between(block + ENCODE, k, part), f32x4.mul(v, f32x4.splat(12.92)), f32x4.gt(v, f32x4.splat(1.0 / 4096.0)));
}

/** The way back, for 0..1. */
// @ts-ignore: decorator
@inline
function decode(block: usize, e: v128): v128 {
  const at = f32x4.mul(clamp(e, f32x4.splat(0), f32x4.splat(1)), f32x4.splat(4096));
  const k = i32x4.min_s(i32x4.splat(4095), i32x4.trunc_sat_f32x4_s(at));
  return between(block + DECODE, k, f32x4.sub(at, f32x4.convert_i32x4_s(k)));
}

/** A curve's value at entry k, and a part of the way to the next. */
// @ts-ignore: decorator
@inline
function curve(values: usize, k: i32, part: f32): f32 {
  const p = values + (<usize>(3 * k) << 2);
  const a = load<f32>(p);
  return a + part * (load<f32>(p, 12) - a);
}

/** A channel of four pixels on its curve. */
// @ts-ignore: decorator
@inline
function onCurve(values: usize, k: v128, part: v128): v128 {
  const a = f32x4.splat(curve(values, i32x4.extract_lane(k, 0), f32x4.extract_lane(part, 0)));
  const b = f32x4.replace_lane(a, 1, curve(values, i32x4.extract_lane(k, 1), f32x4.extract_lane(part, 1)));
  const c = f32x4.replace_lane(b, 2, curve(values, i32x4.extract_lane(k, 2), f32x4.extract_lane(part, 2)));
  return f32x4.replace_lane(c, 3, curve(values, i32x4.extract_lane(k, 3), f32x4.extract_lane(part, 3)));
}

/** A colour of a cube between its corners: from the one at the origin to the one opposite, along the edge of the largest part first. */
// @ts-ignore: decorator
@inline
function inCube(origin: usize, dr: usize, dg: usize, db: usize, x: f32, y: f32, z: f32): v128 {
  const xy = x >= y, yz = y >= z, xz = x >= z;
  const largest = xy & xz ? dr : yz ? dg : db;
  const smallest = !xy && !xz ? dr : xy & !yz ? dg : db;
  const all = dr + dg + db;
  const a = max<f32>(x, max<f32>(y, z)), c = min<f32>(x, min<f32>(y, z));
  const m = x + y + z - a - c;
  const low = f32x4.add(f32x4.mul(f32x4.splat(1 - a), v128.load(origin)), f32x4.mul(f32x4.splat(a - m), v128.load(origin + largest)));
  return f32x4.add(low, f32x4.add(f32x4.mul(f32x4.splat(m - c), v128.load(origin + all - smallest)), f32x4.mul(f32x4.splat(c), v128.load(origin + all))));
}

/**
 * light += mask times strength times what a colour table makes of it. In a cube, tetrahedral interpolation (Sakamoto, Itooka, US patent
 * 4275413, 1981, expired): greys stay on the cube's own diagonal. block: see core/src/finish/tableBlock.ts; four bytes behind it may be read.
 */
export function tableRow(light: usize, plane: usize, n: i32, mask: usize, block: usize, strength: f32): void {
  const size = <i32>load<f32>(block + SIZE);
  const last = f32x4.splat(<f32>(size - 1)), most = i32x4.splat(size - 2), zero = f32x4.splat(0);
  const curves = load<f32>(block + CURVES) > 0, encoded = load<f32>(block + ENCODED) > 0;
  const top = v128.load32_splat(block + TOP);
  const fromR = v128.load32_splat(block + FROM), fromG = v128.load32_splat(block + FROM + 4), fromB = v128.load32_splat(block + FROM + 8);
  const scaleR = v128.load32_splat(block + SCALE), scaleG = v128.load32_splat(block + SCALE + 4), scaleB = v128.load32_splat(block + SCALE + 8);
  // Bytes to the next value in red, green, blue.
  const dr: usize = 12, dg: usize = 12 * <usize>size, db: usize = dg * <usize>size;
  const values = block + VALUES;
  for (let i: i32 = 0; i < n; i += 4) {
    const share = f32x4.mul(v128.load(mask + (<usize>i << 2)), f32x4.splat(strength));
    if (!v128.any_true(f32x4.gt(share, zero))) continue;
    const p = light + (<usize>i << 2);
    const lr = v128.load(p), lg = v128.load(p + plane), lb = v128.load(p + plane * 2);
    const r = dot3(lr, lg, lb, block), g = dot3(lr, lg, lb, block + 12), b = dot3(lr, lg, lb, block + 24);
    let er = clamp(r, zero, top), eg = clamp(g, zero, top), eb = clamp(b, zero, top);
    if (encoded) {
      er = encode(block, er);
      eg = encode(block, eg);
      eb = encode(block, eb);
    }
    const x = clamp(f32x4.mul(f32x4.sub(er, fromR), scaleR), zero, last), y = clamp(f32x4.mul(f32x4.sub(eg, fromG), scaleG), zero, last), z = clamp(f32x4.mul(f32x4.sub(eb, fromB), scaleB), zero, last);
    const kx = i32x4.min_s(most, i32x4.trunc_sat_f32x4_s(x)), ky = i32x4.min_s(most, i32x4.trunc_sat_f32x4_s(y)), kz = i32x4.min_s(most, i32x4.trunc_sat_f32x4_s(z));
    const fx = f32x4.sub(x, f32x4.convert_i32x4_s(kx)), fy = f32x4.sub(y, f32x4.convert_i32x4_s(ky)), fz = f32x4.sub(z, f32x4.convert_i32x4_s(kz));
    let tr: v128, tg: v128, tb: v128;
    if (curves) {
      tr = onCurve(values, kx, fx);
      tg = onCurve(values + 4, ky, fy);
      tb = onCurve(values + 8, kz, fz);
    } else {
      const at = i32x4.mul(i32x4.splat(12), i32x4.add(kx, i32x4.mul(i32x4.splat(size), i32x4.add(ky, i32x4.mul(i32x4.splat(size), kz)))));
      const t0 = inCube(values + <usize>i32x4.extract_lane(at, 0), dr, dg, db, f32x4.extract_lane(fx, 0), f32x4.extract_lane(fy, 0), f32x4.extract_lane(fz, 0));
      const t1 = inCube(values + <usize>i32x4.extract_lane(at, 1), dr, dg, db, f32x4.extract_lane(fx, 1), f32x4.extract_lane(fy, 1), f32x4.extract_lane(fz, 1));
      const t2 = inCube(values + <usize>i32x4.extract_lane(at, 2), dr, dg, db, f32x4.extract_lane(fx, 2), f32x4.extract_lane(fy, 2), f32x4.extract_lane(fz, 2));
      const t3 = inCube(values + <usize>i32x4.extract_lane(at, 3), dr, dg, db, f32x4.extract_lane(fx, 3), f32x4.extract_lane(fy, 3), f32x4.extract_lane(fz, 3));
      const low = v128.shuffle<f32>(t0, t1, 0, 4, 1, 5), high = v128.shuffle<f32>(t2, t3, 0, 4, 1, 5);
      tr = v128.shuffle<f32>(low, high, 0, 1, 4, 5);
      tg = v128.shuffle<f32>(low, high, 2, 3, 6, 7);
      tb = v128.shuffle<f32>(v128.shuffle<f32>(t0, t1, 2, 6, 2, 6), v128.shuffle<f32>(t2, t3, 2, 6, 2, 6), 0, 1, 4, 5);
    }
    // A table says nothing of what lies outside its domain: that keeps its distance.
    let isR = f32x4.add(fromR, f32x4.div(x, scaleR)), isG = f32x4.add(fromG, f32x4.div(y, scaleG)), isB = f32x4.add(fromB, f32x4.div(z, scaleB));
    if (encoded) {
      isR = decode(block, isR);
      isG = decode(block, isG);
      isB = decode(block, isB);
      tr = decode(block, tr);
      tg = decode(block, tg);
      tb = decode(block, tb);
    }
    const cr = change(top, r, isR, tr), cg = change(top, g, isG, tg), cb = change(top, b, isB, tb);
    v128.store(p, f32x4.add(lr, f32x4.mul(share, dot3(cr, cg, cb, block + BACK))));
    v128.store(p + plane, f32x4.add(lg, f32x4.mul(share, dot3(cr, cg, cb, block + BACK + 12))));
    v128.store(p + plane * 2, f32x4.add(lb, f32x4.mul(share, dot3(cr, cg, cb, block + BACK + 24))));
  }
}

/** By how much light changes in a channel of the table's space. Beyond the top it keeps what becomes of that. */
// @ts-ignore: decorator
@inline
function change(top: v128, v: v128, is: v128, wished: v128): v128 {
  const beyond = f32x4.max(f32x4.splat(0), f32x4.sub(v, top));
  return f32x4.add(f32x4.sub(wished, is), f32x4.mul(beyond, f32x4.sub(f32x4.div(wished, top), f32x4.splat(1))));
}
