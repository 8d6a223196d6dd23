import { useRef, type PointerEvent } from 'react';
import { skewed } from '@zaddle/core/align/moveByHand';
import { invert, mapPoint } from '@zaddle/core/geometry/homography';
import type { Command, Matrix3, MixDocument, Pass } from '@zaddle/document';
import { alignCommand, useHandled } from './LineUpPanel';

interface HandlesProps {
  readonly mix: MixDocument;
  readonly pass: Pass | null;
  readonly view: { readonly x: number; readonly y: number; readonly scale: number };
  readonly onAct: (command: Command, done: boolean) => void;
}

const NAMES = ['top left', 'top right', 'bottom right', 'bottom left'];

/** Handles on the four corners of the chosen frame: each drags its corner over the reference, the others stay. */
export function CornerHandles({ mix, pass, view, onAct }: HandlesProps) {
  const handled = useHandled(mix, pass);
  const drag = useRef<{ corner: number; x: number; y: number; start: Matrix3 } | null>(null);
  const { width, height } = mix.frames[mix.reference];
  if (!handled.frame || !handled.alignment) return null;
  const { frame, alignment, pass: own } = handled;
  const toOutput = invert(mix.geometry);
  const move = (event: PointerEvent, done: boolean): void => {
    const d = drag.current;
    if (!d) return;
    const next = skewed(d.start, d.corner, (event.clientX - d.x) / view.scale, (event.clientY - d.y) / view.scale, width, height);
    if (next) onAct(alignCommand(frame, own, next as Matrix3), done);
    if (done) drag.current = null;
  };
  return (
    <>
      {([[0, 0], [width - 1, 0], [width - 1, height - 1], [0, height - 1]] as const).map(([x, y], corner) => {
        const [u, v] = mapPoint(toOutput, x, y);
        return (
          <div
            key={corner} className="corner-handle" role="button" aria-label={`Corner ${NAMES[corner]}`} tabIndex={0} style={{ left: view.x + (u + 0.5) * view.scale, top: view.y + (v + 0.5) * view.scale }}
            onPointerDown={(e) => { e.stopPropagation(); e.currentTarget.setPointerCapture(e.pointerId); drag.current = { corner, x: e.clientX, y: e.clientY, start: alignment }; }}
            onPointerMove={(e) => { e.stopPropagation(); move(e, false); }} onPointerUp={(e) => { e.stopPropagation(); move(e, true); }}
          />
        );
      })}
    </>
  );
}
