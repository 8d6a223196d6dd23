import { memo } from 'react';
import type { MixDocument, Pass, PassChanges } from '@zaddle/document';
import { shortAreaName } from '../area/areas';
import { selected as select, soloed } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';

interface StripsProps {
  readonly mix: MixDocument;
  readonly onChange: (id: string, changes: PassChanges, done: boolean) => void;
}

const signed = (v: number): string => `${v > 0 ? '+' : v < 0 ? '−' : ''}${Math.abs(v).toFixed(1)}`;

/** Frame whose thumbnail stands for a pass. */
const faceOf = (mix: MixDocument, pass: Pass): string | null => (pass.kind === 'adjust' ? null : pass.source.kind === 'merge' ? mix.reference : pass.source.frame);

const maskWord = (pass: Pass): string => (pass.mask.length === 0 ? 'everywhere' : pass.mask.map(shortAreaName).join(' + '));

interface StripProps {
  readonly pass: Pass;
  readonly face: string | null;
  readonly onChange: StripsProps['onChange'];
}

/** One strip; a drag of another leaves it alone. */
const Strip = memo(function Strip({ pass, face, onChange }: StripProps) {
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
    <div className={`strip ${selected ? 'selected' : ''} ${pass.on ? '' : 'off'}`} role="group" aria-label={`Pass ${pass.name}`} onClick={() => dispatch(select(pass.id))}>
      <div className="name" title={pass.why}>{pass.name}</div>
      <div className="thumb" style={face ? { backgroundImage: `url(/api/frames/${face}/thumbnail)` } : {}}>{face ? '' : 'what is below'}</div>
      <div className="keys">
        <button aria-pressed={!pass.on} onClick={(e) => { e.stopPropagation(); onChange(pass.id, { on: !pass.on }, true); }}>Mute</button>
        <button aria-pressed={solo} onClick={(e) => { e.stopPropagation(); dispatch(soloed(pass.id)); }}>Solo</button>
        <span className="soft" style={{ fontSize: 11 }}>{maskWord(pass)}</span>
      </div>
      <label className="fader" onClick={(e) => e.stopPropagation()}>
        <input
          type="range" aria-label={`${pass.name}: ${inStops ? 'exposure in stops' : 'opacity'}`} min={inStops ? -6 : 0} max={inStops ? 6 : 100} step={inStops ? 0.05 : 1} value={value}
          onChange={(e) => change(e.currentTarget.value, false)} onPointerUp={(e) => change(e.currentTarget.value, true)} onKeyUp={(e) => change(e.currentTarget.value, true)}
        />
        <output>{inStops ? signed(value) : `${value} %`}</output>
      </label>
    </div>
  );
});

/** One channel strip a pass, from underneath on the left to on top on the right. */
export function Strips({ mix, onChange }: StripsProps) {
  return (
    <div className="strips" role="region" aria-label="Passes">
      {mix.passes.map((pass) => <Strip key={pass.id} pass={pass} face={faceOf(mix, pass)} onChange={onChange} />)}
    </div>
  );
}
