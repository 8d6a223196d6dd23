import { useRef, useState, type PointerEvent } from 'react';
import { invert, mapPoint } from '@zaddle/core/geometry/homography';
import type { Command, DrawnLine, Framing, MixDocument, Point } from '@zaddle/document';
import { liningToggled } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { draggedCrop, GRIPS, movedCrop, withLine, type Grip } from './framing';
import { toPlace, toStage } from './stagePlaces';
import type { Viewport } from './useViewport';

interface CropProps {
  /** The mix with its crop, and as it is on the stage: the same, and what lies beyond. */
  readonly mix: MixDocument;
  readonly shown: MixDocument;
  readonly view: Viewport;
}

interface FrameProps extends CropProps {
  /** The mix without what is being dragged, and how it is framed, as a picture or for some orders. */
  readonly standing: MixDocument;
  readonly framing: Framing;
  /** Frames a mix so, as a step. */
  readonly framed: (mix: MixDocument, framing: Framing) => Command;
  /** How a mix is framed now. */
  readonly framingOf: (mix: MixDocument) => Framing;
  /** A drag moves the picture, whatever is shown. */
  readonly idle: boolean;
  readonly onAct: (command: Command, done: boolean) => void;
  /** What was begun by a drag is given up. */
  readonly onCancel: () => void;
  /** The mix as it stands at this moment. */
  readonly mixNow: () => MixDocument;
  readonly snapLine: (line: DrawnLine, tell: (line: DrawnLine | null) => void) => void;
}

/** Screen pixels that a line is long at least. */
const LEAST_LINE = 24;
/** Lines of the fine grid, and of the one by thirds. */
const FINE = 12;

/** Where the crop lies on the stage. */
function boxOf({ mix, shown, view }: CropProps): { left: number; top: number; width: number; height: number } {
  const toShown = invert(shown.geometry);
  const [x, y] = mapPoint(toShown, ...mapPoint(mix.geometry, 0, 0));
  return { left: view.x + x * view.scale, top: view.y + y * view.scale, width: mix.width * view.scale, height: mix.height * view.scale };
}

/** What the crop cuts off, dimmed. */
export function CropDim(props: CropProps) {
  return <div className="crop-dim" style={boxOf(props)} data-testid="crop-dim" />;
}

/** The crop on the stage, to be dragged, and lines that are drawn on what is straight. */
export function CropFrame({ mix, shown, standing, framing, framed, framingOf, view, idle, onAct, onCancel, mixNow, snapLine }: FrameProps) {
  const dispatch = useAppDispatch();
  const lining = useAppSelector((s) => s.desk.lining);
  const drag = useRef<{ readonly x: number; readonly y: number; readonly grip: Grip | null } | null>(null);
  const [line, setLine] = useState<{ readonly from: Point; readonly to: Point } | null>(null);
  const box = boxOf({ mix, shown, view });
  const place = toStage(shown, view);

  const grab = (grip: Grip | null) => (event: PointerEvent): void => {
    if (event.button !== 0 || idle) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = { x: event.clientX, y: event.clientY, grip };
  };
  const pull = (done: boolean) => (event: PointerEvent): void => {
    const d = drag.current;
    if (!d) return;
    event.stopPropagation();
    const [dx, dy] = [(event.clientX - d.x) / view.scale, (event.clientY - d.y) / view.scale];
    if (done) drag.current = null;
    // A click is no drag.
    if (done && Math.hypot(event.clientX - d.x, event.clientY - d.y) < 2) return onCancel();
    onAct(framed(standing, d.grip ? draggedCrop(standing, framing, d.grip, dx, dy) : movedCrop(standing, framing, dx, dy)), done);
  };
  const local = (event: PointerEvent): Point => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    return [event.clientX - left, event.clientY - top];
  };
  const begin = (event: PointerEvent): void => {
    if (event.button !== 0 || idle) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    setLine({ from: local(event), to: local(event) });
  };
  const draw = (event: PointerEvent): void => {
    if (!line) return;
    event.stopPropagation();
    setLine({ from: line.from, to: local(event) });
  };
  const end = (event: PointerEvent): void => {
    if (!line) return;
    event.stopPropagation();
    const to = local(event);
    setLine(null);
    if (Math.hypot(to[0] - line.from[0], to[1] - line.from[1]) < LEAST_LINE) return;
    const drawn = { from: toPlace(shown, view, line.from), to: toPlace(shown, view, to) };
    snapLine(drawn, (snapped) => {
      // Another line may have been drawn while this one was laid on its edge.
      const now = mixNow();
      onAct(framed(now, withLine(now, framingOf(now), snapped ?? drawn)), true);
    });
  };
  const cancel = (event: PointerEvent): void => {
    event.stopPropagation();
    setLine(null);
    drag.current = null;
    onCancel();
  };
  const now = mix.framing ?? framing;
  const grid = now.turn !== 0 || lining ? FINE : 3;
  return (
    <>
      <CropDim mix={mix} shown={shown} view={view} />
      <div className={`crop-frame ${lining ? 'under' : ''}`} style={box} role="group" aria-label="Crop" onPointerDown={grab(null)} onPointerMove={pull(false)} onPointerUp={pull(true)} onPointerCancel={cancel}>
        <svg preserveAspectRatio="none" viewBox={`0 0 ${grid} ${grid}`} aria-hidden="true">
          {Array.from({ length: grid - 1 }, (_, k) => <path key={k} d={`M ${k + 1} 0 V ${grid} M 0 ${k + 1} H ${grid}`} />)}
          <path className="middle" d={`M ${grid / 2} 0 V ${grid} M 0 ${grid / 2} H ${grid}`} />
        </svg>
        {GRIPS.map((grip) => (
          <div
            key={`${grip.across} ${grip.down}`} className="crop-grip" role="button" tabIndex={-1} aria-label={`Crop, ${['top', '', 'bottom'][grip.down + 1]} ${['left', '', 'right'][grip.across + 1]}`.replace(/ +/g, ' ').trim()}
            style={{ left: `${50 * (grip.across + 1)}%`, top: `${50 * (grip.down + 1)}%` }} onPointerDown={grab(grip)} onPointerMove={pull(false)} onPointerUp={pull(true)} onPointerCancel={cancel}
          />
        ))}
      </div>
      {lining && <div className="line-sheet" data-testid="line-sheet" onPointerDown={begin} onPointerMove={draw} onPointerUp={end} onPointerCancel={cancel} />}
      <svg className="drawn-lines" aria-hidden="true">
        {now.lines.map(({ from, to }, k) => {
          const [[x1, y1], [x2, y2]] = [place(from), place(to)];
          return <g key={k}><line className="under" x1={x1} y1={y1} x2={x2} y2={y2} /><line x1={x1} y1={y1} x2={x2} y2={y2} /><text x={(x1 + x2) / 2 + 8} y={(y1 + y2) / 2 - 6}>{k + 1}</text></g>;
        })}
        {line && <line x1={line.from[0]} y1={line.from[1]} x2={line.to[0]} y2={line.to[1]} />}
      </svg>
      {lining && <div className="hint draw" role="status">Drag along what is vertical or level in the room: two vertical lines make all of them plumb, a level one faces its wall <button onClick={() => dispatch(liningToggled())}>Enough</button></div>}
    </>
  );
}
