import type { Mix } from '@zaddle/document';
import { invert } from '../geometry/homography';
import type { StanceFound, ToldStance } from '../geometry/estimateStance';
import { rayOf } from '../geometry/stanceLines';
import { grade } from './grade';
import type { Reading } from './readings';

/** Degrees off plumb that are looked at, and that anybody sees. */
const CHECK = 0.3;
const BAD = 2.5;

/** Degrees clockwise by which what is plumb in the room leans in the picture, at its left and its right edge. */
export function leaning(mix: Mix, plumb: NonNullable<StanceFound['plumb']>, focal: number): [number, number] {
  const { width, height } = mix.frames[mix.reference];
  const f = focal * Math.max(width, height);
  const [vx, vy, vz] = rayOf('down', { ...plumb, yaw: 0 });
  const [x, y, z] = [f * vx + ((width - 1) / 2) * vz, f * vy + ((height - 1) / 2) * vz, vz];
  const h = invert(mix.geometry);
  const [u, v, w] = [h[0] * x + h[1] * y + h[2] * z, h[3] * x + h[4] * y + h[5] * z, h[6] * x + h[7] * y + h[8] * z];
  return [0, mix.width - 1].map((at): number => {
    // Towards the vanishing point; plumb is the same either way along.
    const [dx, dy] = [u - w * at, v - (w * (mix.height - 1)) / 2];
    return (-Math.atan2(dx * Math.sign(dy), Math.abs(dy)) * 180) / Math.PI;
  }) as [number, number];
}

/** How good it is that edges lean by so many degrees. */
export const leaningState = (degrees: number): Reading['state'] => grade(degrees, CHECK, BAD);

/** How far what is plumb in the room leans in the picture as it stands; null where too little is plumb to tell. */
export function leaningReading(mix: Mix, stance: ToldStance): Reading | null {
  const { plumb, verticals, focal } = stance;
  if (!plumb) return null;
  const [left, right] = leaning(mix, plumb, focal);
  const value = Math.max(Math.abs(left), Math.abs(right));
  const state = leaningState(value);
  const both = (left + right) / 2;
  const words = Math.abs(both) > Math.abs(left - right) / 2 ? `lean ${both > 0 ? 'right' : 'left'}` : left > right ? 'meet above' : 'spread upwards';
  const text = state === 'good' ? `Vertical edges stand plumb: ${verticals} agree.` : `Vertical edges ${words}: straighten the picture (Shift + f), or let a trace stay.`;
  return { kind: 'leaning', value, unit: '°', state, text, stance };
}

/** How a shot's camera stood, as its readings tell it; null where they do not. */
export const toldStance = (readings: readonly Reading[]): ToldStance | null => readings.find(({ kind }) => kind === 'leaning')?.stance ?? null;
