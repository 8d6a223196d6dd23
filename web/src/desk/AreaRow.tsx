import type { Area } from '@zaddle/document';
import { areaName, handlesOf } from '../area/areas';
import { areaChosen } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { percent, Slide } from './Slide';

interface RowProps {
  readonly area: Area;
  readonly put: (next: Area, done: boolean) => void;
  readonly onRemove: () => void;
}

const JOINS = [['add', '+', 'joins what is above'], ['subtract', '−', 'is taken from it'], ['intersect', '∩', 'limits it']] as const;

/** One area of a mask: how it joins those before it, its handles on the picture, inside out, its softness. */
export function AreaRow({ area, put, onRemove }: RowProps) {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((s) => s.desk.area === area.id);
  const name = areaName(area);
  const index = JOINS.findIndex(([join]) => join === area.join);
  const [, sign, words] = JOINS[index];
  return (
    <>
      <div className="area">
        <button className="flat sign" title={`${words}; click for the next way`} aria-label={`${name} ${words}`} onClick={() => put({ ...area, join: JOINS[(index + 1) % JOINS.length][0] }, true)}>{sign}</button>
        {handlesOf(area).length > 0
          ? <button className="flat named" aria-pressed={chosen} title="Its handles on the picture" onClick={() => dispatch(areaChosen(area.id))}>{name}{area.inverted ? ', inverted' : ''}</button>
          : <span>{name}{area.inverted ? ', inverted' : ''}</span>}
        <button className="flat last" onClick={() => put({ ...area, inverted: !area.inverted }, true)} title="Inside out" aria-label={`Turn ${name} inside out`}>⇄</button>
        <button className="flat" onClick={onRemove} aria-label={`Remove ${name}`}>×</button>
      </div>
      {chosen && 'softness' in area && <Slide label="Softness" value={area.softness} min={0} max={area.kind === 'spot' ? 1 : 0.2} step={area.kind === 'spot' ? 0.01 : 0.001} show={percent} onChange={(softness, done) => put({ ...area, softness }, done)} />}
    </>
  );
}
