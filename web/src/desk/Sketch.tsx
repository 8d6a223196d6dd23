import { useEffect, useRef } from 'react';

/** A small picture that the engine made; grey until it is there. */
export function Sketch({ picture }: { picture: ImageBitmap | undefined }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    // After its size was set, which empties a canvas.
    if (picture) canvas.current!.getContext('2d')!.drawImage(picture, 0, 0);
  }, [picture]);
  return <canvas ref={canvas} width={picture?.width ?? 3} height={picture?.height ?? 2} data-there={picture !== undefined} aria-hidden />;
}
