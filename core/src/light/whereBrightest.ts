import { boxBlur } from '../image/boxBlur';
import { createPlane, quantile } from '../image/plane';
import type { FlashLight } from './flashLight';

/** Share of the picture that counts as where a light falls most. */
const MOST = 0.15;
/** Radius over which surfaces' own brightness is evened out, half-guide pixels. */
const SMOOTH = 12;

/**
 * Where the light of a flash mostly falls, as shares of width and height, or null where too little is known: by its light
 * against that of the other flashes, which cancels the surfaces' own brightness, or by itself where it is the only one.
 */
export function whereBrightest(light: FlashLight, others: readonly FlashLight[]): readonly [number, number] | null {
  const { width, height } = light;
  const sum = createPlane(width, height);
  const count = createPlane(width, height);
  for (let i = 0; i < sum.data.length; i++) {
    if (Number.isNaN(light.g[i])) continue;
    let [theirs, known] = [0, 0];
    for (const { g } of others) {
      if (Number.isNaN(g[i])) continue;
      theirs += Math.log2(g[i]);
      known++;
    }
    if (others.length > 0 && known === 0) continue;
    sum.data[i] = Math.log2(light.g[i]) - (known > 0 ? theirs / known : 0);
    count.data[i] = 1;
  }
  const [s, c] = [boxBlur(sum, SMOOTH).data, boxBlur(count, SMOOTH).data];
  const mean = s.map((v, i) => (c[i] > 0.3 ? v / c[i] : NaN));
  const known = mean.filter((v) => !Number.isNaN(v));
  if (known.length < 0.05 * mean.length) return null;
  const limit = quantile(known, 1 - MOST);
  let [x, y, n] = [0, 0, 0];
  for (let i = 0; i < mean.length; i++) {
    if (!(mean[i] >= limit)) continue;
    x += i % width;
    y += Math.floor(i / width);
    n++;
  }
  return [(x / n + 0.5) / width, (y / n + 0.5) / height];
}

/** Such a place in words. */
export function placeInWords([x, y]: readonly [number, number]): string {
  const across = x < 0.4 ? 'left' : x > 0.6 ? 'right' : '';
  const down = y < 0.36 ? 'upper' : y > 0.64 ? 'lower' : '';
  if (across && down) return `${down} ${across}`;
  return across || (down ? `${down} middle` : 'middle');
}
