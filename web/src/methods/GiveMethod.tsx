import { notifications } from '@mantine/notifications';
import { useState } from 'react';
import { PART_TITLES } from '@zaddle/core/method/partWords';
import type { AppliedMethod } from '@zaddle/document';
import { failed } from '../frame/failed';
import { useGiveMethodMutation, useShootMethodQuery, useShootQuery, useTakeMethodBackMutation, type GivenMethod } from '../store/api';

const shotsWords = (count: number): string => `${count} ${count === 1 ? 'shot' : 'shots'}`;

/** What shots had no use for, and what failed, shot by shot. */
function Told({ given }: { given: GivenMethod }) {
  const rows = [...given.failed.map(({ label, why }) => `${label}: not given, ${why}`), ...given.lacking.map(({ label, part, why }) => `${label}: ${PART_TITLES[part].toLowerCase()} left alone, ${why}`)];
  if (rows.length === 0) return null;
  return <ul className="told-list" aria-label="What shots had no use for">{rows.map((row) => <li key={row}>{row}</li>)}</ul>;
}

interface GiveProps {
  readonly shot: string;
  readonly shoot: string;
  readonly applied: AppliedMethod;
}

/** The method of this shot for others of the shoot, in one go; and that taken back in one go. */
export function GiveMethod({ shot, shoot, applied }: GiveProps) {
  const { data } = useShootQuery(shoot);
  const { data: given } = useShootMethodQuery(shoot);
  const [give, giving] = useGiveMethodMutation();
  const [takeBack, takingBack] = useTakeMethodBackMutation();
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const [later, setLater] = useState(true);
  const [told, setTold] = useState<GivenMethod | null>(null);
  const others = (data?.shots ?? []).filter(({ id }) => id !== shot);
  const chosen = others.filter(({ id }) => !left.has(id));
  const toggle = (id: string): void => setLeft((now) => new Set(now.has(id) ? [...now].filter((each) => each !== id) : [...now, id]));
  const { method, strength, off } = applied;
  const send = (): void => {
    void give({ shoot, method, strength, off, shots: chosen.map(({ id }) => id), later }).unwrap().then((answer) => {
      setTold(answer);
      notifications.show({ message: `“${method.name}” is given to ${shotsWords(answer.changed)}${answer.waiting > 0 ? `; ${shotsWords(answer.waiting)} get it when they are lined up` : ''}.` });
    }, failed);
  };
  const back = (run: string): void => {
    void takeBack(run).unwrap().then(({ back: undone, tuned, left: alone }) => {
      setTold(null);
      notifications.show({ message: `Taken back from ${shotsWords(undone + tuned)}${tuned > 0 ? `; in ${tuned} of them what was done since stays` : ''}${alone > 0 ? `; ${shotsWords(alone)} had gone another way already` : ''}.` });
    }, failed);
  };
  return (
    <details className="give">
      <summary>For other shots of this shoot</summary>
      {given?.last && (
        <p className="with-act">“{given.last.name}” is on {shotsWords(given.last.shots)} <button className="flat" disabled={takingBack.isLoading} onClick={() => back(given.last!.id)}>Take back everywhere</button></p>
      )}
      <div className="shot-list" role="group" aria-label="Shots that are given it">
        {others.map(({ id, label }) => <label key={id} className="check"><input type="checkbox" checked={!left.has(id)} onChange={() => toggle(id)} /> {label}</label>)}
      </div>
      <label className="check"><input type="checkbox" checked={later} onChange={(e) => setLater(e.currentTarget.checked)} /> Also shots that come later</label>
      <div className="tools one"><button disabled={chosen.length === 0 || giving.isLoading} onClick={send}>{giving.isLoading ? 'Giving…' : `Give to ${shotsWords(chosen.length)}`}</button></div>
      {told && <Told given={told} />}
    </details>
  );
}
