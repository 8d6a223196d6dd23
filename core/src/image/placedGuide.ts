import type { Pointer } from '../kernels/kernels';
import type { Tools } from '../kernels/tools';
import { createPlane, type Plane } from './plane';

/** A guidance in kernel memory with its means over windows: the guided filter by kernels, for what a hand waits for. */
export interface PlacedGuide {
  readonly at: Pointer;
  readonly mean: Pointer;
  readonly meanSquare: Pointer;
}

/**
 * The guided filter (He, Sun, Tang, PAMI 2013) on planes in kernel memory. What it takes from the arena is the caller's to
 * give back. All planes of one size.
 */
export class PlacedFilter {
  private readonly n: number;
  private readonly across: Pointer;
  private readonly sums: Pointer;

  constructor(private readonly tools: Tools, readonly width: number, readonly height: number) {
    this.n = width * height;
    this.across = this.take();
    this.sums = tools.arena.take(width * 8);
  }

  /** Room for a plane. */
  take(): Pointer {
    return this.tools.arena.take(this.n * 4);
  }
  place({ data }: Plane): Pointer {
    return this.tools.arena.placeFloats(data);
  }
  /** A copy of a plane that outlives the arena. */
  plane(at: Pointer): Plane {
    return createPlane(this.width, this.height, this.view(at).slice());
  }
  view(at: Pointer): Float32Array {
    return this.tools.arena.floats(at, this.n);
  }

  /** Mean over windows, into `out`. */
  blur(src: Pointer, radius: number, out = this.take()): Pointer {
    this.tools.kernels.boxBlur(src, this.width, this.height, radius, this.across, this.sums, out);
    return out;
  }

  guide(at: Pointer, radius: number): PlacedGuide {
    const square = this.take();
    this.tools.kernels.multiply(at, at, this.n, square);
    return { at, mean: this.blur(at, radius), meanSquare: this.blur(square, radius, square) };
  }

  /** The filter's coefficients for an input, averaged over windows. @param epsilon variance of the guidance below which a window counts as flat. */
  model({ at, mean, meanSquare }: PlacedGuide, input: Pointer, radius: number, epsilon: number): { a: Pointer; b: Pointer } {
    const { kernels } = this.tools;
    const product = this.take();
    kernels.multiply(at, input, this.n, product);
    const a = this.blur(product, radius, product);
    const b = this.blur(input, radius);
    kernels.windowModel(mean, meanSquare, b, a, epsilon, this.n, a, b);
    return { a: this.blur(a, radius, a), b: this.blur(b, radius, b) };
  }

  /** What a model makes of its guidance, in the place of `a`. */
  apply({ a, b }: { readonly a: Pointer; readonly b: Pointer }, guidance: Pointer): Pointer {
    this.tools.kernels.applyModel(a, b, guidance, this.n, a);
    return a;
  }
}
