import { randomUUID } from 'node:crypto';
import { In, type EntityManager } from 'typeorm';
import { send } from '../jobs/queues';
import { LEVELS } from '../levels/levelSize';
import { PlainError } from '../picture/limits';
import type { ServerWorkshop } from '../jobs/workshop';
import { DeliveryEntity, FrameEntity, ShootEntity, ShotEntity } from './entities';

/** Only one at a time decides whether a file is needed. */
const lockFile = (manager: EntityManager, sha256: string): Promise<unknown> => manager.query('SELECT pg_advisory_xact_lock(hashtextextended($1, 0))', [sha256]);

/** The file was removed with the last frame that needed it, just before a new one came to need it. */
export class FileGone extends PlainError {}

/**
 * Notes a file that is in the store as a frame of a shoot; the same content twice is one frame. One that was rejected is tried again.
 * @returns the frame's id, or null where the shoot is gone. @throws FileGone when it has to be sent again.
 */
export function addFrame({ database, boss, store }: ServerWorkshop, shootId: string, name: string, stored: { sha256: string; bytes: number }): Promise<string | null> {
  return database.transaction(async (manager) => {
    await lockFile(manager, stored.sha256);
    if (!(await store.hasOriginal(stored.sha256))) throw new FileGone('The file was being removed at this moment. Send it again.');
    if (!(await manager.getRepository(ShootEntity).existsBy({ id: shootId }))) return null;
    const frames = manager.getRepository(FrameEntity);
    const there = await frames.findOneBy({ shootId, sha256: stored.sha256 });
    if (there && there.state !== 'rejected') return there.id;
    const id = there?.id ?? randomUUID();
    if (there) await frames.update({ id }, { state: 'waiting', why: '', attempts: 0 });
    else await frames.insert({ id, shootId, shotId: null, sha256: stored.sha256, name, bytes: String(stored.bytes), state: 'waiting', why: '', facts: null, role: 'spare', used: false, residualPx: null, parts: [], marked: false, dropped: false, stats: null, attempts: 0 });
    await send(boss, 'gather', { frame: id }, { within: manager });
    return id;
  });
}

/** Removes files that no frame needs any more. Only after the frames are gone for good: a file outlives a deletion that did not come to pass. */
export async function releaseFiles({ database, store }: ServerWorkshop, files: readonly string[]): Promise<void> {
  for (const sha256 of new Set(files)) {
    await database.transaction(async (manager) => {
      await lockFile(manager, sha256);
      if (!(await manager.getRepository(FrameEntity).existsBy({ sha256 }))) await store.removeOriginal(sha256);
    });
  }
}

async function removeDerivedOf({ store }: ServerWorkshop, frames: readonly string[], deliveries: readonly string[], shots: readonly string[] = []): Promise<void> {
  for (const id of shots) for (const kind of ['preview', 'wide'] as const) await store.removeDerived(kind, id);
  if (shots.length > 0) await store.removeDerivedOf('found', new Set(shots));
  for (const id of frames) {
    for (const kind of ['proxy', 'half', 'structure', 'thumbnail'] as const) await store.removeDerived(kind, id);
    for (const level of LEVELS) await store.removeDerived('level', `${id}-${level}`);
  }
  for (const id of deliveries) await store.removeDerived('delivery', id);
}

/** Deletes a frame and, where nobody else has it, its file. */
export async function deleteFrame(workshop: ServerWorkshop, { id, sha256 }: { id: string; sha256: string }): Promise<void> {
  await workshop.database.getRepository(FrameEntity).delete({ id });
  await releaseFiles(workshop, [sha256]);
  await removeDerivedOf(workshop, [id], []);
}

/** Deletes a shoot with its shots, mixes and deliveries, and the files that nobody else has. */
export async function deleteShoot(workshop: ServerWorkshop, id: string): Promise<void> {
  const { frames, deliveries, shots } = await workshop.database.transaction(async (manager) => {
    // Whoever sorts, regroups or gathers into it waits, and then finds it gone.
    await manager.getRepository(ShootEntity).findOne({ where: { id }, lock: { mode: 'pessimistic_write' } });
    const own = await manager.getRepository(FrameEntity).find({ where: { shootId: id }, select: { id: true, sha256: true } });
    const shots = await manager.getRepository(ShotEntity).find({ where: { shootId: id }, select: { id: true } });
    const delivered = shots.length === 0 ? [] : await manager.getRepository(DeliveryEntity).find({ where: { shotId: In(shots.map((s) => s.id)) }, select: { id: true } });
    await manager.getRepository(ShootEntity).delete({ id });
    await manager.query('DELETE FROM batches b WHERE NOT EXISTS (SELECT FROM deliveries d WHERE d.batch_id = b.id)');
    return { frames: own, deliveries: delivered.map((d) => d.id), shots: shots.map(({ id: shot }) => shot) };
  });
  await releaseFiles(workshop, frames.map((f) => f.sha256));
  await removeDerivedOf(workshop, frames.map((f) => f.id), deliveries, shots);
}
