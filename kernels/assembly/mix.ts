// The fused mix of one pass into what is below it, in linear light, four pixels at a time.

// @ts-ignore: decorator
@inline
function luminance(r: v128, g: v128, b: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(r, f32x4.splat(0.2627)), f32x4.mul(g, f32x4.splat(0.678))), f32x4.mul(b, f32x4.splat(0.0593)));
}

/**
 * below <- the pass over below. mask: f32 0..1 (opacity and cover included). brightness and colour
 * (0..1) say how much of the source's luminance and of its chromaticity is taken.
 */
export function mixRow(below: usize, belowPlane: usize, src: usize, srcPlane: usize, mask: usize, n: i32, brightness: f32, colour: f32): void {
  const floor = f32x4.splat(1e-5);
  const whole = brightness == colour;
  const kb = f32x4.splat(brightness), kc = f32x4.splat(colour);
  for (let i: i32 = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const m = v128.load(mask + at);
    if (!v128.any_true(m)) continue;
    const p = below + at, q = src + at;
    const br = v128.load(p), bg = v128.load(p + belowPlane), bb = v128.load(p + belowPlane * 2);
    const sr = v128.load(q), sg = v128.load(q + srcPlane), sb = v128.load(q + srcPlane * 2);
    const tc = f32x4.mul(m, kc);
    if (whole) {
      v128.store(p, f32x4.add(br, f32x4.mul(tc, f32x4.sub(sr, br))));
      v128.store(p + belowPlane, f32x4.add(bg, f32x4.mul(tc, f32x4.sub(sg, bg))));
      v128.store(p + belowPlane * 2, f32x4.add(bb, f32x4.mul(tc, f32x4.sub(sb, bb))));
      continue;
    }
    const tb = f32x4.mul(m, kb);
    const yb = f32x4.pmax(floor, luminance(br, bg, bb));
    const ys = f32x4.pmax(floor, luminance(sr, sg, sb));
    const y = f32x4.add(yb, f32x4.mul(tb, f32x4.sub(ys, yb)));
    const gb = f32x4.div(f32x4.mul(y, f32x4.sub(f32x4.splat(1), tc)), yb);
    const gs = f32x4.div(f32x4.mul(y, tc), ys);
    v128.store(p, f32x4.add(f32x4.mul(br, gb), f32x4.mul(sr, gs)));
    v128.store(p + belowPlane, f32x4.add(f32x4.mul(bg, gb), f32x4.mul(sg, gs)));
    v128.store(p + belowPlane * 2, f32x4.add(f32x4.mul(bb, gb), f32x4.mul(sb, gs)));
  }
}

/** How areas join into one mask: 0 add (union of coverages), 1 subtract, 2 intersect; 4 more turns the area inside out first. */
export function foldRow(mask: usize, area: usize, n: i32, how: i32): void {
  const one = f32x4.splat(1);
  const join = how & 3;
  const inverted = (how & 4) != 0;
  for (let i: i32 = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const m = v128.load(mask + at);
    let a = v128.load(area + at);
    if (inverted) a = f32x4.sub(one, a);
    const out = join == 0 ? f32x4.sub(f32x4.add(m, a), f32x4.mul(m, a)) : join == 1 ? f32x4.mul(m, f32x4.sub(one, a)) : f32x4.mul(m, a);
    v128.store(mask + at, out);
  }
}

/** flags (u8, one for every 64 values): 1 where any value is further from 0 than `least`, else 0. Returns 1 if any flag is set. */
export function chunksRow(values: usize, n: i32, least: f32, flags: usize): i32 {
  const limit = f32x4.splat(least);
  let all: i32 = 0;
  for (let start: i32 = 0; start < n; start += 64, flags++) {
    const end = min(start + 64, n);
    let any = i32x4.splat(0);
    let i = start;
    for (; i + 4 <= end; i += 4) any = v128.or(any, f32x4.gt(f32x4.abs(v128.load(values + (<usize>i << 2))), limit));
    let flag: i32 = v128.any_true(any) ? 1 : 0;
    for (; i < end; i++) if (Mathf.abs(load<f32>(values + (<usize>i << 2))) > least) flag = 1;
    store<u8>(flags, flag);
    all |= flag;
  }
  return all;
}

/** mask <- mask * factor * cover; values below 1/255 become exactly 0 so that work can be skipped. Returns 1 if anything is left. */
export function finishMaskRow(mask: usize, cover: usize, n: i32, factor: f32): i32 {
  const k = f32x4.splat(factor);
  const least = f32x4.splat(1.0 / 255.0);
  let any = i32x4.splat(0);
  for (let i: i32 = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    let m = f32x4.mul(f32x4.mul(v128.load(mask + at), k), v128.load(cover + at));
    m = v128.and(m, f32x4.ge(m, least));
    any = v128.or(any, m);
    v128.store(mask + at, m);
  }
  return v128.any_true(any) ? 1 : 0;
}
