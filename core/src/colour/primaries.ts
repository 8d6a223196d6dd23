import type { Matrix3, Triple } from '@zaddle/document';

export type { Matrix3, Triple };

/** Linear sRGB (BT.709 primaries, D65) to the working space (BT.2020, D65). ITU-R BT.2087. */
export const SRGB_TO_WORKING: Matrix3 = [0.627403896, 0.329283039, 0.043313065, 0.069097289, 0.919540395, 0.011362316, 0.016391439, 0.088013308, 0.895595253];
/** Working space to linear sRGB. */
export const WORKING_TO_SRGB: Matrix3 = [1.660491002, -0.587641139, -0.072849863, -0.124550475, 1.132899897, -0.008349422, -0.018150763, -0.100578898, 1.118729662];
/** Linear Display P3 (SMPTE EG 432-1 primaries, D65) to the working space, and back. */
export const P3_TO_WORKING: Matrix3 = [0.753833034, 0.198597369, 0.047569597, 0.045743849, 0.94177722, 0.012478931, -0.00121034, 0.017601717, 0.983608623];
export const WORKING_TO_P3: Matrix3 = [1.343578253, -0.282179671, -0.061398582, -0.065297453, 1.075787916, -0.010490463, 0.002821787, -0.019598495, 1.016776707];
/** Linear sRGB to linear opRGB (IEC 61966-2-5): the same red, blue and white, a greener green. */
export const SRGB_TO_OPRGB: Matrix3 = [0.7151256, 0.2848744, 0, 0, 1, 0, 0, 0.0411619, 0.9588381];
/** Linear sRGB to CIE XYZ, D65. */
const SRGB_TO_XYZ: Matrix3 = [0.4123908, 0.3575843, 0.1804808, 0.212639, 0.7151687, 0.0721923, 0.0193308, 0.1191948, 0.9505322];

export function applyMatrix(m: Matrix3, [a, b, c]: Triple): [number, number, number] {
  return [m[0] * a + m[1] * b + m[2] * c, m[3] * a + m[4] * b + m[5] * c, m[6] * a + m[7] * b + m[8] * c];
}

/** rows of m scaled by `after`, columns by `before`: diag(after) * m * diag(before). */
export function scaleMatrix(m: Matrix3, after: Triple, before: Triple): Matrix3 {
  return m.map((v, i) => v * after[Math.floor(i / 3)] * before[i % 3]) as unknown as Matrix3;
}

/** CIELAB (D65 white at linear RGB 1,1,1) of linear sRGB. CIE 15:2004. */
export function linearSrgbToLab(rgb: Triple): [number, number, number] {
  const [x, y, z] = applyMatrix(SRGB_TO_XYZ, rgb);
  const f = (t: number): number => (t > 216 / 24389 ? Math.cbrt(t) : (t * 24389) / 27 / 116 + 16 / 116);
  const fx = f(x / 0.9504559);
  const fy = f(y);
  const fz = f(z / 1.0890578);
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}
