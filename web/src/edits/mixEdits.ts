import { notifications } from '@mantine/notifications';
import { freshUuid } from '../frame/freshUuid';
import { EditQueue, type Edit, type MixState } from './editQueue';
import { sendEdit } from './sendEdit';
import { holdEditor, keepUnsent, leftBehind, openEditors, takeLeft } from './unsentEdits';

/** Names this window. */
const EDITOR = freshUuid();
holdEditor(EDITOR);

/** Queues of shots that were opened in this window: they go on sending when the person has gone on. */
const queues = new Map<string, EditQueue>();

const setupOf = (shot: string) => ({
  send: (edit: Edit, known: number) => sendEdit(shot, EDITOR, edit, known),
  keep: (unsent: readonly Edit[]) => keepUnsent(localStorage, shot, EDITOR, unsent),
  refused: (why: string) => void notifications.show({ color: 'red', title: 'Not done', message: why }),
  pause: (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds)),
  now: () => Date.now(),
});

/** The queue of a shot's edits. @param state how its mix stands, for a queue that is new. */
export function editsOf(shot: string, state: MixState): EditQueue {
  const known = queues.get(shot);
  if (known) return known;
  const queue = new EditQueue(state, setupOf(shot));
  queues.set(shot, queue);
  return queue;
}

/** Revision of a shot's mix that this window knows, or null. */
export const knownRevision = (shot: string): number | null => queues.get(shot)?.revision ?? null;

/** Sends what windows that are closed by now could not send any more. */
async function sendLeftBehind(): Promise<void> {
  const alive = await openEditors();
  alive.add(EDITOR);
  for (const { shot, editor } of leftBehind(localStorage, alive)) {
    const answer = await fetch(`/api/shots/${shot}`).then((response) => (response.ok ? response.json() : response.status === 404 ? null : Promise.reject(new Error('away'))), () => Promise.reject(new Error('away')));
    const edits = takeLeft(localStorage, shot, editor);
    // A shot that was deleted has no use for them.
    if (answer?.mix && edits.length > 0) editsOf(shot, answer.mix as MixState).adopt(edits);
  }
}

/** Milliseconds between looks for edits that a window left. */
const LOOK = 8000;

/** Looks now and then for what closed windows could not send; with the server away, the next look tries again. */
export function lookForLeft(): void {
  const look = (): void => void sendLeftBehind().catch(() => undefined);
  look();
  setInterval(look, LOOK);
}
