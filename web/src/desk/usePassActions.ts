import { useMemo } from 'react';
import { BLEND_MODES, blockStart, holders, linkOf, type Area, type Command, type MixDocument, type Pass, type Source } from '@zaddle/document';
import { selected as select, toolTaken } from '../store/deskSlice';
import { useAppDispatch } from '../store/store';
import { bundlePass, copiesOf, fillPass, freshId, passFrom, partPass, tonePass, type FoundPart } from './newPass';

/** A place among the passes, from underneath, and the bundle that it lies in. */
export interface PassPlace {
  readonly index: number;
  readonly within: string | null;
}

/** What a person does to passes as a whole. */
export interface PassActions {
  /** A new pass above the selected one, or at a place of its own. */
  add(source: Source, name: string, hidden: boolean, at?: PassPlace): void;
  addTone(): void;
  /** A tone pass for a part of the picture, as it is found; a surface is then pointed at. */
  addPart(what: FoundPart): void;
  addFill(): void;
  duplicate(id: string): void;
  remove(id: string): void;
  rename(id: string, name: string): void;
  /** @param index place among the passes, from underneath, as they lie now. @param within the bundle that it goes into */
  moveTo(id: string, index: number, within: string | null): void;
  /** One place on or back; into a bundle that lies there, and out of it at its end. */
  moveBy(id: string, by: 1 | -1): void;
  /** The next or previous blend mode, seen at once. */
  blend(id: string, by: number): void;
  /** The pass with those that are chosen along with it, as one bundle. */
  bundle(id: string): void;
  /** What a bundle holds, without it. */
  dissolve(id: string): void;
  takeOut(id: string): void;
}

const oneOf = (commands: readonly Command[]): Command => (commands.length === 1 ? commands[0] : { kind: 'several', commands });

/** Changes after which no mask is linked to those of passes that go. */
function withoutLinks(passes: readonly Pass[], gone: ReadonlySet<string>): Command[] {
  return passes.filter((pass) => !gone.has(pass.id) && pass.mask.some((area) => gone.has(linkOf(area) ?? ''))).map((pass): Command => {
    const mask = pass.mask.flatMap((area): Area[] => {
      const link = linkOf(area);
      if (link === null || !gone.has(link)) return [area];
      return passes.find((p) => p.id === link)!.mask.filter((a) => linkOf(a) === null).map((a, k) => ({ ...a, id: freshId('area'), join: k === 0 ? area.join : a.join }));
    });
    return { kind: 'changePass', id: pass.id, changes: { mask } };
  });
}

/** Where a pass goes by one place: its index among the others, and the bundle that it then lies in; null where there is no further. */
export function neighbouring(passes: readonly Pass[], id: string, by: 1 | -1): PassPlace | null {
  const last = passes.findIndex((p) => p.id === id);
  if (last < 0) return null;
  const first = blockStart(passes, last);
  const pass = passes[last];
  const holder = passes.find((p) => p.id === pass.within);
  if (by === 1) {
    const next = passes[last + 1];
    if (!next) return null;
    // At the top of its bundle: out of it, above it.
    if (next.id === pass.within) return { index: first + 1, within: next.within };
    // Below a bundle: into it, underneath all that it holds.
    if (next.within !== pass.within) return { index: first, within: holders(passes, next).find((h) => h.within === pass.within)!.id };
    return { index: first + 1, within: pass.within };
  }
  const below = passes[first - 1];
  // At the bottom of its bundle: out of it, underneath.
  if (holder && below?.within !== pass.within) return { index: first, within: holder.within };
  if (!below) return null;
  return { index: first - 1, within: below.kind === 'bundle' ? below.id : pass.within };
}

/** @param mixNow the mix as it stands, edits on their way included. @param chosen passes that are chosen along with the selected one */
export function usePassActions(mixNow: () => MixDocument, selected: string | null, chosen: readonly string[], act: (command: Command, done: boolean) => void): PassActions {
  const dispatch = useAppDispatch();
  return useMemo(() => {
    const indexOf = (id: string | null): number => mixNow().passes.findIndex((p) => p.id === id);
    const put = (pass: Pass, place?: PassPlace): void => {
      const { passes } = mixNow();
      const above = indexOf(selected);
      const { index, within } = place ?? (above < 0 ? { index: passes.length, within: null } : { index: above + 1, within: passes[above].within });
      act({ kind: 'addPass', pass: { ...pass, within }, index }, true);
      dispatch(select(pass.id));
    };
    const move = (id: string, index: number, within: string | null): void => {
      const { passes } = mixNow();
      const pass = passes[indexOf(id)];
      act({ kind: 'movePass', id, index, ...(pass.within === within ? {} : { within }) }, true);
    };
    return {
      add: (source, name, hidden, at) => put(passFrom(source, name, hidden), at),
      addTone: () => put(tonePass()),
      addPart(what) {
        put(partPass(what, mixNow().reference));
        if (what === 'surface') dispatch(toolTaken('found'));
      },
      addFill: () => put(fillPass()),
      duplicate(id) {
        const index = indexOf(id);
        if (index < 0) return;
        const copies = copiesOf(mixNow().passes, index);
        act(oneOf(copies.map((pass, k): Command => ({ kind: 'addPass', pass, index: index + 1 + k }))), true);
        dispatch(select(copies[copies.length - 1].id));
      },
      remove(id) {
        const index = indexOf(id);
        if (index < 0) return;
        const { passes } = mixNow();
        const block = passes.slice(blockStart(passes, index), index + 1).reverse();
        const gone = new Set(block.map((p) => p.id));
        act(oneOf([...withoutLinks(passes, gone), ...block.map((p): Command => ({ kind: 'removePass', id: p.id }))]), true);
        // The neighbour is at hand: several can be removed one after the other.
        dispatch(select((passes[index + 1] ?? passes[index - block.length])?.id ?? null));
      },
      rename(id, name) {
        if (name.trim() !== '') act({ kind: 'changePass', id, changes: { name: name.trim().slice(0, 120) } }, true);
      },
      moveTo(id, index, within) {
        const { passes } = mixNow();
        const last = indexOf(id);
        const first = blockStart(passes, last);
        if (last < 0 || (index >= first && index <= last + 1 && within === passes[last].within)) return;
        move(id, index > last ? index - (last - first + 1) : index, within);
      },
      moveBy(id, by) {
        const to = neighbouring(mixNow().passes, id, by);
        if (to) move(id, to.index, to.within);
      },
      blend(id, by) {
        const pass = mixNow().passes[indexOf(id)];
        if (!pass || !('mode' in pass)) return;
        const count = BLEND_MODES.length;
        act({ kind: 'changePass', id, changes: { mode: BLEND_MODES[(BLEND_MODES.indexOf(pass.mode) + by + count) % count] } }, true);
      },
      bundle(id) {
        const { passes } = mixNow();
        const pass = passes[indexOf(id)];
        if (!pass) return;
        // Of those chosen, the ones that lie beside it; what lies in one of them comes along.
        const members = passes.filter((p) => p.within === pass.within && (p.id === id || chosen.includes(p.id)));
        const top = passes.indexOf(members[members.length - 1]);
        const bundle = bundlePass(members.length === 1 ? `${pass.name}, bundle`.slice(0, 120) : `Bundle of ${members.length}`, pass.within);
        // From on top down: each goes right under what was put in before it.
        let at = top + 1;
        const moves: Command[] = [];
        for (const member of [...members].reverse()) {
          const last = passes.indexOf(member);
          at -= last - blockStart(passes, last) + 1;
          moves.push({ kind: 'movePass', id: member.id, index: at, within: bundle.id });
        }
        act({ kind: 'several', commands: [{ kind: 'addPass', pass: bundle, index: top + 1 }, ...moves] }, true);
        dispatch(select(bundle.id));
      },
      dissolve(id) {
        const { passes } = mixNow();
        const bundle = passes[indexOf(id)];
        if (bundle?.kind !== 'bundle') return;
        const members = passes.filter((p) => p.within === id);
        act({ kind: 'several', commands: [...members.map((p): Command => ({ kind: 'movePass', id: p.id, index: blockStart(passes, passes.indexOf(p)), within: bundle.within })), ...withoutLinks(passes, new Set([id])), { kind: 'removePass', id }] }, true);
        dispatch(select(members[members.length - 1]?.id ?? null));
      },
      takeOut(id) {
        const { passes } = mixNow();
        const last = indexOf(id);
        const pass = passes[last];
        const holder = passes.find((p) => p.id === pass?.within);
        // Above the bundle that held it, which lies one block lower then.
        if (pass && holder) move(id, passes.indexOf(holder) - (last - blockStart(passes, last)), holder.within);
      },
    };
  }, [mixNow, selected, chosen, act, dispatch]);
}
