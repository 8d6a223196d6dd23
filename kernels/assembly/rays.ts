// Rays through triangles, for the demo house: a tree of boxes, four at a time (Dammertz, Hanika, Keller 2008), and
// four triangles at a time (Möller, Trumbore 1997). A module of its own: the application does not carry it.
//
// A node is 112 bytes: least x, y, z and greatest x, y, z of four boxes (f32x4 each), then what lies in them (i32x4): the
// index of a node, or -1 - the index of a group of triangles. Boxes that are not there are inside out.
// A group is 176 bytes: first vertex x, y, z, two edges x, y, z each (f32x4), numbers of the triangles, and -1 where light passes.

const NODE: usize = 112;
const GROUP: usize = 176;
/** Nearest distance that counts, metres. */
const NEAR: f32 = 1e-4;
/** How far beside a triangle, as a share of its edges, still hits it, so that no ray slips between neighbours. */
const RIM: f32 = 1e-5;
const SMALL: f32 = 1e-22;
const TINY: f32 = 1e-12;

// @ts-ignore: decorator
@inline
function inverse(d: f32): f32 {
  return <f32>1 / (d < TINY && d > -TINY ? TINY : d);
}

/** Distances at which a ray enters the four boxes of a node, at `out`. Returns which it meets before `far`, a bit each. @param ix, iy, iz 1/d */
// @ts-ignore: decorator
@inline
function meet(p: usize, ix: f32, iy: f32, iz: f32, ox: f32, oy: f32, oz: f32, far: f32, out: usize): i32 {
  const nearX: usize = ix < 0 ? 48 : 0, nearY: usize = iy < 0 ? 64 : 16, nearZ: usize = iz < 0 ? 80 : 32;
  const farX: usize = 48 - nearX, farY: usize = 80 - nearY, farZ: usize = 112 - nearZ;
  const vix = f32x4.splat(ix), viy = f32x4.splat(iy), viz = f32x4.splat(iz);
  const vox = f32x4.splat(ox * ix), voy = f32x4.splat(oy * iy), voz = f32x4.splat(oz * iz);
  const enter = f32x4.max(f32x4.max(f32x4.sub(f32x4.mul(v128.load(p + nearX), vix), vox), f32x4.sub(f32x4.mul(v128.load(p + nearY), viy), voy)), f32x4.max(f32x4.sub(f32x4.mul(v128.load(p + nearZ), viz), voz), f32x4.splat(0)));
  const leave = f32x4.min(f32x4.min(f32x4.sub(f32x4.mul(v128.load(p + farX), vix), vox), f32x4.sub(f32x4.mul(v128.load(p + farY), viy), voy)), f32x4.min(f32x4.sub(f32x4.mul(v128.load(p + farZ), viz), voz), f32x4.splat(far)));
  v128.store(out, enter);
  return i32x4.bitmask(f32x4.le(enter, f32x4.add(f32x4.mul(leave, f32x4.splat(1.000002)), f32x4.splat(1e-5))));
}

/** Where four triangles are hit, t at `out`, u 16 and v 32 bytes on. Returns which are, a bit each. */
// @ts-ignore: decorator
@inline
function group(p: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, far: f32, out: usize): i32 {
  const vx = f32x4.splat(dx), vy = f32x4.splat(dy), vz = f32x4.splat(dz);
  const ax = v128.load(p, 48), ay = v128.load(p, 64), az = v128.load(p, 80);
  const bx = v128.load(p, 96), by = v128.load(p, 112), bz = v128.load(p, 128);
  const px = f32x4.sub(f32x4.mul(vy, bz), f32x4.mul(vz, by));
  const py = f32x4.sub(f32x4.mul(vz, bx), f32x4.mul(vx, bz));
  const pz = f32x4.sub(f32x4.mul(vx, by), f32x4.mul(vy, bx));
  const determinant = f32x4.add(f32x4.add(f32x4.mul(ax, px), f32x4.mul(ay, py)), f32x4.mul(az, pz));
  const one = f32x4.splat(1);
  const inverted = f32x4.div(one, determinant);
  const sx = f32x4.sub(f32x4.splat(ox), v128.load(p)), sy = f32x4.sub(f32x4.splat(oy), v128.load(p, 16)), sz = f32x4.sub(f32x4.splat(oz), v128.load(p, 32));
  const u = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(sx, px), f32x4.mul(sy, py)), f32x4.mul(sz, pz)), inverted);
  const rx = f32x4.sub(f32x4.mul(sy, az), f32x4.mul(sz, ay));
  const ry = f32x4.sub(f32x4.mul(sz, ax), f32x4.mul(sx, az));
  const rz = f32x4.sub(f32x4.mul(sx, ay), f32x4.mul(sy, ax));
  const v = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(vx, rx), f32x4.mul(vy, ry)), f32x4.mul(vz, rz)), inverted);
  const t = f32x4.mul(f32x4.add(f32x4.add(f32x4.mul(bx, rx), f32x4.mul(by, ry)), f32x4.mul(bz, rz)), inverted);
  const least = f32x4.splat(-RIM);
  let hit = f32x4.gt(f32x4.abs(determinant), f32x4.splat(SMALL));
  hit = v128.and(hit, v128.and(f32x4.ge(u, least), f32x4.ge(v, least)));
  hit = v128.and(hit, f32x4.le(f32x4.add(u, v), f32x4.splat(1 + RIM)));
  hit = v128.and(hit, v128.and(f32x4.gt(t, f32x4.splat(NEAR)), f32x4.lt(t, f32x4.splat(far))));
  v128.store(out, t);
  v128.store(out, u, 16);
  v128.store(out, v, 32);
  return i32x4.bitmask(hit);
}

/** Notes the nearest triangle of a group that is nearer than `best`, if any. Returns its number, or `found`. */
// @ts-ignore: decorator
@inline
function closer(p: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, best: f32, found: i32, hit: usize, scratch: usize): i32 {
  let hits = group(p, ox, oy, oz, dx, dy, dz, best, scratch);
  while (hits) {
    const k = <usize>ctz(hits);
    hits &= hits - 1;
    const t = load<f32>(scratch + (k << 2));
    if (t >= best) continue;
    best = t;
    found = load<i32>(p + 144 + (k << 2));
    store<f32>(hit, t);
    store<f32>(hit, load<f32>(scratch + 16 + (k << 2)), 4);
    store<f32>(hit, load<f32>(scratch + 32 + (k << 2)), 8);
  }
  return found;
}

/**
 * The nearest triangle along o + t d, 1e-4 < t < far: its number, or -1; t, u, v as f32 at `hit`.
 * @param scratch 64 bytes, then 128 pairs of i32 and f32
 */
export function nearest(nodes: usize, groups: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, far: f32, hit: usize, scratch: usize): i32 {
  const ix = inverse(dx), iy = inverse(dy), iz = inverse(dz);
  const stack = scratch + 64;
  let best = far, found = -1;
  let top = stack;
  let code = 0;
  while (true) {
    if (code >= 0) {
      const p = nodes + <usize>code * NODE;
      let inside = meet(p, ix, iy, iz, ox, oy, oz, best, scratch);
      if (inside) {
        // The nearest is looked at first: it lies on top of the stack.
        const foot = top;
        while (inside) {
          const k = <usize>ctz(inside);
          inside &= inside - 1;
          const at = load<f32>(scratch + (k << 2));
          let q = top;
          while (q > foot && load<f32>(q - 4) < at) {
            store<i64>(q, load<i64>(q - 8));
            q -= 8;
          }
          store<i32>(q, load<i32>(p + 96 + (k << 2)));
          store<f32>(q, at, 4);
          top += 8;
        }
      }
    } else {
      const p = groups + <usize>(-1 - code) * GROUP;
      found = closer(p, ox, oy, oz, dx, dy, dz, best, found, hit, scratch);
      if (found >= 0) best = load<f32>(hit);
    }
    do {
      if (top == stack) return found;
      top -= 8;
    } while (load<f32>(top, 4) >= best);
    code = load<i32>(top);
  }
}

/** Whether anything that stops light lies along o + t d, 1e-4 < t < far. @param scratch as for `nearest` */
export function blocked(nodes: usize, groups: usize, ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, far: f32, scratch: usize): i32 {
  const ix = inverse(dx), iy = inverse(dy), iz = inverse(dz);
  const stack = scratch + 64;
  let top = stack;
  let code = 0;
  while (true) {
    if (code >= 0) {
      const p = nodes + <usize>code * NODE;
      let inside = meet(p, ix, iy, iz, ox, oy, oz, far, scratch);
      while (inside) {
        store<i32>(top, load<i32>(p + 96 + (<usize>ctz(inside) << 2)));
        inside &= inside - 1;
        top += 8;
      }
    } else {
      const p = groups + <usize>(-1 - code) * GROUP;
      const hits = group(p, ox, oy, oz, dx, dy, dz, far, scratch);
      if (hits & ~i32x4.bitmask(v128.load(p, 160))) return 1;
    }
    if (top == stack) return 0;
    top -= 8;
    code = load<i32>(top);
  }
}
