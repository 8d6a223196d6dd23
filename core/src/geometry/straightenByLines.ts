import type { Framing } from '@zaddle/document';
import type { Edge } from './findStraightEdges';
import { mapPoint } from './homography';
import { NO_DISTORTION } from './lens';
import { fitStance, seenLine, type Followed } from './stanceLines';
import { straightenMap, type Size, type Stance } from './straightenMap';

/** Residual, in a line's own error, at which it counts a quarter: what a person drew is meant. */
const MEANT = 50;

/** Which angles lines tell of: one line turns the picture, or the view of the faced wall where what is plumb was told before; more tell more. */
function anglesFrom(down: number, along: number, plumb: boolean): (keyof Stance)[] {
  if (down === 0) return along === 1 ? [plumb ? 'yaw' : 'roll'] : plumb ? ['yaw'] : ['roll', 'yaw'];
  if (along === 0) return down === 1 ? ['roll'] : ['roll', 'pitch'];
  return down === 1 && along === 1 ? ['roll', 'yaw'] : ['roll', 'pitch', 'yaw'];
}

/**
 * The framing in which lines that a person drew are plumb or level, whichever each is nearer to as the picture
 * stands; angles that they do not tell of stay. Lines of no length are passed over.
 * @param size of the reference
 */
export function straightenByLines(framing: Framing, size: Size): Framing {
  const unit = Math.max(size.width, size.height);
  const map = straightenMap(framing, size);
  const followed = framing.lines.flatMap(({ from, to }): Followed[] => {
    const edge: Edge = Float64Array.of(from[0] * unit, from[1] * unit, to[0] * unit, to[1] * unit);
    if (Math.hypot(edge[2] - edge[0], edge[3] - edge[1]) < 1) return [];
    const [a, b] = [mapPoint(map, edge[0], edge[1]), mapPoint(map, edge[2], edge[3])];
    return [{ line: seenLine(edge, size, NO_DISTORTION, framing.focal), way: Math.abs(b[1] - a[1]) > Math.abs(b[0] - a[0]) ? 'down' : 'along' }];
  });
  if (followed.length === 0) return framing;
  const down = followed.filter(({ way }) => way === 'down').length;
  const angles = anglesFrom(down, followed.length - down, framing.pitch !== 0);
  const { stance } = fitStance(followed, framing, angles, MEANT);
  return { ...framing, roll: stance.roll, pitch: stance.pitch, yaw: stance.yaw, turn: 0, strength: 1 };
}
