import { memo, useState, type DragEvent } from 'react';
import type { MixDocument, Pass, PassChanges, Source } from '@zaddle/document';
import { shortAreaName } from '../area/areas';
import { drawerToggled, selected as select, soloed } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { SOURCE_DRAG } from './FrameDrawer';
import { faceOf } from './newPass';
import type { PassActions } from './usePassActions';

interface StripsProps {
  readonly mix: MixDocument;
  readonly actions: PassActions;
  readonly onChange: (id: string, changes: PassChanges, done: boolean) => void;
}

const PASS_DRAG = 'application/x-zaddle-pass';

const signed = (v: number): string => `${v > 0 ? '+' : v < 0 ? '−' : ''}${Math.abs(v).toFixed(1)}`;
const maskWord = (pass: Pass): string => (pass.mask.length === 0 ? 'everywhere' : pass.mask.map(shortAreaName).join(' + '));

/** A pass's name, which a double click lets be written anew. */
function Name({ pass, onRename }: { pass: Pass; onRename: (name: string) => void }) {
  const [writing, setWriting] = useState(false);
  if (!writing) return <div className="name" title={pass.why || 'Double click to rename'} onDoubleClick={() => setWriting(true)}>{pass.name}</div>;
  const done = (text: string | null): void => {
    setWriting(false);
    if (text !== null && text !== pass.name) onRename(text);
  };
  return (
    <input
      className="name" type="text" aria-label={`Name of ${pass.name}`} defaultValue={pass.name} maxLength={120} autoFocus onFocus={(e) => e.currentTarget.select()}
      onBlur={(e) => done(e.currentTarget.value)} onKeyDown={(e) => { if (e.key === 'Enter') e.currentTarget.blur(); else if (e.key === 'Escape') { e.stopPropagation(); done(null); } }}
    />
  );
}

interface StripProps {
  readonly pass: Pass;
  readonly face: string | null;
  readonly actions: PassActions;
  readonly onChange: StripsProps['onChange'];
}

/** One strip; a drag of another leaves it alone. */
const Strip = memo(function Strip({ pass, face, actions, onChange }: StripProps) {
  const dispatch = useAppDispatch();
  const selected = useAppSelector((s) => s.desk.selected === pass.id);
  const solo = useAppSelector((s) => s.desk.solo === pass.id);
  // Light is set in stops; a change of what is below, by how much of it is taken.
  const inStops = pass.kind !== 'adjust';
  const value = inStops ? pass.exposure : Math.round(pass.opacity * 100);
  const change = (text: string, done: boolean): void => {
    const next = Number(text);
    onChange(pass.id, inStops ? { exposure: next } : { opacity: next / 100 }, done);
  };
  return (
    <div className={`strip ${selected ? 'selected' : ''} ${pass.on ? '' : 'off'}`} role="group" aria-label={`Pass ${pass.name}`} draggable onDragStart={(e) => e.dataTransfer.setData(PASS_DRAG, pass.id)} onClick={() => dispatch(select(pass.id))}>
      <Name pass={pass} onRename={(name) => actions.rename(pass.id, name)} />
      <div className="thumb" style={face ? { backgroundImage: `url(/api/frames/${face}/thumbnail)` } : {}}>{face ? '' : 'below'}</div>
      <div className="keys">
        <button aria-pressed={!pass.on} onClick={(e) => { e.stopPropagation(); onChange(pass.id, { on: !pass.on }, true); }}>Mute</button>
        <button aria-pressed={solo} onClick={(e) => { e.stopPropagation(); dispatch(soloed(pass.id)); }}>Solo</button>
        <span className="soft">{maskWord(pass)}{'mode' in pass && pass.mode !== 'normal' ? <b>, {pass.mode}</b> : ''}</span>
      </div>
      <label className="fader" draggable onDragStart={(e) => { e.preventDefault(); e.stopPropagation(); }} onClick={(e) => e.stopPropagation()}>
        <input
          type="range" aria-label={`${pass.name}: ${inStops ? 'exposure in stops' : 'opacity'}`} min={inStops ? -6 : 0} max={inStops ? 6 : 100} step={inStops ? 0.05 : 1} value={value}
          onChange={(e) => change(e.currentTarget.value, false)} onPointerUp={(e) => change(e.currentTarget.value, true)} onKeyUp={(e) => change(e.currentTarget.value, true)}
          onDoubleClick={() => change(inStops ? '0' : '100', true)}
        />
        <output>{inStops ? signed(value) : `${value} %`}</output>
      </label>
    </div>
  );
});

/** The gap between two strips that the pointer is nearest to: 0 is underneath all. */
function gapAt(strips: HTMLElement, x: number): number {
  const all = [...strips.querySelectorAll<HTMLElement>('.strip')];
  const gap = all.findIndex((strip) => x < strip.getBoundingClientRect().left + strip.offsetWidth / 2);
  return gap < 0 ? all.length : gap;
}

/** One channel strip a pass, from underneath on the left to on top on the right. */
export function Strips({ mix, actions, onChange }: StripsProps) {
  const dispatch = useAppDispatch();
  const drawer = useAppSelector((s) => s.desk.drawer);
  const [gap, setGap] = useState<number | null>(null);
  const over = (event: DragEvent<HTMLElement>): void => {
    if (!event.dataTransfer.types.some((type) => type === PASS_DRAG || type === SOURCE_DRAG)) return;
    event.preventDefault();
    setGap(gapAt(event.currentTarget, event.clientX));
  };
  const drop = (event: DragEvent<HTMLElement>): void => {
    event.preventDefault();
    setGap(null);
    const at = gapAt(event.currentTarget, event.clientX);
    const moved = event.dataTransfer.getData(PASS_DRAG);
    if (moved) {
      const from = mix.passes.findIndex((p) => p.id === moved);
      actions.moveTo(moved, at > from ? at - 1 : at);
      return;
    }
    const { source, name } = JSON.parse(event.dataTransfer.getData(SOURCE_DRAG)) as { source: Source; name: string };
    actions.add(source, name, event.shiftKey, at);
  };
  return (
    <div className="strips" role="region" aria-label="Passes" onDragOver={over} onDragLeave={() => setGap(null)} onDrop={drop}>
      <button className="add" aria-pressed={drawer} title="Add a pass (n)" aria-label="Add a pass" onClick={() => dispatch(drawerToggled())}>+</button>
      {mix.passes.map((pass, k) => (
        <div key={pass.id} className={`slot ${gap === k ? 'before' : gap === k + 1 && k === mix.passes.length - 1 ? 'after' : ''}`}><Strip pass={pass} face={faceOf(mix, pass)} actions={actions} onChange={onChange} /></div>
      ))}
    </div>
  );
}
