import { TextInput } from '@mantine/core';
import dayjs from 'dayjs';
import { useRef, useState } from 'react';
import { failed } from '../frame/failed';
import { clockWords } from './timeWords';
import { usePlanShootMutation, type ForeseenShoot } from '../store/api';

/** When a shoot is due, and changing that. A time that is only half typed leaves it as it is. @param now milliseconds */
export function DueField({ shoot: { id, name, dueAt }, now }: { readonly shoot: ForeseenShoot; readonly now: number }) {
  const [plan] = usePlanShootMutation();
  const [typed, setTyped] = useState<string | null>(null);
  const field = useRef<HTMLDivElement>(null);
  const keep = (due: string | null): void => {
    if (due !== dueAt) void plan({ id, dueAt: due }).unwrap().catch(failed);
    setTyped(null);
  };
  const done = (): void => {
    const time = dayjs(typed || undefined);
    if (typed && time.isValid()) keep(time.toISOString());
    else setTyped(null);
  };
  if (typed === null) return <button className="quiet" title="Change when it is due" aria-label={`Due time of ${name}`} onClick={() => setTyped(dueAt ? dayjs(dueAt).format('YYYY-MM-DDTHH:mm') : dayjs().add(1, 'day').hour(7).minute(0).format('YYYY-MM-DDTHH:mm'))}>{dueAt ? `due ${clockWords(Date.parse(dueAt), now)}` : 'no due time'}</button>;
  return (
    <div className="due-field" ref={field} onBlur={(event) => { if (!field.current?.contains(event.relatedTarget)) done(); }}>
      <TextInput size="xs" type="datetime-local" autoFocus aria-label={`Due, ${name}`} value={typed} onChange={(event) => setTyped(event.currentTarget.value)} onKeyDown={(event) => { if (event.key === 'Enter') done(); if (event.key === 'Escape') setTyped(null); }} />
      {dueAt && <button className="quiet" onClick={() => keep(null)}>No due time</button>}
    </div>
  );
}
