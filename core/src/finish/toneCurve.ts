import type { Triple } from '../colour/primaries';
import { linearToSrgb } from '../colour/transfer';

/** Tones below this are left as they are; above it they roll off. */
export const KNEE = 0.6;
/** Linear value that becomes white. */
export const WHITE = 6;
/** Distance from grey, as a share of what there is between it and white, up to which a colour keeps its chroma. */
export const FULL_CHROMA = 0.7;
/** Nearest to the limit of what can be displayed that the way back goes, and its rounds. */
const NEAREST = 0.98;
const ROUNDS = 300;

/** Luminance of linear sRGB. */
const luminanceOf = ([r, g, b]: Triple): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;

/**
 * The display curve: identity up to the knee, above it a Reinhard shoulder with a white point (Reinhard et al.,
 * "Photographic tone reproduction", 2002, eq. 4) joined with equal slope, so that nothing clips abruptly.
 * @param v linear light. @returns linear display value 0..1.
 */
export function toneCurve(v: number): number {
  if (v <= KNEE) return Math.max(0, v);
  const span = 1 - KNEE;
  const w = (WHITE - KNEE) / span;
  const t = Math.min((v - KNEE) / span, w);
  return KNEE + (span * t * (1 + t / (w * w))) / (1 + t);
}

/** The inverse of `toneCurve`, for 0..1: above the knee the root of a quadratic. */
export function inverseToneCurve(y: number): number {
  if (y <= KNEE) return Math.max(0, y);
  const span = 1 - KNEE;
  const w = (WHITE - KNEE) / span;
  const u = Math.min(1, (y - KNEE) / span);
  return KNEE + (span * w * w * (u - 1 + Math.sqrt((1 - u) ** 2 + (4 * u) / (w * w)))) / 2;
}

/** How far from grey a colour may be, in shares of what there is up to white: all of it at first, then ever less, never beyond 1. */
function heldChroma(share: number): number {
  if (share <= FULL_CHROMA) return share;
  const beyond = (share - FULL_CHROMA) / (1 - FULL_CHROMA);
  return FULL_CHROMA + ((1 - FULL_CHROMA) * beyond) / (1 + beyond);
}

/** With hue kept: the curve on luminance, and what would leave the display's range brought softly closer to grey of its own brightness. */
function withHue(light: Triple): Triple {
  const y = luminanceOf(light);
  const shown = toneCurve(y);
  const gain = y > 0 ? shown / y : 0;
  const excess = (Math.max(...light) * gain - shown) / Math.max(1e-4, 1 - shown);
  const chroma = excess > FULL_CHROMA ? heldChroma(excess) / excess : 1;
  return light.map((v) => shown + (v * gain - shown) * chroma) as unknown as Triple;
}

/**
 * Light as it is displayed: halfway between the curve on each channel, by which whites stay white though light is not quite, and
 * the curve on luminance, by which a bright sky keeps its hue.
 * @param light linear sRGB. @returns linear sRGB, 0..1.
 */
export function displayLight(light: Triple): Triple {
  return withHue(light).map((v, c) => Math.min(1, Math.max(0, (v + toneCurve(light[c])) / 2))) as unknown as Triple;
}

/** The inverse of `displayLight`, for linear sRGB 0..1, by fixed-point iteration; what lies at the limit of what can be displayed is taken from just within. */
export function inverseDisplayLight(shown: Triple): Triple {
  const wanted = shown.map((v) => Math.min(NEAREST, v));
  let light = wanted.map(inverseToneCurve) as unknown as Triple;
  for (let round = 0; round < ROUNDS; round++) {
    const got = displayLight(light);
    light = light.map((v, c) => Math.max(0, v + wanted[c] - got[c])) as unknown as Triple;
  }
  return light;
}

/** Table for the encode kernel: 16 octaves from 2^-12 with 512 steps each, sRGB encoding of what is displayed, 0..255. The first entry is for all that is darker. */
export function encodeTable(): Uint8Array {
  const table = new Uint8Array(8192);
  for (let i = 1; i < table.length; i++) {
    const value = 2 ** (Math.floor(i / 512) - 12) * (1 + ((i % 512) + 0.5) / 512);
    table[i] = Math.round(255 * linearToSrgb(Math.min(1, value)));
  }
  return table;
}
