import type { Plane } from '../image/plane';

/** A part of the reference, whole pixels. */
export interface Rectangle {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Ragged edges up to this share of the picture are left: they are faded out, and cutting costs picture. */
const TOLERABLE = 0.006;

/** Rows or columns at one end of a guide that are not covered along most of their length. */
function raggedEnd(plane: Plane, along: 'x' | 'y', fromEnd: boolean): number {
  const lines = along === 'x' ? plane.width : plane.height;
  const length = along === 'x' ? plane.height : plane.width;
  for (let k = 0; k < lines / 3; k++) {
    const line = fromEnd ? lines - 1 - k : k;
    let missing = 0;
    for (let i = 0; i < length; i++) if (plane.data[along === 'x' ? i * plane.width + line : line * plane.width + i] < 0.5) missing++;
    if (missing < 0.02 * length) return k;
  }
  return Math.floor(lines / 3);
}

/**
 * The largest rectangle of the picture's own ratio inside what all frames cover, or null where next to nothing is ragged.
 * @param covers planes of 0 and 1 on the guide; @param width, height full size of the reference.
 */
export function coveredRectangle(covers: readonly Plane[], width: number, height: number): Rectangle | null {
  if (covers.length === 0) return null;
  const end = (along: 'x' | 'y', fromEnd: boolean): number => Math.max(...covers.map((plane) => raggedEnd(plane, along, fromEnd)));
  const scale = width / covers[0].width;
  const [left, right, top, bottom] = [end('x', false), end('x', true), end('y', false), end('y', true)].map((lines) => Math.ceil(lines * scale));
  if (Math.max(left, right) <= TOLERABLE * width && Math.max(top, bottom) <= TOLERABLE * height) return null;
  const factor = Math.min((width - left - right) / width, (height - top - bottom) / height);
  const size = { width: Math.floor(width * factor), height: Math.floor(height * factor) };
  return { x: left + Math.floor((width - left - right - size.width) / 2), y: top + Math.floor((height - top - bottom - size.height) / 2), ...size };
}
