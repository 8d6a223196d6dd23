import { notifications } from '@mantine/notifications';
import { useEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { Command, MixDocument } from '@zaddle/document';
import type { HealWay } from '../engine/healSpot';
import type { Engine } from '../engine/useEngine';
import { KEYS_WHEREVER } from '../frame/keysWherever';
import { selected as select, spotSearched, type SearchedSpot } from '../store/deskSlice';
import { useAppDispatch } from '../store/store';
import { healing, type Healing } from './healing';
import { toStage } from './stagePlaces';
import type { Viewport } from './useViewport';

/** How far the bar stays off a place, and its size, screen pixels. */
const OFF = 14;
const WIDTH = 320;
const HEIGHT = 40;

interface HealProps {
  readonly spot: SearchedSpot;
  readonly mix: MixDocument;
  /** The mix as it stands, also when this bar is gone. */
  readonly mixNow: () => MixDocument;
  readonly view: Viewport;
  readonly stage: { readonly width: number; readonly height: number };
  readonly heal: Engine['heal'];
  readonly onAct: (command: Command, done: boolean) => void;
  readonly onUndo: () => void;
}

/** A place that is healed as soon as it is pointed at; arrows go through the ways to do it, and the next click heals the next place. */
export function SpotHeal({ spot, mix, mixNow, view, stage, heal, onAct, onUndo }: HealProps) {
  const dispatch = useAppDispatch();
  const [ways, setWays] = useState<readonly HealWay[]>([]);
  const [taken, setTaken] = useState(0);
  const [working, setWorking] = useState(true);
  /** What was done, once it was. */
  const done = useRef<Healing | null>(null);
  /** Steps that were taken for this place. */
  const steps = useRef(0);
  useEffect(() => {
    let alive = true;
    heal(mixNow(), spot.areas, ({ way, more }) => {
      if (alive) setWorking(more);
      if (!way) {
        if (done.current || more) return;
        notifications.show({ color: 'red', title: 'Not healed', message: 'Nothing about this place is large enough to heal it from. Point at a smaller one, or search all frames for it (/).' });
        if (alive) dispatch(spotSearched(null));
        return;
      }
      if (alive) setWays((before) => [...before, way]);
      if (done.current) return;
      // Whoever pointed at the next place already gets this one healed all the same.
      done.current = healing(mixNow().passes, spot.areas, way);
      steps.current += 1;
      onAct(done.current.command, true);
      if (alive) dispatch(select(done.current.pass));
    });
    return () => void (alive = false);
    // Once a place; another one is another bar.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  const take = (k: number): void => {
    const healed = done.current;
    if (!healed || k < 0 || k >= ways.length || k === taken) return;
    setTaken(k);
    steps.current += 1;
    onAct({ kind: 'changePass', id: healed.pass, changes: { patches: [...healed.others, ...ways[k].patches], softness: ways[k].softness } }, true);
  };
  const close = (): void => void dispatch(spotSearched(null));
  const remove = (): void => {
    for (; steps.current > 0; steps.current--) onUndo();
    close();
  };
  const keys = { ...KEYS_WHEREVER, preventDefault: true };
  useHotkeys('right,down', () => take(taken + 1), keys, [ways, taken]);
  useHotkeys('left,up', () => take(taken - 1), keys, [ways, taken]);
  useHotkeys('escape,enter', close, keys);
  const place = toStage(mix, view)(spot.at);
  const [area] = spot.areas;
  const reach = area.kind === 'spot' ? Math.hypot(toStage(mix, view)(area.rim)[0] - place[0], toStage(mix, view)(area.rim)[1] - place[1]) : 40;
  const below = place[1] + reach + OFF;
  const style = { left: Math.max(8, Math.min(place[0] - WIDTH / 2, stage.width - WIDTH - 8)), top: below + HEIGHT <= stage.height ? below : Math.max(8, place[1] - reach - OFF - HEIGHT) };
  return (
    <div className="spot-heal" style={style} role="radiogroup" aria-label="Ways to heal this place" data-testid="spot-heal" data-ways={ways.length} data-working={working} onPointerDown={(e) => e.stopPropagation()}>
      {ways.map((_, k) => <button key={k} className="flat" role="radio" aria-checked={taken === k} aria-label={`Way ${k + 1}`} title="← →" onClick={() => take(k)}>{k + 1}</button>)}
      <span className="soft">{working ? (ways.length === 0 ? 'Healing…' : 'Looking for others…') : ways.length > 1 ? '← → other ways' : ''}</span>
      {ways.length > 0 && <button className="flat" onClick={remove}>Take back</button>}
    </div>
  );
}
