// Unsharp masking of finished rows of bytes: by brightness alone, where there is an edge, never far beyond what lies around.

/** Pixels to either side of a row of brightness that repeat its ends. */
const SIDE: i32 = 12;

/** Channel of four pixels, as floats; at: of its first byte. */
// @ts-ignore: decorator
@inline
function red(v: v128, four: bool): v128 {
  const z = i32x4.splat(0);
  return f32x4.convert_i32x4_u(four ? v128.shuffle<u8>(v, z, 0, 16, 16, 16, 4, 16, 16, 16, 8, 16, 16, 16, 12, 16, 16, 16) : v128.shuffle<u8>(v, z, 0, 16, 16, 16, 3, 16, 16, 16, 6, 16, 16, 16, 9, 16, 16, 16));
}
// @ts-ignore: decorator
@inline
function green(v: v128, four: bool): v128 {
  const z = i32x4.splat(0);
  return f32x4.convert_i32x4_u(four ? v128.shuffle<u8>(v, z, 1, 16, 16, 16, 5, 16, 16, 16, 9, 16, 16, 16, 13, 16, 16, 16) : v128.shuffle<u8>(v, z, 1, 16, 16, 16, 4, 16, 16, 16, 7, 16, 16, 16, 10, 16, 16, 16));
}
// @ts-ignore: decorator
@inline
function blue(v: v128, four: bool): v128 {
  const z = i32x4.splat(0);
  return f32x4.convert_i32x4_u(four ? v128.shuffle<u8>(v, z, 2, 16, 16, 16, 6, 16, 16, 16, 10, 16, 16, 16, 14, 16, 16, 16) : v128.shuffle<u8>(v, z, 2, 16, 16, 16, 5, 16, 16, 16, 8, 16, 16, 16, 11, 16, 16, 16));
}

/** Repeats the ends of a row of w floats to either side. */
// @ts-ignore: decorator
@inline
function repeatEnds(row: usize, w: i32): void {
  const first = load<f32>(row), last = load<f32>(row + (<usize>(w - 1) << 2));
  for (let k: i32 = 1; k <= SIDE; k++) {
    store<f32>(row - (<usize>k << 2), first);
    store<f32>(row + (<usize>(w - 1 + k) << 2), last);
  }
}

/** Brightness of a row of a picture, clamped at its upper and lower end, in its place of a ring of rows; worked out once. */
function lumaRow(src: usize, step: i32, w: i32, h: i32, row: i32, ring: usize, slots: i32, stride: usize): usize {
  const y = max(0, min(h - 1, row));
  const slot = y % slots;
  const tag = ring + (<usize>slot << 2);
  const out = ring + (<usize>slots << 2) + <usize>slot * stride + (<usize>SIDE << 2);
  if (load<i32>(tag) == y) return out;
  store<i32>(tag, y);
  const four = step == 4;
  let p = src + <usize>y * <usize>w * <usize>step;
  for (let x: i32 = 0; x < w; x += 4, p += <usize>step << 2) {
    const v = v128.load(p);
    v128.store(out + (<usize>x << 2), f32x4.add(f32x4.add(f32x4.mul(red(v, four), f32x4.splat(0.2126)), f32x4.mul(green(v, four), f32x4.splat(0.7152))), f32x4.mul(blue(v, four), f32x4.splat(0.0722))));
  }
  repeatEnds(out, w);
  return out;
}

/** Floats as bytes in the lowest byte of each lane. */
// @ts-ignore: decorator
@inline
function bytes(v: v128): v128 {
  return i32x4.trunc_sat_f32x4_u(f32x4.add(f32x4.pmax(f32x4.splat(0), f32x4.pmin(f32x4.splat(255), v)), f32x4.splat(0.5)));
}

/** Stores up to four pixels of three bytes, and not a byte more: the row after belongs to somebody else. */
// @ts-ignore: decorator
@inline
function storeThree(q: usize, v: v128, count: i32): void {
  const a = <u32>i32x4.extract_lane(v, 0), b = <u32>i32x4.extract_lane(v, 1), c = <u32>i32x4.extract_lane(v, 2), d = <u32>i32x4.extract_lane(v, 3);
  if (count >= 4) {
    store<u32>(q, a | (b << 24));
    store<u32>(q, (b >> 8) | (c << 16), 4);
    store<u32>(q, (c >> 16) | (d << 8), 8);
    return;
  }
  store<u16>(q, <u16>a);
  store<u8>(q, <u8>(a >> 16), 2);
  if (count < 2) return;
  store<u16>(q, <u16>b, 3);
  store<u8>(q, <u8>(b >> 16), 5);
  if (count < 3) return;
  store<u16>(q, <u16>c, 6);
  store<u8>(q, <u8>(c >> 16), 8);
}

// @ts-ignore: decorator
@inline
function least3(row: usize): v128 {
  return f32x4.pmin(v128.load(row), f32x4.pmin(v128.load(row - 4), v128.load(row, 4)));
}
// @ts-ignore: decorator
@inline
function most3(row: usize): v128 {
  return f32x4.pmax(v128.load(row), f32x4.pmax(v128.load(row - 4), v128.load(row, 4)));
}

/**
 * Row y of a picture of w x h pixels of `step` bytes at src, sharpened, to out (its own row alone). weights: of a Gaussian from its middle out to `radius`,
 * at most SIDE - 4. An edge counts by the span of brightness in 3 x 3 pixels: nothing up to `least`, whole from `least + soft` on; the result stays within that
 * span and `halo` beyond. ring: 2 radius + 3 numbers of rows, -1 before the first, then as many rows of `stride` bytes and one more, each with SIDE floats on
 * either side. mask: 1 shows in grey where edges count. Reads up to 16 bytes past the end of a picture.
 */
export function sharpenRow(src: usize, step: i32, w: i32, h: i32, y: i32, weights: usize, radius: i32, amount: f32, least: f32, soft: f32, halo: f32, ring: usize, stride: usize, mask: i32, out: usize): void {
  const slots = 2 * radius + 3;
  const above = lumaRow(src, step, w, h, y - 1, ring, slots, stride);
  const here = lumaRow(src, step, w, h, y, ring, slots, stride);
  const below = lumaRow(src, step, w, h, y + 1, ring, slots, stride);
  const across = ring + (<usize>slots << 2) + <usize>slots * stride + (<usize>SIDE << 2);
  const w0 = f32x4.splat(load<f32>(weights));
  for (let x: i32 = 0; x < w; x += 4) v128.store(across + (<usize>x << 2), f32x4.mul(w0, v128.load(here + (<usize>x << 2))));
  for (let k: i32 = 1; k <= radius; k++) {
    const up = lumaRow(src, step, w, h, y - k, ring, slots, stride), down = lumaRow(src, step, w, h, y + k, ring, slots, stride);
    const weight = v128.load32_splat(weights + (<usize>k << 2));
    for (let x: i32 = 0; x < w; x += 4) {
      const p = <usize>x << 2;
      v128.store(across + p, f32x4.add(v128.load(across + p), f32x4.mul(weight, f32x4.add(v128.load(up + p), v128.load(down + p)))));
    }
  }
  repeatEnds(across, w);
  const four = step == 4, zero = f32x4.splat(0), one = f32x4.splat(1);
  let p = src + <usize>y * <usize>w * <usize>step, q = out;
  for (let x: i32 = 0; x < w; x += 4, p += <usize>step << 2, q += <usize>step << 2) {
    const at = <usize>x << 2;
    const pixels = v128.load(p);
    const low = f32x4.pmin(least3(here + at), f32x4.pmin(least3(above + at), least3(below + at)));
    const high = f32x4.pmax(most3(here + at), f32x4.pmax(most3(above + at), most3(below + at)));
    const t = f32x4.pmax(zero, f32x4.pmin(one, f32x4.div(f32x4.sub(f32x4.sub(high, low), f32x4.splat(least)), f32x4.splat(soft))));
    const m = f32x4.mul(f32x4.mul(t, t), f32x4.sub(f32x4.splat(3), f32x4.add(t, t)));
    let r: v128, g: v128, b: v128;
    if (mask) {
      r = bytes(f32x4.mul(f32x4.splat(255), m));
      g = r;
      b = r;
    } else if (!v128.any_true(f32x4.gt(t, zero))) {
      const z = i32x4.splat(0);
      r = four ? v128.and(pixels, i32x4.splat(0xffffff)) : v128.shuffle<u8>(pixels, z, 0, 1, 2, 16, 3, 4, 5, 16, 6, 7, 8, 16, 9, 10, 11, 16);
      if (four) storeFour(q, v128.or(r, i32x4.splat(<i32>0xff000000)), w - x);
      else storeThree(q, r, w - x);
      continue;
    } else {
      let blurred = f32x4.mul(w0, v128.load(across + at));
      for (let k: i32 = 1; k <= radius; k++) {
        const by = <usize>k << 2;
        blurred = f32x4.add(blurred, f32x4.mul(v128.load32_splat(weights + by), f32x4.add(v128.load(across + at - by), v128.load(across + at + by))));
      }
      const v = v128.load(here + at);
      const wished = f32x4.add(v, f32x4.mul(f32x4.mul(f32x4.splat(amount), m), f32x4.sub(v, blurred)));
      const d = f32x4.sub(f32x4.pmax(f32x4.sub(low, f32x4.splat(halo)), f32x4.pmin(f32x4.add(high, f32x4.splat(halo)), wished)), v);
      r = bytes(f32x4.add(red(pixels, four), d));
      g = bytes(f32x4.add(green(pixels, four), d));
      b = bytes(f32x4.add(blue(pixels, four), d));
    }
    const packed = v128.or(v128.or(r, i32x4.shl(g, 8)), i32x4.shl(b, 16));
    if (four) storeFour(q, v128.or(packed, i32x4.splat(<i32>0xff000000)), w - x);
    else storeThree(q, packed, w - x);
  }
}

/** Stores up to four pixels of four bytes. */
// @ts-ignore: decorator
@inline
function storeFour(q: usize, v: v128, count: i32): void {
  if (count >= 4) return v128.store(q, v);
  store<u32>(q, <u32>i32x4.extract_lane(v, 0));
  if (count > 1) store<u32>(q, <u32>i32x4.extract_lane(v, 1), 4);
  if (count > 2) store<u32>(q, <u32>i32x4.extract_lane(v, 2), 8);
}
