import { useHotkeys } from 'react-hotkeys-hook';
import { KEYS_WHEREVER } from '../frame/keysWherever';

/** What keys do on the wall. */
export interface WallActions {
  readonly step: (by: readonly [number, number]) => void;
  readonly shift: (by: -1 | 1) => void;
  readonly enlarge: () => void;
  readonly back: () => void;
  readonly choose: () => void;
  readonly compare: () => void;
  readonly approve: () => void;
  readonly sendBack: () => void;
  readonly later: () => void;
  readonly unmark: () => void;
  readonly before: (shown: boolean) => void;
  readonly desk: () => void;
  readonly size: (by: number) => void;
  readonly together: () => void;
  readonly order: () => void;
}

export function useWallKeys(act: WallActions): void {
  useHotkeys('right', () => act.step([1, 0]), KEYS_WHEREVER);
  useHotkeys('left', () => act.step([-1, 0]), KEYS_WHEREVER);
  useHotkeys('down', (event) => { event.preventDefault(); act.step([0, 1]); }, KEYS_WHEREVER);
  useHotkeys('up', (event) => { event.preventDefault(); act.step([0, -1]); }, KEYS_WHEREVER);
  useHotkeys('shift+right', () => act.shift(1), KEYS_WHEREVER);
  useHotkeys('shift+left', () => act.shift(-1), KEYS_WHEREVER);
  useHotkeys('enter', act.enlarge, { ...KEYS_WHEREVER, ignoreEventWhen: (event) => event.target instanceof HTMLButtonElement || event.target instanceof HTMLAnchorElement || KEYS_WHEREVER.ignoreEventWhen!(event) });
  useHotkeys('escape', act.back, KEYS_WHEREVER);
  useHotkeys('v', act.choose, KEYS_WHEREVER);
  useHotkeys('c', act.compare, KEYS_WHEREVER);
  useHotkeys('y', act.approve, KEYS_WHEREVER);
  useHotkeys('n', (event) => { event.preventDefault(); act.sendBack(); }, KEYS_WHEREVER);
  useHotkeys('l', act.later, KEYS_WHEREVER);
  useHotkeys('u', act.unmark, KEYS_WHEREVER);
  useHotkeys('b', () => act.before(true), { ...KEYS_WHEREVER, keydown: true });
  useHotkeys('b', () => act.before(false), { ...KEYS_WHEREVER, keyup: true, keydown: false });
  useHotkeys('o', act.desk, KEYS_WHEREVER);
  useHotkeys('comma', () => act.size(-1), KEYS_WHEREVER);
  useHotkeys('period', () => act.size(1), KEYS_WHEREVER);
  useHotkeys('t', act.together, KEYS_WHEREVER);
  useHotkeys('s', act.order, KEYS_WHEREVER);
}
