import { boxBlur } from '../image/boxBlur';
import { log2Of } from '../image/log2Of';
import { createPlane, quantile, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import type { FrameId } from '@zaddle/document';

/** What of a frame is lit by its flash, at half the guide's size. */
export interface FlashReach {
  /** Share of the places that it lights most that lie at the view's rim, 0..1. */
  readonly atView: number;
  /** Share of the picture that it lights most, 0..1, and how many stops that is at least. */
  readonly core: number;
  readonly stops: number;
  /** Share of that part's outline that is a sharp edge of light. */
  readonly sharp: number;
  /** How warm its light is against the room's own, log2 of red over blue. */
  readonly warmth: number;
}

/** Linear light below which nothing is told. */
const LEAST = 0.002;
/** The part that is lit most: above this share of the stops of its brightest hundredth. */
const CORE = 0.55;
/** Half-guide pixels across which an edge of light is sharp, and the share of its stops that it must take. */
const EDGE = 3;
const STEP = 0.6;
/** Half-guide pixels about the glass that are its rim. */
const RIM = 10;

/** Log2 of a frame's light over what the room gives in its exposure, green, at half the guide's size. */
function addedStops(guides: GuideSet, frame: FrameId, share: number): Plane {
  const [width, height] = [guides.width >> 1, guides.height >> 1];
  const { g } = guides.frames.get(frame)!.light;
  const ambient = guides.merge.g;
  const out = createPlane(width, height);
  for (let y = 0, k = 0; y < height; y++) {
    for (let x = 0; x < width; x++, k++) {
      const i = 2 * y * guides.width + 2 * x;
      const j = i + guides.width;
      const own = 0.25 * (g[i] + g[i + 1] + g[j] + g[j + 1]);
      const room = 0.25 * share * (ambient[i] + ambient[i + 1] + ambient[j] + ambient[j + 1]);
      out.data[k] = log2Of(Math.max(own, LEAST)) - log2Of(Math.max(room, LEAST));
    }
  }
  return out;
}

/** Measures where a flash that did not light the whole room did light. @param stops exposure of the frame. @param glass the view outside. */
export function flashReach(guides: GuideSet, frame: FrameId, stops: number, glass: Plane): FlashReach {
  const share = 2 ** stops;
  const added = addedStops(guides, frame, share);
  const { width, height, data } = added;
  const level = CORE * quantile(data, 0.99);
  const at = (i: number): number => 2 * Math.floor(i / width) * guides.width + 2 * (i % width);
  const rim = boxBlur(createPlane(width, height, data.map((_, i) => (glass.data[at(i)] > 0.3 ? 1 : 0))), RIM).data;
  const { light, top } = guides.frames.get(frame)!;
  const warm: number[] = [];
  let [core, atView, outline, sharp] = [0, 0, 0, 0];
  for (let y = EDGE; y < height - EDGE; y++) {
    for (let x = EDGE; x < width - EDGE; x++) {
      const i = y * width + x;
      if (data[i] > level) {
        core++;
        if (rim[i] > 0.005) atView++;
        const p = at(i);
        const ratio = ((light.r[p] - share * guides.merge.r[p]) * guides.merge.b[p]) / ((light.b[p] - share * guides.merge.b[p]) * guides.merge.r[p]);
        if (top.data[p] < 0.96 && ratio > 0) warm.push(Math.log2(ratio));
      }
      for (let by = 1, way = 0; way < 2; by = width, way++) {
        if (data[i] > level === data[i + by] > level) continue;
        outline++;
        if (Math.abs(data[i + by * EDGE] - data[i - by * (EDGE - 1)]) > STEP * level) sharp++;
      }
    }
  }
  return { atView: core > 0 ? atView / core : 0, core: core / data.length, stops: level, sharp: outline > 0 ? sharp / outline : 0, warmth: warm.length > 20 ? quantile(warm, 0.5) : 0 };
}

/** A streak: small, strong and sharp, and warmer than the room's own light; through a wide front also larger, but then much warmer. */
const isSun = ({ atView, core, stops, sharp, warmth }: FlashReach): boolean =>
  stops > 1.6 && atView < 0.35 && ((core < 0.06 && sharp > 0.3 && warmth > 0.25) || (core < 0.3 && sharp > 0.18 && warmth > 0.8));

/** What a flash was for. @param wide it lit most of the room, so that it was not for the view. */
export function flashPurpose({ atView, core, stops, sharp, warmth }: FlashReach, wide: boolean): { role: 'view' | 'sun' | 'flash'; why: string } {
  if (atView > 0.5 && !wide) return { role: 'view', why: 'the flash lit what is about the view: exposed for it' };
  if (isSun({ atView, core, stops, sharp, warmth })) return { role: 'sun', why: `a warm streak of light with sharp edges over ${(100 * core).toFixed(0)} % of the picture` };
  return { role: 'flash', why: `the flash lit a part: ${(100 * core).toFixed(0)} % of the picture most` };
}
