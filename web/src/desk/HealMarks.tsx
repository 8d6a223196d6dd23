import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import type { Command, HealPass, MixDocument, Point } from '@zaddle/document';
import { movedSource, placeMiddle, sourceMiddle } from './healing';
import { toPlace, toStage } from './stagePlaces';
import type { Viewport } from './useViewport';

interface MarksProps {
  readonly mix: MixDocument;
  readonly pass: HealPass;
  readonly view: Viewport;
  readonly onAct: (command: Command, done: boolean) => void;
}

const line = (points: readonly Point[]): string => `M${points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}Z`;
/** Pieces that are marked at once: of more, those that came last. */
const MOST = 12;
/** Pieces up to which all that they are taken from is outlined. */
const OUTLINED = 3;

/** Where the pieces of the selected pass are taken from: each source is dragged, or nudged by arrows, and the picture follows. */
export function HealMarks({ mix, pass, view, onAct }: MarksProps) {
  const held = useRef<number | null>(null);
  const place = toStage(mix, view);
  const put = (k: number, at: Point, done: boolean): void => onAct({ kind: 'changePass', id: pass.id, changes: { patches: pass.patches.map((patch, i) => (i === k ? movedSource(patch, at) : patch)) } }, done);
  const drag = (event: PointerEvent, done: boolean): void => {
    if (held.current === null) return;
    event.stopPropagation();
    const box = (event.currentTarget as Element).closest('.stage-area')!.getBoundingClientRect();
    put(held.current, toPlace(mix, view, [event.clientX - box.left, event.clientY - box.top]), done);
    if (done) held.current = null;
  };
  const nudge = (event: KeyboardEvent, k: number): void => {
    const by = ({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as const)[event.key as 'ArrowLeft'];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    const step = (event.shiftKey ? 10 : 1) / Math.max(mix.frames[mix.reference].width, mix.frames[mix.reference].height);
    const [x, y] = sourceMiddle(pass.patches[k]);
    put(k, [x + by[0] * step, y + by[1] * step], true);
  };
  const marked = pass.patches.map((patch, k) => ({ patch, k })).slice(-MOST);
  return (
    <>
      <svg className="area-line" aria-hidden>
        {marked.map(({ patch, k }) => {
          const [to, from] = [place(placeMiddle(patch)), place(sourceMiddle(patch))];
          const outlined = marked.length <= OUTLINED;
          return <g key={k}>{outlined && <path className="under" d={line(patch.from.map(place))} />}{outlined && <path strokeDasharray="4 4" d={line(patch.from.map(place))} />}<line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} strokeDasharray="2 4" /></g>;
        })}
      </svg>
      {marked.map(({ patch, k }) => {
        const [x, y] = place(sourceMiddle(patch));
        return <button key={k} className="handle bends" aria-label={`Source of piece ${k + 1}`} title="Drag: taken from elsewhere" style={{ left: x, top: y }} onPointerDown={(e) => { e.stopPropagation(); e.currentTarget.setPointerCapture(e.pointerId); held.current = k; }} onPointerMove={(e) => drag(e, false)} onPointerUp={(e) => drag(e, true)} onKeyDown={(e) => nudge(e, k)} />;
      })}
    </>
  );
}
