import { useRef, useState, type PointerEvent } from 'react';
import type { Area, MixDocument, Point } from '@zaddle/document';
import { roundedPoint } from '../area/areaView';
import { spotSearched, type SearchedSpot } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { freshId } from './newPass';
import { toPlace } from './stagePlaces';
import type { Viewport } from './useViewport';

/** Screen pixels from which on a press is a drag, and between points of a line drawn by hand. */
const DRAGGED = 4;
const APART = 6;
/** How soft the edge of a round place is that is healed. */
export const HEALED_EDGE = 0.25;

/** A round place: its middle, and a point of its rim. */
export function roundSpot(at: Point, rim: Point, softness = 0): SearchedSpot {
  const area: Area = { id: freshId('area'), kind: 'spot', join: 'add', inverted: false, at: roundedPoint(at), rim: roundedPoint(rim), ratio: 1, softness };
  return { areas: [area], at };
}

/** A place within a line drawn by hand; null for a line that encloses nothing. */
export function drawnSpot(points: readonly Point[]): SearchedSpot | null {
  if (points.length < 3) return null;
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  if (right - left < 1e-4 || bottom - top < 1e-4) return null;
  const area: Area = { id: freshId('area'), kind: 'outline', join: 'add', inverted: false, rings: [points.map((at) => ({ at: roundedPoint(at), before: null, after: null }))], softness: 0 };
  return { areas: [area], at: [(left + right) / 2, (top + bottom) / 2] };
}

/** The place that an area of a mask covers, by itself; where it is no shape, the strip lies beside the middle of the picture. */
export function spotOf(area: Area): SearchedSpot {
  const own = { ...area, id: freshId('area'), join: 'add' as const };
  if (area.kind === 'spot') return { areas: [own], at: area.at };
  if (area.kind === 'outline') return { areas: [own], at: drawnSpot(area.rings[0].map(({ at }) => at))?.at ?? area.rings[0][0].at };
  if (area.kind === 'box') return { areas: [own], at: drawnSpot(area.corners)?.at ?? area.corners[0] };
  return { areas: [own], at: [0.5, 0.33] };
}

/** A round place with the edge that healing takes; another as it is. */
export const softened = (area: Area): Area => (area.kind === 'spot' ? { ...area, softness: HEALED_EDGE } : area);

/** Points at a place to be searched: a click takes as much as the brush is wide, a drag goes from the middle to the rim, and with Shift round the place. */
export function useSpotPointer(mix: MixDocument, view: Viewport, heals: boolean) {
  const dispatch = useAppDispatch();
  const radius = useAppSelector((s) => s.desk.radius);
  const drag = useRef<{ readonly from: Point; readonly byHand: boolean; points: Point[] } | null>(null);
  /** What is being drawn, on the stage: a line, or middle and rim. */
  const [shape, setShape] = useState<{ readonly byHand: boolean; readonly points: readonly Point[] } | null>(null);
  return {
    shape,
    down(event: PointerEvent, at: Point): void {
      drag.current = { from: at, byHand: event.shiftKey, points: [at] };
      dispatch(spotSearched(null));
    },
    /** @returns whether something is being drawn */
    move(at: Point): boolean {
      const d = drag.current;
      if (!d) return false;
      const last = d.points[d.points.length - 1];
      if (!d.byHand) d.points = [d.from, at];
      else if (Math.hypot(at[0] - last[0], at[1] - last[1]) >= APART) d.points = [...d.points, at];
      setShape({ byHand: d.byHand, points: d.points });
      return true;
    },
    up(at: Point): boolean {
      const d = drag.current;
      if (!d) return false;
      drag.current = null;
      setShape(null);
      const place = (p: Point): Point => toPlace(mix, view, p);
      const meant = (spot: SearchedSpot | null): void => void dispatch(spotSearched(spot && heals ? { ...spot, heals } : spot));
      const edge = heals ? HEALED_EDGE : 0;
      if (d.byHand) meant(drawnSpot(d.points.map(place)));
      else if (Math.hypot(at[0] - d.from[0], at[1] - d.from[1]) >= DRAGGED) meant(roundSpot(place(d.from), place(at), edge));
      else {
        const [x, y] = place(d.from);
        meant(roundSpot([x, y], [x + radius, y], edge));
      }
      return true;
    },
    cancel(): void {
      drag.current = null;
      setShape(null);
    },
  };
}
