import type { GuideSet } from '../mix/guides';
import type { FrameId } from '@zaddle/document';

/** Light of one flash alone, at half the guide's size; NaN in all channels where it cannot be told. */
export interface FlashLight {
  readonly width: number;
  readonly height: number;
  readonly r: Float32Array;
  readonly g: Float32Array;
  readonly b: Float32Array;
  /** 1 where the frame is clipped: the light is at least what is said. */
  readonly clipped: Uint8Array;
}

/** Encoded value of the brightest channel from which on a pixel counts as clipped. */
const CLIPPED = 0.95;

/** Share of the light that must be the flash's: what is left of less rests on how well the rest is known. */
const DOMINATES = 0.5;

/**
 * A flash frame less the light that the room itself gave in that exposure: light adds.
 * @param stops exposure of the frame; @param least linear light below which noise rules.
 */
export function flashLight(guides: GuideSet, frame: FrameId, stops: number, least: number): FlashLight {
  const { light, top, cover } = guides.frames.get(frame)!;
  const { merge } = guides;
  const width = guides.width >> 1;
  const height = guides.height >> 1;
  const share = 2 ** stops;
  const n = width * height;
  const out: FlashLight = { width, height, r: new Float32Array(n).fill(NaN), g: new Float32Array(n).fill(NaN), b: new Float32Array(n).fill(NaN), clipped: new Uint8Array(n) };
  for (let y = 0, k = 0; y < height; y++) {
    for (let x = 0; x < width; x++, k++) {
      const i = 2 * y * guides.width + 2 * x;
      let [r, g, b, covered, whole] = [0, 0, 0, 1, 0];
      for (let part = 0; part < 4; part++) {
        const at = i + (part & 1) + (part >> 1) * guides.width;
        covered *= cover.data[at];
        if (top.data[at] > CLIPPED) out.clipped[k] = 1;
        whole += light.g[at];
        r += light.r[at] - share * merge.r[at];
        g += light.g[at] - share * merge.g[at];
        b += light.b[at] - share * merge.b[at];
      }
      if (covered === 0 || Math.min(r, g, b) < 4 * least || g < DOMINATES * whole) continue;
      out.r[k] = r / 4;
      out.g[k] = g / 4;
      out.b[k] = b / 4;
    }
  }
  return out;
}
