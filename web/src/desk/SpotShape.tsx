import type { Point } from '@zaddle/document';
import type { SearchedSpot } from '../store/deskSlice';

interface ShapeProps {
  /** What is being drawn, on the stage: a line, or middle and rim. */
  readonly shape: { readonly byHand: boolean; readonly points: readonly Point[] } | null;
  readonly spot: SearchedSpot | null;
  /** Where the pointer is, and how much a click takes, screen pixels. */
  readonly at: Point | null;
  readonly radius: number;
  readonly toScreen: (place: Point) => Point;
}

const line = (points: readonly Point[], closed: boolean): string => `M${points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}${closed ? 'Z' : ''}`;
const round = ([x, y]: Point, r: number): string => `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0Z`;

/** What is meant by a search: as it is drawn, as it was, or what a click would take. */
function pathOf({ shape, spot, at, radius, toScreen }: ShapeProps): string {
  if (shape) {
    const [from, to] = shape.points;
    return shape.byHand ? line(shape.points, false) : to ? round(from, Math.hypot(to[0] - from[0], to[1] - from[1])) : '';
  }
  const area = spot?.areas[0];
  if (area?.kind === 'spot') {
    const [middle, rim] = [toScreen(area.at), toScreen(area.rim)];
    return round(middle, Math.hypot(rim[0] - middle[0], rim[1] - middle[1]));
  }
  if (area?.kind === 'outline') return area.rings.map((ring) => line(ring.map((node) => toScreen(node.at)), true)).join('');
  return !spot && at ? round(at, radius) : '';
}

/** The place of a search, drawn over the picture. */
export function SpotShape(props: ShapeProps) {
  const d = pathOf(props);
  if (!d) return null;
  return (
    <svg className={`area-line ${props.spot ? 'quiet' : ''}`} aria-hidden>
      <path className="under" d={d} />
      <path d={d} />
    </svg>
  );
}
