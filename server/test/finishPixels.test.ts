import { afterAll, describe, expect, test } from 'vitest';
import { closeRenderPool } from '../src/picture/renderPool';
import { denoisePicture, finishPicture, sharpenPicture } from '../src/picture/finishPixels';

const SHARPENING = { amount: 1.2, radius: 1.6, edges: 0.01, halo: 0.02 };
/** A picture of stripes that lean, with noise. */
function striped(width: number, height: number): Uint8Array {
  let seed = 7;
  return Uint8Array.from({ length: width * height * 3 }, (_, i) => {
    seed = (seed * 48271) % 2147483647;
    const [x, y] = [Math.floor(i / 3) % width, Math.floor(i / 3 / width)];
    return Math.round(120 + 70 * Math.tanh(4 * Math.sin((x + 0.4 * y) / 5)) + (seed % 9));
  });
}

afterAll(closeRenderPool);

describe('a finished picture is sharpened', () => {
  test('part by part to what it is at once, to the last bit, whatever the parts', async () => {
    const [width, height] = [310, 333];
    const data = striped(width, height);
    const whole = await sharpenPicture({ width, height, data }, SHARPENING, 1);
    expect(whole.data).not.toEqual(data);
    const parts = await sharpenPicture({ width, height, data }, SHARPENING, 1, 1000);
    expect(parts.data).toEqual(whole.data);
  });
  test('not at all where it is not wished, or where nothing of it would show', async () => {
    const picture = { width: 40, height: 30, data: striped(40, 30) };
    expect(await sharpenPicture(picture, null, 1)).toBe(picture);
    expect(await sharpenPicture(picture, SHARPENING, 0.1)).toBe(picture);
    expect(await sharpenPicture(picture, { ...SHARPENING, amount: 0 }, 1)).toBe(picture);
  });
});

describe('noise is taken out of a finished picture', () => {
  const grain = { brightness: [0.02, 0.02, 0.02, 0.02], colour: [0.02, 0.02, 0.02, 0.02] };
  const NOISE = { brightness: 0.7, colour: 0.9, grain };
  test('part by part to what it is at once, to the last bit; before it is sharpened', async () => {
    const [width, height] = [210, 233];
    const picture = { width, height, data: striped(width, height) };
    const whole = await denoisePicture(picture, NOISE, 1);
    expect(whole.data).not.toEqual(picture.data);
    expect((await denoisePicture(picture, NOISE, 1, 1000)).data).toEqual(whole.data);
    expect((await finishPicture(picture, { noise: NOISE, sharpening: SHARPENING }, 1)).data).toEqual((await sharpenPicture(whole, SHARPENING, 1)).data);
  });
  test('not at all where none was measured, where none of it is taken, or where a picture is too small to show it', async () => {
    const picture = { width: 40, height: 30, data: striped(40, 30) };
    expect(await denoisePicture(picture, null, 1)).toBe(picture);
    expect(await denoisePicture(picture, { ...NOISE, brightness: 0, colour: 0 }, 1)).toBe(picture);
    expect(await denoisePicture(picture, NOISE, 0.05)).toBe(picture);
  });
});
