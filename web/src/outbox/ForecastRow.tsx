import { NumberInput } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { failed } from '../frame/failed';
import { DueField } from './DueField';
import { useAllOrders } from './orders';
import { foreseenWords, helpWords, leftWords, standing } from './foreseen';
import { usePlanShootMutation, type ForeseenShoot } from '../store/api';

/** What a shot takes by hand, as it was measured or as a person says. */
function HandField({ shoot }: { readonly shoot: ForeseenShoot }) {
  const [plan] = usePlanShootMutation();
  const [typed, setTyped] = useState<number | string | null>(null);
  const keep = (): void => {
    if (typeof typed === 'number') void plan({ id: shoot.id, handSeconds: Math.round(typed * 60) }).unwrap().catch(failed);
    setTyped(null);
  };
  return (
    <div className="hand-field">
      <NumberInput size="xs" w={84} aria-label={`Minutes by hand a shot, ${shoot.name}`} min={0} max={600} step={0.5} decimalScale={1} value={typed ?? Math.round(shoot.handPerShot / 6) / 10} onChange={setTyped} onBlur={keep} onKeyDown={(event) => { if (event.key === 'Enter') keep(); }} />
      <span className="soft">min a shot by hand{shoot.handIsOwn && <>, as you say. <button className="quiet" onClick={() => void plan({ id: shoot.id, handSeconds: null }).unwrap().catch(failed)}>As measured</button></>}</span>
    </div>
  );
}

/** One open shoot: when it will be done, what is left, and what would help. @param now when it was foreseen, milliseconds */
export function ForecastRow({ shoot, now }: { readonly shoot: ForeseenShoot; readonly now: number }) {
  const all = useAllOrders();
  const how = standing(shoot);
  return (
    <div className="forecast-row" data-standing={how}>
      <div><Link to={`/shoots/${shoot.id}/wall`}><strong>{shoot.name}</strong></Link><div className="soft"><DueField shoot={shoot} now={now} /></div></div>
      <div>
        <div className={how === 'late' ? 'late' : how === 'tight' ? 'tight' : ''}>{foreseenWords(shoot, now)}{how === 'tight' ? ' (tight)' : ''}</div>
        <div className="soft">{leftWords(shoot)}</div>
        {shoot.helps.length > 0 && <ul>{shoot.helps.map((help) => <li key={`${help.kind} ${'order' in help ? help.order : ''}`}>{helpWords(help, all)}</li>)}</ul>}
      </div>
      {shoot.byHandShots > 0 && <HandField shoot={shoot} />}
    </div>
  );
}
