import { useEffect, useRef, useState, type PointerEvent } from 'react';
import type { Area, Command, MixDocument, OutlineNode, Pass, Point } from '@zaddle/document';
import { roundedPoint } from '../area/areaView';
import { areaChosen, toolTaken } from '../store/deskSlice';
import { useAppDispatch } from '../store/store';
import { pathOf } from './AreaHandles';
import { freshId } from './newPass';
import { toPlace, toStage } from './stagePlaces';
import type { Viewport } from './useViewport';

interface ToolProps {
  readonly mix: MixDocument;
  readonly pass: Pass;
  readonly view: Viewport;
  /** The picture is being moved: the outline waits. */
  readonly idle: boolean;
  readonly onAct: (command: Command, done: boolean) => void;
}

/** Pixels of the screen within which the first point is met, and a drag counts as one. */
const NEAR = 10;
const DRAGGED = 4;

const rounded = ({ at, before, after }: OutlineNode): OutlineNode => ({ at: roundedPoint(at), before: before && roundedPoint(before), after: after && roundedPoint(after) });

/**
 * Draws an outline point by point: a click sets a corner, a drag bends the line there; the first point, a double click or Enter
 * closes it, Backspace takes the last point back, Escape gives it up.
 */
export function OutlineTool({ idle, mix, pass, view, onAct }: ToolProps) {
  const dispatch = useAppDispatch();
  const [nodes, setNodes] = useState<readonly OutlineNode[]>([]);
  const [pointer, setPointer] = useState<Point | null>(null);
  const pulling = useRef<Point | null>(null);
  const place = toStage(mix, view);

  const close = (): void => {
    if (nodes.length >= 3) {
      const area: Area = { id: freshId('area'), kind: 'outline', join: 'add', inverted: false, rings: [nodes.map(rounded)], softness: 0 };
      onAct({ kind: 'addArea', pass: pass.id, area, index: pass.mask.length }, true);
      dispatch(areaChosen(area.id));
    }
    setNodes([]);
    dispatch(toolTaken('pan'));
  };
  useEffect(() => {
    const key = (event: KeyboardEvent): void => {
      if (event.key === 'Enter') close();
      else if (event.key === 'Backspace' && nodes.length > 0) setNodes(nodes.slice(0, -1));
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    // Before the desk's own keys: while a point can be taken back, Backspace removes no pass.
    window.addEventListener('keydown', key, true);
    return () => window.removeEventListener('keydown', key, true);
  });

  const local = (event: PointerEvent): Point => {
    const box = event.currentTarget.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const down = (event: PointerEvent): void => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    const at = local(event);
    const meets = (node: OutlineNode): boolean => Math.hypot(place(node.at)[0] - at[0], place(node.at)[1] - at[1]) < NEAR;
    if (nodes.length >= 3 && (meets(nodes[0]) || meets(nodes[nodes.length - 1]))) return close();
    pulling.current = at;
    setNodes([...nodes, { at: toPlace(mix, view, at), before: null, after: null }]);
  };
  const move = (event: PointerEvent): void => {
    const at = local(event);
    setPointer(at);
    const from = pulling.current;
    if (!from) return;
    event.stopPropagation();
    if (Math.hypot(at[0] - from[0], at[1] - from[1]) < DRAGGED) return;
    const after = toPlace(mix, view, at);
    setNodes(nodes.map((node, k) => (k === nodes.length - 1 ? { ...node, after, before: [2 * node.at[0] - after[0], 2 * node.at[1] - after[1]] } : node)));
  };
  const ghost: OutlineNode[] = pointer && nodes.length > 0 ? [...nodes, { at: toPlace(mix, view, pointer), before: null, after: null }] : [...nodes];
  const d = pathOf([ghost], false, place);
  return (
    <svg className="area-line drawing" style={idle ? { pointerEvents: 'none' } : {}} role="img" aria-label="Outline being drawn" onPointerDown={down} onPointerMove={move} onPointerUp={() => (pulling.current = null)}>
      {d && <path className="under" d={d} />}
      {d && <path d={d} />}
      {nodes.map((node, k) => <rect key={k} x={place(node.at)[0] - 4} y={place(node.at)[1] - 4} width={8} height={8} className={k === 0 ? 'first' : ''} />)}
    </svg>
  );
}
