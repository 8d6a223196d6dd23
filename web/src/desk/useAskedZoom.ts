import { useEffect, useRef } from 'react';
import type { OrderSeen } from './useOrderSeen';
import type { Viewport, useViewport } from './useViewport';

/** Somebody wants to see the whole picture, or a pixel of it for each of the screen. */
export interface ZoomRequest {
  readonly kind: 'whole' | 'one';
  readonly count: number;
}

interface AskedZoom extends Pick<ReturnType<typeof useViewport>, 'size' | 'whole' | 'zoomAt' | 'atScale'> {
  readonly zoomRequest: ZoomRequest;
  /** The order whose size it is seen in. */
  readonly order: OrderSeen;
  readonly view: Viewport;
}

/** Moves the picture to what is asked for elsewhere. */
export function useAskedZoom({ zoomRequest, order, size, view, whole, zoomAt, atScale }: AskedZoom): void {
  useEffect(() => {
    if (zoomRequest.count === 0) return;
    if (zoomRequest.kind === 'whole') whole();
    else zoomAt(1, size.width / 2, size.height / 2, view);
    // Only a new request moves the picture.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [zoomRequest]);

  // One pixel of the screen for each that is delivered.
  const seenIn = useRef<string | null>(null);
  useEffect(() => {
    const id = order.option?.id ?? null;
    if (size.width === 0 || seenIn.current === id) return;
    seenIn.current = id;
    if (order.scale === null) whole();
    else atScale(order.scale, view);
  }, [order, size, view, whole, atScale]);
}
