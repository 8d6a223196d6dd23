import { useHotkeys } from 'react-hotkeys-hook';
import type { Pass, PassChanges } from '@zaddle/document';
import { lookChosen, radiusScaled, selected as select, softnessSet, soloed, strengthSet, toolTaken } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';

interface DeskKeys {
  readonly passes: readonly Pass[];
  readonly onChange: (id: string, changes: PassChanges, done: boolean) => void;
  readonly onStep: (direction: 'undo' | 'redo') => void;
  readonly onZoom: (kind: 'whole' | 'one') => void;
}

/** Keyboard of the desk; listed for people in `frame/shortcuts.ts`. */
export function useDeskKeys({ passes, onChange, onStep, onZoom }: DeskKeys): void {
  const dispatch = useAppDispatch();
  const { selected, softness } = useAppSelector((s) => s.desk);
  const pass = passes.find((p) => p.id === selected);
  const neighbour = (by: number): void => {
    const index = passes.findIndex((p) => p.id === selected);
    const next = passes[Math.max(0, Math.min(passes.length - 1, index < 0 ? 0 : index + by))];
    if (next) dispatch(select(next.id));
  };
  useHotkeys('p', () => dispatch(toolTaken('reveal')));
  useHotkeys('o', () => dispatch(toolTaken('hide')));
  useHotkeys('r', () => dispatch(toolTaken('ramp')));
  useHotkeys('escape', () => dispatch(toolTaken('pan')));
  useHotkeys('comma', () => dispatch(radiusScaled(1 / 1.2)));
  useHotkeys('period', () => dispatch(radiusScaled(1.2)));
  useHotkeys('semicolon', () => dispatch(softnessSet(softness - 0.1)));
  useHotkeys('quote', () => dispatch(softnessSet(softness + 0.1)));
  useHotkeys('0,1,2,3,4,5,6,7,8,9', (event) => dispatch(strengthSet(event.key === '0' ? 1 : Number(event.key) / 10)));
  useHotkeys('k', () => neighbour(-1));
  useHotkeys('l', () => neighbour(1));
  useHotkeys('m', () => pass && onChange(pass.id, { on: !pass.on }, true));
  useHotkeys('s', () => pass && dispatch(soloed(pass.id)));
  useHotkeys('b', () => dispatch(lookChosen('before')));
  useHotkeys('c', () => dispatch(lookChosen('clipping')));
  useHotkeys('w', () => onZoom('whole'));
  useHotkeys('e', () => onZoom('one'));
  useHotkeys('ctrl+z,meta+z', (event) => { event.preventDefault(); onStep('undo'); });
  useHotkeys('ctrl+shift+z,meta+shift+z', (event) => { event.preventDefault(); onStep('redo'); });
}
