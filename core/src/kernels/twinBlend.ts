import { BLEND_MODE_CODES } from '../blend/blendModes';
import type { Kernels } from './kernels';

type Colour = readonly [number, number, number];

const CODES = BLEND_MODE_CODES;
const unit = (v: number): number => Math.min(1, Math.max(0, v));
const screen = (b: number, s: number): number => Math.max(b, s, unit(b) + unit(s) - unit(b) * unit(s));
const hardLight = (b: number, s: number): number => (s <= 0.5 ? b * 2 * s : screen(b, 2 * s - 1));

function softLight(b: number, s: number): number {
  const twice = 2 * Math.min(1, s) - 1;
  if (twice <= 0) return b + twice * b * Math.max(0, 1 - b);
  return b + twice * (Math.max(b, b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b)) - b);
}

const LINEAR: Readonly<Record<number, (b: number, s: number) => number>> = {
  [CODES.add]: (b, s) => b + s,
  [CODES.lighten]: Math.max,
  [CODES.darken]: Math.min,
  [CODES.multiply]: (b, s) => b * s,
  [CODES.screen]: screen,
};

const ENCODED: Readonly<Record<number, (b: number, s: number) => number>> = {
  [CODES.overlay]: (b, s) => hardLight(s, b),
  [CODES['color-dodge']]: (b, s) => Math.max(b, Math.min(1, b / Math.max(1e-6, 1 - s))),
  [CODES['color-burn']]: (b, s) => (b >= 1 ? b : 1 - Math.min(1, (1 - b) / Math.max(1e-6, s))),
  [CODES['hard-light']]: hardLight,
  [CODES['soft-light']]: softLight,
  [CODES.difference]: (b, s) => Math.abs(b - s),
  [CODES.exclusion]: (b, s) => unit(b) + unit(s) - 2 * unit(b) * unit(s),
};

const lum = ([r, g, b]: Colour): number => 0.3 * r + 0.59 * g + 0.11 * b;
const range = (c: Colour): number => Math.max(...c) - Math.min(...c);

function withSaturation(c: Colour, saturation: number): Colour {
  const [low, spread] = [Math.min(...c), range(c)];
  return c.map((v) => (spread > 1e-9 ? ((v - low) * saturation) / spread : 0)) as unknown as Colour;
}

/** @param brightest what colours are brought back below: white, or what was brighter already */
function withLuminosity(c: Colour, l: number, brightest: number): Colour {
  const moved = c.map((v) => v + l - lum(c)) as unknown as Colour;
  const [low, high] = [Math.min(...moved), Math.max(...moved)];
  const k = Math.min(low < 0 ? l / Math.max(1e-9, l - low) : 1, high > brightest ? (brightest - l) / Math.max(1e-9, high - l) : 1);
  return moved.map((v) => Math.max(0, l + (v - l) * k)) as unknown as Colour;
}

function together(mode: number, below: Colour, src: Colour): Colour {
  const brightest = Math.max(1, ...below, ...src);
  if (mode === CODES.luminosity) return withLuminosity(below, lum(src), brightest);
  if (mode === CODES.color) return withLuminosity(src, lum(below), brightest);
  return withLuminosity(mode === CODES.hue ? withSaturation(src, range(below)) : withSaturation(below, range(src)), lum(below), brightest);
}

const encoded = (v: number): number => Math.sqrt(Math.max(0, v));

/** What blending makes of two colours, linear light in and out. */
export function blendColours(mode: number, below: Colour, src: Colour): Colour {
  if (mode === CODES.normal) return src;
  if (LINEAR[mode]) return src.map((s, c) => LINEAR[mode](below[c], s)) as unknown as Colour;
  const [b, s] = [below, src].map((colour) => colour.map(encoded) as unknown as Colour);
  const out = ENCODED[mode] ? s.map((v, c) => ENCODED[mode](b[c], v)) : together(mode, b, s);
  return out.map((v) => v * v) as unknown as Colour;
}

/** The kernel of `kernels/assembly/blend.ts` in plain TypeScript. */
export function twinBlend(f32: Float32Array): Pick<Kernels, 'blendRow'> {
  return {
    blendRow(below, belowPlane, src, srcPlane, n, mode) {
      for (let i = 0; i < n; i++) {
        const at = (from: number, plane: number): number[] => [0, 1, 2].map((c) => ((from + plane * c) >> 2) + i);
        const places = at(src, srcPlane);
        const read = (list: number[]): Colour => list.map((k) => f32[k]) as unknown as Colour;
        blendColours(mode, read(at(below, belowPlane)), read(places)).forEach((v, c) => (f32[places[c]] = v));
      }
    },
  };
}
