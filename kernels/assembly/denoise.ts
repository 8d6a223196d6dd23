// Noise of finished rows of bytes taken away, by brightness and by colour apart, where it is no more than was measured.

/** Luma, red minus luma, blue minus luma. */
const PLANES: i32 = 3;
/** Rows of floats beside those of the picture: one of distances, one of what a distance is worth, sums and their weights. */
const OWN: i32 = 6;

// @ts-ignore: decorator
@inline
function channel(p: usize, c: i32): f32 {
  return <f32>load<u8>(p + <usize>c);
}

/** Repeats the ends of a row of w floats to either side. */
// @ts-ignore: decorator
@inline
function repeatEnds(row: usize, w: i32, side: i32): void {
  const first = load<f32>(row), last = load<f32>(row + (<usize>(w - 1) << 2));
  for (let k: i32 = 1; k <= side; k++) {
    store<f32>(row - (<usize>k << 2), first);
    store<f32>(row + (<usize>(w - 1 + k) << 2), last);
  }
}

/** Where the planes of a row lie in a ring of rows, worked out once; clamped at the picture's upper and lower end. */
function planesOf(src: usize, step: i32, w: i32, h: i32, row: i32, ring: usize, slots: i32, stride: usize, side: i32): usize {
  const y = max(0, min(h - 1, row));
  const slot = y % slots;
  const tag = ring + (<usize>slot << 2);
  const out = ring + (<usize>((slots + 3) & ~3) << 2) + <usize>(slot * PLANES) * stride + (<usize>side << 2);
  if (load<i32>(tag) == y) return out;
  store<i32>(tag, y);
  let p = src + <usize>y * <usize>w * <usize>step, q = out;
  for (let x: i32 = 0; x < w; x++, p += <usize>step, q += 4) {
    const r = channel(p, 0), g = channel(p, 1), b = channel(p, 2);
    const luma: f32 = <f32>0.2126 * r + <f32>0.7152 * g + <f32>0.0722 * b;
    store<f32>(q, luma);
    store<f32>(q + stride, r - luma);
    store<f32>(q + (stride << 1), b - luma);
  }
  for (let k: i32 = 0; k < PLANES; k++) repeatEnds(out + <usize>k * stride, w, side);
  return out;
}

/** One over what `per` makes of the square of the grain at each pixel's brightness; nodes: grain in bytes at 32, 96, 160 and 224. */
function worthRow(luma: usize, w: i32, nodes: usize, per: f32, out: usize): void {
  const first = v128.load32_splat(nodes);
  const a = f32x4.splat((load<f32>(nodes, 4) - load<f32>(nodes)) / 64), b = f32x4.splat((load<f32>(nodes, 8) - load<f32>(nodes, 4)) / 64), c = f32x4.splat((load<f32>(nodes, 12) - load<f32>(nodes, 8)) / 64);
  const zero = f32x4.splat(0), whole = f32x4.splat(64);
  for (let x: i32 = 0; x < w; x += 4) {
    const at = <usize>x << 2;
    const v = f32x4.sub(v128.load(luma + at), f32x4.splat(32));
    let s = f32x4.add(first, f32x4.mul(a, f32x4.pmax(zero, f32x4.pmin(whole, v))));
    s = f32x4.add(s, f32x4.mul(b, f32x4.pmax(zero, f32x4.pmin(whole, f32x4.sub(v, whole)))));
    s = f32x4.add(s, f32x4.mul(c, f32x4.pmax(zero, f32x4.pmin(whole, f32x4.sub(v, f32x4.splat(128))))));
    s = f32x4.pmax(f32x4.splat(0.05), s);
    v128.store(out + at, f32x4.div(f32x4.splat(1), f32x4.mul(f32x4.splat(per), f32x4.mul(s, s))));
  }
}

/** Brightness of row y among 5 x 5 places, weighed by how alike 3 x 3 pixels about them are; `own`: rows of this thread. */
function calmLuma(src: usize, step: i32, w: i32, h: i32, y: i32, nodes: usize, spacing: i32, ring: usize, slots: i32, stride: usize, side: i32, own: usize): void {
  const distance = own, worth = own + stride, sum = own + 2 * stride, weights = own + 3 * stride;
  const here = planesOf(src, step, w, h, y, ring, slots, stride, side);
  // A mean of nine squares; two grains differ by twice the square of one. All weight up to that, none from three times that on.
  worthRow(here, w, nodes, 9 * 4, worth);
  for (let x: i32 = 0; x < w; x += 4) {
    const at = <usize>x << 2;
    v128.store(sum + at, v128.load(here + at));
    v128.store(weights + at, f32x4.splat(1));
  }
  const apart = <usize>spacing << 2;
  const p0 = planesOf(src, step, w, h, y - spacing, ring, slots, stride, side) - apart, p1 = here - apart, p2 = planesOf(src, step, w, h, y + spacing, ring, slots, stride, side) - apart;
  const zero = f32x4.splat(0), half = f32x4.splat(0.5), most = f32x4.splat(1.5);
  for (let dy: i32 = -2; dy <= 2; dy++) {
    const there = planesOf(src, step, w, h, y + dy * spacing, ring, slots, stride, side);
    for (let dx: i32 = -2; dx <= 2; dx++) {
      if (dx == 0 && dy == 0) continue;
      const off = <usize>(dx * spacing) << 2;
      const q0 = planesOf(src, step, w, h, y + (dy - 1) * spacing, ring, slots, stride, side) - apart + off;
      const q1 = there - apart + off;
      const q2 = planesOf(src, step, w, h, y + (dy + 1) * spacing, ring, slots, stride, side) - apart + off;
      const beyond = <usize>(w + 2 * spacing) << 2, to = distance - apart;
      for (let at: usize = 0; at < beyond; at += 16) {
        const a = f32x4.sub(v128.load(p0 + at), v128.load(q0 + at)), b = f32x4.sub(v128.load(p1 + at), v128.load(q1 + at)), c = f32x4.sub(v128.load(p2 + at), v128.load(q2 + at));
        v128.store(to + at, f32x4.add(f32x4.add(f32x4.mul(a, a), f32x4.mul(b, b)), f32x4.mul(c, c)));
      }
      const end = <usize>w << 2;
      for (let at: usize = 0; at < end; at += 16) {
        const d = f32x4.add(v128.load(distance + at), f32x4.add(v128.load(distance + at - apart), v128.load(distance + at + apart)));
        const t = f32x4.pmax(zero, f32x4.sub(most, f32x4.pmax(half, f32x4.mul(d, v128.load(worth + at)))));
        const weight = f32x4.mul(t, t);
        v128.store(sum + at, f32x4.add(v128.load(sum + at), f32x4.mul(weight, v128.load(there + off + at))));
        v128.store(weights + at, f32x4.add(v128.load(weights + at), weight));
      }
    }
  }
  for (let x: i32 = 0; x < w; x += 4) {
    const at = <usize>x << 2;
    v128.store(sum + at, f32x4.div(v128.load(sum + at), v128.load(weights + at)));
  }
}

/** Colour of row y among every other of 5 x 5 places twice as far apart, weighed by how alike their brightness and colour are, into two rows. */
function calmColour(src: usize, step: i32, w: i32, h: i32, y: i32, nodes: usize, colours: usize, spacing: i32, ring: usize, slots: i32, stride: usize, side: i32, own: usize): void {
  const bright = own, worth = own + stride, weights = own + 3 * stride, red = own + 4 * stride, blue = own + 5 * stride;
  const here = planesOf(src, step, w, h, y, ring, slots, stride, side);
  // Four times the grain apart is another surface.
  worthRow(here, w, nodes, 2 * 16, bright);
  worthRow(here, w, colours, 2 * 16, worth);
  for (let x: i32 = 0; x < w; x += 4) {
    const at = <usize>x << 2;
    v128.store(red + at, v128.load(here + stride + at));
    v128.store(blue + at, v128.load(here + 2 * stride + at));
    v128.store(weights + at, f32x4.splat(1));
  }
  const zero = f32x4.splat(0), one = f32x4.splat(1), end = <usize>w << 2;
  for (let dy: i32 = -2; dy <= 2; dy++) {
    const row = planesOf(src, step, w, h, y + 2 * dy * spacing, ring, slots, stride, side);
    for (let dx: i32 = -2; dx <= 2; dx++) {
      if ((dx == 0 && dy == 0) || ((dx + dy) & 1) != 0) continue;
      const there = row + (<usize>(2 * dx * spacing) << 2);
      for (let at: usize = 0; at < end; at += 16) {
        const l = f32x4.sub(v128.load(here + at), v128.load(there + at));
        const u = v128.load(there + stride + at), v = v128.load(there + 2 * stride + at);
        const du = f32x4.sub(v128.load(here + stride + at), u), dv = f32x4.sub(v128.load(here + 2 * stride + at), v);
        const far = f32x4.add(f32x4.mul(f32x4.mul(l, l), v128.load(bright + at)), f32x4.mul(f32x4.add(f32x4.mul(du, du), f32x4.mul(dv, dv)), v128.load(worth + at)));
        const t = f32x4.pmax(zero, f32x4.sub(one, far));
        const weight = f32x4.mul(t, t);
        v128.store(red + at, f32x4.add(v128.load(red + at), f32x4.mul(weight, u)));
        v128.store(blue + at, f32x4.add(v128.load(blue + at), f32x4.mul(weight, v)));
        v128.store(weights + at, f32x4.add(v128.load(weights + at), weight));
      }
    }
  }
  for (let x: i32 = 0; x < w; x += 4) {
    const at = <usize>x << 2;
    const weight = v128.load(weights + at);
    v128.store(red + at, f32x4.div(v128.load(red + at), weight));
    v128.store(blue + at, f32x4.div(v128.load(blue + at), weight));
  }
}

// @ts-ignore: decorator
@inline
function byte(v: f32): u8 {
  return <u8>(max<f32>(0, min<f32>(255, v)) + <f32>0.5);
}

/**
 * Row y of a picture of w x h pixels of `step` bytes at src, its noise calmed, to out (its own row alone). grains: eight floats, standard deviations in bytes of
 * brightness at 32, 96, 160 and 224, then of colour. luma, colour: shares of what is found that are taken. spacing: pixels between places that are looked at.
 * ring: `slots` (8 spacing + 1) numbers of rows, -1 before the first, up to a multiple of four, then three rows of `stride` bytes for each and six more; each with
 * `side` floats on either side, more than 5 spacing + 4.
 */
export function denoiseRow(src: usize, step: i32, w: i32, h: i32, y: i32, grains: usize, luma: f32, colour: f32, spacing: i32, ring: usize, stride: usize, side: i32, out: usize): void {
  const slots = 8 * spacing + 1;
  const own = ring + (<usize>((slots + 3) & ~3) << 2) + <usize>(slots * PLANES) * stride + (<usize>side << 2);
  const here = planesOf(src, step, w, h, y, ring, slots, stride, side);
  const calm = own + 2 * stride, red = own + 4 * stride, blue = own + 5 * stride;
  if (luma > 0) calmLuma(src, step, w, h, y, grains, spacing, ring, slots, stride, side, own);
  if (colour > 0) calmColour(src, step, w, h, y, grains, grains + 16, spacing, ring, slots, stride, side, own);
  let p = here, q = out;
  for (let x: i32 = 0; x < w; x++, p += 4, q += <usize>step) {
    const at = <usize>x << 2;
    let l = load<f32>(p), u = load<f32>(p + stride), v = load<f32>(p + 2 * stride);
    if (colour > 0) {
      u += colour * (load<f32>(red + at) - u);
      v += colour * (load<f32>(blue + at) - v);
    }
    if (luma > 0) l += luma * (load<f32>(calm + at) - l);
    store<u8>(q, byte(l + u));
    // What red and blue have above brightness, green has below.
    store<u8>(q, byte(l - (<f32>0.2126 * u + <f32>0.0722 * v) / <f32>0.7152), 1);
    store<u8>(q, byte(l + v), 2);
    if (step == 4) store<u8>(q, 255, 3);
  }
}
