import { useState } from 'react';
import type { AppliedMethod } from '@zaddle/document';
import { useShootQuery } from '../store/api';
import { Told } from './Told';
import { shotsWords, useGiving } from './useGiving';

interface GiveProps {
  readonly shot: string;
  readonly shoot: string;
  readonly applied: AppliedMethod;
}

/** The method of this shot for others of the shoot, in one go; and that taken back in one go. */
export function GiveMethod({ shot, shoot, applied }: GiveProps) {
  const { data } = useShootQuery(shoot);
  const giving = useGiving(shoot);
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [later, setLater] = useState(true);
  const others = (data?.shots ?? []).filter(({ id }) => id !== shot);
  const chosen = others.filter(({ id }) => !left.has(id));
  const toggle = (id: string): void => setLeft((now) => new Set(now.has(id) ? [...now].filter((each) => each !== id) : [...now, id]));
  return (
    <details className="give">
      <summary>For other shots of this shoot</summary>
      <Told {...giving} />
      <div className="shot-list" role="group" aria-label="Shots that are given it">
        {others.map(({ id, label }) => <label key={id} className="check"><input type="checkbox" checked={!left.has(id)} onChange={() => toggle(id)} /> {label}</label>)}
      </div>
      <label className="check"><input type="checkbox" checked={later} onChange={(e) => setLater(e.currentTarget.checked)} /> Also shots that come later</label>
      <div className="tools one"><button disabled={chosen.length === 0 || giving.busy} onClick={() => giving.give(applied, chosen.map(({ id }) => id), later)}>{giving.busy ? 'Giving…' : `Give to ${shotsWords(chosen.length)}`}</button></div>
    </details>
  );
}
