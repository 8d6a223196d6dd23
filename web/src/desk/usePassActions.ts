import { useMemo } from 'react';
import { BLEND_MODES, type Command, type MixDocument, type Source } from '@zaddle/document';
import { selected as select } from '../store/deskSlice';
import { useAppDispatch } from '../store/store';
import { copyOf, passFrom } from './newPass';

/** What a person does to passes as a whole. */
export interface PassActions {
  /** A new pass above the selected one, or at a place of its own. */
  add(source: Source, name: string, hidden: boolean, index?: number): void;
  duplicate(id: string): void;
  remove(id: string): void;
  rename(id: string, name: string): void;
  /** @param index place among the passes, from underneath */
  moveTo(id: string, index: number): void;
  moveBy(id: string, by: number): void;
  /** The next or previous blend mode, seen at once. */
  blend(id: string, by: number): void;
}

/** @param mixNow the mix as it stands, edits on their way included */
export function usePassActions(mixNow: () => MixDocument, selected: string | null, act: (command: Command, done: boolean) => void): PassActions {
  const dispatch = useAppDispatch();
  return useMemo(() => {
    const indexOf = (id: string | null): number => mixNow().passes.findIndex((p) => p.id === id);
    const moveTo = (id: string, index: number): void => {
      const [from, to] = [indexOf(id), Math.max(0, Math.min(mixNow().passes.length - 1, index))];
      if (from >= 0 && from !== to) act({ kind: 'movePass', id, index: to }, true);
    };
    return {
      add(source, name, hidden, index) {
        const pass = passFrom(source, name, hidden);
        const above = indexOf(selected) + 1 || mixNow().passes.length;
        act({ kind: 'addPass', pass, index: index ?? above }, true);
        dispatch(select(pass.id));
      },
      duplicate(id) {
        const index = indexOf(id);
        if (index < 0) return;
        const pass = copyOf(mixNow().passes[index]);
        act({ kind: 'addPass', pass, index: index + 1 }, true);
        dispatch(select(pass.id));
      },
      remove(id) {
        const index = indexOf(id);
        if (index < 0) return;
        const { passes } = mixNow();
        act({ kind: 'removePass', id }, true);
        // The neighbour is at hand: several can be removed one after the other.
        dispatch(select((passes[index + 1] ?? passes[index - 1])?.id ?? null));
      },
      rename(id, name) {
        if (name.trim() !== '') act({ kind: 'changePass', id, changes: { name: name.trim().slice(0, 120) } }, true);
      },
      moveTo,
      moveBy: (id, by) => moveTo(id, indexOf(id) + by),
      blend(id, by) {
        const pass = mixNow().passes[indexOf(id)];
        if (!pass || !('mode' in pass)) return;
        const count = BLEND_MODES.length;
        act({ kind: 'changePass', id, changes: { mode: BLEND_MODES[(BLEND_MODES.indexOf(pass.mode) + by + count) % count] } }, true);
      },
    };
  }, [mixNow, selected, act, dispatch]);
}
