import { boxBlur } from '../image/boxBlur';
import { log2Of } from '../image/log2Of';
import { createPlane, quantile, type Plane } from '../image/plane';
import type { Guide, GuideSet } from '../mix/guides';
import { comparable, CLIPPED, DARK, type Exposures } from './ownRadiance';

/** What one flash says of inside and outside, on the guide. */
export interface FlashEvidence {
  /** Light that the flash added, linear, in the frame's own exposure; NaN where it cannot be told, at least so much where the frame is clipped. */
  readonly added: Plane;
  /** Error of `added` by what exposure is not known exactly; NaN where the frame is clipped. */
  readonly doubt: Plane;
  /** 1 where the flash added nothing, 0 where it lifted the place as it did the room about it; NaN where it cannot tell. */
  readonly outside: Plane;
}

/** What all flashes of a shot say. */
export interface AllEvidence {
  readonly frames: readonly FlashEvidence[];
  /** 1 where a frame without flash shows what the place gives off by itself; elsewhere it is at most what flashes show. */
  readonly known: Uint8Array;
}

/** Radii, in guide pixels, of the neighbourhoods that a place is held against: the nearest with enough witnesses counts. */
const NEIGHBOURHOODS = [70, 220] as const;
const WITNESSES = 0.05;
/** Pixels of a block, each way: light about a place need not be known more finely. */
const BLOCK = 4;
/** Stops that a flash must lift a place to make it a witness of what it does to the room. */
const LIFTED = 0.25;
/** Relative error of exposure between frames, before and after it was measured on what is surely outside. */
const TOLERANCE = 0.06;
const CALIBRATED = 0.025;
/** Stops by which a frame's exposure may be off what it says, and guide pixels of sure outside that tell. */
const OFF = 0.3;
const ENOUGH = 150;
/** Share of the room's flash light that makes a place sure to be inside: less may be mirrored by a pane. */
const SURE_SHARE = 0.7;
/** Stops of lift that make it sure: exposures are not known better. */
const SURE_LIFT = 0.3;
/** Share of the room's flash light that the doubt may be for a frame to tell. */
const DOUBTFUL = 0.35;

/** A flash frame and what is compared of it. */
interface Flash {
  readonly guide: Guide;
  readonly value: Float32Array;
  /** The frame's exposure against the reference, as a factor. */
  readonly scale: number;
}

/** Frames in which a flash fired by what they show beside what places give off by themselves: less is drift of the camera. */
function flashesOf(guides: GuideSet, exposures: Exposures, own: Plane): { flashes: Flash[]; steady: Flash[] } {
  const flashes: Flash[] = [];
  const steady: Flash[] = [];
  const lifts = new Float32Array(Math.floor(own.data.length / 7));
  for (const [id, guide] of guides.frames) {
    const value = comparable(guide).data;
    const scale = 2 ** exposures[id];
    for (let k = 0, i = 0; k < lifts.length; k++, i += 7) {
      const told = guide.cover.data[i] !== 0 && (value[i] >= DARK || scale * own.data[i] >= DARK);
      lifts[k] = told ? Math.log2(Math.max(1, (guide.top.data[i] > CLIPPED ? Math.max(value[i], CLIPPED) : value[i]) / Math.max(1e-5, scale * own.data[i]))) : NaN;
    }
    (quantile(lifts, 0.5) > 0.35 || quantile(lifts, 0.8) > 1 ? flashes : steady).push({ guide, value, scale });
  }
  return { flashes, steady };
}

/**
 * What places give off by themselves, at most: also what a frame without flash shows that is too dark to be measured.
 * `known` is 1 where such a frame is not clipped; elsewhere only flashes tell, none of which shows less.
 */
function withoutFlash(own: Plane, steady: readonly Flash[]): { own: Float32Array; known: Uint8Array } {
  const out = own.data.slice();
  const known = new Uint8Array(out.length);
  for (const { guide, value, scale } of steady) {
    for (let i = 0; i < out.length; i++) {
      if (guide.top.data[i] > CLIPPED || guide.cover.data[i] === 0) continue;
      known[i] = 1;
      const radiance = value[i] / scale;
      if (!(out[i] <= radiance)) out[i] = radiance;
    }
  }
  return { own: out, known };
}

/** Sums of a plane over blocks of pixels, where a mask is set. */
function blockSums(plane: Float32Array, mask: Uint8Array, width: number, height: number): Plane {
  const [w, h] = [Math.ceil(width / BLOCK), Math.ceil(height / BLOCK)];
  const sums = createPlane(w, h);
  for (let y = 0; y < height; y++) {
    const row = Math.floor(y / BLOCK) * w;
    for (let x = 0, i = y * width; x < width; x++, i++) if (mask[i]) sums.data[row + ((x / BLOCK) | 0)] += plane[i];
  }
  return sums;
}

/** Means of planes over the witnesses about each block of pixels, near ones where there are enough, else those of the whole picture; 0 where there is none. */
function meansOver(witness: Uint8Array, planes: readonly Float32Array[], width: number, height: number): Float32Array[] {
  const counts = blockSums(new Float32Array(witness), witness, width, height);
  const blurred = (sums: Plane): Float32Array[] => NEIGHBOURHOODS.map((radius) => boxBlur(sums, Math.round(radius / BLOCK)).data);
  const weights = blurred(counts);
  const all = counts.data.reduce((sum, v) => sum + v, 0);
  return planes.map((plane) => {
    const sums = blockSums(plane, witness, width, height);
    const near = blurred(sums);
    const whole = all > 0 ? sums.data.reduce((sum, v) => sum + v, 0) / all : 0;
    const means = new Float32Array(counts.data.length);
    for (let i = 0; i < means.length; i++) {
      const k = weights[0][i] > WITNESSES * BLOCK ** 2 ? 0 : weights[1][i] > WITNESSES * BLOCK ** 2 ? 1 : -1;
      means[i] = k < 0 ? whole : near[k][i] / weights[k][i];
    }
    return means;
  });
}

/** What one flash says. @param tolerance relative error of its exposure */
function evidenceOf({ guide, value, scale }: Flash, own: Float32Array, known: Uint8Array, tolerance: number): FlashEvidence {
  const { width, height } = guide.top;
  const [top, cover] = [guide.top.data, guide.cover.data];
  const [lift, added, doubt] = [new Float32Array(own.length), new Float32Array(own.length), new Float32Array(own.length)];
  const witness = new Uint8Array(own.length);
  for (let i = 0; i < own.length; i++) {
    const by = scale * own[i];
    const clipped = top[i] > CLIPPED;
    // A clipped place got at least that much.
    const seen = clipped ? Math.max(value[i], CLIPPED) : value[i];
    doubt[i] = clipped ? NaN : tolerance * by;
    if (cover[i] === 0 || !(value[i] >= DARK || by >= DARK)) {
      lift[i] = NaN;
      added[i] = NaN;
      continue;
    }
    lift[i] = seen > by && by === by ? log2Of(seen / Math.max(1e-5, by)) : by === by ? 0 : NaN;
    added[i] = seen - by;
    witness[i] = known[i] && lift[i] > LIFTED ? 1 : 0;
  }
  const [room, roomAdded] = meansOver(witness, [lift, added], width, height);
  const blocks = Math.ceil(width / BLOCK);
  const outside = createPlane(width, height);
  for (let y = 0, i = 0; y < height; y++) {
    const row = Math.floor(y / BLOCK) * blocks;
    for (let x = 0; x < width; x++, i++) {
      const block = row + ((x / BLOCK) | 0);
      const light = Math.max(1e-4, roomAdded[block]);
      const unsure = (doubt[i] || tolerance * scale * own[i]) / light;
      // Against nothing, and where what a place gives off outshines the flash, nothing can be told.
      if (!(room[block] > 0) || unsure > DOUBTFUL) {
        outside.data[i] = NaN;
        continue;
      }
      const share = Math.max(0, added[i] / light - unsure) / SURE_SHARE;
      // A dark thing takes little flash light, but it is lifted as the room is.
      const lifted = known[i] ? lift[i] / room[block] : 0;
      outside.data[i] = 1 - Math.min(1, lift[i] / SURE_LIFT, Math.max(share, lifted));
    }
  }
  return { added: createPlane(width, height, added), doubt: createPlane(width, height, doubt), outside };
}

/** By how much exposures are off what they say, as factors, measured on what all flashes call outside; null where too little of it is seen. */
function measuredScale({ guide, value, scale }: Flash, own: Float32Array, outside: readonly Float32Array[]): number | null {
  const ratios = new Float32Array(own.length >> 1);
  let n = 0;
  for (let i = 0; i < own.length; i += 2) {
    if (guide.top.data[i] > CLIPPED || value[i] < 4 * DARK || guide.cover.data[i] === 0 || !(outsideByAll(outside, i) > 0.75)) continue;
    const off = Math.log2(value[i] / (scale * own[i]));
    if (Math.abs(off) < OFF && n < ratios.length) ratios[n++] = off;
  }
  return n > ENOUGH ? 2 ** quantile(ratios.subarray(0, n), 0.5) : null;
}

/**
 * Evidence of each flash frame about what is outside: light adds, so a flash multiplies what a place gives off by
 * 1 + flash/ambient whatever its colour; what lies behind glass is multiplied by 1. Frames without flash are left out.
 * Exposures are measured once more on what is surely outside.
 * @param own from `ownRadiance`.
 */
export function flashEvidence(guides: GuideSet, exposures: Exposures, own: Plane): AllEvidence {
  const { flashes, steady } = flashesOf(guides, exposures, own);
  const alone = withoutFlash(own, steady);
  const first = flashes.map((flash) => evidenceOf(flash, alone.own, alone.known, TOLERANCE));
  const outside = first.map((evidence) => evidence.outside.data);
  const frames = flashes.map((flash, k) => {
    const factor = measuredScale(flash, alone.own, outside);
    return factor === null ? first[k] : evidenceOf({ ...flash, scale: flash.scale * factor }, alone.own, alone.known, CALIBRATED);
  });
  return { frames, known: alone.known };
}

/**
 * How much a pixel looks like outside by all flashes that can tell, 0..1: their mean. A flash, or the patch that it makes
 * on a ceiling, may be mirrored in a pane, in another place for each flash; what is inside is lit by most that reach it.
 * NaN where none can tell.
 * @param outside of each flash's evidence, values
 */
export function outsideByAll(outside: readonly Float32Array[], i: number): number {
  let sum = 0;
  let count = 0;
  for (let k = 0; k < outside.length; k++) {
    const v = outside[k][i];
    if (v !== v) continue;
    sum += v;
    count++;
  }
  return sum / count;
}
