import { createPlane, type Plane } from '../image/plane';
import type { Pointer } from '../kernels/kernels';
import type { Tools } from '../kernels/tools';

/** Stops from a tone up to which differences count as detail of it; farther off they are edges, and stay as they are. */
const DETAIL = 0.7;
/** Tones that are looked at from, stops apart. */
const SPACING = 0.6;
/** Levels of the pyramid: what is broader than about 2^LEVELS pixels of half the guide is light, not contrast. */
const LEVELS = 5;
/** Stops about middle grey between which contrast changes whole, and over which that ends: neither blacks nor whites are meant. */
const FROM = -5;
const TO = 1.4;
const ENDS = 1.2;

/** log2 of middle grey. */
const MIDDLE = Math.log2(0.18);

/** A plane in kernel memory. */
interface Placed {
  readonly at: Pointer;
  readonly width: number;
  readonly height: number;
}
const sizeOf = ({ width, height }: Placed): number => width * height;

/** Halves and doubles planes in kernel memory, by the binomial of five taps (Burt, Adelson 1983). */
class Binomial {
  private readonly between: Pointer;

  /** @param width,height of the largest plane */
  constructor(private readonly tools: Tools, width: number, height: number) {
    this.between = tools.arena.take(((width + 1) >> 1) * height * 4);
  }

  take(width: number, height: number): Placed {
    return { at: this.tools.arena.take(width * height * 4), width, height };
  }
  halved({ at, width, height }: Placed): Placed {
    const out = this.take((width + 1) >> 1, (height + 1) >> 1);
    this.tools.kernels.halveBinomial(at, width, height, this.between, out.at);
    return out;
  }
  doubled({ at, width, height }: Placed, out: Placed): Placed {
    this.tools.kernels.doubleBinomial(at, width, height, out.width, out.height, this.between, out.at);
    return out;
  }
  pyramid(plane: Placed, levels: number): Placed[] {
    const pyramid = [plane];
    while (pyramid.length < levels && Math.min(pyramid[pyramid.length - 1].width, pyramid[pyramid.length - 1].height) > 4) pyramid.push(this.halved(pyramid[pyramid.length - 1]));
    return pyramid;
  }
}

/** Adds one tone's part to the Laplacian pyramid: at each place as much as the picture there is near to that tone. @param coarse room for planes of all sizes */
function addTone(tools: Tools, binomial: Binomial, sums: readonly Placed[], picture: readonly Placed[], detail: readonly Placed[], coarse: Pointer, tone: number): void {
  for (let level = 0; level + 1 < sums.length; level++) {
    const { width, height } = sums[level];
    binomial.doubled(detail[level + 1], { at: coarse, width, height });
    tools.kernels.addNearTone(sums[level].at, picture[level].at, detail[level].at, coarse, width * height, tone, SPACING);
  }
}

/** The sum of a Laplacian pyramid, in the place of its finest level. */
function summed(tools: Tools, binomial: Binomial, sums: readonly Placed[], coarse: Pointer): Placed {
  let made = sums[sums.length - 1];
  for (let level = sums.length - 2; level >= 0; level--) {
    const { width, height } = sums[level];
    const [here, up] = [tools.arena.floats(sums[level].at, width * height), tools.arena.floats(binomial.doubled(made, { at: coarse, width, height }).at, width * height)];
    for (let i = 0; i < here.length; i++) here[i] += up[i];
    made = sums[level];
  }
  return made;
}

/** How much of the change a tone takes, 0..1. @param tone stops about middle grey */
function ofMiddle(tone: number): number {
  const t = Math.min(1, Math.max(0, Math.min(tone - FROM, TO - tone) / ENDS + 1));
  return t * t * (3 - 2 * t);
}

/** The span of what a plane in kernel memory holds. */
function spanOf(values: Float32Array): readonly [number, number] {
  let [least, most] = [Infinity, -Infinity];
  for (const v of values) {
    if (v < least) least = v;
    if (v > most) most = v;
  }
  return [least, most];
}

/**
 * What local contrast adds to a picture by its full strength, stops: a local Laplacian filter, by which edges keep their height and neither
 * halos nor reversals of gradients come up (Paris, Hasinoff, Kautz, "Local Laplacian Filters", 2011; fast, with differences that fade
 * as a Gaussian: Aubry and others, 2014). It is linear in its strength, so that any is a multiple of this one.
 * @param logY log2 luminance on the guide, middle grey at log2 .18 @returns of the same size
 */
export function localContrast(tools: Tools, logY: Plane): Plane {
  const { kernels, arena } = tools;
  const mark = arena.mark();
  const binomial = new Binomial(tools, logY.width, logY.height);
  const half = binomial.halved({ at: arena.placeFloats(logY.data), width: logY.width, height: logY.height });
  const picture = binomial.pyramid(half, LEVELS);
  const sums = picture.map(({ width, height }) => binomial.take(width, height));
  for (const plane of sums) arena.floats(plane.at, sizeOf(plane)).fill(0);
  const [least, most] = spanOf(arena.floats(half.at, sizeOf(half)));
  const coarse = binomial.take(half.width, half.height).at;
  const detail = binomial.take(half.width, half.height);
  // A ladder that does not depend on the picture; what lies beyond it is not changed.
  for (let tone = MIDDLE + FROM - ENDS - SPACING; tone < MIDDLE + TO + ENDS + SPACING; tone += SPACING) {
    if (tone < least - SPACING || tone > most + SPACING) continue;
    const free = arena.mark();
    kernels.detailOfTone(half.at, sizeOf(half), tone, DETAIL, detail.at);
    addTone(tools, binomial, sums, picture, binomial.pyramid(detail, LEVELS), coarse, tone);
    arena.release(free);
  }
  const whole = binomial.doubled(summed(tools, binomial, sums, coarse), binomial.take(logY.width, logY.height));
  const out = createPlane(logY.width, logY.height, arena.floats(whole.at, sizeOf(whole)).slice());
  for (let i = 0; i < out.data.length; i++) out.data[i] *= ofMiddle(logY.data[i] - MIDDLE);
  arena.release(mark);
  return out;
}
