import type { Mix, SourcePass } from '@zaddle/document';
import { quantile, type Light, type Plane } from '../image/plane';
import { insetPass } from './insetPass';
import type { PlaceLooks } from './lookAtPlace';
import type { Candidate, CandidateWord } from './rateCandidates';

/** Two frames that give a place together: of both, whatever is darker. */
export interface Pair {
  readonly first: Candidate;
  readonly second: Candidate;
}

/** Stops off what most frames show from which on a pixel is wrong. */
const WRONG = 0.35;
/** Share of the place that is wrong in the best single frame for two to be tried, and what is left of that at most. */
const NOT_CLEAN = 0.06;
const LEFT = 0.35;
/** Frames that are tried, the best first: more are hardly better. */
const TRIED = 8;
/** Light that counts as black, as a share of what is usual here. */
const BLACK = 0.02;
const USELESS: readonly CandidateWord[] = ['outside', 'dark', 'blurred'];

/** Middle of some values; of an even number the lower one: light only adds. */
function middle(values: Float32Array): number {
  values.sort();
  return values[(values.length - 1) >> 1];
}

/**
 * Two frames that show a place clean together where no single one does: glare adds light, and seldom at the same spot in two frames
 * whose flashes stood apart, so the darker of both is clean. What is right is told by the middle of all frames.
 * @param rated candidates, the best first, their light brought to the surroundings. @param coverage what is meant, 0..1, on their grid
 * @returns null where a single frame will do, or no two are clean together
 */
export function combineTwo(rated: readonly Candidate[], coverage: Plane): Pair | null {
  const usable = rated.filter(({ word }) => !USELESS.includes(word));
  const tried = usable.slice(0, TRIED);
  if (tried.length < 2) return null;
  const inside = [...coverage.data.keys()].filter((i) => coverage.data[i] > 0.5);
  if (inside.length === 0) return null;
  const floor = Math.max(1e-4, BLACK * quantile(inside.map((i) => usable[0].light.g[i]), 0.5));
  const logs = usable.map(({ light }) => Float32Array.from(inside, (i) => Math.log2(Math.max(floor, light.g[i]))));
  const values = new Float32Array(usable.length);
  const usual = Float32Array.from(inside, (_, k) => {
    for (let f = 0; f < usable.length; f++) values[f] = logs[f][k];
    return middle(values);
  });
  const wrong = (shown: (k: number) => number): number => usual.reduce((sum, right, k) => sum + (Math.abs(shown(k) - right) > WRONG ? 1 : 0), 0) / inside.length;
  const alone = Math.min(...tried.map((_, f) => wrong((k) => logs[f][k])));
  if (alone < NOT_CLEAN) return null;
  let best: { readonly pair: Pair; readonly left: number } | null = null;
  for (let a = 0; a < tried.length; a++) {
    for (let b = a + 1; b < tried.length; b++) {
      const left = wrong((k) => Math.min(logs[a][k], logs[b][k]));
      if (left < (best?.left ?? LEFT * alone)) best = { pair: { first: tried[a], second: tried[b] }, left };
    }
  }
  return best && best.pair;
}

/** The darker of two lights, colour by colour. @param gain on the second, a colour each */
function darker(a: Light, b: Light, gain: readonly number[]): Light {
  const of = (channel: 'r' | 'g' | 'b', c: number): Float32Array => a[channel].map((v, i) => Math.min(v, gain[c] * b[channel][i]));
  return { width: a.width, height: a.height, r: of('r', 0), g: of('g', 1), b: of('b', 2) };
}

/** What the darker of two frames looks like at a place, in the light of the first. */
export const pairLight = (looks: PlaceLooks, { first, second }: Pair): Light => darker(looks.frames.get(first.frame)!.light, looks.frames.get(second.frame)!.light, second.gains.map((g, c) => g / first.gains[c]));

/** Insets that take a place from two frames, from underneath to on top: the second darkens the first, within the same seam. */
export function pairInsets(looks: PlaceLooks, pair: Pair, mix: Mix, named: Pick<SourcePass, 'id' | 'name' | 'why'>): readonly [SourcePass, SourcePass] {
  const { first, second } = pair;
  // The seam is that of both together.
  const together: PlaceLooks = { ...looks, frames: new Map([...looks.frames, [first.frame, { ...looks.frames.get(first.frame)!, light: pairLight(looks, pair) }]]) };
  const under = insetPass(together, first, mix, named);
  const own = insetPass(looks, second, mix, { ...named, id: `${named.id}-over` });
  return [under, { ...own, mode: 'darken', mask: under.mask.map((area) => ({ ...area, id: `${own.id}-seam` })) }];
}
