import { useHotkeys, type HotkeyCallback } from 'react-hotkeys-hook';
import type { GroupingCommand } from '@zaddle/core/intake/regroup';
import type { Frame } from '../store/api';
import { choiceCleared, currentMoved, pinToggled, reviewClosed, reviewOpened, sieveSet } from '../store/gatherSlice';
import { useAppDispatch, useAppSelector } from '../store/store';

interface GatherKeys {
  /** Frames in the order in which they are listed. */
  readonly listed: readonly Frame[];
  readonly shots: readonly string[];
  readonly onCommand: (command: GroupingCommand) => void;
  readonly onStep: (direction: 'undo' | 'redo') => void;
  readonly onMark: (frames: readonly string[], marked: boolean) => void;
}

const useKey = (keys: string, act: HotkeyCallback): void => void useHotkeys(keys, (event, handler) => { event.preventDefault(); act(event, handler); });

/** Keyboard of gathering and of the review; listed for people in `frame/shortcuts.ts`. */
export function useGatherKeys({ listed, shots, onCommand, onStep, onMark }: GatherKeys): void {
  const dispatch = useAppDispatch();
  const { current, chosen, reviewing, sieve } = useAppSelector((s) => s.gather);
  const at = listed.findIndex((f) => f.id === current);
  const frame = listed[at];
  const acted = reviewing || chosen.length === 0 ? (frame ? [frame.id] : []) : [...chosen];
  const go = (by: number): void => {
    const next = listed[at < 0 ? 0 : Math.max(0, Math.min(listed.length - 1, at + by))];
    if (next) dispatch(currentMoved(next.id));
  };
  /** The shot before or after that of the current frame. */
  const neighbour = (by: number): string | undefined => (frame?.shotId ? shots[shots.indexOf(frame.shotId) + by] : undefined);
  const moveTo = (by: number): void => {
    const to = neighbour(by);
    if (to && acted.length > 0) onCommand({ kind: 'move', frames: acted, to });
  };
  useKey('right', () => go(1));
  useKey('left', () => go(-1));
  useKey('v', () => acted.length > 0 && onMark(acted, !listed.find((f) => f.id === acted[0])?.marked));
  useKey('x', () => {
    if (acted.length === 0) return;
    // The next one comes up, so that culling goes on.
    const next = listed[at + 1] ?? listed[at - 1];
    if (next) dispatch(currentMoved(next.id));
    onCommand({ kind: 'drop', frames: acted });
  });
  useKey('n', () => acted.length > 0 && onCommand({ kind: 'gather', frames: acted }));
  useKey('i', () => frame && onCommand({ kind: 'split', before: frame.id }));
  useKey('y', () => {
    const before = neighbour(-1);
    if (frame?.shotId && before) onCommand({ kind: 'join', shots: [before, frame.shotId] });
  });
  useKey('bracketleft', () => moveTo(-1));
  useKey('bracketright', () => moveTo(1));
  useKey('enter', () => frame && dispatch(reviewOpened(frame.id)));
  useKey('t', () => reviewing && dispatch(pinToggled()));
  useKey('f', () => dispatch(sieveSet(sieve === 'marked' ? 'all' : 'marked')));
  useKey('escape', () => dispatch(reviewing ? reviewClosed() : choiceCleared()));
  useKey('ctrl+z,meta+z', () => onStep('undo'));
  useKey('ctrl+shift+z,meta+shift+z', () => onStep('redo'));
}
