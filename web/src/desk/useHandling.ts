import { useEffect, useRef, useState, type PointerEvent, type RefObject } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { Point } from '@zaddle/document';
import { KEYS_WHEREVER } from '../frame/keysWherever';
import type { useViewport, Viewport } from './useViewport';

/** Share of the stage that an arrow key moves the picture by. */
const STEP = 0.15;

/** Whether a key is somebody's who types or holds a control. */
const isHeld = (target: EventTarget | null): boolean => target instanceof Element && target.closest('button, input, select, textarea, a, [role=slider]') !== null;

/** The space bar, held: the picture is moved, whatever the tool. */
export function useSpace(): boolean {
  const [down, setDown] = useState(false);
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      if (event.code !== 'Space' || isHeld(event.target)) return;
      event.preventDefault();
      setDown(true);
    };
    const leave = (event: Event): void => {
      if (!(event instanceof KeyboardEvent) || event.code === 'Space') setDown(false);
    };
    window.addEventListener('keydown', press);
    window.addEventListener('keyup', leave);
    window.addEventListener('blur', leave);
    return () => {
      window.removeEventListener('keydown', press);
      window.removeEventListener('keyup', leave);
      window.removeEventListener('blur', leave);
    };
  }, []);
  return down;
}

/** The page does not zoom or scroll when the wheel is turned, or two fingers pinch, over the picture. */
export function useOwnWheel(stage: RefObject<HTMLElement | null>): void {
  useEffect(() => {
    const element = stage.current;
    const keep = (event: Event): void => event.preventDefault();
    element?.addEventListener('wheel', keep, { passive: false });
    return () => element?.removeEventListener('wheel', keep);
  }, [stage]);
}

/** Arrow keys move the picture, unless it is shown whole or they are somebody else's. */
export function useArrows(on: boolean, view: Viewport, { pan, size }: Pick<ReturnType<typeof useViewport>, 'pan' | 'size'>): void {
  const move = (x: number, y: number) => (event: KeyboardEvent): void => {
    if (isHeld(event.target)) return;
    event.preventDefault();
    pan(x * STEP * size.width, y * STEP * size.height, view);
  };
  const options = { ...KEYS_WHEREVER, enabled: on && !view.whole };
  useHotkeys('left', move(1, 0), options, [view, size]);
  useHotkeys('right', move(-1, 0), options, [view, size]);
  useHotkeys('up', move(0, 1), options, [view, size]);
  useHotkeys('down', move(0, -1), options, [view, size]);
}

/** Two fingers on the picture: it is scaled by how far they are apart, about their middle, and goes along with it. */
export function usePinch(view: Viewport, { zoomAt }: Pick<ReturnType<typeof useViewport>, 'zoomAt'>) {
  const fingers = useRef(new Map<number, Point>());
  const start = useRef<{ readonly apart: number; readonly middle: Point; readonly view: Viewport } | null>(null);
  const spread = (): { apart: number; middle: Point } => {
    const [[ax, ay], [bx, by]] = [...fingers.current.values()];
    return { apart: Math.max(1, Math.hypot(ax - bx, ay - by)), middle: [(ax + bx) / 2, (ay + by) / 2] };
  };
  return {
    /** @returns whether two fingers are down now: what one did alone is over */
    down(event: PointerEvent, at: Point): boolean {
      if (event.pointerType !== 'touch') return false;
      fingers.current.set(event.pointerId, at);
      if (fingers.current.size !== 2) return fingers.current.size > 2;
      start.current = { ...spread(), view };
      return true;
    },
    /** @returns whether the picture was scaled */
    move(event: PointerEvent, at: Point): boolean {
      if (!fingers.current.has(event.pointerId)) return false;
      fingers.current.set(event.pointerId, at);
      if (!start.current || fingers.current.size !== 2) return false;
      const { apart, middle, view: from } = start.current;
      const now = spread();
      const along = { ...from, x: from.x + now.middle[0] - middle[0], y: from.y + now.middle[1] - middle[1] };
      zoomAt((from.scale * now.apart) / apart, now.middle[0], now.middle[1], along);
      return true;
    },
    up(event: PointerEvent): void {
      fingers.current.delete(event.pointerId);
      if (fingers.current.size < 2) start.current = null;
    },
  };
}
