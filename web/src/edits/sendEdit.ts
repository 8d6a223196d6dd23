import type { Answer, Edit, MixState } from './editQueue';

interface Problem {
  readonly detail?: string;
  readonly mix?: MixState;
}

/** Milliseconds that an answer may take; then the edit is sent again, under the same name. */
const PATIENCE = 15_000;

const pathOf = (edit: Edit): string => (edit.kind === 'command' ? 'commands' : edit.kind);
const bodyOf = (edit: Edit): string => JSON.stringify(edit.kind === 'command' ? edit.command : edit.kind === 'reference' ? { frame: edit.frame } : edit.kind === 'version' ? { version: edit.version } : {});

/** Sends one edit of a shot's mix. @param editor who sends. @param known revision whose document is at hand. */
export async function sendEdit(shot: string, editor: string, edit: Edit, known: number): Promise<Answer> {
  try {
    const response = await fetch(`/api/shots/${shot}/mix/${pathOf(edit)}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', 'Idempotency-Key': edit.id, 'Base-Revision': String(edit.base), 'Known-Revision': String(known), 'Editor-Id': editor },
      body: bodyOf(edit),
      signal: AbortSignal.timeout(PATIENCE),
    });
    if (response.ok) return { kind: 'taken', state: await response.json() };
    if (response.status >= 500 || response.status === 408 || response.status === 429) return { kind: 'away' };
    const problem = (await response.json().catch(() => ({}))) as Problem;
    return { kind: 'refused', why: problem.detail ?? `The server refused this (${response.status}).`, state: problem.mix ?? null };
  } catch {
    return { kind: 'away' };
  }
}
