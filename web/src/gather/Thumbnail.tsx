import { useEffect, useRef } from 'react';
import type { Frame } from '../store/api';

/** The small picture of a frame. One that is scrolled away before it came is not waited for: those in view would come after it. */
export function Thumbnail({ frame }: { frame: Frame }) {
  const picture = useRef<HTMLImageElement>(null);
  const url = `/api/frames/${frame.id}/thumbnail`;
  useEffect(() => {
    const image = picture.current!;
    image.src = url;
    return () => image.removeAttribute('src');
  }, [url]);
  return <img ref={picture} alt={frame.name} draggable={false} />;
}
