import type { Light } from '../image/plane';
import type { BlendMode } from '../kernels/kernels';

const blend = (mode: BlendMode, b: number, s: number): number => {
  switch (mode) {
    case 'normal': return s;
    case 'add': return b + s;
    case 'lighten': return Math.max(b, s);
    case 'darken': return Math.min(b, s);
    case 'multiply': return b * s;
    case 'screen': return Math.max(b, b + s - b * s);
  }
};

/** One pixel of the mix kernel on guide-sized light: `below` at i takes the source with weight m. */
export function blendPixel(below: Light, source: Light, i: number, m: number, mode: BlendMode, brightness: number, colour: number): void {
  if (m < 1 / 255) return;
  const r = below.r[i];
  const g = below.g[i];
  const b = below.b[i];
  const sr = blend(mode, r, source.r[i]);
  const sg = blend(mode, g, source.g[i]);
  const sb = blend(mode, b, source.b[i]);
  const yb = Math.max(1e-5, 0.2627 * r + 0.678 * g + 0.0593 * b);
  const ys = Math.max(1e-5, 0.2627 * sr + 0.678 * sg + 0.0593 * sb);
  const tc = m * colour;
  if (brightness === colour) {
    below.r[i] = r + tc * (sr - r);
    below.g[i] = g + tc * (sg - g);
    below.b[i] = b + tc * (sb - b);
    return;
  }
  const y = yb + m * brightness * (ys - yb);
  const keep = (y * (1 - tc)) / yb;
  const take = (y * tc) / ys;
  below.r[i] = r * keep + sr * take;
  below.g[i] = g * keep + sg * take;
  below.b[i] = b * keep + sb * take;
}
