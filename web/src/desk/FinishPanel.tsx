import { useHotkeys } from 'react-hotkeys-hook';
import { USUAL_SHARPENING } from '@zaddle/core/finish/sharpen';
import type { Command, MixDocument, Sharpening } from '@zaddle/document';
import { KEYS_WHEREVER } from '../frame/keysWherever';
import { lookChosen, panelOpened } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';
import { NoiseFields } from './NoiseFields';
import { percent, pixels, tenthsPercent } from './showValues';
import { Slide } from './Slide';
import type { StageQuestions } from './Stage';

interface FinishProps {
  readonly mix: MixDocument;
  readonly grain: StageQuestions['grain'];
  readonly onAct: (command: Command, done: boolean) => void;
}

/** What is done to the finished picture: noise taken away, and then it is sharpened. */
export function FinishPanel({ mix, grain, onAct }: FinishProps) {
  const dispatch = useAppDispatch();
  const look = useAppSelector((s) => s.desk.look);
  const done = (): void => void dispatch(panelOpened('pass'));
  useHotkeys('enter,escape', done, KEYS_WHEREVER);
  const sharpening = mix.sharpening ?? null;
  const set = (next: Sharpening | null, isDone: boolean): void => onAct({ kind: 'changeMix', changes: { sharpening: next } }, isDone);
  const change = (changes: Partial<Sharpening>, isDone: boolean): void => set({ ...(sharpening ?? USUAL_SHARPENING), ...changes }, isDone);
  return (
    <aside className="side right" aria-label="Noise and sharpening">
      <h4>Noise</h4>
      <NoiseFields noise={mix.noise ?? null} grain={grain} onChange={(noise, isDone) => onAct({ kind: 'changeMix', changes: { noise } }, isDone)} />
      <h4>Sharpening</h4>
      <label className="check"><input type="checkbox" checked={sharpening !== null} onChange={(e) => set(e.currentTarget.checked ? USUAL_SHARPENING : null, true)} /> Sharpen the picture</label>
      {sharpening && (
        <>
          <Slide label="Amount" value={sharpening.amount} min={0} max={3} step={0.05} rest={USUAL_SHARPENING.amount} show={percent} onChange={(amount, end) => change({ amount }, end)} />
          <Slide label="Radius" value={sharpening.radius} min={0.3} max={3} step={0.05} rest={USUAL_SHARPENING.radius} show={pixels} onChange={(radius, end) => change({ radius }, end)} />
          <Slide label="Edges from" value={sharpening.edges} min={0} max={0.3} step={0.005} rest={USUAL_SHARPENING.edges} show={tenthsPercent} onChange={(edges, end) => change({ edges }, end)} />
          <Slide label="Halo, most" value={sharpening.halo} min={0} max={0.2} step={0.005} rest={USUAL_SHARPENING.halo} show={tenthsPercent} onChange={(halo, end) => change({ halo }, end)} />
          <div className="tools"><button aria-pressed={look === 'edges'} onClick={() => dispatch(lookChosen('edges'))}>Show edges</button></div>
          <p className="soft">Steps of brightness smaller than “Edges from”, such as noise and plain walls, are left alone. Judge it at 1:1 (e): smaller, most of it is finer than the screen.</p>
        </>
      )}
      <div className="tools"><button onClick={done}>Done</button></div>
    </aside>
  );
}
