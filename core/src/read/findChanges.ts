import { boxBlur } from '../image/boxBlur';
import { createPlane, type Plane } from '../image/plane';
import type { FrameId } from '../mix/mix';
import type { GuideSet } from '../mix/guides';
import { labelRegions } from '../window/labelRegions';

/** Something that one frame shows otherwise than the others. */
export interface Change {
  readonly frame: FrameId;
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

/** Where a frame stands alone: it differs from every other that can tell, and those, two at least, agree. 1, else 0. */
function standsAlone(frame: Plane, others: readonly Plane[]): Plane {
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
    if (count >= 2 && high - low < AGREES && (own > high + DIFFERS || own < low - DIFFERS)) alone[i] = 1;
  }
  const thick = boxBlur(createPlane(frame.width, frame.height, alone), 2);
  return createPlane(frame.width, frame.height, thick.data.map((v) => (v > THICK ? 1 : 0)));
}

/**
 * People, props, doors, curtains that one ambient frame shows otherwise than all others: frames of one light must agree once
 * exposure is taken out. Flash frames are not compared: their shadows differ by nature.
 * @param stops exposure of each frame; @param ambient frames of one light; @param ignore where not to look (the view), guide size.
 * @returns at most one change a frame, the largest first; none for fewer than three ambient frames, of which no majority can be formed.
 */
export function findChanges(guides: GuideSet, stops: Readonly<Record<FrameId, number>>, ambient: readonly FrameId[], ignore: Plane): Change[] {
  if (ambient.length < 3) return [];
  const logs = new Map(ambient.map((id) => [id, logHalf(guides, id, stops[id])]));
  const changes: Change[] = [];
  for (const id of ambient) {
    const alone = standsAlone(logs.get(id)!, ambient.filter((other) => other !== id).map((other) => logs.get(other)!));
    for (let i = 0; i < alone.data.length; i++) if (alone.data[i] && ignore.data[2 * Math.floor(i / alone.width) * guides.width + 2 * (i % alone.width)] > 0.2) alone.data[i] = 0;
    const things = labelRegions(alone).filter((r) => r.pixels.length > THING * alone.data.length).sort((a, b) => b.pixels.length - a.pixels.length);
    if (things.length === 0) continue;
    changes.push({ frame: id, share: things.reduce((sum, r) => sum + r.pixels.length, 0) / alone.data.length, where: [things[0].left + things[0].right, things[0].top + things[0].bottom] });
  }
  return changes.sort((a, b) => b.share - a.share);
}
