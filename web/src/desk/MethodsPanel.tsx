import { useEffect, useMemo, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { notifications } from '@mantine/notifications';
import { hasMethod, methodStep } from '@zaddle/core/method/methodStep';
import { PART_TITLES, partWords } from '@zaddle/core/method/partWords';
import type { MethodChoice } from '@zaddle/core/method/placeMethod';
import { toldStance } from '@zaddle/core/read/leaningReading';
import { PART_NAMES, type Command, type MixDocument, type PartName } from '@zaddle/document';
import type { Engine } from '../engine/useEngine';
import { KEYS_WHEREVER } from '../frame/keysWherever';
import { KEYED, sketchesOf, sketchOf, whole } from '../methods/choices';
import { GiveMethod } from '../methods/GiveMethod';
import { KeepMethod } from '../methods/KeepMethod';
import { useMethodsQuery, type Shot } from '../store/api';
import { panelOpened } from '../store/deskSlice';
import { useAppDispatch } from '../store/store';
import { percent } from './showValues';
import { Sketch } from './Sketch';
import { Slide } from './Slide';

/** Pixels across of a method's picture. */
const ACROSS = 240;
/** Milliseconds that a mix stands before methods are drawn on it: nobody looks at them in the middle of work. */
const AT_REST = 250;

interface MethodsProps {
  readonly shot: Shot;
  readonly mix: MixDocument;
  /** The mix without what is being dragged. */
  readonly standing: MixDocument;
  /** The server has every change. */
  readonly saved: boolean;
  readonly sketches: Engine['state']['sketches'];
  readonly ask: Engine['sketch'];
  readonly onAct: (command: Command, done: boolean) => void;
}

/** Methods as they would look on this shot; the one that it has, with its strength and its parts; and the way to other shots. */
export function MethodsPanel({ shot, mix, standing, saved, sketches, ask, onAct }: MethodsProps) {
  const dispatch = useAppDispatch();
  const { data: methods = [] } = useMethodsQuery();
  const [keeping, setKeeping] = useState(false);
  const stance = useMemo(() => toldStance(shot.readings), [shot]);
  const applied = mix.method ?? null;
  useEffect(() => {
    const timer = setTimeout(() => ask(sketchesOf(standing, methods, stance, ACROSS)), AT_REST);
    return () => clearTimeout(timer);
  }, [ask, standing, methods, stance]);
  const give = (choice: MethodChoice | null, done: boolean): void => {
    try {
      onAct(methodStep(standing, choice, stance).command, done);
    } catch (error) {
      notifications.show({ color: 'red', title: 'Not done', message: (error as Error).message });
    }
  };
  const take = (k: number): void => {
    const kept = methods[k] as (typeof methods)[number] | undefined;
    if (kept && !hasMethod(standing, kept.method)) give(whole(kept.method), true);
  };
  const done = (): void => void dispatch(panelOpened('pass'));
  useHotkeys('enter,escape', done, { ...KEYS_WHEREVER, enabled: !keeping });
  useHotkeys(Array.from({ length: KEYED }, (_, k) => String(k + 1)).join(), (event) => take(Number(event.key) - 1), { ...KEYS_WHEREVER, enabled: !keeping }, [methods, standing, stance]);
  const lacking = useMemo(() => (standing.method ? methodStep(standing, standing.method, stance).lacking : []), [standing, stance]);
  const switched = (part: PartName): void => {
    if (applied) give({ ...applied, off: applied.off.includes(part) ? applied.off.filter((each) => each !== part) : [...applied.off, part] }, true);
  };
  return (
    <aside className="side right methods" aria-label="Methods">
      <h4>Methods</h4>
      <div className="method-cards" role="radiogroup" aria-label="Methods on this shot">
        {methods.map(({ id, method }, k) => (
          <button key={id} role="radio" aria-checked={hasMethod(standing, method)} aria-label={method.name} title={`${method.what}${method.what ? ' · ' : ''}${method.room}, ${method.light}`} onClick={() => take(k)}>
            <Sketch picture={sketchOf(sketches, id)} />
            <span>{k < KEYED && <kbd>{k + 1}</kbd>} {method.name}</span>
          </button>
        ))}
      </div>
      {applied && (
        <>
          <h4 className="with-act">{applied.method.name} <button className="flat" onClick={() => give(null, true)}>Take off</button></h4>
          <Slide label="Strength" value={applied.strength} min={0} max={1} step={0.01} rest={1} show={percent} onChange={(strength, end) => give({ ...applied, strength }, end)} />
          {PART_NAMES.filter((name) => applied.method.parts[name] !== undefined).map((name) => {
            const why = lacking.find(({ part }) => part === name)?.why;
            return (
              <label key={name} className="check part" title={partWords(name, applied.method.parts[name]!)}>
                <input type="checkbox" checked={!applied.off.includes(name)} onChange={() => switched(name)} />
                <span>{PART_TITLES[name]}{why && <span className="soft">: left alone, {why}</span>}</span>
              </label>
            );
          })}
          <GiveMethod shot={shot.id} shoot={shot.shootId} applied={standing.method ?? applied} />
        </>
      )}
      <div className="tools">
        <button disabled={!saved} onClick={() => setKeeping(true)}>Keep as a method…</button>
        <button onClick={done}>Done</button>
      </div>
      {keeping && <KeepMethod shot={shot.id} onClose={() => setKeeping(false)} />}
    </aside>
  );
}
