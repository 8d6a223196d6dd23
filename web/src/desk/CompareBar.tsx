import { useMemo, useRef, useState, type PointerEvent } from 'react';
import type { Command, MixDocument } from '@zaddle/document';
import { useVersionsQuery, type Frame } from '../store/api';
import { COMPARE_WAYS, comparedWith, wayChosen, wipedTo, type CompareWay, type Compared } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { differencesOf } from './differences';
import { useComparedVersion } from './useCompared';

const WAYS: Readonly<Record<CompareWay, string>> = { wipe: 'Wipe', blink: 'Blink', through: 'See through', difference: 'Difference', beside: 'Side by side' };

interface BarProps {
  readonly shot: string;
  readonly mix: MixDocument;
  readonly frames: readonly Frame[];
  /** Name of a picture that was dropped in. */
  readonly client: string | null;
  readonly onClient: (file: File) => void;
  readonly onAct: (command: Command, done: boolean) => void;
}

/** Settings in which the version that is compared with differs, each to be taken over by itself. */
function Differences({ shot, mix, frames, onAct }: Pick<BarProps, 'shot' | 'mix' | 'frames' | 'onAct'>) {
  const [open, setOpen] = useState(false);
  const version = useComparedVersion(shot);
  const list = useMemo(() => (version ? differencesOf(mix, version, (id) => frames.find((f) => f.id === id)?.name ?? 'A frame') : []), [version, mix, frames]);
  if (!version) return null;
  return (
    <>
      <button aria-expanded={open} disabled={list.length === 0} onClick={() => setOpen(!open)}>{list.length === 0 ? 'No difference' : list.length === 1 ? '1 difference' : `${list.length} differences`}</button>
      {open && list.length > 0 && (
        <div className="differences" role="group" aria-label="Settings of the version">
          {list.map(({ key, words, command }) => <div key={key}><span>{words}</span><button onClick={() => onAct(command, true)} aria-label={`Take over: ${words}`}>Take over</button></div>)}
        </div>
      )}
    </>
  );
}

/** What the picture is compared with, and how. */
export function CompareBar({ shot, mix, frames, client, onClient, onAct }: BarProps) {
  const dispatch = useAppDispatch();
  const compare = useAppSelector((s) => s.desk.compare)!;
  const { data: versions = [] } = useVersionsQuery(shot);
  const file = useRef<HTMLInputElement>(null);
  const choose = (value: string): void => {
    if (value === 'open') file.current?.click();
    else dispatch(comparedWith(value as Compared));
  };
  return (
    <div className="compare-bar" role="group" aria-label="Compare" onPointerDown={(e) => e.stopPropagation()}>
      <select aria-label="Compare with" value={compare.with} onChange={(e) => { choose(e.currentTarget.value); e.currentTarget.blur(); }}>
        <option value="before">the reference as shot</option>
        <option value="without">without the selected pass</option>
        {versions.map(({ id, name }) => <option key={id} value={`version:${id}`}>version “{name}”</option>)}
        {frames.filter((f) => f.id in mix.frames).map(({ id, name, role }) => <option key={id} value={`frame:${id}`}>{name} ({role})</option>)}
        {client && <option value="client">{client}</option>}
        <option value="open">a picture of the client’s…</option>
      </select>
      {COMPARE_WAYS.map((way) => <button key={way} aria-pressed={compare.way === way} onClick={() => dispatch(wayChosen(way))}>{WAYS[way]}</button>)}
      <Differences shot={shot} mix={mix} frames={frames} onAct={onAct} />
      <button aria-label="Compare no more" onClick={() => dispatch(comparedWith(null))}>×</button>
      <input ref={file} type="file" hidden accept="image/jpeg,image/png,image/webp" aria-label="A picture of the client’s" onChange={(e) => e.currentTarget.files?.[0] && onClient(e.currentTarget.files[0])} />
    </div>
  );
}

/** The line of a wipe, to be dragged: left of it the picture, right of it the other. */
export function WipeLine() {
  const dispatch = useAppDispatch();
  const at = useAppSelector((s) => s.desk.compare?.at ?? 0.5);
  const drag = (event: PointerEvent<HTMLElement>): void => {
    if (event.buttons === 0) return;
    event.stopPropagation();
    const box = event.currentTarget.parentElement!.getBoundingClientRect();
    dispatch(wipedTo((event.clientX - box.left) / box.width));
  };
  return (
    <button
      className="wipe-line" style={{ left: `${at * 100}%` }} aria-label="Line of the wipe" role="slider" aria-valuenow={Math.round(at * 100)}
      onPointerDown={(e) => { e.stopPropagation(); e.currentTarget.setPointerCapture(e.pointerId); }} onPointerMove={drag}
      onKeyDown={(e) => { const by = e.key === 'ArrowLeft' ? -0.01 : e.key === 'ArrowRight' ? 0.01 : 0; if (by) { e.preventDefault(); e.stopPropagation(); dispatch(wipedTo(at + by)); } }}
    />
  );
}
