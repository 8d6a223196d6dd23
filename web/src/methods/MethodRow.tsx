import { useState } from 'react';
import { PART_TITLES, partWords } from '@zaddle/core/method/partWords';
import { METHOD_LIGHTS, METHOD_ROOMS, PART_NAMES, type Method } from '@zaddle/document';
import { Sketch } from '../desk/Sketch';
import type { KeptMethod } from '../store/api';
import { KEYED } from './choices';

interface FieldProps {
  readonly label: string;
  readonly value: string;
  readonly most: number;
  readonly heading?: boolean;
  readonly onChange: (value: string) => void;
}

/** Text that is typed in its place; Enter, or leaving it, takes it. */
function TypedField({ label, value, most, heading = false, onChange }: FieldProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const take = (): void => {
    if (typed !== null && typed.trim() !== value) onChange(typed.trim());
    setTyped(null);
  };
  return <input className={heading ? 'typed-name' : 'typed-words'} aria-label={label} placeholder={label} maxLength={most} value={typed ?? value} onChange={(e) => setTyped(e.currentTarget.value)} onBlur={take} onKeyDown={(e) => { if (e.key === 'Enter') e.currentTarget.blur(); if (e.key === 'Escape') setTyped(null); }} />;
}

interface RowProps {
  readonly kept: KeptMethod;
  /** Its place among all. */
  readonly index: number;
  readonly last: boolean;
  /** Rows lie in the order of keys, so they can be moved. */
  readonly ordered: boolean;
  readonly picture: ImageBitmap | undefined;
  readonly onChange: (method: Method) => void;
  readonly onMove: (by: 1 | -1) => void;
  readonly onDelete: () => void;
}

/** One method: how it looks, what it is called and for, what it decides. */
export function MethodRow({ kept: { id, method }, index, last, ordered, picture, onChange, onMove, onDelete }: RowProps) {
  const { name, what, room, light, parts } = method;
  return (
    <article className="method-row" aria-label={name}>
      <div className="method-face"><Sketch picture={picture} /></div>
      <div>
        <header>
          {index < KEYED && <kbd title="Its key in the methods of the desk">{index + 1}</kbd>}
          <TypedField label={`Name of ${name}`} heading value={name} most={60} onChange={(next) => next && onChange({ ...method, name: next })} />
        </header>
        <TypedField label={`What ${name} does`} value={what} most={200} onChange={(next) => onChange({ ...method, what: next })} />
        <dl>
          {PART_NAMES.filter((part) => parts[part] !== undefined).map((part) => <div key={part}><dt>{PART_TITLES[part]}</dt><dd>{partWords(part, parts[part]!)}</dd></div>)}
        </dl>
      </div>
      <div className="method-acts">
        <label>For <select aria-label={`Rooms of ${name}`} value={room} onChange={(e) => onChange({ ...method, room: e.currentTarget.value as Method['room'] })}>{METHOD_ROOMS.map((each) => <option key={each}>{each}</option>)}</select></label>
        <label>In <select aria-label={`Light of ${name}`} value={light} onChange={(e) => onChange({ ...method, light: e.currentTarget.value as Method['light'] })}>{METHOD_LIGHTS.map((each) => <option key={each}>{each}</option>)}</select></label>
        <span>
          <button className="flat" aria-label={`Move ${name} up`} disabled={!ordered || index === 0} onClick={() => onMove(-1)}>Up</button>
          <button className="flat" aria-label={`Move ${name} down`} disabled={!ordered || last} onClick={() => onMove(1)}>Down</button>
        </span>
        <span>
          <a className="flat" href={`/api/methods/${id}/file`} download>Save as a file</a>
          <button className="quiet" aria-label={`Throw away ${name}`} onClick={onDelete}>Throw away</button>
        </span>
      </div>
    </article>
  );
}
