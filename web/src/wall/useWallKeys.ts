import { useHotkeys } from 'react-hotkeys-hook';
import { KEYS_WHEREVER } from '../frame/keysWherever';

/** What keys do on the wall. */
interface WallActions {
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

/** @param over something lies over the wall that keys are for */
export function useWallKeys(act: WallActions, over: boolean): void {
  const keys = { ...KEYS_WHEREVER, enabled: !over };
  useHotkeys('right', () => act.step([1, 0]), keys);
  useHotkeys('left', () => act.step([-1, 0]), keys);
  useHotkeys('down', (event) => { event.preventDefault(); act.step([0, 1]); }, keys);
  useHotkeys('up', (event) => { event.preventDefault(); act.step([0, -1]); }, keys);
  useHotkeys('shift+right', () => act.shift(1), keys);
  useHotkeys('shift+left', () => act.shift(-1), keys);
  useHotkeys('enter', act.enlarge, { ...keys, ignoreEventWhen: (event) => event.target instanceof HTMLButtonElement || event.target instanceof HTMLAnchorElement || KEYS_WHEREVER.ignoreEventWhen!(event) });
  useHotkeys('escape', act.back, keys);
  useHotkeys('v', act.choose, keys);
  useHotkeys('c', act.compare, keys);
  useHotkeys('y', act.approve, keys);
  useHotkeys('n', (event) => { event.preventDefault(); act.sendBack(); }, keys);
  useHotkeys('l', act.later, keys);
  useHotkeys('u', act.unmark, keys);
  useHotkeys('b', () => act.before(true), { ...keys, keydown: true });
  useHotkeys('b', () => act.before(false), { ...keys, keyup: true, keydown: false });
  useHotkeys('o', act.desk, keys);
  useHotkeys('comma', () => act.size(-1), keys);
  useHotkeys('period', () => act.size(1), keys);
  useHotkeys('t', act.together, keys);
  useHotkeys('s', act.order, keys);
}
