import type { Region } from './coveredRegion';

/** A rectangle with level sides by its middle and its size. */
export interface Frame {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Steps of a golden section search: the range shrinks to 1e-7 of itself. */
const STEPS = 34;
const GOLDEN = (Math.sqrt(5) - 1) / 2;

/** Where a concave function of one variable is largest. */
function peak(low: number, high: number, value: (at: number) => number): number {
  let [a, b] = [high - GOLDEN * (high - low), low + GOLDEN * (high - low)];
  let [fa, fb] = [value(a), value(b)];
  for (let i = 0; i < STEPS; i++) {
    if (fa < fb) {
      low = a;
      [a, fa] = [b, fb];
      b = low + GOLDEN * (high - low);
      fb = value(b);
    } else {
      high = b;
      [b, fb] = [a, fa];
      a = high - GOLDEN * (high - low);
      fa = value(a);
    }
  }
  return (low + high) / 2;
}

/** How many times a rectangle's size there is room for about a point; negative outside. */
const roomAbout = (region: Region, x: number, y: number, width: number, height: number): number =>
  region.reduce((least, { nx, ny, d }) => Math.min(least, (2 * (d - nx * x - ny * y)) / (Math.abs(nx) * width + Math.abs(ny) * height)), Infinity);

/** Least share of its size that a rectangle gives up for lying nearer to where it is wished. */
const EAGER = 1e-4;

/**
 * Where in a convex region the rectangle with the most room lies, and that room, in its own sizes: a linear programme in three
 * variables, solved as two nested searches of concave functions. Of equal places the one nearest to where it is.
 */
function roomiest(region: Region, frame: Frame): { x: number; y: number; room: number } {
  const { x, y, width, height } = frame;
  const reach = 2 * Math.max(width, height) + Math.max(...region.map(({ nx, ny, d }) => Math.abs(d - nx * x - ny * y)));
  const away = (px: number, py: number): number => (EAGER * Math.hypot(px - x, py - y)) / Math.max(width, height);
  const best = (px: number): number => peak(y - reach, y + reach, (py) => roomAbout(region, px, py, width, height) - away(px, py));
  const px = peak(x - reach, x + reach, (at) => {
    const py = best(at);
    return roomAbout(region, at, py, width, height) - away(at, py);
  });
  const py = best(px);
  return { x: px, y: py, room: roomAbout(region, px, py, width, height) };
}

/** The largest rectangle of a ratio in a convex region; of equal ones the one whose middle is nearest to a point. @throws Error when the region is empty. */
export function largestWithin(region: Region, ratio: number, near: readonly [number, number]): Frame {
  const unit = { x: near[0], y: near[1], width: Math.sqrt(ratio), height: 1 / Math.sqrt(ratio) };
  const { x, y, room } = roomiest(region, unit);
  if (!(room > 0)) throw new Error('Nothing of the picture is left: straighten it less.');
  return { x, y, width: unit.width * room, height: unit.height * room };
}

/** Size that a rectangle keeps at least when it is fitted, so that rounding never ends in nothing. */
const WHOLE = 1 - 1e-7;

/**
 * A rectangle brought into a convex region: left where it lies inside, else moved as little as brings it inside, and made smaller only
 * where it fits nowhere. @throws Error when the region is empty.
 */
export function fitWithin(region: Region, frame: Frame): Frame {
  if (roomAbout(region, frame.x, frame.y, frame.width, frame.height) >= WHOLE) return frame;
  const { x, y, room } = roomiest(region, frame);
  if (!(room > 0)) throw new Error('Nothing of the picture is left: straighten it less.');
  if (room <= 1) return { x, y, width: frame.width * room, height: frame.height * room };
  // The places where it fits are convex: those on the way from the roomiest back to where it was begin with it.
  const shrunk = region.map(({ nx, ny, d }) => ({ nx, ny, d: d - (Math.abs(nx) * frame.width + Math.abs(ny) * frame.height) / 2 }));
  const [px, py] = nearestWithin(shrunk, [frame.x, frame.y], [x, y]);
  return { ...frame, x: px, y: py };
}

/** A rectangle on its way to another, as far as it stays in a convex region; the first one lies in it. */
export function towardsWithin(region: Region, from: Frame, to: Frame): Frame {
  const share = (s: number): Frame => ({ x: from.x + s * (to.x - from.x), y: from.y + s * (to.y - from.y), width: from.width + s * (to.width - from.width), height: from.height + s * (to.height - from.height) });
  const over = ({ x, y, width, height }: Frame, { nx, ny, d }: Region[number]): number => nx * x + ny * y + (Math.abs(nx) * width + Math.abs(ny) * height) / 2 - d;
  // What a side is overstepped by is linear in the share.
  const most = region.reduce((least, half) => {
    const [start, end] = [over(from, half), over(to, half)];
    return end <= 0 || end <= start ? least : Math.min(least, Math.max(0, -start / (end - start)));
  }, 1);
  return share(most);
}

/** Rounds of projecting; each side that is overstepped is stepped back onto. */
const ROUNDS = 60;

/** The point of a convex region nearest to another (Dykstra 1983: projections onto each half in turn, each undone before its next). @param inside a point of it, to fall back on where rounding leaves a trace outside. */
function nearestWithin(region: Region, from: readonly [number, number], inside: readonly [number, number]): [number, number] {
  let [x, y] = from;
  const undone = region.map(() => 0);
  for (let round = 0; round < ROUNDS; round++) {
    region.forEach(({ nx, ny, d }, k) => {
      const over = nx * x + ny * y + undone[k] - d;
      const step = Math.max(0, over);
      x += nx * (undone[k] - step);
      y += ny * (undone[k] - step);
      undone[k] = step;
    });
  }
  // What is left over is a trace of the way: along the line to a point inside until all halves hold.
  let share = 0;
  for (const { nx, ny, d } of region) {
    const [out, into] = [nx * x + ny * y - d, nx * inside[0] + ny * inside[1] - d];
    if (out > 0 && into < out) share = Math.max(share, out / (out - into));
  }
  return [x + Math.min(1, share) * (inside[0] - x), y + Math.min(1, share) * (inside[1] - y)];
}
