// Unsharp masking of finished rows of bytes: by brightness alone, where there is an edge, never far beyond what lies around.

// @ts-ignore: decorator
@inline
function at32(p: usize, i: i32): f32 {
  return load<f32>(p + (<usize>i << 2));
}

/** Brightness of a row of a picture, clamped at its upper and lower end, in its place of a ring of rows; worked out once. */
// @ts-ignore: decorator
@inline
function lumaRow(src: usize, step: i32, w: i32, h: i32, row: i32, ring: usize, slots: i32, stride: usize): usize {
  const y = max(0, min(h - 1, row));
  const slot = y % slots;
  const tag = ring + (<usize>slot << 2);
  const out = ring + (<usize>slots << 2) + <usize>slot * stride;
  if (load<i32>(tag) == y) return out;
  store<i32>(tag, y);
  let p = src + <usize>y * <usize>w * <usize>step;
  for (let x: i32 = 0; x < w; x++, p += <usize>step) {
    store<f32>(out + (<usize>x << 2), 0.2126 * <f32>load<u8>(p) + 0.7152 * <f32>load<u8>(p, 1) + 0.0722 * <f32>load<u8>(p, 2));
  }
  return out;
}

// @ts-ignore: decorator
@inline
function byte(v: f32): u8 {
  return <u8>(max<f32>(0, min<f32>(255, v)) + 0.5);
}

/**
 * Row y of a picture of w x h pixels of `step` bytes at src, sharpened, to out (its own row alone). weights: of a Gaussian from its middle out to `radius`.
 * An edge counts by the span of brightness in 3 x 3 pixels: nothing up to `least`, whole from `least + soft` on; the result stays within that
 * span and `halo` beyond. ring: 2 radius + 3 numbers of rows, -1 before the first, then as many rows of `stride` bytes, and one more
 * with room for `radius` on either side. mask: 1 shows in grey where edges count.
 */
export function sharpenRow(src: usize, step: i32, w: i32, h: i32, y: i32, weights: usize, radius: i32, amount: f32, least: f32, soft: f32, halo: f32, ring: usize, stride: usize, mask: i32, out: usize): void {
  const slots = 2 * radius + 3;
  const above = lumaRow(src, step, w, h, y - 1, ring, slots, stride);
  const here = lumaRow(src, step, w, h, y, ring, slots, stride);
  const below = lumaRow(src, step, w, h, y + 1, ring, slots, stride);
  const across = ring + (<usize>slots << 2) + <usize>slots * stride + (<usize>radius << 2);
  const w0 = load<f32>(weights);
  for (let x: i32 = 0; x < w; x++) store<f32>(across + (<usize>x << 2), w0 * at32(here, x));
  for (let k: i32 = 1; k <= radius; k++) {
    const up = lumaRow(src, step, w, h, y - k, ring, slots, stride), down = lumaRow(src, step, w, h, y + k, ring, slots, stride);
    const weight = f32x4.splat(at32(weights, k));
    for (let x: i32 = 0; x < w; x += 4) {
      const p = <usize>x << 2;
      v128.store(across + p, f32x4.add(v128.load(across + p), f32x4.mul(weight, f32x4.add(v128.load(up + p), v128.load(down + p)))));
    }
  }
  const first = at32(across, 0), last = at32(across, w - 1);
  for (let k: i32 = 1; k <= radius; k++) {
    store<f32>(across - (<usize>k << 2), first);
    store<f32>(across + (<usize>(w - 1 + k) << 2), last);
  }
  let p = src + <usize>y * <usize>w * <usize>step, q = out;
  for (let x: i32 = 0; x < w; x++, p += <usize>step, q += <usize>step) {
    const l = max(0, x - 1), r = min(w - 1, x + 1);
    const low = min(min(min(min(at32(above, l), at32(above, x)), min(at32(above, r), at32(here, l))), min(at32(here, x), at32(here, r))), min(min(at32(below, l), at32(below, x)), at32(below, r)));
    const high = max(max(max(max(at32(above, l), at32(above, x)), max(at32(above, r), at32(here, l))), max(at32(here, x), at32(here, r))), max(max(at32(below, l), at32(below, x)), at32(below, r)));
    const t = max<f32>(0, min<f32>(1, (high - low - least) / soft));
    const m = t * t * (3 - 2 * t);
    if (step == 4) store<u8>(q, 255, 3);
    if (mask) {
      const grey = byte(255 * m);
      store<u8>(q, grey);
      store<u8>(q, grey, 1);
      store<u8>(q, grey, 2);
      continue;
    }
    let blurred = w0 * at32(across, x);
    for (let k: i32 = 1; k <= radius; k++) blurred += at32(weights, k) * (at32(across, x - k) + at32(across, x + k));
    const v = at32(here, x);
    const d = max(low - halo, min(high + halo, v + amount * m * (v - blurred))) - v;
    store<u8>(q, byte(<f32>load<u8>(p) + d));
    store<u8>(q, byte(<f32>load<u8>(p, 1) + d), 1);
    store<u8>(q, byte(<f32>load<u8>(p, 2) + d), 2);
  }
}
