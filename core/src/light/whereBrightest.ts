import { quantile } from '../image/plane';
import type { FlashLight } from './flashLight';

/** Share of the picture that counts as where a light falls most. */
const MOST = 0.15;
/** Side of the cells over which surfaces' own brightness is evened out, half-guide pixels. */
const CELL = 16;

/**
 * Where the light of a flash mostly falls, as shares of width and height, or null where too little is known: by its light
 * against that of the other flashes, which cancels the surfaces' own brightness, or by itself where it is the only one.
 */
export function whereBrightest(light: FlashLight, others: readonly FlashLight[]): readonly [number, number] | null {
  const { width, height } = light;
  const columns = Math.ceil(width / CELL);
  const cells = columns * Math.ceil(height / CELL);
  const sum = new Float32Array(cells);
  const count = new Float32Array(cells);
  for (let y = 0; y < height; y += 2) {
    for (let x = 0; x < width; x += 2) {
      const i = y * width + x;
      if (Number.isNaN(light.g[i])) continue;
      let [theirs, known] = [0, 0];
      for (const { g } of others) {
        if (Number.isNaN(g[i])) continue;
        theirs += Math.log2(g[i]);
        known++;
      }
      if (others.length > 0 && known === 0) continue;
      const cell = Math.floor(y / CELL) * columns + Math.floor(x / CELL);
      sum[cell] += Math.log2(light.g[i]) - (known > 0 ? theirs / known : 0);
      count[cell]++;
    }
  }
  const mean = sum.map((v, k) => (count[k] > 0.1 * CELL * CELL ? v / count[k] : NaN));
  const known = mean.filter((v) => !Number.isNaN(v));
  if (known.length < 0.05 * cells) return null;
  const limit = quantile(known, 1 - MOST);
  let [x, y, n] = [0, 0, 0];
  mean.forEach((v, k) => {
    if (!(v >= limit)) return;
    x += (k % columns) + 0.5;
    y += Math.floor(k / columns) + 0.5;
    n++;
  });
  return [((x / n) * CELL) / width, ((y / n) * CELL) / height];
}

/** Such a place in words. */
export function placeInWords([x, y]: readonly [number, number]): string {
  const across = x < 0.4 ? 'left' : x > 0.6 ? 'right' : '';
  const down = y < 0.36 ? 'upper' : y > 0.64 ? 'lower' : '';
  if (across && down) return `${down} ${across}`;
  return across || (down ? `${down} middle` : 'middle');
}
