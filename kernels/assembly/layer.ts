// Layers: light with a coverage of its own, as bundles are composed on.

// @ts-ignore: decorator
@inline
function luminance(r: v128, g: v128, b: v128): v128 {
  return f32x4.add(f32x4.add(f32x4.mul(r, f32x4.splat(0.2627)), f32x4.mul(g, f32x4.splat(0.678))), f32x4.mul(b, f32x4.splat(0.0593)));
}

// @ts-ignore: decorator
@inline
function towards(a: v128, b: v128, t: v128): v128 {
  return f32x4.add(a, f32x4.mul(t, f32x4.sub(b, a)));
}

/**
 * layer <- a pass over a layer: light that is not premultiplied, and behind its three planes their coverage. As in W3C
 * "Compositing and Blending Level 1", sections 5 and 9: where the layer is not covered, the pass's light (`plain`) comes as it
 * is; where it is, blended (`src`) and by its strengths of brightness and colour. mask: f32 0..1 (opacity and cover included).
 */
export function layerRow(layer: usize, layerPlane: usize, src: usize, plain: usize, srcPlane: usize, mask: usize, n: i32, brightness: f32, colour: f32): void {
  const floor = f32x4.splat(1e-5), one = f32x4.splat(1);
  const kb = f32x4.splat(brightness), kc = f32x4.splat(colour), rest = f32x4.splat(1 - colour);
  for (let i: i32 = 0; i < n; i += 4) {
    const at = <usize>i << 2;
    const m = v128.load(mask + at);
    if (!v128.any_true(m)) continue;
    const p = layer + at, q = src + at, o = plain + at;
    const br = v128.load(p), bg = v128.load(p + layerPlane), bb = v128.load(p + layerPlane * 2), alpha = v128.load(p + layerPlane * 3);
    const sr = v128.load(q), sg = v128.load(q + srcPlane), sb = v128.load(q + srcPlane * 2);
    let r = sr, g = sg, b = sb;
    if (brightness == colour) {
      r = towards(br, sr, kc);
      g = towards(bg, sg, kc);
      b = towards(bb, sb, kc);
    } else {
      const yb = f32x4.pmax(floor, luminance(br, bg, bb)), ys = f32x4.pmax(floor, luminance(sr, sg, sb));
      const y = towards(yb, ys, kb);
      const gb = f32x4.div(f32x4.mul(y, rest), yb), gs = f32x4.div(f32x4.mul(y, kc), ys);
      r = f32x4.add(f32x4.mul(br, gb), f32x4.mul(sr, gs));
      g = f32x4.add(f32x4.mul(bg, gb), f32x4.mul(sg, gs));
      b = f32x4.add(f32x4.mul(bb, gb), f32x4.mul(sb, gs));
    }
    const covered = f32x4.sub(f32x4.add(alpha, m), f32x4.mul(alpha, m));
    const t = v128.and(f32x4.div(m, f32x4.pmax(f32x4.splat(1e-12), covered)), f32x4.gt(covered, f32x4.splat(0)));
    v128.store(p, towards(br, towards(v128.load(o), r, alpha), t));
    v128.store(p + layerPlane, towards(bg, towards(v128.load(o + srcPlane), g, alpha), t));
    v128.store(p + layerPlane * 2, towards(bb, towards(v128.load(o + srcPlane * 2), b, alpha), t));
    v128.store(p + layerPlane * 3, f32x4.min(one, covered));
  }
}

/** light <- a layer over light. */
export function overRow(light: usize, plane: usize, layer: usize, layerPlane: usize, n: i32): void {
  for (let i: i32 = 0; i < n; i += 4) {
    const p = light + (<usize>i << 2), q = layer + (<usize>i << 2);
    const alpha = v128.load(q + layerPlane * 3);
    v128.store(p, towards(v128.load(p), v128.load(q), alpha));
    v128.store(p + plane, towards(v128.load(p + plane), v128.load(q + layerPlane), alpha));
    v128.store(p + plane * 2, towards(v128.load(p + plane * 2), v128.load(q + layerPlane * 2), alpha));
  }
}

/** light <- one tone, or by `share` (f32 0..1) the way to another. */
export function fillRow(light: usize, plane: usize, n: i32, share: usize, r: f32, g: f32, b: f32, toR: f32, toG: f32, toB: f32): void {
  for (let i: i32 = 0; i < n; i += 4) {
    const t = v128.load(share + (<usize>i << 2));
    const p = light + (<usize>i << 2);
    v128.store(p, towards(f32x4.splat(r), f32x4.splat(toR), t));
    v128.store(p + plane, towards(f32x4.splat(g), f32x4.splat(toG), t));
    v128.store(p + plane * 2, towards(f32x4.splat(b), f32x4.splat(toB), t));
  }
}
