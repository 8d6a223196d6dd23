import { notifications } from '@mantine/notifications';
import { useEffect, useState } from 'react';
import { useHotkeys, type HotkeyCallback } from 'react-hotkeys-hook';
import { toldStance } from '@zaddle/core/read/leaningReading';
import type { StanceFound } from '@zaddle/core/geometry/estimateStance';
import { inOrder, ownCropOf } from '@zaddle/core/mix/orderMix';
import { MOST_LINES, type Command, type Framing, type MixDocument } from '@zaddle/document';
import { ratioWords, type OrderOption } from '../outbox/orders';
import { KEYS_WHEREVER } from '../frame/keysWherever';
import type { Frame, Shot } from '../store/api';
import { cropWorkedOn, liningToggled, panelOpened } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { costWords, framedFor, framingFor, framingNow, grownCrop, inRatio, movedCrop, RATIOS, stanceWords, straightenedBy, WAYS, withoutLine, type StraightenWay } from './framing';
import { fineDegrees, percent } from './showValues';
import { Slide } from './Slide';

interface FramingProps {
  readonly shot: Shot;
  readonly mix: MixDocument;
  /** The mix without what is being dragged. */
  readonly standing: MixDocument;
  readonly frames: readonly Frame[];
  /** All orders that a crop may be chosen for. */
  readonly orders: readonly OrderOption[];
  readonly onAct: (command: Command, done: boolean) => void;
  /** Asks the engine how the camera stood. */
  readonly stance: (focal: number, tell: (stance: StanceFound | null) => void) => void;
}

const WAY_WORDS: Readonly<Record<StraightenWay, string>> = { 'as shot': 'As shot', level: 'Level', verticals: 'Verticals', both: 'Verticals and horizontals' };
/** Shares of the crop that a key moves and grows it by. */
const STEP = 0.01;
const GROW = 1.02;
const SAME = 0.02;

/** A key of this panel. Sliders keep their arrows. */
const useFramingKey = (keys: string, act: HotkeyCallback): void => void useHotkeys(keys, act, KEYS_WHEREVER);

/** What was measured of how the camera stood: told with the shot, else by the engine. */
function useStance({ shot, mix, frames, stance }: Pick<FramingProps, 'shot' | 'mix' | 'frames' | 'stance'>): StanceFound | null | 'asked' {
  const told = toldStance(shot.readings);
  const isTold = told?.frame === mix.reference;
  const [measured, setMeasured] = useState<StanceFound | null | 'asked'>('asked');
  const { focal } = framingNow(mix, frames);
  useEffect(() => {
    if (!isTold) stance(focal, setMeasured);
    // Once for each reference: it is the reference that is measured.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isTold, mix.reference]);
  return isTold ? told : measured;
}

/** Ratios that orders ask for, each with what they are called. */
function ratiosOf(orders: readonly OrderOption[]): [number, string][] {
  const ratios = [...new Set(orders.flatMap(({ order: { ratio } }) => (ratio === null ? [] : [ratio])))];
  return ratios.map((ratio) => [ratio, `${ratioWords(ratio)}: ${orders.filter(({ order }) => order.ratio === ratio).map(({ label }) => label).join(', ')}`]);
}

/** How the picture is straightened and cropped. */
export function FramingPanel({ shot, mix, standing, frames, orders, onAct, stance: askStance }: FramingProps) {
  const dispatch = useAppDispatch();
  const { lining, cropFor } = useAppSelector((s) => s.desk);
  const framing = framingFor(mix, frames, cropFor);
  const cropped = inOrder(mix, { ratio: cropFor });
  const stance = useStance({ shot, mix: standing, frames, stance: askStance });
  const frame = (next: Framing, done = true): void => {
    try {
      onAct(framedFor(standing, frames, cropFor, next), done);
    } catch (error) {
      notifications.show({ color: 'red', title: 'Not done', message: (error as Error).message });
    }
  };
  const now = (): Framing => framingFor(standing, frames, cropFor);
  const change = (changes: Partial<Framing>, done: boolean): void => frame({ ...now(), ...changes }, done);
  const by = (way: StraightenWay): Framing | null => straightenedBy(now(), way, stance === 'asked' ? null : stance);
  const isBy = (way: StraightenWay): boolean => {
    const wish = by(way);
    return framing.lines.length === 0 && wish !== null && Math.abs(wish.roll - framing.roll) + Math.abs(wish.pitch - framing.pitch) + Math.abs(wish.yaw - framing.yaw) < SAME;
  };
  const nudge = (dx: number, dy: number) => (event: KeyboardEvent): void => {
    event.preventDefault();
    const step = event.shiftKey ? 1 : STEP * cropped.width;
    frame(movedCrop(standing, now(), dx * step, dy * step));
  };
  useFramingKey('left,shift+left', nudge(-1, 0));
  useFramingKey('right,shift+right', nudge(1, 0));
  useFramingKey('up,shift+up', nudge(0, -1));
  useFramingKey('down,shift+down', nudge(0, 1));
  useFramingKey('bracketleft', () => frame(grownCrop(standing, now(), 1 / GROW)));
  useFramingKey('bracketright', () => frame(grownCrop(standing, now(), GROW)));
  useFramingKey('shift+bracketleft', () => change({ turn: now().turn - 0.1 }, true));
  useFramingKey('shift+bracketright', () => change({ turn: now().turn + 0.1 }, true));
  useFramingKey('enter', () => dispatch(panelOpened('pass')));
  useFramingKey('escape', () => dispatch(lining ? liningToggled() : panelOpened('pass')));
  const home = standing.frames[standing.reference];
  const own = home.width / home.height;
  const named = RATIOS.flatMap(([name, value]) => [[name, value], ...(value === 1 || name === '4:5' || name === '5:4' ? [] : [[`${name}, tall`, 1 / value]])] as [string, number][]);
  const chosen = framing.ratio === null ? (framing.crop ? 'any' : 'own') : (named.find(([, value]) => Math.abs(value - framing.ratio!) < 1e-6)?.[0] ?? 'own');
  const choose = (name: string): void => frame(name === 'any' ? inRatio(standing, now(), null) : inRatio(standing, now(), name === 'own' ? own : named.find(([each]) => each === name)![1]));
  return (
    <aside className="side right" aria-label="Straighten and crop">
      <h4>Straighten</h4>
      <p className="soft" role="status">{stance === 'asked' ? 'Looking for straight edges…' : stance ? stanceWords(stance) : 'The reference could not be looked at. Draw lines on what is straight.'}</p>
      <div className="tools">
        {WAYS.map((way) => <button key={way} disabled={by(way) === null} aria-pressed={isBy(way)} onClick={() => frame(by(way)!)}>{WAY_WORDS[way]}</button>)}
      </div>
      <div className="tools">
        <button aria-pressed={lining} disabled={framing.lines.length >= MOST_LINES} title="Drag along what is vertical or level in the room; each line snaps to the edge beside it" onClick={() => dispatch(liningToggled())}>Draw lines</button>
        <button disabled={framing.lines.length === 0} onClick={() => frame({ ...now(), roll: 0, pitch: 0, yaw: 0, lines: [] })}>{framing.lines.length === 0 ? 'No lines' : `Take back ${framing.lines.length === 1 ? 'the line' : `${framing.lines.length} lines`}`}</button>
      </div>
      {framing.lines.length > 0 && (
        <div className="line-list" role="group" aria-label="Lines">
          {framing.lines.map((_, k) => <button key={k} className="flat" aria-label={`Take back line ${k + 1}`} onClick={() => frame(withoutLine(standing, now(), k))}>Line {k + 1} ×</button>)}
        </div>
      )}
      <Slide label="Strength" value={framing.strength} min={0} max={1} step={0.01} rest={1} show={percent} onChange={(strength, done) => change({ strength }, done)} />
      <Slide label="Turn" value={framing.turn} min={-10} max={10} step={0.05} rest={0} show={fineDegrees} onChange={(turn, done) => change({ turn }, done)} />
      <Slide label="Hung by" value={framing.roll} min={-12} max={12} step={0.05} rest={0} show={fineDegrees} onChange={(roll, done) => change({ roll }, done)} />
      <Slide label="Looked up" value={framing.pitch} min={-25} max={25} step={0.05} rest={0} show={fineDegrees} onChange={(pitch, done) => change({ pitch }, done)} />
      <Slide label="Looked aside" value={framing.yaw} min={-20} max={20} step={0.05} rest={0} show={fineDegrees} onChange={(yaw, done) => change({ yaw }, done)} />
      <Slide label="Proportion" value={framing.stretch} min={0.8} max={1.25} step={0.005} rest={1} show={percent} onChange={(stretch, done) => change({ stretch }, done)} />
      <h4>Crop</h4>
      <label className="row">Of{' '}
        <select aria-label="Crop of" title="Orders of another ratio show as much of the picture’s crop as fits, unless they have one of their own" value={cropFor === null ? '' : String(cropFor)} onChange={(e) => { dispatch(cropWorkedOn(e.currentTarget.value === '' ? null : Number(e.currentTarget.value))); e.currentTarget.blur(); }}>
          <option value="">the picture</option>
          {ratiosOf(orders).map(([ratio, words]) => <option key={ratio} value={String(ratio)}>{words}{ownCropOf(mix, ratio) ? ', its own' : ''}</option>)}
        </select>
      </label>
      <label className="row">Ratio{' '}
        <select aria-label="Ratio" disabled={cropFor !== null} value={chosen} onChange={(e) => { choose(e.currentTarget.value); e.currentTarget.blur(); }}>
          <option value="own">as the frame</option>
          {named.map(([name]) => <option key={name} value={name}>{name}</option>)}
          <option value="any">any</option>
        </select>
      </label>
      <div className="tools">
        <button disabled={framing.ratio === 1 || cropFor !== null} onClick={() => frame(inRatio(standing, now(), 1 / (framing.ratio ?? standing.width / standing.height)))}>Turn the ratio</button>
        {cropFor === null
          ? <button disabled={framing.crop === null} onClick={() => frame({ ...now(), ratio: framing.ratio ?? standing.width / standing.height, crop: null })}>The largest</button>
          : <button disabled={ownCropOf(standing, cropFor) === null} onClick={() => frame({ ...now(), crop: null })}>As the picture’s</button>}
      </div>
      <p className="soft" data-testid="crop-cost">{costWords(cropped)}</p>
      <div className="tools"><button onClick={() => dispatch(panelOpened('pass'))}>Done</button></div>
    </aside>
  );
}
