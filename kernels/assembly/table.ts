// Colours put through a colour table, a curve a channel or a cube of colours.

// Where parts of the block begin, in bytes: as core/src/kernels/tableLayout.ts has them in floats.
const INTO: usize = 0, BACK: usize = 36, FROM: usize = 72, SCALE: usize = 84, SIZE: usize = 96, CURVES: usize = 100, TOP: usize = 104, ENCODED: usize = 108, ENCODE: usize = 128, DECODE: usize = 128 + 4 * 1025, VALUES: usize = 128 + 4 * 1025 + 4 * 4097;
const DECODE_STEPS: f32 = 4096;

/** Encoded value of linear light 0..top: 64 steps an octave from 2^-12 on, linear between and below. */
// @ts-ignore: decorator
@inline
function encode(block: usize, v: f32): f32 {
  const bits = reinterpret<i32>(v);
  const k = (bits >> 17) - ((127 - 12) << 6);
  if (k < 0) return v * 4096 * load<f32>(block + ENCODE);
  const p = block + ENCODE + (<usize>k << 2);
  const a = load<f32>(p);
  return a + <f32>(bits & 0x1ffff) * (1.0 / 131072.0) * (load<f32>(p, 4) - a);
}

/** The way back, for 0..1. */
// @ts-ignore: decorator
@inline
function decode(block: usize, e: f32): f32 {
  const at = min<f32>(1, max<f32>(0, e)) * DECODE_STEPS;
  const k = min<i32>(4095, <i32>at);
  const p = block + DECODE + (<usize>k << 2);
  const a = load<f32>(p);
  return a + (at - <f32>k) * (load<f32>(p, 4) - a);
}

// @ts-ignore: decorator
@inline
function dot(block: usize, at: usize, r: f32, g: f32, b: f32): f32 {
  return load<f32>(block + at) * r + load<f32>(block + at, 4) * g + load<f32>(block + at, 8) * b;
}

/** Place along the table of an encoded value, 0..size - 1. */
// @ts-ignore: decorator
@inline
function placeOf(block: usize, c: usize, e: f32, last: f32): f32 {
  return min<f32>(last, max<f32>(0, (e - load<f32>(block + FROM + (c << 2))) * load<f32>(block + SCALE + (c << 2))));
}

/** A curve's value, linear between its entries. */
// @ts-ignore: decorator
@inline
function curve(block: usize, c: usize, at: f32, most: i32): f32 {
  const k = min<i32>(most, <i32>at);
  const p = block + VALUES + (<usize>(3 * k) << 2) + (c << 2);
  const a = load<f32>(p);
  return a + (at - <f32>k) * (load<f32>(p, 12) - a);
}

/** By how much light changes in a channel of the table's space, where its value e becomes `to`. Beyond the top it keeps what becomes of that. */
// @ts-ignore: decorator
@inline
function change(block: usize, encoded: bool, top: f32, v: f32, e: f32, to: f32): f32 {
  const is = encoded ? decode(block, e) : e;
  const wished = encoded ? decode(block, to) : to;
  return wished - is + (v > top ? (v - top) * (wished / top - 1) : 0);
}

/**
 * light += mask times strength times what a colour table makes of it. In a cube, tetrahedral interpolation (Sakamoto, Itooka, US patent
 * 4275413, 1981, expired): greys stay on the cube's own diagonal. block: see core/src/finish/tableBlock.ts.
 */
export function tableRow(light: usize, plane: usize, n: i32, mask: usize, block: usize, strength: f32): void {
  const size = <i32>load<f32>(block + SIZE), last = <f32>(size - 1), most = size - 2;
  const curves = load<f32>(block + CURVES) > 0, encoded = load<f32>(block + ENCODED) > 0;
  const top = load<f32>(block + TOP);
  // Bytes to the next value in red, green, blue.
  const dr: usize = 12, dg: usize = 12 * <usize>size, db: usize = dg * <usize>size;
  for (let i: i32 = 0; i < n; i++) {
    const w = load<f32>(mask + (<usize>i << 2)) * strength;
    if (!(w > 0)) continue;
    const p = light + (<usize>i << 2);
    const lr = load<f32>(p), lg = load<f32>(p + plane), lb = load<f32>(p + plane * 2);
    const r = dot(block, INTO, lr, lg, lb), g = dot(block, INTO + 12, lr, lg, lb), b = dot(block, INTO + 24, lr, lg, lb);
    let er = min<f32>(top, max<f32>(0, r)), eg = min<f32>(top, max<f32>(0, g)), eb = min<f32>(top, max<f32>(0, b));
    if (encoded) {
      er = encode(block, er);
      eg = encode(block, eg);
      eb = encode(block, eb);
    }
    const x = placeOf(block, 0, er, last), y = placeOf(block, 1, eg, last), z = placeOf(block, 2, eb, last);
    let tr: f32, tg: f32, tb: f32;
    if (curves) {
      tr = curve(block, 0, x, most);
      tg = curve(block, 1, y, most);
      tb = curve(block, 2, z, most);
    } else {
      const kx = min<i32>(most, <i32>x), ky = min<i32>(most, <i32>y), kz = min<i32>(most, <i32>z);
      const fx = x - <f32>kx, fy = y - <f32>ky, fz = z - <f32>kz;
      const o = block + VALUES + <usize>kx * dr + <usize>ky * dg + <usize>kz * db;
      // From the corner at the origin to the one opposite, the largest part first.
      let first: usize, second: usize, a: f32, m: f32, c: f32;
      if (fx >= fy) {
        if (fy >= fz) { first = dr; second = dr + dg; a = fx; m = fy; c = fz; }
        else if (fx >= fz) { first = dr; second = dr + db; a = fx; m = fz; c = fy; }
        else { first = db; second = dr + db; a = fz; m = fx; c = fy; }
      } else if (fx >= fz) { first = dg; second = dr + dg; a = fy; m = fx; c = fz; }
      else if (fy >= fz) { first = dg; second = dg + db; a = fy; m = fz; c = fx; }
      else { first = db; second = dg + db; a = fz; m = fy; c = fx; }
      const all = dr + dg + db;
      const w0: f32 = 1 - a, w1 = a - m, w2 = m - c;
      tr = w0 * load<f32>(o) + w1 * load<f32>(o + first) + w2 * load<f32>(o + second) + c * load<f32>(o + all);
      tg = w0 * load<f32>(o, 4) + w1 * load<f32>(o + first, 4) + w2 * load<f32>(o + second, 4) + c * load<f32>(o + all, 4);
      tb = w0 * load<f32>(o, 8) + w1 * load<f32>(o + first, 8) + w2 * load<f32>(o + second, 8) + c * load<f32>(o + all, 8);
    }
    // A table says nothing of what lies outside its domain: that keeps its distance.
    const cr = change(block, encoded, top, r, load<f32>(block + FROM) + x / load<f32>(block + SCALE), tr);
    const cg = change(block, encoded, top, g, load<f32>(block + FROM, 4) + y / load<f32>(block + SCALE, 4), tg);
    const cb = change(block, encoded, top, b, load<f32>(block + FROM, 8) + z / load<f32>(block + SCALE, 8), tb);
    store<f32>(p, lr + w * dot(block, BACK, cr, cg, cb));
    store<f32>(p + plane, lg + w * dot(block, BACK + 12, cr, cg, cb));
    store<f32>(p + plane * 2, lb + w * dot(block, BACK + 24, cr, cg, cb));
  }
}
