import type { FrameId } from '@zaddle/document';
import { boxBlur } from '../image/boxBlur';
import { guidanceOf, guidedFilterByHalf, type Guidance } from '../image/guidedFilter';
import { halve } from '../image/halve';
import { log2Of } from '../image/log2Of';
import { createPlane, quantile, type Light, type Plane } from '../image/plane';
import { smoothstep } from '../image/smoothstep';
import type { GuideSet } from '../mix/guides';
import { logLuminanceOf, luminanceOf } from '../mix/guideTones';

/** Guide pixels over which a flash's light is joined softly, and that it is softened over before; even, since that is done at half the guide's size. */
const SOFTNESS = 14;
const SOFTENED = 6;
/** Of so many places one is looked at for what a flash lights on the whole. */
const SAMPLED = 7;

/** The room's own light, as every flash of a shot is held against it. */
export interface RoomLight {
  readonly luminance: Plane;
  readonly log: Plane;
  /** Its log2 at half the size, so that soft joins end at edges of the room. */
  readonly guidance: Guidance;
}

export function roomLight(merge: Light): RoomLight {
  const log = logLuminanceOf(merge);
  return { luminance: luminanceOf(merge), log, guidance: guidanceOf(halve(log), SOFTNESS / 2) };
}

/** Linear luminance of what a flash frame lights on the whole. */
function middleOf(y: Float32Array, top: Float32Array, glass: Float32Array): number {
  const lit = new Float32Array(Math.ceil(y.length / SAMPLED));
  let n = 0;
  for (let i = 0; i < y.length; i += SAMPLED) if (top[i] < 0.97 && y[i] > 0.004 && glass[i] < 0.5) lit[n++] = y[i];
  return Math.max(0.02, quantile(lit.subarray(0, n), 0.6) || 0.1);
}

/**
 * How well a flash frame lights each guide pixel, 0..1: the flash outshines the ambient light it also
 * recorded, nothing is clipped or nearly black, no hot spot, not the view outside.
 * @param stops the frame's exposure against the reference.
 */
export function litBy(guides: GuideSet, room: RoomLight, frame: FrameId, stops: number, glass: Plane): Plane {
  const guide = guides.frames.get(frame)!;
  const [y, top, cover, own, ambient] = [luminanceOf(guide.light).data, guide.top.data, guide.cover.data, glass.data, room.luminance.data];
  const inverse = 1 / middleOf(y, top, own);
  const share = 2 ** stops;
  const raw = createPlane(guides.width, guides.height);
  const unusable = createPlane(guides.width, guides.height);
  let whole = true;
  for (let i = 0; i < y.length; i++) {
    const clipped = smoothstep(0.93, 0.99, top[i]);
    unusable.data[i] = Math.max(clipped, own[i]);
    if (cover[i] !== 1) whole = false;
    const light = Math.max(1e-5, y[i]);
    const outshines = smoothstep(0.15, 0.55, 1 - (share * ambient[i]) / light);
    const usable = outshines * (1 - clipped) * smoothstep(0.002, 0.012, light) * (1 - own[i]) * cover[i];
    if (usable === 0) continue;
    const distance = log2Of(light * inverse);
    const width = distance > 0 ? 1.1 : 2.2;
    raw.data[i] = usable * Math.exp(-(distance * distance) / (2 * width * width));
  }
  // A frame that ends inside the picture fades out before its edge.
  const inner = (whole ? guide.cover : boxBlur(guide.cover, SOFTNESS)).data;
  const spoiled = boxBlur(boxBlur(unusable, 2), 2).data;
  // Soft joins between flashes, but none across an edge of the room.
  const soft = guidedFilterByHalf(room.guidance, room.log, boxBlur(halve(raw), SOFTENED / 2), 0.3);
  for (let i = 0; i < inner.length; i++) soft.data[i] = Math.min(1, Math.max(0, soft.data[i])) * (1 - smoothstep(0.02, 0.45, spoiled[i])) * smoothstep(0.55, 1, inner[i]);
  return soft;
}

/** The share of one flash among several where they overlap: its own weight over the sum, fading where none lights. */
export function shareAmong(own: Plane, others: readonly Plane[]): Plane {
  const out = createPlane(own.width, own.height);
  for (const { data } of others) for (let i = 0; i < data.length; i++) out.data[i] += data[i];
  for (let i = 0; i < own.data.length; i++) out.data[i] = own.data[i] / (out.data[i] + Math.max(own.data[i], 0.12));
  return out;
}
