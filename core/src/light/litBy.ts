import { boxBlur } from '../image/boxBlur';
import { guidanceOf, guidedFilter, type Guidance } from '../image/guidedFilter';
import { createPlane, luminance, mapPlane, quantile, type Light, type Plane } from '../image/plane';
import { smoothstep } from '../image/smoothstep';
import type { GuideSet } from '../mix/guides';
import type { FrameId } from '@zaddle/document';

/** Guide pixels over which a flash's light is joined softly. */
const SOFTNESS = 14;

/** The room's own light, as every flash of a shot is held against it. */
export interface RoomLight {
  readonly luminance: Plane;
  /** Its log2, so that soft joins end at edges of the room. */
  readonly guidance: Guidance;
}

export function roomLight(merge: Light): RoomLight {
  const y = luminance(merge);
  return { luminance: y, guidance: guidanceOf(mapPlane(y, (v) => Math.log2(Math.max(1 / 4096, v))), SOFTNESS) };
}

/**
 * How well a flash frame lights each guide pixel, 0..1: the flash outshines the ambient light it also
 * recorded, nothing is clipped or nearly black, no hot spot, not the view outside.
 * @param stops the frame's exposure against the reference.
 */
export function litBy(guides: GuideSet, room: RoomLight, frame: FrameId, stops: number, glass: Plane): Plane {
  const guide = guides.frames.get(frame)!;
  const y = luminance(guide.light);
  const lit: number[] = [];
  for (let i = 0; i < y.data.length; i += 7) if (guide.top.data[i] < 0.97 && y.data[i] > 0.004 && glass.data[i] < 0.5) lit.push(y.data[i]);
  const middle = Math.max(0.02, quantile(lit, 0.6) || 0.1);
  const share = 2 ** stops;
  const raw = createPlane(guides.width, guides.height);
  const unusable = createPlane(guides.width, guides.height);
  for (let i = 0; i < raw.data.length; i++) {
    const own = Math.max(1e-5, y.data[i]);
    const outshines = smoothstep(0.15, 0.55, 1 - (share * room.luminance.data[i]) / own);
    const clipped = smoothstep(0.93, 0.99, guide.top.data[i]);
    const seen = smoothstep(0.002, 0.012, own);
    const distance = Math.log2(own / middle);
    const calm = Math.exp(-(distance * distance) / (2 * (distance > 0 ? 1.1 : 2.2) ** 2));
    raw.data[i] = outshines * (1 - clipped) * seen * calm * (1 - glass.data[i]) * guide.cover.data[i];
    unusable.data[i] = Math.max(clipped, glass.data[i]);
  }
  // A frame that ends inside the picture fades out before its edge.
  const inner = guide.cover.data.every((v) => v === 1) ? guide.cover : boxBlur(guide.cover, SOFTNESS);
  const spoiled = boxBlur(boxBlur(unusable, 2), 2);
  // Soft joins between flashes, but none across an edge of the room.
  const soft = guidedFilter(room.guidance, boxBlur(raw, 6), 0.3);
  return mapPlane(soft, (v, i) => Math.min(1, Math.max(0, v)) * (1 - smoothstep(0.02, 0.45, spoiled.data[i])) * smoothstep(0.55, 1, inner.data[i]));
}

/** The share of one flash among several where they overlap: its own weight over the sum, fading where none lights. */
export function shareAmong(own: Plane, others: readonly Plane[]): Plane {
  return mapPlane(own, (v, i) => v / (others.reduce((sum, p) => sum + p.data[i], 0) + Math.max(v, 0.12)));
}
