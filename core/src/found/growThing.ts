import { boxBlur } from '../image/boxBlur';
import { createPlane, type Plane } from '../image/plane';
import type { Guide, GuideSet } from '../mix/guides';

/** Stops by which two frames of one light differ where a thing is, next to where that is sure already. */
const DIFFERS = 0.3;
/** Share of a pixel's neighbours that differ, too: rims of edges that lie a fraction of a pixel apart are thinner. */
const THICK = 0.7;
/** Linear light of a colour up to which it is noise. */
const NOISE = 0.01;
/** Encoded values between which light can be compared. */
const DARK = 0.06;
const BRIGHT = 0.95;
/** Pixels that a gap may be wide: a thing and its ground can look alike in places. */
const GAP = 2;

/** Whether light of one frame differs from that of another, exposure taken out; a clipped or dark one still says at least or at most how much. */
function differs(a: Guide, b: Guide, gain: number, i: number): boolean {
  if (a.cover.data[i] < 1 || b.cover.data[i] < 1) return false;
  const factor = 2 ** DIFFERS;
  for (const c of ['r', 'g', 'b'] as const) {
    const [x, y] = [a.light[c][i] * gain, b.light[c][i]];
    if (Math.max(x, y) < NOISE) continue;
    const more = x > y * factor && b.top.data[i] < BRIGHT && a.top.data[i] > DARK;
    const less = y > x * factor && a.top.data[i] < BRIGHT && b.top.data[i] > DARK;
    if (more || less) return true;
  }
  return false;
}

/**
 * All of a thing that one frame has and another of the same light has not, from the places where that is sure: whatever hangs together with them and
 * differs, however thin (hysteresis, as in Canny, "A Computational Approach to Edge Detection", 1986).
 * @param sure pixels at half the guide's size; @param stops exposures of the two. @returns 0 or 1 on the guide.
 */
export function growThing(guides: GuideSet, having: Guide, lacking: Guide, stops: { readonly having: number; readonly lacking: number }, sure: ReadonlySet<number>): Plane {
  const { width, height } = guides;
  const gain = 2 ** (stops.lacking - stops.having);
  const apart = createPlane(width, height);
  for (let i = 0; i < apart.data.length; i++) if (differs(having, lacking, gain, i)) apart.data[i] = 1;
  const thick = boxBlur(apart, 1).data;
  const near = boxBlur(createPlane(width, height, thick.map((v) => (v > THICK ? 1 : 0))), GAP).data;
  const [reached, thing] = [createPlane(width, height), createPlane(width, height)];
  const half = width >> 1;
  const open: number[] = [];
  const visit = (i: number): void => {
    if (reached.data[i] || !(near[i] > 0)) return;
    reached.data[i] = 1;
    // What bridges a gap is not the thing itself.
    if (thick[i] > THICK) thing.data[i] = 1;
    open.push(i);
  };
  for (const k of sure) visit(2 * Math.floor(k / half) * width + 2 * (k % half));
  for (let i = open.pop(); i !== undefined; i = open.pop()) {
    const x = i % width;
    if (x > 0) visit(i - 1);
    if (x < width - 1) visit(i + 1);
    if (i >= width) visit(i - width);
    if (i < width * (height - 1)) visit(i + width);
  }
  return thing;
}
