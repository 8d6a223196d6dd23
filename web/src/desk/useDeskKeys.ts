import { useHotkeys, type HotkeyCallback } from 'react-hotkeys-hook';
import type { Pass, PassChanges } from '@zaddle/document';
import { DRAWN } from '../area/areas';
import { KEYS_WHEREVER } from '../frame/keysWherever';
import { lookChosen, panelOpened, radiusScaled, selected as select, softnessSet, soloed, strengthSet, toolTaken } from '../store/deskSlice';
import { useAppDispatch, useAppSelector } from '../store/store';

interface DeskKeys {
  readonly passes: readonly Pass[];
  readonly onChange: (id: string, changes: PassChanges, done: boolean) => void;
  readonly onStep: (direction: 'undo' | 'redo') => void;
  readonly onZoom: (kind: 'whole' | 'one') => void;
}

/** A key of the desk. */
const useDeskKey = (keys: string, act: HotkeyCallback): void => void useHotkeys(keys, act, KEYS_WHEREVER);

/** Keyboard of the desk; listed for people in `frame/shortcuts.ts`. */
export function useDeskKeys({ passes, onChange, onStep, onZoom }: DeskKeys): void {
  const dispatch = useAppDispatch();
  const { selected, softness, panel } = useAppSelector((s) => s.desk);
  const pass = passes.find((p) => p.id === selected);
  const neighbour = (by: number): void => {
    const index = passes.findIndex((p) => p.id === selected);
    const next = passes[Math.max(0, Math.min(passes.length - 1, index < 0 ? 0 : index + by))];
    if (next) dispatch(select(next.id));
  };
  useDeskKey('p', () => dispatch(toolTaken('reveal')));
  useDeskKey('o', () => dispatch(toolTaken('hide')));
  useDeskKey(DRAWN.map(({ key }) => key).join(), (event) => dispatch(toolTaken(DRAWN.find(({ key }) => key === event.key.toLowerCase())!.kind)));
  useDeskKey('escape', () => dispatch(toolTaken('pan')));
  useDeskKey('comma', () => dispatch(radiusScaled(1 / 1.2)));
  useDeskKey('period', () => dispatch(radiusScaled(1.2)));
  useDeskKey('semicolon', () => dispatch(softnessSet(softness - 0.1)));
  useDeskKey('quote', () => dispatch(softnessSet(softness + 0.1)));
  useDeskKey('0,1,2,3,4,5,6,7,8,9', (event) => dispatch(strengthSet(event.key === '0' ? 1 : Number(event.key) / 10)));
  useDeskKey('k', () => neighbour(-1));
  useDeskKey('l', () => neighbour(1));
  useDeskKey('m', () => pass && onChange(pass.id, { on: !pass.on }, true));
  useDeskKey('s', () => pass && dispatch(soloed(pass.id)));
  useDeskKey('b', () => dispatch(lookChosen('before')));
  useDeskKey('c', () => dispatch(lookChosen('clipping')));
  useDeskKey('a', () => dispatch(panelOpened(panel === 'lineUp' ? 'pass' : 'lineUp')));
  useDeskKey('w', () => onZoom('whole'));
  useDeskKey('e', () => onZoom('one'));
  useDeskKey('ctrl+z,meta+z', (event) => { event.preventDefault(); onStep('undo'); });
  useDeskKey('ctrl+shift+z,meta+shift+z', (event) => { event.preventDefault(); onStep('redo'); });
}
