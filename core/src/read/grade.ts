import type { Reading } from './readings';

/** How good a value is, of which less is better: to check from one bound on, bad from the other. */
export const grade = (value: number, check: number, bad: number): Reading['state'] => (value >= bad ? 'bad' : value >= check ? 'check' : 'good');
