import { useCallback, useEffect, useRef, useState, type RefObject } from 'react';

/** How the picture lies in the stage: screen = offset + scale * output pixel. */
export interface Viewport {
  readonly scale: number;
  readonly x: number;
  readonly y: number;
  /** The whole picture, following the stage's size. */
  readonly whole: boolean;
}

interface Size {
  readonly width: number;
  readonly height: number;
}

const MARGIN = 14;
/** Where the picture has handles on its rim, they lie clear of what is written below it. */
const HANDLED = 46;
const MAX_SCALE = 8;

/** The whole picture in the middle of the stage, its edges between pixels of the screen. */
function fit(stage: Size, picture: Size, margin: number): Viewport {
  const largest = Math.min((stage.width - 2 * margin) / picture.width, (stage.height - 2 * margin) / picture.height);
  const scale = Math.max(1, Math.floor(picture.width * largest)) / picture.width;
  return { scale, x: Math.round((stage.width - picture.width * scale) / 2), y: Math.round((stage.height - picture.height * scale) / 2), whole: true };
}

/** Where somebody looked last: the middle of the stage as shares of the picture, so that it is the same place in the next shot; null: at the whole. */
let lastLook: { readonly scale: number; readonly x: number; readonly y: number } | null = null;

/** Zoom and pan of the stage. Scale 1 is one output pixel on one screen pixel. @param handled the picture's rim has handles */
export function useViewport(stage: RefObject<HTMLElement | null>, width: number, height: number, handled: boolean) {
  const margin = handled ? HANDLED : MARGIN;
  const [size, setSize] = useState<Size>({ width: 0, height: 0 });
  const [view, setView] = useState<Viewport>({ scale: 1, x: 0, y: 0, whole: true });
  useEffect(() => {
    const element = stage.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, [stage]);
  const known = size.width > 0 && width > 0;
  useEffect(() => {
    if (!known || !lastLook) return;
    const { scale, x, y } = lastLook;
    setView({ scale, x: size.width / 2 - x * width * scale, y: size.height / 2 - y * height * scale, whole: false });
    // Only when the stage opens.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [known]);
  useEffect(() => {
    if (known) lastLook = view.whole ? null : { scale: view.scale, x: (size.width / 2 - view.x) / (width * view.scale), y: (size.height / 2 - view.y) / (height * view.scale) };
  }, [known, view, size, width, height]);
  const shown = view.whole && size.width > 0 && width > 0 ? fit(size, { width, height }, margin) : view;
  const smallest = size.width > 0 && width > 0 ? fit(size, { width, height }, margin).scale : 0.01;

  /** Scales about a point of the stage, so that what lies under it stays. */
  const zoomAt = useCallback((scale: number, sx: number, sy: number, from: Viewport) => {
    const next = Math.min(MAX_SCALE, Math.max(smallest * 0.9, scale));
    if (next <= smallest) return setView({ ...from, whole: true });
    const k = next / from.scale;
    setView({ scale: next, x: sx - (sx - from.x) * k, y: sy - (sy - from.y) * k, whole: false });
  }, [smallest]);
  const pan = useCallback((dx: number, dy: number, from: Viewport) => setView({ ...from, x: from.x + dx, y: from.y + dy, whole: false }), []);
  /** Brings an output pixel to the middle, at 1:1. */
  const lookAt = useCallback((x: number, y: number) => setView({ scale: 1, x: size.width / 2 - x, y: size.height / 2 - y, whole: false }), [size]);
  /** A scale, whatever fits: about what lies in the middle now, or the picture in the middle where all of it is seen. */
  const atScale = useCallback((scale: number, from: Viewport) => {
    const along = (length: number, picture: number, offset: number): number => (picture * scale <= length ? Math.round((length - picture * scale) / 2) : length / 2 - ((length / 2 - offset) * scale) / from.scale);
    setView({ scale, x: along(size.width, width, from.x), y: along(size.height, height, from.y), whole: false });
  }, [size, width, height]);
  const whole = useCallback(() => setView((v) => ({ ...v, whole: true })), []);
  return { view: shown, size, zoomAt, pan, lookAt, atScale, whole };
}

/** Milliseconds of rest after which a moved view is drawn, and after which one that keeps moving is, too. */
const REST = 40;
const LONGEST = 160;

/** The view to draw: it follows the one on the screen when that comes to rest, or now and then while it moves. What is drawn already moves along meanwhile. @param known the stage has a size: the first view with one is drawn at once. */
export function useRestingView(view: Viewport, known: boolean): Viewport {
  const [resting, setResting] = useState<Viewport | null>(null);
  const since = useRef(0);
  useEffect(() => {
    if (!known) return;
    if (!resting) return setResting(view);
    if (resting.x === view.x && resting.y === view.y && resting.scale === view.scale) {
      since.current = 0;
      return;
    }
    since.current ||= performance.now();
    const timer = setTimeout(() => {
      since.current = 0;
      setResting(view);
    }, Math.max(0, Math.min(REST, since.current + LONGEST - performance.now())));
    return () => clearTimeout(timer);
  }, [view.x, view.y, view.scale, view.whole, resting, known]); // eslint-disable-line react-hooks/exhaustive-deps
  return resting ?? view;
}
