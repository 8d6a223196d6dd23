import { useState } from 'react';
import type { Area, AreaBorder, MixDocument, PixelsOf } from '@zaddle/document';
import { areaName, fieldsOf } from '../area/areas';
import type { AreaField } from '../area/areaView';
import { areaChosen, snapAsked, spotSearched, toolTaken } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { percent } from './showValues';
import { Slide } from './Slide';
import { spotOf } from './useSpotPointer';

interface RowProps {
  readonly mix: MixDocument;
  readonly pass: string;
  readonly area: Area;
  readonly put: (next: Area, done: boolean) => void;
  readonly onRemove: () => void;
}

const JOINS = [['add', '+', 'joins what is above'], ['subtract', '−', 'is taken from it'], ['intersect', '∩', 'limits it']] as const;
const NO_BORDER: AreaBorder = { grow: 0, soften: 0, snap: null };
const isNone = ({ grow, soften, snap }: AreaBorder): boolean => grow === 0 && soften === 0 && snap === null;
const side: typeof percent = (v) => `${v > 0 ? '+' : v < 0 ? '−' : ''}${(Math.abs(v) * 100).toFixed(1)} %`;

/** Its border, after the fact: grown or shrunk, softened, made to follow the edges of the reference. */
function Border({ mix, area, put }: Pick<RowProps, 'mix' | 'area' | 'put'>) {
  const border = area.border ?? NO_BORDER;
  const change = (changes: Partial<AreaBorder>, done: boolean): void => {
    const { border: _, ...plain } = area;
    const next = { ...border, ...changes };
    put((isNone(next) ? plain : { ...plain, border: next }) as Area, done);
  };
  return (
    <>
      <Slide label="Grow" value={border.grow} min={-0.05} max={0.05} step={0.0005} rest={0} show={side} onChange={(grow, done) => change({ grow }, done)} />
      <Slide label="Soften" value={border.soften} min={0} max={0.1} step={0.001} rest={0} show={percent} onChange={(soften, done) => change({ soften }, done)} />
      <label className="check"><input type="checkbox" checked={border.snap !== null} onChange={(e) => change({ snap: e.currentTarget.checked ? mix.reference : null }, true)} />Follow edges</label>
    </>
  );
}

/** Whose pixels it looks at. */
function Pixels({ mix, of, put }: { mix: MixDocument; of: PixelsOf; put: (of: PixelsOf) => void }) {
  const same = of.kind === 'below';
  return <label className="check"><input type="checkbox" checked={!same} onChange={() => put(same ? { kind: 'frame', frame: mix.reference } : { kind: 'below' })} />Of the reference as shot, not of what is below</label>;
}

/** A number of an area; one that takes a while is put when its knob is let go of. */
function Field({ field: { label, value, min, max, step, show, late, put: set }, put }: { field: AreaField<Area>; put: RowProps['put'] }) {
  const [held, setHeld] = useState<number | null>(null);
  const change = (v: number, done: boolean): void => {
    if (late) setHeld(done ? null : v);
    if (!late || done) put(set(v), done);
  };
  return <Slide label={label} value={held ?? value} min={min} max={max} step={step} show={show} onChange={change} />;
}

/** Kinds that say by themselves where a place is, whatever pass they lie on. */
const SEARCHED: readonly Area['kind'][] = ['spot', 'outline', 'box', 'brush'];

/** What the chosen area can be set to. */
function Details({ mix, pass, area, put }: Pick<RowProps, 'mix' | 'pass' | 'area' | 'put'>) {
  const dispatch = useAppDispatch();
  const { tool, snapping } = useAppSelector((s) => s.desk);
  return (
    <div className="details">
      {fieldsOf(area).map((field) => <Field key={field.label} field={field} put={put} />)}
      {(area.kind === 'tones' || area.kind === 'hues') && <div className="tools"><button aria-pressed={tool === 'sample'} onClick={() => dispatch(toolTaken(tool === 'sample' ? 'pan' : 'sample'))} title="Click a place of the picture that has it">Point at it</button></div>}
      {(area.kind === 'outline' || area.kind === 'box') && <div className="tools"><button title="Moves each segment onto the edge of the picture near it; points stay editable" disabled={snapping} onClick={() => dispatch(snapAsked({ pass, area: area.id }))}>{snapping ? 'Looking for edges…' : 'Snap to edges'}</button></div>}
      {SEARCHED.includes(area.kind) && <div className="tools"><button title="The same place from every frame, side by side" onClick={() => dispatch(spotSearched(spotOf(area)))}>Search in all frames</button><button title="From the picture about it, in a pass of its own" onClick={() => dispatch(spotSearched({ ...spotOf(area), heals: true }))}>Heal</button></div>}
      {'of' in area && <Pixels mix={mix} of={area.of} put={(of) => put({ ...area, of }, true)} />}
      <Border mix={mix} area={area} put={put} />
    </div>
  );
}

/** One area of a mask: how it joins those before it, inside out, and, when it is chosen, its handles on the picture and all that it can be set to. */
export function AreaRow({ mix, pass, area, put, onRemove }: RowProps) {
  const dispatch = useAppDispatch();
  const chosen = useAppSelector((s) => s.desk.area === area.id);
  const name = area.kind === 'same' ? `Mask of ${mix.passes.find((p) => p.id === area.pass)?.name ?? 'another pass'}` : areaName(area);
  const index = JOINS.findIndex(([join]) => join === area.join);
  const [, sign, words] = JOINS[index];
  return (
    <>
      <div className="area">
        <button className="flat sign" title={`${words}; click for the next way`} aria-label={`${name} ${words}`} onClick={() => put({ ...area, join: JOINS[(index + 1) % JOINS.length][0] }, true)}>{sign}</button>
        <button className="flat named" aria-pressed={chosen} title="Its handles on the picture, and what it can be set to" onClick={() => dispatch(areaChosen(area.id))}>{name}{area.inverted ? ', inverted' : ''}</button>
        <button className="flat last" onClick={() => put({ ...area, inverted: !area.inverted }, true)} title="Inside out" aria-label={`Turn ${name} inside out`}>⇄</button>
        <button className="flat" onClick={onRemove} aria-label={`Remove ${name}`}>×</button>
      </div>
      {chosen && <Details mix={mix} pass={pass} area={area} put={put} />}
    </>
  );
}
