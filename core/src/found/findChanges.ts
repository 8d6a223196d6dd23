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
  /** Each such place: its pixels at half the guide's size, row by row, the largest first. */
  readonly places: readonly (readonly number[])[];
}

/** Ratio of light from which on frames of one light differ, and within which they agree: 0.45 and 0.25 stops. */
const DIFFERS = 2 ** 0.45;
const AGREES = 2 ** 0.25;
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

/** What a frame says of the light at each place of half the guide's size, linear, exposure taken out. */
interface Told {
  readonly width: number;
  readonly height: number;
  /** As measured; NaN where the frame does not have the place. */
  readonly measured: Float32Array;
  /** It is at least so much, and at most so much: apart where the frame is dark or clipped, 0 and infinite where it does not have the place. */
  readonly least: Float32Array;
  readonly most: Float32Array;
}

function whatIsTold(guides: GuideSet, id: FrameId, stops: number): Told {
  const guide = guides.frames.get(id)!;
  const { r, g, b } = guide.light;
  const [top, cover] = [guide.top.data, guide.cover.data];
  const { width } = guides;
  const scale = 2 ** -stops;
  const [w, h] = [width >> 1, guides.height >> 1];
  const [measured, least, most] = [new Float32Array(w * h), new Float32Array(w * h), new Float32Array(w * h)];
  for (let y = 0, k = 0; y < h; y++) {
    for (let x = 0; x < w; x++, k++) {
      let sum = 0;
      let low = 0;
      let high = 0;
      for (let part = 0; part < 4; part++) {
        const i = (2 * y + (part >> 1)) * width + 2 * x + (part & 1);
        if (cover[i] !== 1) sum = NaN;
        const value = 0.2627 * r[i] + 0.678 * g[i] + 0.0593 * b[i];
        sum += value;
        low += top[i] > DARK ? value : 0;
        high += top[i] >= BRIGHT ? Infinity : Math.max(value, top[i] > DARK ? 0 : DARK_LIGHT);
      }
      const isThere = sum === sum;
      measured[k] = Math.max(FLOOR, sum / 4) * scale;
      least[k] = isThere ? (Math.max(0, low) / 4) * scale : 0;
      most[k] = isThere ? (high / 4) * scale : Infinity;
    }
  }
  return { width: w, height: h, measured, least, most };
}

/** The most that any frame says at least at each place, the least that any says at most, those of the frames but that one, and which one it is. */
interface Extremes {
  readonly low: readonly [Float32Array, Float32Array];
  readonly lowBy: Uint8Array;
  readonly high: readonly [Float32Array, Float32Array];
  readonly highBy: Uint8Array;
}

function extremesOf(told: readonly Told[]): Extremes {
  const n = told[0].least.length;
  const [low, secondLow] = [new Float32Array(n), new Float32Array(n)];
  const [high, secondHigh] = [new Float32Array(n).fill(Infinity), new Float32Array(n).fill(Infinity)];
  const [lowBy, highBy] = [new Uint8Array(n), new Uint8Array(n)];
  told.forEach(({ least, most }, k) => {
    for (let i = 0; i < n; i++) {
      if (least[i] > low[i]) {
        secondLow[i] = low[i];
        low[i] = least[i];
        lowBy[i] = k;
      } else if (least[i] > secondLow[i]) secondLow[i] = least[i];
      if (most[i] < high[i]) {
        secondHigh[i] = high[i];
        high[i] = most[i];
        highBy[i] = k;
      } else if (most[i] < secondHigh[i]) secondHigh[i] = most[i];
    }
  });
  return { low: [low, secondLow], lowBy, high: [high, secondHigh], highBy };
}

/** How many frames' own range of light at a place lies apart from what frame k says there: on its brighter or its darker side, whichever is more. */
function witnessesAgainst(told: readonly Told[], k: number, i: number): number {
  let brighter = 0;
  let darker = 0;
  for (let j = 0; j < told.length; j++) {
    if (j === k) continue;
    if (told[k].least[i] > told[j].most[i] * DIFFERS) brighter++;
    else if (told[k].most[i] * DIFFERS < told[j].least[i]) darker++;
  }
  return Math.max(brighter, darker);
}

/** Where frame k stands alone: what it says excludes what this many others say at least, and those do not contradict each other. 1, else 0; null where it does nowhere. */
function standsAlone(told: readonly Told[], { low, lowBy, high, highBy }: Extremes, k: number, witnesses: number): Plane | null {
  const { width, height, least, most } = told[k];
  const alone = new Float32Array(least.length);
  let some = false;
  for (let i = 0; i < alone.length; i++) {
    const othersLow = low[lowBy[i] === k ? 1 : 0][i];
    const othersHigh = high[highBy[i] === k ? 1 : 0][i];
    if (!(least[i] > othersHigh * DIFFERS || most[i] * DIFFERS < othersLow) || othersLow >= othersHigh * AGREES || witnessesAgainst(told, k, i) < witnesses) continue;
    alone[i] = 1;
    some = true;
  }
  if (!some) return null;
  const thick = boxBlur(createPlane(width, height, alone), 2);
  return createPlane(width, height, thick.data.map((v) => (v > THICK ? 1 : 0)));
}

/** Mean step of log luminance across the outline of some places, as far as it lies within a range. */
function outlineStep({ width, measured }: Told, region: readonly number[], low: number, high: number): number {
  const within = (i: number): number => Math.min(high, Math.max(low, Math.log2(measured[i])));
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

/** The places, large enough, where frame k differs from all others. */
function thingsOf(told: readonly Told[], extremes: Extremes, k: number, witnesses: number, ignored: (i: number) => boolean): Region[] {
  const alone = standsAlone(told, extremes, k, witnesses);
  if (!alone) return [];
  for (let i = 0; i < alone.data.length; i++) if (alone.data[i] && ignored(i)) alone.data[i] = 0;
  return labelRegions(alone).filter((r) => r.pixels.length > THING * alone.data.length).sort((a, b) => b.pixels.length - a.pixels.length);
}

const changeOf = (frame: FrameId, what: Change['what'], things: readonly Region[], n: number): Change => ({
  frame, what, share: things.reduce((sum, r) => sum + r.pixels.length, 0) / n, where: [things[0].left + things[0].right, things[0].top + things[0].bottom], places: things.map((r) => r.pixels),
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
  const extremes = extremesOf(told);
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
    const things = thingsOf(told, extremes, 0, 1, ignored);
    return things.length === 0 ? [] : [changeOf(ambient[whose(0, things) === 'shows' ? 0 : 1], 'shows', things, n)];
  }
  return ambient.flatMap((id, k) => {
    const things = thingsOf(told, extremes, k, 2, ignored);
    return things.length === 0 ? [] : [changeOf(id, whose(k, things), things, n)];
  }).sort((a, b) => b.share - a.share);
}
