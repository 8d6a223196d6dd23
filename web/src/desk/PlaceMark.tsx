import { useEffect, useRef, useState } from 'react';
import { invert, mapPoint } from '@zaddle/core/geometry/homography';
import type { MixDocument } from '@zaddle/document';
import { useAppSelector } from '../store/store';
import type { Viewport } from './useViewport';

/** How long a place that was jumped to stays marked, milliseconds. */
const MARKED = 4000;

/** Takes the picture to the place that a reading is about, and rings it for a moment. */
export function PlaceMark({ mix, view, onLook }: { mix: MixDocument; view: Viewport; onLook: (x: number, y: number) => void }) {
  const place = useAppSelector((s) => s.desk.place);
  const [marked, setMarked] = useState(false);
  const look = useRef(onLook);
  look.current = onLook;
  const geometry = useRef(mix.geometry);
  geometry.current = mix.geometry;
  useEffect(() => {
    if (!place) return;
    look.current(...(mapPoint(invert(geometry.current), ...place.at) as [number, number]));
    setMarked(true);
    const timer = setTimeout(() => setMarked(false), MARKED);
    return () => clearTimeout(timer);
  }, [place]);
  if (!place || !marked) return null;
  const [x, y] = mapPoint(invert(mix.geometry), ...place.at);
  return <div className="place-mark" role="img" aria-label="The place that the reading is about" style={{ left: view.x + (x + 0.5) * view.scale, top: view.y + (y + 0.5) * view.scale }} />;
}
