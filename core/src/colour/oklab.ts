import { applyMatrix, WORKING_TO_SRGB, type Matrix3, type Triple } from './primaries';

/** Linear sRGB to the cone responses of OKLab. Ottosson, "A perceptual color space for image processing", 2020. */
const SRGB_TO_CONES: Matrix3 = [0.4122214708, 0.5363325363, 0.0514459929, 0.2119034982, 0.6806995451, 0.1073969566, 0.0883024619, 0.2817188376, 0.6299787005];

/** Matrix from working light to the cone responses of OKLab, row-major. */
export const workingToCones = (): number[] => [0, 1, 2].flatMap((row) => [0, 1, 2].map((column) => [0, 1, 2].reduce((sum, k) => sum + SRGB_TO_CONES[row * 3 + k] * WORKING_TO_SRGB[k * 3 + column], 0)));

/** The way back, row-major. */
export function conesToWorking(): number[] {
  const [a, b, c, d, e, f, g, h, i] = workingToCones();
  const determinant = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  return [e * i - f * h, c * h - b * i, b * f - c * e, f * g - d * i, a * i - c * g, c * d - a * f, d * h - e * g, b * g - a * h, a * e - b * d].map((v) => v / determinant);
}

/** OKLab of working light: lightness 0..1 for colours up to white, and two opponent axes. */
export function oklab(light: Triple): [number, number, number] {
  const [l, m, s] = applyMatrix(workingToCones() as unknown as Matrix3, light).map((v) => Math.cbrt(Math.max(0, v)));
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}
