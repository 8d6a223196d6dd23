import { boxBlur } from '../image/boxBlur';
import { createPlane, type Plane } from '../image/plane';
import type { FrameId } from '../mix/mix';
import type { GuideSet } from '../mix/guides';
import { labelRegions, type Region } from '../window/labelRegions';

/** Something that one frame shows otherwise than the others. */
export interface Change {
  readonly frame: FrameId;
  /** It shows a thing that the others do not, or lacks one that they show. */
  readonly what: 'shows' | 'lacks';
  /** Share of the picture, 0..1. */
  readonly share: number;
  /** Middle of the largest such place, guide pixels. */
  readonly where: readonly [number, number];
}

/** Stops from which on frames of one light differ, and within which they agree. */
const DIFFERS = 0.45;
const AGREES = 0.25;
/** Share of a neighbourhood that must differ: rims of edges that lie a fraction of a pixel apart are thin. */
const THICK = 0.8;
/** Share of the picture below which a place is a highlight or a rim, not a thing. */
const THING = 0.001;
/** Encoded values that can be compared. */
const DARK = 0.1;
const BRIGHT = 0.93;

/** A frame's log2 luminance at half the guide's size, exposure taken out; NaN where it is dark, clipped, or not there. */
function logHalf(guides: GuideSet, id: FrameId, stops: number): Plane {
  const { light, top, cover } = guides.frames.get(id)!;
  const { width } = guides;
  const [w, h] = [width >> 1, guides.height >> 1];
  const out = new Float32Array(w * h);
  for (let y = 0, k = 0; y < h; y++) {
    for (let x = 0; x < w; x++, k++) {
      let sum = 0;
      for (let part = 0; part < 4; part++) {
        const i = (2 * y + (part >> 1)) * width + 2 * x + (part & 1);
        sum += cover.data[i] === 1 && top.data[i] > DARK && top.data[i] < BRIGHT ? 0.2627 * light.r[i] + 0.678 * light.g[i] + 0.0593 * light.b[i] : NaN;
      }
      out[k] = Math.log2(Math.max(1e-5, sum / 4)) - stops;
    }
  }
  return createPlane(w, h, out);
}

/** Where a frame stands alone: it differs from every other that can tell, and those, this many at least, agree. 1, else 0. */
function standsAlone(frame: Plane, others: readonly Plane[], witnesses: number): Plane {
  const alone = new Float32Array(frame.data.length);
  for (let i = 0; i < alone.length; i++) {
    const own = frame.data[i];
    if (Number.isNaN(own)) continue;
    let [low, high, count] = [Infinity, -Infinity, 0];
    for (const { data } of others) {
      if (Number.isNaN(data[i])) continue;
      low = Math.min(low, data[i]);
      high = Math.max(high, data[i]);
      count++;
    }
    if (count >= witnesses && high - low < AGREES && (own > high + DIFFERS || own < low - DIFFERS)) alone[i] = 1;
  }
  const thick = boxBlur(createPlane(frame.width, frame.height, alone), 2);
  return createPlane(frame.width, frame.height, thick.data.map((v) => (v > THICK ? 1 : 0)));
}

/** Mean step of log luminance across the outline of some places. */
function outlineStep({ width, data }: Plane, region: readonly number[]): number {
  const inside = new Set(region);
  let [sum, count] = [0, 0];
  for (const i of region) {
    for (const by of [1, -1, width, -width]) {
      if (inside.has(i + by)) continue;
      const step = Math.abs(data[i + 2 * by] - data[i - 2 * by]);
      if (Number.isNaN(step)) continue;
      sum += step;
      count++;
    }
  }
  return count > 0 ? sum / count : 0;
}

/** The places, large enough, where `frame` differs from all others. */
function thingsOf(frame: Plane, others: readonly Plane[], witnesses: number, ignored: (i: number) => boolean): Region[] {
  const alone = standsAlone(frame, others, witnesses);
  for (let i = 0; i < alone.data.length; i++) if (alone.data[i] && ignored(i)) alone.data[i] = 0;
  return labelRegions(alone).filter((r) => r.pixels.length > THING * alone.data.length).sort((a, b) => b.pixels.length - a.pixels.length);
}

const changeOf = (frame: FrameId, what: Change['what'], things: readonly Region[], n: number): Change => ({
  frame, what, share: things.reduce((sum, r) => sum + r.pixels.length, 0) / n, where: [things[0].left + things[0].right, things[0].top + things[0].bottom],
});

/**
 * People, props, doors, curtains that one ambient frame shows otherwise than all others: frames of one light must agree once
 * exposure is taken out. Which of them has the thing is told by its outline, which is an edge where it is and not where it is
 * not (Connell et al., "Detection and tracking in the IBM PeopleVision system", 2004). Flash frames are not compared: their
 * shadows differ by nature.
 * @param stops exposure of each frame; @param ambient frames of one light; @param ignore where not to look (the view), guide size.
 * @returns at most one change a frame, the largest first; none for a single frame.
 */
export function findChanges(guides: GuideSet, stops: Readonly<Record<FrameId, number>>, ambient: readonly FrameId[], ignore: Plane | null): Change[] {
  if (ambient.length < 2) return [];
  const logs = ambient.map((id) => logHalf(guides, id, stops[id]));
  const n = logs[0].data.length;
  const { width } = logs[0];
  const ignored = (i: number): boolean => ignore !== null && ignore.data[2 * Math.floor(i / width) * guides.width + 2 * (i % width)] > 0.2;
  const whose = (k: number, others: readonly Plane[], things: readonly Region[]): Change['what'] => {
    const pixels = things.flatMap((r) => r.pixels);
    const theirs = others.map((o) => outlineStep(o, pixels));
    return outlineStep(logs[k], pixels) >= theirs.reduce((a, b) => a + b) / theirs.length ? 'shows' : 'lacks';
  };
  if (ambient.length === 2) {
    // Neither stands alone more than the other: only the outline tells.
    const things = thingsOf(logs[0], [logs[1]], 1, ignored);
    return things.length === 0 ? [] : [changeOf(ambient[whose(0, [logs[1]], things) === 'shows' ? 0 : 1], 'shows', things, n)];
  }
  return ambient.flatMap((id, k) => {
    const others = logs.filter((_, j) => j !== k);
    const things = thingsOf(logs[k], others, 2, ignored);
    return things.length === 0 ? [] : [changeOf(id, whose(k, others, things), things, n)];
  }).sort((a, b) => b.share - a.share);
}
