import type { Edit } from './editQueue';

/** Where edits lie that the server does not have yet, one entry for each shot and window, until it has them. */
const PREFIX = 'zaddle.unsent.';
const entry = (shot: string, editor: string): string => `${PREFIX}${shot}.${editor}`;
const lockOf = (editor: string): string => `zaddle.editor.${editor}`;

/** What of storage is used: tests give their own. */
type Shelf = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

/** Keeps the unsent edits of this window. A full storage keeps less than all; they are still in the page and are still sent. */
export function keepUnsent(shelf: Shelf, shot: string, editor: string, unsent: readonly Edit[]): void {
  try {
    if (unsent.length === 0) shelf.removeItem(entry(shot, editor));
    else shelf.setItem(entry(shot, editor), JSON.stringify(unsent));
  } catch {
    // Storage is full or switched off.
  }
}

/** Shots with edits that windows left which are gone now. @param alive editors of windows that are open. */
export function leftBehind(shelf: Shelf, alive: ReadonlySet<string>): { shot: string; editor: string }[] {
  const found: { shot: string; editor: string }[] = [];
  for (let k = 0; k < shelf.length; k++) {
    const [shot, editor] = (shelf.key(k) ?? '').startsWith(PREFIX) ? shelf.key(k)!.slice(PREFIX.length).split('.') : [];
    if (shot && editor && !alive.has(editor)) found.push({ shot, editor });
  }
  return found;
}

/** Takes over edits that a window left. */
export function takeLeft(shelf: Shelf, shot: string, editor: string): Edit[] {
  const text = shelf.getItem(entry(shot, editor));
  shelf.removeItem(entry(shot, editor));
  try {
    return text ? (JSON.parse(text) as Edit[]) : [];
  } catch {
    return [];
  }
}

/** Holds a lock as long as this window is open, by which others see that it is. */
export function holdEditor(editor: string): void {
  void navigator.locks?.request(lockOf(editor), () => new Promise(() => undefined));
}

/** Editors of windows that are open now. */
export async function openEditors(): Promise<Set<string>> {
  const { held = [] } = (await navigator.locks?.query()) ?? {};
  return new Set(held.flatMap(({ name }) => (name?.startsWith('zaddle.editor.') ? [name.slice('zaddle.editor.'.length)] : [])));
}
