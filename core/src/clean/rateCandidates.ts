import type { FrameId, Triple } from '@zaddle/document';
import { boxBlur } from '../image/boxBlur';
import { createLight, createPlane, quantile, type Light } from '../image/plane';
import { rimGains } from '../light/rimGains';
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

const CHANNELS = ['r', 'g', 'b'] as const;

/** Logs of each colour, calmed a little: frames lie a fraction of a pixel apart. */
function logsOf(light: Light, floor: number): Float32Array[] {
  return CHANNELS.map((c) => boxBlur(createPlane(light.width, light.height, light[c].map((v) => Math.log2(Math.max(floor, v)))), 1).data);
}

/** Mean difference of two lights over weighted places, stops. */
function apart(a: readonly Float32Array[], b: readonly Float32Array[], weight: Float32Array): number {
  let [sum, all] = [0, 0];
  for (let i = 0; i < weight.length; i++) {
    const w = weight[i];
    if (w === 0) continue;
    let most = 0;
    for (let c = 0; c < 3; c++) most = Math.max(most, Math.abs(a[c][i] - b[c][i]));
    sum += w * Math.min(MOST, most);
    all += w;
  }
  return all > 0 ? sum / all : 0;
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

const share = (weight: Float32Array, is: (i: number) => boolean): number => {
  let [sum, all] = [0, 0];
  for (let i = 0; i < weight.length; i++) {
    all += weight[i];
    if (weight[i] > 0 && is(i)) sum += weight[i];
  }
  return all > 0 ? sum / all : 0;
};

function meanStep(log: Float32Array, width: number, weight: Float32Array): number {
  let [sum, all] = [0, 0];
  for (let i = 0; i < weight.length - width - 1; i++) {
    if (weight[i] === 0 || (i + 1) % width === 0) continue;
    sum += weight[i] * (Math.abs(log[i + 1] - log[i]) + Math.abs(log[i + width] - log[i]));
    all += weight[i];
  }
  return all > 0 ? sum / all : 0;
}

/** A frame's light at a place, brought to what lies around it in the picture, and the gains that do that. */
export function matchedLight({ picture, coverage }: Pick<PlaceLooks, 'picture' | 'coverage'>, light: Light): { readonly light: Light; readonly gains: Light } {
  const gains = rimGains(picture, light, coverage, CLIPPED);
  const matched = createLight(light.width, light.height);
  for (const c of CHANNELS) for (let i = 0; i < matched[c].length; i++) matched[c][i] = light[c][i] * gains[c][i];
  return { light: matched, gains };
}

function measure(frame: FrameId, { light, cover }: FrameLook, looks: PlaceLooks, inside: Float32Array, around: Float32Array, floor: number): Measured {
  const { light: matched, gains } = matchedLight(looks, light);
  const logs = logsOf(matched, floor);
  return {
    frame, light: matched, logs,
    gains: CHANNELS.map((c) => quantile([...gains[c]].filter((_, i) => inside[i] > 0.5), 0.5)) as unknown as Triple,
    clipped: share(inside, (i) => Math.max(light.r[i], light.g[i], light.b[i]) >= CLIPPED),
    dark: share(inside, (i) => light.g[i] < DARK && light.r[i] < DARK),
    outside: share(inside, (i) => cover.data[i] < 0.99),
    detail: meanStep(logs[1], light.width, around), structure: meanStep(logs[1], light.width, inside),
  };
}

/** How alike two frames are within the place, 0..1, given how alike they are around it. */
const alike = (within: number, around: number): number => Math.exp(-((Math.max(0, within - around) / (ALIKE + 0.5 * around)) ** 2));

/** What is different about a frame against the best one: brighter and less coloured is glare. */
function differenceWord(own: Measured, best: Measured, inside: Float32Array): CandidateWord {
  let [brighter, other, all] = [0, 0, 0];
  for (let i = 0; i < inside.length; i++) {
    if (inside[i] === 0) continue;
    all += inside[i];
    const d = own.logs[1][i] - best.logs[1][i];
    if (Math.abs(d) < DIFFERS) continue;
    const spread = (m: Measured): number => Math.max(...m.logs.map((l) => l[i])) - Math.min(...m.logs.map((l) => l[i]));
    if (d > 0 && spread(own) <= spread(best) + 0.3) brighter += inside[i];
    else other += inside[i];
  }
  if (brighter + other < 0.03 * all) return 'clean';
  return brighter > other ? 'glare' : 'something there';
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
 * and the less it looks like the picture, which was pointed at because it is not clean. Clipped, dark, blurred and missing places count against it.
 * @returns all frames, the best first.
 */
export function rateCandidates(looks: PlaceLooks): Candidate[] {
  const inside = looks.coverage.data;
  const near = boxBlur(createPlane(looks.coverage.width, looks.coverage.height, inside.map((v) => (v > 0.5 ? 1 : 0))), 10).data;
  const around = inside.map((v, i) => (v < 0.01 && near[i] > 0 ? 1 : 0));
  const rim = [...looks.picture.g].filter((_, i) => around[i] > 0);
  const floor = Math.max(1e-4, FLOOR * (rim.length > 0 ? quantile(rim, 0.5) : 0.18));
  const all = [...looks.frames].map(([frame, look]) => measure(frame, look, looks, inside, around, floor));
  const now = logsOf(looks.picture, floor);
  const mostDetail = quantile(all.map(({ detail }) => detail), 0.75);
  const flaws = all.map((m) => flawOf(m, mostDetail));
  const usable = flaws.map((flaw) => flaw === null || flaw === 'blurred');
  const leastStructure = Math.min(...all.filter((_, k) => usable[k]).map(({ structure }) => structure), Infinity);
  const rated = all.map((own, k) => {
    let [support, witnesses] = [0.3, 0.3];
    all.forEach((other, j) => {
      if (j === k || !usable[j]) return;
      const around2 = apart(own.logs, other.logs, around);
      const weight = 1 / (1 + (around2 / 0.2) ** 2);
      support += weight * alike(apart(own.logs, other.logs, inside), around2);
      witnesses += weight;
    });
    const present = alike(apart(own.logs, now, inside), apart(own.logs, now, around));
    const calm = ((leastStructure + 0.01) / (own.structure + 0.01)) ** 0.3;
    const flawed = (1 - own.clipped) ** 2 * (1 - 0.8 * own.dark) * (1 - own.outside) ** 4 * (flaws[k] === 'blurred' ? 0.7 : 1);
    return { own, present, flaw: flaws[k], rating: (support / witnesses) * (1 - UNWANTED * present) * Math.min(1, calm) * flawed };
  }).sort((a, b) => b.rating - a.rating);
  const best = rated[0]?.own;
  return rated.map(({ own, present, flaw, rating }, k): Candidate => {
    const word = flaw ?? (k === 0 ? (present > 0.6 ? 'as it is now' : 'clean') : differenceWord(own, best, inside));
    return { frame: own.frame, rating, present, word: word === 'clean' && present > 0.8 && k > 0 ? 'as it is now' : word, light: own.light, gains: own.gains };
  });
}
