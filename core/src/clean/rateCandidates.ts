import type { FrameId, Triple } from '@zaddle/document';
import { boxBlur } from '../image/boxBlur';
import { createLight, createPlane, mapPlane, quantile, type Light, type Plane } from '../image/plane';
import { rimGains } from '../light/rimGains';
import { halfLight, halfPlane } from './coarserLooks';
import type { FrameLook, PlaceLooks } from './lookAtPlace';

/** Why a frame stands where it stands among those that might give a place. */
export type CandidateWord = 'clean' | 'as it is now' | 'glare' | 'something there' | 'dark' | 'clipped' | 'blurred' | 'outside';

/** What one frame would give a place. */
export interface Candidate {
  readonly frame: FrameId;
  /** 0..1; the best comes first. */
  readonly rating: number;
  /** How much it looks like what the picture shows now, 0..1. */
  readonly present: number;
  readonly word: CandidateWord;
  /** Its light, brought to what lies around the place in the picture, and the gains on its colours that do most of that. */
  readonly light: Light;
  readonly gains: Triple;
}

/** Why a place is looked at. */
export interface WhyLooked {
  /** Somebody pointed at it, because the picture is not clean there; else it was found, and the picture may be clean. */
  readonly pointedAt: boolean;
  /** Frames that are known to show something there. */
  readonly having?: readonly FrameId[];
}

/** Value of a frame's own white from which on it is clipped, and light below which it is noise. */
const CLIPPED = 0.93;
const DARK = 0.006;
/** Shares of the place from which on it is one of these. */
const PARTLY_CLIPPED = 0.25;
const MOSTLY_DARK = 0.5;
const PARTLY_OUTSIDE = 0.1;
/** Detail against the best frame's, from which down it is blurred. */
const BLURRED = 0.55;
/** Stops: light below this share of the rim's is floored, so that noise in the dark is no difference; differences beyond the most are alike. */
const FLOOR = 0.02;
const MOST = 1.5;
/** Stops by which two frames of the same thing may differ anyway, beside what they differ by around the place. */
const ALIKE = 0.07;
/** Share of a place that shows something else for it to count, and stops of a difference that counts. */
const DIFFERS = 0.22;
/** How much it tells against a frame that it looks like what the picture shows now: a place that was pointed at is not as it should be. */
const UNWANTED = 0.75;
/** What a frame says for itself, in witnesses; stops by which two differ around the place from which on they tell little of each other. */
const ITSELF = 0.3;
const TELLS = 0.2;
/** What a blurred frame is worth beside a sharp one, and one that is clipped, dark or outside beside one that is not. */
const SOFT = 0.4;
const FLAWED = 0.2;
/** What a frame that is known to show something there is worth. */
const HAVING = 0.15;
/** Stops over most others that are glare; the share of a place that is much of it, and how much that tells against a frame. */
const GLARES = 0.35;
const MUCH_GLARE = 0.1;
const AGAINST_GLARE = 0.6;
/** From which likeness on a frame shows what the picture does. */
const AS_NOW = 0.6;
/** Share of a place that may differ in a clean one. */
const FEW = 0.03;

/** Pixels about the place that are compared, too. */
const AROUND = 10;

/** A place by its pixels: those of it, and those about it. */
interface Pixels {
  readonly width: number;
  readonly inside: readonly number[];
  readonly around: readonly number[];
}

interface Measured {
  readonly frame: FrameId;
  readonly light: Light;
  readonly gains: Triple;
  readonly logs: readonly Float32Array[];
  readonly clipped: number;
  readonly dark: number;
  readonly outside: number;
  /** Mean step of log luminance between neighbours, about the place, and within it. */
  readonly detail: number;
  readonly structure: number;
}

const channelsOf = ({ r, g, b }: Light): readonly [Float32Array, Float32Array, Float32Array] => [r, g, b];

/** Logs of each colour, calmed a little: frames lie a fraction of a pixel apart. */
const logsOf = (light: Light, floor: number): Float32Array[] => channelsOf(light).map((channel) => boxBlur(createPlane(light.width, light.height, channel.map((v) => Math.log2(v > floor ? v : floor))), 1).data);

/** Mean difference of two lights over some pixels, stops. */
function apart([ar, ag, ab]: readonly Float32Array[], [br, bg, bb]: readonly Float32Array[], pixels: readonly number[]): number {
  let sum = 0;
  for (let k = 0; k < pixels.length; k++) {
    const i = pixels[k];
    sum += Math.min(MOST, Math.max(Math.abs(ar[i] - br[i]), Math.abs(ag[i] - bg[i]), Math.abs(ab[i] - bb[i])));
  }
  return pixels.length > 0 ? sum / pixels.length : 0;
}

const share = (pixels: readonly number[], is: (i: number) => boolean): number => (pixels.length > 0 ? pixels.filter(is).length / pixels.length : 0);

function meanStep(log: Float32Array, width: number, pixels: readonly number[]): number {
  let sum = 0;
  for (const i of pixels) if (i + width < log.length && (i + 1) % width > 0) sum += Math.abs(log[i + 1] - log[i]) + Math.abs(log[i + width] - log[i]);
  return pixels.length > 0 ? sum / pixels.length : 0;
}

/** The picture about a place, half as fine: by how much light has to be changed varies slowly. */
interface Rim {
  readonly coverage: Plane;
  readonly picture: Light;
}

/** A frame's light, brought to what lies around the place in the picture, and the gains that do it at one pixel. */
function matched(light: Light, { coverage, picture }: Rim, pixel: number): { readonly light: Light; readonly gains: Triple } {
  const { width, height } = light;
  const gains = rimGains(picture, halfLight(light), coverage, CLIPPED);
  const out = createLight(width, height);
  const at = (i: number): number => Math.min(coverage.height - 1, Math.floor(i / width) >> 1) * coverage.width + Math.min(coverage.width - 1, (i % width) >> 1);
  channelsOf(out).forEach((channel, c) => {
    const [from, by] = [channelsOf(light)[c], channelsOf(gains)[c]];
    for (let i = 0; i < channel.length; i++) channel[i] = from[i] * by[at(i)];
  });
  return { light: out, gains: channelsOf(gains).map((by) => by[at(pixel)]) as unknown as Triple };
}

function measure(frame: FrameId, { light, cover }: FrameLook, { width, inside, around }: Pixels, rim: Rim, floor: number): Measured {
  const { light: own, gains } = matched(light, rim, inside[inside.length >> 1] ?? 0);
  const logs = logsOf(own, floor);
  const { r, g, b } = light;
  return {
    frame, light: own, logs, gains,
    clipped: share(inside, (i) => r[i] >= CLIPPED || g[i] >= CLIPPED || b[i] >= CLIPPED),
    dark: share(inside, (i) => g[i] < DARK && r[i] < DARK),
    outside: share(inside, (i) => cover.data[i] < 0.99),
    detail: meanStep(logs[1], width, around), structure: meanStep(logs[1], width, inside),
  };
}

/** How alike two frames are within the place, 0..1, given how alike they are around it. */
const alike = (within: number, around: number): number => Math.exp(-((Math.max(0, within - around) / (ALIKE + 0.5 * around)) ** 2));

/** What is different about a frame against the best one: brighter and less coloured is glare. */
function differenceWord(own: Measured, best: Measured, inside: readonly number[]): CandidateWord {
  const spread = ({ logs: [r, g, b] }: Measured, i: number): number => Math.max(r[i], g[i], b[i]) - Math.min(r[i], g[i], b[i]);
  let [brighter, other] = [0, 0];
  for (const i of inside) {
    const d = own.logs[1][i] - best.logs[1][i];
    if (Math.abs(d) < DIFFERS) continue;
    if (d > 0 && spread(own, i) <= spread(best, i) + 0.3) brighter++;
    else other++;
  }
  if (brighter + other < FEW * inside.length) return 'clean';
  return brighter > other ? 'glare' : 'something there';
}

/** Share of the place where a frame is brighter than most of those that can be compared: light that its surfaces do not give. */
function glareOf(own: Measured, usual: Float32Array, inside: readonly number[]): number {
  let count = 0;
  inside.forEach((i, k) => {
    if (own.logs[1][i] - usual[k] > GLARES) count++;
  });
  return inside.length > 0 ? count / inside.length : 0;
}

/** Middle log of green of some frames at each pixel of the place. */
function usualOf(frames: readonly Measured[], inside: readonly number[]): Float32Array {
  const values = new Float32Array(frames.length);
  return Float32Array.from(inside, (i) => {
    for (let k = 0; k < frames.length; k++) values[k] = frames[k].logs[1][i];
    values.sort();
    return values[(values.length - 1) >> 1];
  });
}

function flawOf({ outside, clipped, dark, detail }: Measured, mostDetail: number): CandidateWord | null {
  if (outside > PARTLY_OUTSIDE) return 'outside';
  if (clipped > PARTLY_CLIPPED) return 'clipped';
  if (dark > MOSTLY_DARK) return 'dark';
  return detail < BLURRED * mostDetail ? 'blurred' : null;
}

/**
 * Which frames have a place clean. A frame is the likelier clean the more others show the same there once their light is brought to that
 * of the surroundings (the mode of what is seen, as in Agarwala et al., "Interactive Digital Photomontage", 2004, maximum likelihood),
 * and, where a person pointed at it, the less it looks like the picture, which is not clean then. Clipped, dark, blurred and missing places count against it.
 * @returns all frames, the best first.
 */
export function rateCandidates({ coverage, picture, frames }: Pick<PlaceLooks, 'coverage' | 'picture' | 'frames'>, { pointedAt, having = [] }: WhyLooked): Candidate[] {
  const { width, height, data } = coverage;
  const near = boxBlur(mapPlane(coverage, (v) => (v > 0.5 ? 1 : 0)), AROUND).data;
  const all = Array.from({ length: width * height }, (_, i) => i);
  const pixels: Pixels = { width, inside: all.filter((i) => data[i] > 0.5), around: all.filter((i) => data[i] < 0.01 && near[i] > 0) };
  const { inside, around } = pixels;
  const floor = Math.max(1e-4, FLOOR * (around.length > 0 ? quantile(around.map((i) => picture.g[i]), 0.5) : 0.18));
  const rim: Rim = { coverage: halfPlane(coverage), picture: halfLight(picture) };
  const measured = [...frames].map(([frame, look]) => measure(frame, look, pixels, rim, floor));
  const now = logsOf(picture, floor);
  const mostDetail = quantile(measured.map(({ detail }) => detail), 0.75);
  const flaws = measured.map((m) => flawOf(m, mostDetail));
  const usable = flaws.map((flaw) => flaw === null || flaw === 'blurred');
  const leastStructure = Math.min(...measured.filter((_, k) => flaws[k] === null).map(({ structure }) => structure), Infinity);
  const [support, witnesses] = [measured.map(() => ITSELF), measured.map(() => ITSELF)];
  measured.forEach((own, k) => {
    for (let j = k + 1; j < measured.length; j++) {
      const about = apart(own.logs, measured[j].logs, around);
      const weight = 1 / (1 + (about / TELLS) ** 2);
      const same = weight * alike(apart(own.logs, measured[j].logs, inside), about);
      for (const [a, b] of [[k, j], [j, k]]) {
        if (!usable[b]) continue;
        support[a] += same;
        witnesses[a] += weight;
      }
    }
  });
  const usual = usualOf(measured.filter((_, k) => usable[k]), inside);
  const rated = measured.map((own, k) => {
    const glare = 1 - AGAINST_GLARE * Math.min(1, glareOf(own, usual, inside) / MUCH_GLARE);
    const present = alike(apart(own.logs, now, inside), apart(own.logs, now, around));
    const calm = ((leastStructure + 0.01) / (own.structure + 0.01)) ** 0.3;
    const flawed = (1 - own.clipped) ** 2 * (1 - 0.8 * own.dark) * (1 - own.outside) ** 4 * (usable[k] ? 1 : FLAWED) * (flaws[k] === 'blurred' ? SOFT : 1);
    return { own, present, flaw: flaws[k], rating: (support[k] / witnesses[k]) * (pointedAt ? 1 - UNWANTED * present : 1) * (having.includes(own.frame) ? HAVING : 1) * Math.min(1, calm) * glare * flawed };
  }).sort((a, b) => b.rating - a.rating);
  const best = rated[0]?.own;
  return rated.map(({ own, present, flaw, rating }, k): Candidate => {
    const word = flaw ?? (present > AS_NOW ? 'as it is now' : k === 0 ? 'clean' : differenceWord(own, best, inside));
    return { frame: own.frame, rating, present, word, light: own.light, gains: own.gains };
  });
}
