import { LUMA } from '../image/plane';
import { applyMatrix, type Matrix3, type Triple } from './primaries';

/** CIE XYZ to the working space (BT.2020, D65). ITU-R BT.2020. */
const XYZ_TO_WORKING: Matrix3 = [1.7166512, -0.3556708, -0.2533663, -0.6666844, 1.6164812, 0.0157685, 0.0176399, -0.0427706, 0.9421031];
const WORKING_TO_XYZ: Matrix3 = [0.6369580, 0.1446169, 0.1688810, 0.2627002, 0.6779981, 0.0593017, 0, 0.0280727, 1.0609851];

/** Temperatures between which gains are told. */
export const COLDEST_LIGHT = 20_000;
export const WARMEST_LIGHT = 2000;
/** The light that needs no balance. */
export const NEUTRAL_LIGHT = 6500;
/** Distance from the locus, CIE 1960 u and v, to a unit of tint. */
const TINT = 1 / 3000;

type Place = readonly [number, number];

/** CIE 1960 UCS coordinates of a black body, by the cubic fit of Kim et al. 2002 (US patent 7024034), for 1667 to 25,000 K. */
function planckian(kelvin: number): Place {
  const t = 1000 / kelvin;
  const x = kelvin <= 4000 ? -0.2661239 * t ** 3 - 0.234358 * t ** 2 + 0.8776956 * t + 0.17991 : -3.0258469 * t ** 3 + 2.1070379 * t ** 2 + 0.2226347 * t + 0.24039;
  const y = kelvin <= 2222 ? -1.1063814 * x ** 3 - 1.3481102 * x ** 2 + 2.18555832 * x - 0.20219683 : kelvin <= 4000 ? -0.9549476 * x ** 3 - 1.37418593 * x ** 2 + 2.09137015 * x - 0.16748867 : 3.081758 * x ** 3 - 5.8733867 * x ** 2 + 3.75112997 * x - 0.37001483;
  const d = -2 * x + 12 * y + 3;
  return [(4 * x) / d, (6 * y) / d];
}

/** The direction across the locus, towards green. */
function across(kelvin: number): Place {
  const [a, b] = [planckian(kelvin * 0.99), planckian(kelvin * 1.01)];
  const [du, dv] = [b[0] - a[0], b[1] - a[1]];
  const length = Math.hypot(du, dv);
  return [-dv / length, du / length].map((v) => (du < 0 ? -v : v)) as unknown as Place;
}

function lightAt([u, v]: Place): Triple {
  const d = 2 * u - 8 * v + 4;
  const [x, y] = [(3 * u) / d, (2 * v) / d];
  return applyMatrix(XYZ_TO_WORKING, [x / y, 1, (1 - x - y) / y]);
}

function placeOf(light: Triple): Place {
  const [x, y, z] = applyMatrix(WORKING_TO_XYZ, light);
  const d = x + 15 * y + 3 * z;
  return [(4 * x) / d, (6 * y) / d];
}

const NEUTRAL = lightAt(planckian(NEUTRAL_LIGHT));
/** Scaled so that white keeps its luminance. */
function scaled(gains: Triple): Triple {
  const y = gains.reduce((sum, g, c) => sum + g * LUMA[c], 0);
  return gains.map((g) => g / y) as unknown as Triple;
}

/** A temperature in kelvin, and a tint: away from the line of black bodies, positive where green light is to be undone (the picture turns magenta). */
export interface LightColour {
  readonly kelvin: number;
  readonly tint: number;
}

/** Gains on red, green, blue of working light that make light of a colour neutral; 6500 K and tint 0 are gains of 1. White keeps its luminance. */
export function gainsForLight({ kelvin, tint }: LightColour): Triple {
  const [u, v] = planckian(kelvin);
  const [nu, nv] = across(kelvin);
  const light = lightAt([u + nu * tint * TINT, v + nv * tint * TINT]);
  return scaled(light.map((value, c) => NEUTRAL[c] / Math.max(0.02, value)) as unknown as Triple);
}

/** The colour of light that gains make neutral, as near as the range of temperatures allows. */
export function lightForGains(gains: Triple): LightColour {
  const [u, v] = placeOf(gains.map((g, c) => NEUTRAL[c] / Math.max(1e-3, g)) as unknown as Triple);
  const off = (kelvin: number): number => {
    const [pu, pv] = planckian(kelvin);
    return (u - pu) ** 2 + (v - pv) ** 2;
  };
  // Golden section on reciprocal temperature, on which the locus is even (mireds).
  let [low, high] = [1e6 / COLDEST_LIGHT, 1e6 / WARMEST_LIGHT];
  const golden = (Math.sqrt(5) - 1) / 2;
  for (let k = 0; k < 48; k++) {
    const [a, b] = [high - golden * (high - low), low + golden * (high - low)];
    if (off(1e6 / a) < off(1e6 / b)) high = b;
    else low = a;
  }
  const kelvin = 1e6 / ((low + high) / 2);
  const [pu, pv] = planckian(kelvin);
  const [nu, nv] = across(kelvin);
  return { kelvin, tint: ((u - pu) * nu + (v - pv) * nv) / TINT };
}

const luminance = (light: Triple): number => light.reduce((sum, v, c) => sum + v * LUMA[c], 0);

/** What one white balance makes of several places that should be grey. */
export interface Neutralised {
  readonly gains: Triple;
  /** By how many stops a channel of the worst of them is still off grey. */
  readonly off: number;
}

/**
 * Gains that make lights as grey as one white balance can, and keep their luminance: least squares over the logarithms of their
 * channels, so the geometric mean of what each would take; one light becomes grey.
 * @param lights at least one, without any gains @throws RangeError where one is too dark, or too strongly coloured, to tell
 */
export function neutralised(lights: readonly Triple[]): Neutralised {
  if (lights.some((light) => !(luminance(light) > 1e-3) || Math.min(...light) <= luminance(light) * 0.02)) throw new RangeError('It is too dark, or too strongly coloured, to tell what would make it neutral. Pick something lighter and greyer.');
  const stops = [0, 1, 2].map((c) => lights.reduce((sum, light) => sum + Math.log2(luminance(light) / light[c]), 0) / lights.length);
  const kept = lights.reduce((sum, light) => sum + luminance(light.map((v, c) => v * 2 ** stops[c]) as unknown as Triple) / luminance(light), 0) / lights.length;
  const gains = stops.map((s) => Math.min(100, 2 ** s / kept)) as unknown as Triple;
  return { gains, off: Math.max(...lights.flatMap((light) => light.map((v, c) => Math.abs(Math.log2((v * gains[c]) / luminance(light)))))) };
}
