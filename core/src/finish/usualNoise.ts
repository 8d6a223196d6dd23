import type { NoiseReduction } from '@zaddle/document';
import type { FrameFacts } from '../intake/frameFacts';

/** Deviation in shares of white up to which nobody minds grain, and that from which all of what is usual is taken. */
const [CLEAN, GRAINY] = [0.0035, 0.008];
/** Shares that are taken of grain that is seen: colour has no use, brightness keeps some, or surfaces look like plastic. */
const USUAL = { brightness: 0.55, colour: 0.8 };

/** Of the two tones that have least of it: where all of a tone is textured, that counts as grain there. */
const atBest = (grains: readonly number[]): number => [...grains].sort((a, b) => a - b).slice(0, 2).reduce((sum, v) => sum + v / 2, 0);

/**
 * The noise reduction that a mix is proposed with: by the grain of the frame that the others were lined up with, or of any where that
 * one tells none. Shares are nothing where the grain is too fine to be seen: what is measured is there for who wants some.
 */
export function usualNoise(frames: readonly FrameFacts[], reference: string): NoiseReduction | null {
  const grain = frames.find(({ id }) => id === reference)?.grain ?? frames.find((frame) => frame.grain)?.grain;
  if (!grain) return null;
  const share = (grains: readonly number[], most: number): number => Math.round(100 * most * Math.max(0, Math.min(1, (atBest(grains) - CLEAN) / (GRAINY - CLEAN)))) / 100;
  return { brightness: share(grain.brightness, USUAL.brightness), colour: share(grain.colour, USUAL.colour), grain };
}
