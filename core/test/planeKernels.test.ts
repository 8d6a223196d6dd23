import fc from 'fast-check';
import { describe, test } from 'vitest';
import { guidanceOf, guidedFilter } from '../src/image/guidedFilter';
import { PlacedFilter } from '../src/image/placedGuide';
import { createPlane } from '../src/image/plane';
import { both, expectClose, floats, lengths, random, runs, seeds } from './bothKernels';
import { testTools } from './kernelMemory';

describe('the guided filter', () => {
  test('means over windows of any size, also larger than the plane, in place too', () => {
    fc.assert(fc.property(seeds, fc.integer({ min: 1, max: 40 }), fc.integer({ min: 1, max: 30 }), fc.integer({ min: 0, max: 50 }), fc.boolean(), (seed, w, h, radius, inPlace) => {
      let out = 0;
      const { a, b } = both((arena) => {
        const src = arena.placeFloats(random(seed, w * h, -12, 4));
        const [across, sums] = [arena.take(w * h * 4), arena.take(w * 8)];
        out = inPlace ? src : arena.take(w * h * 4);
        return (kernels) => kernels.boxBlur(src, w, h, radius, across, sums, out);
      });
      expectClose(floats(a, out, w * h), floats(b, out, w * h), 1e-5);
    }), runs);
  });
  test('models of windows, and what they make of the guidance', () => {
    fc.assert(fc.property(seeds, lengths, (seed, n) => {
      let [slope, out] = [0, 0];
      const { a, b } = both((arena) => {
        const plane = (k: number) => arena.placeFloats(random(seed + k, n, -3, 3));
        const [mean, input, product, offset] = [plane(0), plane(1), plane(2), arena.take(n * 4)];
        const square = arena.placeFloats(random(seed + 3, n, 0, 12));
        [slope, out] = [product, arena.take(n * 4)];
        return (kernels) => {
          kernels.windowModel(mean, square, input, product, 0.15, n, product, offset);
          kernels.applyModel(product, offset, mean, n, out);
        };
      });
      expectClose(floats(a, slope, n), floats(b, slope, n), 1e-4);
      expectClose(floats(a, out, n), floats(b, out, n), 1e-4);
    }), runs);
  });
  test('on a plane it is what the plain filter makes', () => {
    const tools = testTools(4 << 20);
    const logY = createPlane(90, 60, random(5, 90 * 60, -8, 0));
    const plain = guidedFilter(guidanceOf(logY, 6), logY, 0.4);
    const filter = new PlacedFilter(tools, 90, 60);
    const at = filter.place(logY);
    expectClose(filter.view(filter.apply(filter.model(filter.guide(at, 6), at, 6, 0.4), at)), plain.data, 1e-4);
  });
});

describe('pyramids', () => {
  test('half and double the size, of any plane down to a single place', () => {
    fc.assert(fc.property(seeds, fc.integer({ min: 1, max: 41 }), fc.integer({ min: 1, max: 33 }), (seed, w, h) => {
      const [hw, hh] = [(w + 1) >> 1, (h + 1) >> 1];
      let [half, whole] = [0, 0];
      const { a, b } = both((arena) => {
        const src = arena.placeFloats(random(seed, w * h, -12, 4));
        const between = arena.take(hw * h * 4);
        [half, whole] = [arena.take(hw * hh * 4), arena.take(w * h * 4)];
        return (kernels) => {
          kernels.halveBinomial(src, w, h, between, half);
          kernels.doubleBinomial(half, hw, hh, w, h, between, whole);
        };
      });
      expectClose(floats(a, half, hw * hh), floats(b, half, hw * hh), 1e-5);
      expectClose(floats(a, whole, w * h), floats(b, whole, w * h), 1e-5);
    }), runs);
  });
  test('detail of a tone, and how it is added where the picture is near to it', () => {
    fc.assert(fc.property(seeds, lengths, fc.double({ min: -9, max: 3, noNaN: true }), (seed, n, tone) => {
      let [detail, sum] = [0, 0];
      const { a, b } = both((arena) => {
        const plane = (k: number) => arena.placeFloats(random(seed + k, n, -10, 4));
        const [there, coarse] = [plane(0), plane(1)];
        [sum, detail] = [plane(2), arena.take(n * 4)];
        return (kernels) => {
          kernels.detailOfTone(there, n, tone, 0.7, detail);
          kernels.addNearTone(sum, there, detail, coarse, n, tone, 0.6);
        };
      });
      expectClose(floats(a, detail, n), floats(b, detail, n), 1e-4);
      expectClose(floats(a, sum, n), floats(b, sum, n), 1e-4);
    }), runs);
  });
});
