import type { Triple } from '../colour/primaries';
import type { Light } from '../image/plane';

/** Gains one after the other. */
export const times = (a: Triple, b: Triple): Triple => [a[0] * b[0], a[1] * b[1], a[2] * b[2]];

function byGain(channel: Float32Array, gain: number): Float32Array {
  const out = new Float32Array(channel.length);
  for (let i = 0; i < out.length; i++) out[i] = channel[i] * gain;
  return out;
}

/** A light by gains. */
export const scaled = ({ width, height, r, g, b }: Light, gains: Triple): Light => ({ width, height, r: byGain(r, gains[0]), g: byGain(g, gains[1]), b: byGain(b, gains[2]) });
