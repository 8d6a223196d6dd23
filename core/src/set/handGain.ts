import type { Reading } from '../read/readings';
import type { SetReading } from './setReadings';

/** What readings weigh; those that a hand at the desk does nothing about weigh nothing. */
const WEIGHTS: Partial<Record<Reading['kind'], number>> = { misalignment: 2, clipped: 1, view: 2, cast: 2, unlit: 1, changed: 1.5, moved: 1, glare: 1.5, lamps: 0.5, leaning: 2, unsafe: 1, blur: 0.5 };
const SET_WEIGHT = 1.5;
const BAD = 2;

const weightOf = (weight: number, state: Reading['state']): number => (state === 'good' ? 0 : state === 'bad' ? BAD * weight : weight);

/** How much a hand would gain a picture, as its readings tell, so that the last hour goes where it counts; 0 is nothing. */
export const handGain = (own: readonly Reading[], set: readonly SetReading[]): number =>
  own.reduce((sum, { kind, state }) => sum + weightOf(WEIGHTS[kind] ?? 0, state), 0) + set.reduce((sum, { state }) => sum + weightOf(SET_WEIGHT, state), 0);
