import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import type { Area, Command, MixDocument, OutlineNode, Pass, Point } from '@zaddle/document';
import { areaWithout, draggedArea, handlesOf } from '../area/areas';
import { useAppSelector } from '../store/store';
import { toPlace, toStage } from './stagePlaces';
import type { Viewport } from './useViewport';

interface HandlesProps {
  readonly mix: MixDocument;
  readonly pass: Pass;
  readonly view: Viewport;
  readonly onAct: (command: Command, done: boolean) => void;
}

/** The line that an area goes along, as an SVG path on the stage. */
export function pathOf(rings: readonly (readonly OutlineNode[])[], closed: boolean, place: (p: Point) => Point): string {
  const text = (p: Point): string => place(p).map((v) => v.toFixed(1)).join(' ');
  return rings.map((nodes) => nodes.map((node, k) => {
    if (k === 0) return `M${text(node.at)}`;
    return `C${text(nodes[k - 1].after ?? nodes[k - 1].at)} ${text(node.before ?? node.at)} ${text(node.at)}`;
  }).join('') + (closed && nodes.length > 1 ? `C${text(nodes[nodes.length - 1].after ?? nodes[nodes.length - 1].at)} ${text(nodes[0].before ?? nodes[0].at)} ${text(nodes[0].at)}Z` : '')).join('');
}

const ringsOf = (area: Area): readonly (readonly OutlineNode[])[] => (area.kind === 'outline' ? area.rings : area.kind === 'box' ? [area.corners.map((at) => ({ at, before: null, after: null }))] : []);

/** Handles of the chosen area: each is dragged, or nudged by arrows; Alt and a click take a point away, a double click on the line adds one. */
export function AreaHandles({ mix, pass, view, onAct }: HandlesProps) {
  const chosen = useAppSelector((s) => s.desk.area);
  const held = useRef<string | null>(null);
  const area = pass.mask.find((a) => a.id === chosen);
  if (!area) return null;
  const place = toStage(mix, view);
  const put = (next: Area, done: boolean): void => onAct({ kind: 'changePass', id: pass.id, changes: { mask: pass.mask.map((a) => (a.id === area.id ? next : a)) } }, done);
  const at = (event: PointerEvent | React.MouseEvent): Point => {
    const box = (event.currentTarget as Element).closest('.stage-area')!.getBoundingClientRect();
    return toPlace(mix, view, [event.clientX - box.left, event.clientY - box.top]);
  };
  const down = (event: PointerEvent<HTMLButtonElement>, id: string, removable: boolean): void => {
    event.stopPropagation();
    if (event.altKey) {
      if (removable) put(areaWithout(area, id), true);
      return;
    }
    event.currentTarget.setPointerCapture(event.pointerId);
    held.current = id;
  };
  const drag = (event: PointerEvent, done: boolean): void => {
    if (!held.current) return;
    event.stopPropagation();
    put(draggedArea(area, held.current, at(event)), done);
    if (done) held.current = null;
  };
  const nudge = (event: KeyboardEvent, id: string, from: Point): void => {
    const by = ({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as const)[event.key as 'ArrowLeft'];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    const step = (event.shiftKey ? 10 : 1) / Math.max(mix.frames[mix.reference].width, mix.frames[mix.reference].height);
    put(draggedArea(area, id, [from[0] + by[0] * step, from[1] + by[1] * step]), true);
  };
  const addPoint = (event: React.MouseEvent): void => {
    if (area.kind !== 'outline') return;
    event.stopPropagation();
    put(withPoint(area, at(event)), true);
  };
  const handles = handlesOf(area);
  const d = pathOf(ringsOf(area), true, place);
  return (
    <>
      <svg className="area-line">
        {d && <path className="grip" d={d} onPointerDown={(e) => e.stopPropagation()} onDoubleClick={addPoint} />}
        {d && <path className="under" d={d} />}
        {d && <path d={d} />}
        {handles.map(({ id, at: here, of }) => of && <line key={id} x1={place(of)[0]} y1={place(of)[1]} x2={place(here)[0]} y2={place(here)[1]} />)}
      </svg>
      {handles.map(({ id, at: here, label, of, removable }) => {
        const [x, y] = place(here);
        return (
          <button
            key={id} className={`handle ${of ? 'bends' : ''}`} aria-label={label} style={{ left: x, top: y }} onPointerDown={(e) => down(e, id, removable)} onPointerMove={(e) => drag(e, false)} onPointerUp={(e) => drag(e, true)}
            onKeyDown={(e) => nudge(e, id, here)}
          />
        );
      })}
    </>
  );
}

/** An outline with one more point where its line passes nearest to a place. */
function withPoint(area: Extract<Area, { kind: 'outline' }>, to: Point): Area {
  let best = { ring: 0, after: 0, off: Infinity };
  area.rings.forEach((nodes, ring) => nodes.forEach((a, after) => {
    const b = nodes[(after + 1) % nodes.length];
    for (let t = 0.05; t < 1; t += 0.05) {
      const p = [0, 1].map((c) => (1 - t) ** 3 * a.at[c] + 3 * t * (1 - t) ** 2 * (a.after ?? a.at)[c] + 3 * t * t * (1 - t) * (b.before ?? b.at)[c] + t ** 3 * b.at[c]);
      const off = Math.hypot(p[0] - to[0], p[1] - to[1]);
      if (off < best.off) best = { ring, after, off };
    }
  }));
  return { ...area, rings: area.rings.map((nodes, r) => (r === best.ring ? [...nodes.slice(0, best.after + 1), { at: to, before: null, after: null }, ...nodes.slice(best.after + 1)] : nodes)) };
}
