// @ts-ignore: decorator
@inline
function distance2(px: f64, py: f64, edge: usize): f64 {
  const ax = <f64>load<f32>(edge), ay = <f64>load<f32>(edge, 4);
  const dx = <f64>load<f32>(edge, 8) - ax, dy = <f64>load<f32>(edge, 12) - ay;
  const length = dx * dx + dy * dy;
  const t = length > 0 ? min(1.0, max(0.0, ((px - ax) * dx + (py - ay) * dy) / length)) : 0;
  const ex = px - ax - t * dx, ey = py - ay - t * dy;
  return ex * ex + ey * ey;
}

// @ts-ignore: decorator
@inline
function crosses(px: f64, py: f64, edge: usize): bool {
  const ax = <f64>load<f32>(edge), ay = <f64>load<f32>(edge, 4);
  const bx = <f64>load<f32>(edge, 8), by = <f64>load<f32>(edge, 12);
  return (ay > py) != (by > py) && px < ax + ((py - ay) * (bx - ax)) / (by - ay);
}

/** Sixteen pixels that an edge is near to: the distance to the nearest edge, inside counted up, outside down (even-odd rule). */
function nearEdge(x0: f64, y0: f64, x1: f64, y1: f64, edges: usize, count: i32, width: f32, out: usize): void {
  const zero = f32x4.splat(0), one = f32x4.splat(1);
  const lanes = f32x4(0, 1, 2, 3);
  for (let i: i32 = 0; i < 16; i += 4) {
    const k = f32x4.mul(f32x4.add(f32x4.splat(<f32>i), lanes), f32x4.splat(0.0625));
    const x = f32x4.add(f32x4.splat(<f32>x0), f32x4.mul(k, f32x4.splat(<f32>(x1 - x0))));
    const y = f32x4.add(f32x4.splat(<f32>y0), f32x4.mul(k, f32x4.splat(<f32>(y1 - y0))));
    let least = f32x4.splat(1e30);
    let inside = i32x4.splat(0);
    for (let e: i32 = 0; e < count; e++) {
      const edge = edges + (<usize>e << 4);
      const ax = f32x4.splat(load<f32>(edge)), ay = f32x4.splat(load<f32>(edge, 4));
      const dx = f32x4.sub(f32x4.splat(load<f32>(edge, 8)), ax), dy = f32x4.sub(f32x4.splat(load<f32>(edge, 12)), ay);
      const px = f32x4.sub(x, ax), py = f32x4.sub(y, ay);
      const length = f32x4.max(f32x4.splat(1e-20), f32x4.add(f32x4.mul(dx, dx), f32x4.mul(dy, dy)));
      const t = f32x4.min(one, f32x4.max(zero, f32x4.div(f32x4.add(f32x4.mul(px, dx), f32x4.mul(py, dy)), length)));
      const ex = f32x4.sub(px, f32x4.mul(t, dx)), ey = f32x4.sub(py, f32x4.mul(t, dy));
      least = f32x4.min(least, f32x4.add(f32x4.mul(ex, ex), f32x4.mul(ey, ey)));
      const spans = v128.xor(f32x4.lt(py, zero), f32x4.lt(py, dy));
      inside = v128.xor(inside, v128.and(spans, f32x4.lt(px, f32x4.div(f32x4.mul(py, dx), dy))));
    }
    const d = f32x4.sqrt(least);
    const signed = v128.bitselect(d, f32x4.neg(d), inside);
    let t = f32x4.add(f32x4.splat(0.5), f32x4.mul(signed, f32x4.splat(1 / width)));
    t = f32x4.min(one, f32x4.max(zero, t));
    v128.store(out + (<usize>i << 2), f32x4.mul(f32x4.mul(t, t), f32x4.sub(f32x4.splat(3), f32x4.mul(f32x4.splat(2), t))));
  }
}

/**
 * out <- 1 inside closed outlines, 0 outside, a smoothstep of `width` across their edges. edges: f32 ax, ay, bx, by, `count` of
 * them. coords as in strokeRow. Sixteen pixels that no edge is near to are all in or all out.
 */
export function outlineRow(coords: usize, n: i32, edges: usize, count: i32, width: f32, out: usize): void {
  let left: f64 = Infinity, right: f64 = -Infinity, top: f64 = Infinity, bottom: f64 = -Infinity;
  for (let e: i32 = 0; e < count; e++) {
    const x = <f64>load<f32>(edges + (<usize>e << 4)), y = <f64>load<f32>(edges + (<usize>e << 4), 4);
    left = min(left, x);
    right = max(right, x);
    top = min(top, y);
    bottom = max(bottom, y);
  }
  for (let i: i32 = 0; i < n; i += 16) {
    const stop = coords + (<usize>(i >> 4) << 4);
    const x0 = load<f64>(stop), y0 = load<f64>(stop, 8), x1 = load<f64>(stop, 16), y1 = load<f64>(stop, 24);
    const mx = (x0 + x1) * 0.5, my = (y0 + y1) * 0.5;
    const reach = 0.5 * (Math.sqrt((x1 - x0) * (x1 - x0) + (y1 - y0) * (y1 - y0)) + <f64>width);
    let near = false, inside = false;
    // Far outside all outlines there is no need to look at each edge.
    const away = left - reach > mx || mx > right + reach || top - reach > my || my > bottom + reach;
    for (let e: i32 = away ? count : 0; e < count; e++) {
      const edge = edges + (<usize>e << 4);
      if (crosses(mx, my, edge)) inside = !inside;
      if (distance2(mx, my, edge) <= reach * reach) {
        near = true;
        break;
      }
    }
    if (near) {
      nearEdge(x0, y0, x1, y1, edges, count, width, out + (<usize>i << 2));
      continue;
    }
    const all = f32x4.splat(inside ? 1 : 0);
    for (let k: usize = 0; k < 64; k += 16) v128.store(out + (<usize>i << 2) + k, all);
  }
}
