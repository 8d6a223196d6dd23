import fc from 'fast-check';
import { expect, test } from 'vitest';
import { applyMatrix, P3_TO_WORKING, SRGB_TO_WORKING, WORKING_TO_SRGB, type Triple } from '../src/colour/primaries';
import { srgbToLinear } from '../src/colour/transfer';
import { displayBlock } from '../src/finish/displayBlock';
import { displayLight } from '../src/finish/toneCurve';
import { Arena } from '../src/kernels/arena';
import { twinKernels } from '../src/kernels/twinKernels';

/** Light of one pixel as 16-bit numbers of a profile, as shares of what is largest. */
function shown(light: Triple, profile: 'srgb' | 'p3' | 'oprgb'): Triple {
  const buffer = new ArrayBuffer(65536);
  const arena = new Arena(buffer);
  const display = arena.placeBytes(displayBlock(profile));
  const [at, out] = [arena.take(192), arena.take(64)];
  light.forEach((v, c) => arena.floats(at + c * 64, 1).set([v]));
  twinKernels(buffer).encodeDeepRow(at, 64, 1, display, out);
  return Array.from(new Uint16Array(buffer, out, 3), (v) => v / 65535) as unknown as Triple;
}

/** Primaries of opRGB by chromaticity (IEC 61966-2-5), as linear sRGB: its green lies outside. */
const OPRGB_TO_SRGB = [1.3983557, -0.3983557, 0, 0, 1, 0, 0, -0.0429290, 1.0429290] as const;
const LINEAR: Record<'p3' | 'oprgb', (numbers: Triple) => Triple> = {
  p3: (numbers) => applyMatrix(WORKING_TO_SRGB, applyMatrix(P3_TO_WORKING, numbers.map(srgbToLinear) as unknown as Triple)),
  oprgb: (numbers) => applyMatrix(OPRGB_TO_SRGB, numbers.map((v) => v ** (563 / 256)) as unknown as Triple),
};
const channel = fc.double({ min: 0, max: 4, noNaN: true });

test('what sRGB can show is the same colour in every profile', () => {
  fc.assert(fc.property(fc.tuple(channel, channel, channel), fc.constantFrom('p3' as const, 'oprgb' as const), (srgb, profile) => {
    const light = displayLight(srgb);
    const back = LINEAR[profile](shown(applyMatrix(SRGB_TO_WORKING, srgb), profile));
    back.forEach((v, c) => expect(v).toBeCloseTo(light[c], 3));
  }));
});

test('a green that sRGB clips keeps what a wider profile can hold of it', () => {
  const green = applyMatrix(SRGB_TO_WORKING, [-0.05, 0.3, 0.02]);
  expect(shown(green, 'srgb')[0]).toBe(0);
  for (const profile of ['p3', 'oprgb'] as const) LINEAR[profile](shown(green, profile)).forEach((v, c) => expect(v).toBeCloseTo([-0.05, 0.3, 0.02][c], 3));
});
