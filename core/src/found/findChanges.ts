import { boxBlur } from '../image/boxBlur';
import { createPlane, type Plane } from '../image/plane';
import type { FrameId } from '@zaddle/document';
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
/** Linear light below which there is no outline, and above which some are lost. */
const FLOOR = 0.002;
const CEILING = 0.8;
/** Linear light of `DARK`. */
const DARK_LIGHT = 0.01;

/** What a frame says of the light at each place of half the guide's size, log2, exposure taken out. */
interface Told {
  readonly width: number;
  readonly height: number;
  /** As measured; NaN where the frame does not have the place. */
  readonly measured: Float32Array;
  /** It is at least so much, and at most so much: apart where the frame is dark or clipped, infinite where it does not have the place. */
  readonly least: Float32Array;
  readonly most: Float32Array;
}

function whatIsTold(guides: GuideSet, id: FrameId, stops: number): Told {
  const { light, top, cover } = guides.frames.get(id)!;
  const { width } = guides;
  const [w, h] = [width >> 1, guides.height >> 1];
  const [measured, least, most] = [new Float32Array(w * h), new Float32Array(w * h), new Float32Array(w * h)];
  for (let y = 0, k = 0; y < h; y++) {
    for (let x = 0; x < w; x++, k++) {
      let sum = 0;
      let low = 0;
      let high = 0;
      for (let part = 0; part < 4; part++) {
        const i = (2 * y + (part >> 1)) * width + 2 * x + (part & 1);
        if (cover.data[i] !== 1) sum = NaN;
        const value = 0.2627 * light.r[i] + 0.678 * light.g[i] + 0.0593 * light.b[i];
        sum += value;
        low += top.data[i] > DARK ? value : 0;
        high += top.data[i] >= BRIGHT ? Infinity : Math.max(value, top.data[i] > DARK ? 0 : DARK_LIGHT);
      }
      const isThere = !Number.isNaN(sum);
      measured[k] = Math.log2(Math.max(FLOOR, sum / 4)) - stops;
      least[k] = isThere ? Math.log2(low / 4) - stops : -Infinity;
      most[k] = isThere ? Math.log2(high / 4) - stops : Infinity;
    }
  }
  return { width: w, height: h, measured, least, most };
}

/** Where a frame stands alone: what it says excludes what this many others say at least, and those do not contradict each other. 1, else 0. */
function standsAlone({ width, height, least, most }: Told, others: readonly Told[], witnesses: number): Plane {
  const alone = new Float32Array(least.length);
  for (let i = 0; i < alone.length; i++) {
    let low = -Infinity;
    let high = Infinity;
    let brighter = 0;
    let darker = 0;
    for (const other of others) {
      const from = other.least[i];
      const to = other.most[i];
      low = Math.max(low, from);
      high = Math.min(high, to);
      if (least[i] > to + DIFFERS) brighter++;
      else if (most[i] < from - DIFFERS) darker++;
    }
    if (Math.max(brighter, darker) >= witnesses && low < high + AGREES && (least[i] > high + DIFFERS || most[i] < low - DIFFERS)) alone[i] = 1;
  }
  const thick = boxBlur(createPlane(width, height, alone), 2);
  return createPlane(width, height, thick.data.map((v) => (v > THICK ? 1 : 0)));
}

/** Mean step of log luminance across the outline of some places, as far as it lies within a range. */
function outlineStep({ width, measured }: Told, region: readonly number[], low: number, high: number): number {
  const within = (i: number): number => Math.min(high, Math.max(low, measured[i]));
  const inside = new Set(region);
  let [sum, count] = [0, 0];
  for (const i of region) {
    for (const by of [1, -1, width, -width]) {
      if (inside.has(i + by)) continue;
      const step = Math.abs(within(i + 2 * by) - within(i - 2 * by));
      if (Number.isNaN(step)) continue;
      sum += step;
      count++;
    }
  }
  return count > 0 ? sum / count : 0;
}

/** The places, large enough, where `frame` differs from all others. */
function thingsOf(frame: Told, others: readonly Told[], witnesses: number, ignored: (i: number) => boolean): Region[] {
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
  const told = ambient.map((id) => whatIsTold(guides, id, stops[id]));
  const { width, measured: { length: n } } = told[0];
  const ignored = (i: number): boolean => ignore !== null && ignore.data[2 * Math.floor(i / width) * guides.width + 2 * (i % width)] > 0.2;
  /** By outlines within the range of light that each two frames both tell. */
  const whose = (k: number, things: readonly Region[]): Change['what'] => {
    const pixels = things.flatMap((r) => r.pixels);
    let more = 0;
    told.forEach((other, j) => {
      if (j === k) return;
      const low = Math.log2(FLOOR) - Math.min(stops[ambient[k]], stops[ambient[j]]);
      const high = Math.max(low + 1, Math.log2(CEILING) - Math.max(stops[ambient[k]], stops[ambient[j]]));
      more += outlineStep(told[k], pixels, low, high) - outlineStep(other, pixels, low, high);
    });
    return more >= 0 ? 'shows' : 'lacks';
  };
  if (ambient.length === 2) {
    // Neither stands alone more than the other: only the outline tells.
    const things = thingsOf(told[0], [told[1]], 1, ignored);
    return things.length === 0 ? [] : [changeOf(ambient[whose(0, things) === 'shows' ? 0 : 1], 'shows', things, n)];
  }
  return ambient.flatMap((id, k) => {
    const others = told.filter((_, j) => j !== k);
    const things = thingsOf(told[k], others, 2, ignored);
    return things.length === 0 ? [] : [changeOf(id, whose(k, things), things, n)];
  }).sort((a, b) => b.share - a.share);
}
