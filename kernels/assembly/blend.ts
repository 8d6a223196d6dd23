// Blend modes of W3C "Compositing and Blending Level 1", extended beyond 0..1. See `core/src/blend/blendModes.ts` for which
// works on which encoding and why.

const NORMAL: i32 = 0;
const ADD: i32 = 1;
const LIGHTEN: i32 = 2;
const DARKEN: i32 = 3;
const MULTIPLY: i32 = 4;
const SCREEN: i32 = 5;
// From here on values are encoded.
const OVERLAY: i32 = 6;
const COLOR_DODGE: i32 = 7;
const COLOR_BURN: i32 = 8;
const HARD_LIGHT: i32 = 9;
const SOFT_LIGHT: i32 = 10;
const DIFFERENCE: i32 = 11;
const EXCLUSION: i32 = 12;
// From here on three colours are looked at together.
const HUE: i32 = 13;
const SATURATION: i32 = 14;
const COLOR: i32 = 15;
const LUMINOSITY: i32 = 16;

// @ts-ignore: decorator
@inline
function all(v: f32): v128 {
  return f32x4.splat(v);
}

// @ts-ignore: decorator
@inline
function unit(v: v128): v128 {
  return f32x4.min(all(1), f32x4.max(all(0), v));
}

// @ts-ignore: decorator
@inline
function encoded(v: v128): v128 {
  return f32x4.sqrt(f32x4.max(all(0), v));
}

// @ts-ignore: decorator
@inline
function screen(b: v128, s: v128): v128 {
  const ub = unit(b), us = unit(s);
  return f32x4.max(f32x4.max(b, s), f32x4.sub(f32x4.add(ub, us), f32x4.mul(ub, us)));
}

// @ts-ignore: decorator
@inline
function hardLight(b: v128, s: v128): v128 {
  const twice = f32x4.add(s, s);
  return v128.bitselect(f32x4.mul(b, twice), screen(b, f32x4.sub(twice, all(1))), f32x4.le(s, all(0.5)));
}

// @ts-ignore: decorator
@inline
function dodge(b: v128, s: v128): v128 {
  return f32x4.max(b, f32x4.min(all(1), f32x4.div(b, f32x4.max(all(1e-6), f32x4.sub(all(1), s)))));
}

// @ts-ignore: decorator
@inline
function burn(b: v128, s: v128): v128 {
  const dark = f32x4.sub(all(1), f32x4.min(all(1), f32x4.div(f32x4.sub(all(1), b), f32x4.max(all(1e-6), s))));
  return v128.bitselect(b, dark, f32x4.ge(b, all(1)));
}

// @ts-ignore: decorator
@inline
function softLight(b: v128, s: v128): v128 {
  const twice = f32x4.sub(f32x4.mul(all(2), f32x4.min(all(1), s)), all(1));
  const low = f32x4.mul(f32x4.add(f32x4.mul(f32x4.sub(f32x4.mul(all(16), b), all(12)), b), all(4)), b);
  const bright = f32x4.max(b, v128.bitselect(low, f32x4.sqrt(f32x4.max(all(0), b)), f32x4.le(b, all(0.25))));
  const dark = f32x4.mul(b, f32x4.max(all(0), f32x4.sub(all(1), b)));
  const by = v128.bitselect(dark, f32x4.sub(bright, b), f32x4.le(twice, all(0)));
  return f32x4.add(b, f32x4.mul(twice, by));
}

// @ts-ignore: decorator
@inline
function one(mode: i32, b: v128, s: v128): v128 {
  if (mode == OVERLAY) return hardLight(s, b);
  if (mode == COLOR_DODGE) return dodge(b, s);
  if (mode == COLOR_BURN) return burn(b, s);
  if (mode == HARD_LIGHT) return hardLight(b, s);
  if (mode == SOFT_LIGHT) return softLight(b, s);
  if (mode == DIFFERENCE) return f32x4.abs(f32x4.sub(b, s));
  const ub = unit(b), us = unit(s);
  return f32x4.sub(f32x4.add(ub, us), f32x4.mul(all(2), f32x4.mul(ub, us)));
}

// @ts-ignore: decorator
@inline
function lum(r: v128, g: v128, b: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(r, all(0.3)), f32x4.mul(g, all(0.59))), f32x4.mul(b, all(0.11)));
}

// @ts-ignore: decorator
@inline
function most(r: v128, g: v128, b: v128): v128 {
  return f32x4.max(r, f32x4.max(g, b));
}

// @ts-ignore: decorator
@inline
function least(r: v128, g: v128, b: v128): v128 {
  return f32x4.min(r, f32x4.min(g, b));
}

/** Modes that look at one colour at a time on linear light: src <- blend(below, src), n pixels of a plane. */
function linearRow(below: usize, src: usize, n: i32, mode: i32): void {
  for (let i: i32 = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const b = v128.load(below + at), s = v128.load(src + at);
    let out = f32x4.add(b, s);
    if (mode == LIGHTEN) out = f32x4.max(b, s);
    else if (mode == DARKEN) out = f32x4.min(b, s);
    else if (mode == MULTIPLY) out = f32x4.mul(b, s);
    else if (mode == SCREEN) out = screen(b, s);
    v128.store(src + at, out);
  }
}

function encodedRow(below: usize, src: usize, n: i32, mode: i32): void {
  for (let i: i32 = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const out = one(mode, encoded(v128.load(below + at)), encoded(v128.load(src + at)));
    v128.store(src + at, f32x4.mul(out, out));
  }
}

function togetherRow(below: usize, belowPlane: usize, src: usize, srcPlane: usize, n: i32, mode: i32): void {
  for (let i: i32 = 0; i < n; i += 4) {
    const p = below + (<usize>i << 2), q = src + (<usize>i << 2);
    const br = encoded(v128.load(p)), bg = encoded(v128.load(p + belowPlane)), bb = encoded(v128.load(p + belowPlane * 2));
    const sr = encoded(v128.load(q)), sg = encoded(v128.load(q + srcPlane)), sb = encoded(v128.load(q + srcPlane * 2));
    const brightest = f32x4.max(all(1), f32x4.max(most(br, bg, bb), most(sr, sg, sb)));
    let r = sr, g = sg, b = sb;
    let l = lum(br, bg, bb);
    if (mode == LUMINOSITY) {
      r = br;
      g = bg;
      b = bb;
      l = lum(sr, sg, sb);
    } else if (mode != COLOR) {
      // The colour of one with the saturation of the other.
      const hue = mode == HUE;
      const cr = hue ? sr : br, cg = hue ? sg : bg, cb = hue ? sb : bb;
      const tr = hue ? br : sr, tg = hue ? bg : sg, tb = hue ? bb : sb;
      const low = least(cr, cg, cb);
      const range = f32x4.sub(most(cr, cg, cb), low);
      const sat = f32x4.sub(most(tr, tg, tb), least(tr, tg, tb));
      const k = v128.and(f32x4.div(sat, f32x4.max(all(1e-9), range)), f32x4.gt(range, all(1e-9)));
      r = f32x4.mul(f32x4.sub(cr, low), k);
      g = f32x4.mul(f32x4.sub(cg, low), k);
      b = f32x4.mul(f32x4.sub(cb, low), k);
    }
    const d = f32x4.sub(l, lum(r, g, b));
    r = f32x4.add(r, d);
    g = f32x4.add(g, d);
    b = f32x4.add(b, d);
    // Brought back into range about their luminosity.
    const low = least(r, g, b), high = most(r, g, b);
    const up = v128.bitselect(f32x4.div(l, f32x4.max(all(1e-9), f32x4.sub(l, low))), all(1), f32x4.lt(low, all(0)));
    const down = v128.bitselect(f32x4.div(f32x4.sub(brightest, l), f32x4.max(all(1e-9), f32x4.sub(high, l))), all(1), f32x4.gt(high, brightest));
    const k = f32x4.min(up, down);
    r = f32x4.max(all(0), f32x4.add(l, f32x4.mul(f32x4.sub(r, l), k)));
    g = f32x4.max(all(0), f32x4.add(l, f32x4.mul(f32x4.sub(g, l), k)));
    b = f32x4.max(all(0), f32x4.add(l, f32x4.mul(f32x4.sub(b, l), k)));
    v128.store(q, f32x4.mul(r, r));
    v128.store(q + srcPlane, f32x4.mul(g, g));
    v128.store(q + srcPlane * 2, f32x4.mul(b, b));
  }
}

/** src <- blend(below, src), linear light in and out. */
export function blendRow(below: usize, belowPlane: usize, src: usize, srcPlane: usize, n: i32, mode: i32): void {
  if (mode == NORMAL) return;
  if (mode >= HUE) return togetherRow(below, belowPlane, src, srcPlane, n, mode);
  for (let c: usize = 0; c < 3; c++) {
    if (mode >= OVERLAY) encodedRow(below + belowPlane * c, src + srcPlane * c, n, mode);
    else linearRow(below + belowPlane * c, src + srcPlane * c, n, mode);
  }
}
