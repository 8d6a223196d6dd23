import type { DataSource, EntityManager } from 'typeorm';
import { applyCommand, collide, readStep, readTrusted, touchedPaths, type Command, type MixDocument } from '@zaddle/document';
import { announceIn } from './events';
import { MixChangeEntity, MixEntity, MixStepEntity, type StoredMix } from './entities';

/** What the desk gets to know of a mix and its history. */
export interface MixView {
  /** Left out where the asker has it already: it was at the revision before and knows what it asked for. */
  readonly document?: MixDocument;
  readonly revision: number;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
}

/** Who asks for a change, and what they had before them. */
export interface Asker {
  /** Revision that the change was made on; null: whatever there is now. */
  readonly base: number | null;
  /** Revision that they have the document of; null: they need it. */
  readonly known: number | null;
  /** A name of this one request: asked again, it is not done again. */
  readonly request: string | null;
  /** Who they are: their own changes since the base do not stand in the way. */
  readonly editor: string | null;
}
export const ANYBODY: Asker = { base: null, known: null, request: null, editor: null };

/** Why a mix could not be changed. */
export class NoSuchMix extends Error {}
export class NoSuchStep extends Error {}
/** The same place was changed meanwhile by somebody else; `view` is how it stands. */
export class StaleChange extends Error {
  constructor(readonly view: MixView) {
    super('This was changed in another window meanwhile. What you see now is how it stands; do it again if you still want it.');
  }
}

/** Changes that are remembered, to hold later ones against. */
const REMEMBERED = 500;

async function historyOf(manager: EntityManager, { shotId, position, revision }: StoredMix): Promise<Omit<MixView, 'document'>> {
  const last = await manager.getRepository(MixStepEntity).countBy({ shotId });
  return { revision, canUndo: position > 0, canRedo: position < last };
}

export async function viewMix(manager: EntityManager, mix: StoredMix): Promise<MixView & { readonly document: MixDocument }> {
  return { document: readTrusted(mix.document), ...(await historyOf(manager, mix)) };
}

interface Change {
  readonly document: MixDocument;
  readonly position: number;
  readonly touched: readonly string[];
  /** Whether the asker can work out the document from what it had. */
  readonly known: boolean;
}

/** What others touched since the revision that a change was made on, or null where that is not remembered any more. */
async function touchedSince(manager: EntityManager, { shotId, revision }: StoredMix, { base, editor }: Asker): Promise<readonly string[] | null> {
  if (base === null || base === revision) return [];
  const rows: { touched: readonly string[]; editor: string | null }[] = await manager.query('SELECT touched, editor FROM mix_changes WHERE shot_id = $1 AND revision > $2', [shotId, base]);
  if (base > revision || rows.length < revision - base) return null;
  return rows.filter((row) => editor === null || row.editor !== editor).flatMap((row) => row.touched);
}

/** Seconds within which a hand on a shot is one moment. */
const MOMENT = 15;

/** Notes that somebody has a hand on a shot: what shots take by hand is told from that. */
export async function noteHand(manager: EntityManager, shotId: string): Promise<void> {
  await manager.query(`INSERT INTO hand_moments (shot_id, at) VALUES ($1, date_bin(make_interval(secs => $2), now(), 'epoch')) ON CONFLICT DO NOTHING`, [shotId, MOMENT]);
}

/** Runs a change with the mix locked, so that two windows cannot tear its history. @throws NoSuchMix, StaleChange */
function change(database: DataSource, shotId: string, asker: Asker, act: (manager: EntityManager, mix: StoredMix, since: readonly string[] | null) => Promise<Change>): Promise<MixView> {
  return database.transaction(async (manager) => {
    const mix = await manager.getRepository(MixEntity).findOne({ where: { shotId }, lock: { mode: 'pessimistic_write' } });
    if (!mix) throw new NoSuchMix();
    const changes = manager.getRepository(MixChangeEntity);
    // Asked before, and the answer did not arrive.
    if (asker.request && (await changes.existsBy({ shotId, request: asker.request }))) return viewMix(manager, mix);
    const since = await touchedSince(manager, mix, asker);
    const { document, position, touched, known } = await act(manager, { ...mix, document: readTrusted(mix.document) }, since);
    const revision = mix.revision + 1;
    await manager.getRepository(MixEntity).update({ shotId }, { document: document as never, position, revision });
    await changes.insert({ shotId, revision, request: asker.request, editor: asker.editor, touched });
    if (asker.editor) await noteHand(manager, shotId);
    if (revision % 50 === 0) await manager.query('DELETE FROM mix_changes WHERE shot_id = $1 AND revision <= $2', [shotId, revision - REMEMBERED]);
    await announceIn(manager, { kind: 'mix', shot: shotId, revision });
    const next = { shotId, document, position, revision };
    return known && asker.known === mix.revision ? historyOf(manager, next) : viewMix(manager, next);
  });
}

const stale = async (manager: EntityManager, mix: StoredMix): Promise<StaleChange> => new StaleChange(await viewMix(manager, mix));

/**
 * Applies a command and keeps it in the history; a new step after an undo takes the place of what was undone. A command that
 * was made on an older revision is applied where nobody touched the same place since.
 * @throws NoSuchMix, InvalidMix, StaleChange
 */
export function applyStep(database: DataSource, shotId: string, commandFor: (document: MixDocument) => Command, asker: Asker = ANYBODY): Promise<MixView> {
  return change(database, shotId, asker, async (manager, mix, since) => {
    const command = commandFor(mix.document);
    const touched = touchedPaths(command);
    if (since === null || collide(touched, since)) throw await stale(manager, mix);
    const { document, inverse } = applyCommand(mix.document, command);
    const steps = manager.getRepository(MixStepEntity);
    await steps.createQueryBuilder().delete().where('shot_id = :shot AND step > :position', { shot: mix.shotId, position: mix.position }).execute();
    await steps.insert({ shotId: mix.shotId, step: mix.position + 1, command, inverse } as never);
    // Another reference is worked out here only.
    return { document, position: mix.position + 1, touched, known: !(command.kind === 'changeMix' && 'passes' in command.changes) };
  });
}

/** Goes one step back or forth in the history. @throws NoSuchMix, NoSuchStep, StaleChange when something else was changed meanwhile */
export function moveInHistory(database: DataSource, shotId: string, direction: 'undo' | 'redo', asker: Asker = ANYBODY): Promise<MixView> {
  return change(database, shotId, asker, async (manager, mix, since) => {
    if (since === null || since.length > 0) throw await stale(manager, mix);
    const step = direction === 'undo' ? mix.position : mix.position + 1;
    const found = await manager.getRepository(MixStepEntity).findOneBy({ shotId, step });
    if (!found) throw new NoSuchStep();
    const command = readStep(direction === 'undo' ? found.inverse : found.command);
    return { document: applyCommand(mix.document, command).document, position: direction === 'undo' ? step - 1 : step, touched: touchedPaths(command), known: false };
  });
}

/**
 * Puts in a step that no person made, after the last one in force. What was undone before can still be redone after it.
 * @param commandFor null where there is nothing to do. @throws NoSuchMix, InvalidMix
 */
export async function insertStep(database: DataSource, shotId: string, commandFor: (document: MixDocument) => Command): Promise<void> {
  await change(database, shotId, ANYBODY, async (manager, mix) => {
    const command = commandFor(mix.document);
    const { document, inverse } = applyCommand(mix.document, command);
    // Two moves, since a primary key is checked row by row.
    await manager.query('UPDATE mix_steps SET step = -step WHERE shot_id = $1 AND step > $2', [shotId, mix.position]);
    await manager.query('UPDATE mix_steps SET step = 1 - step WHERE shot_id = $1 AND step < 0', [shotId]);
    await manager.getRepository(MixStepEntity).insert({ shotId, step: mix.position + 1, command, inverse } as never);
    return { document, position: mix.position + 1, touched: touchedPaths(command), known: false };
  });
}
