import { announceIn } from '../data/events';
import { FrameEntity, ShootEntity } from '../data/entities';
import { packPixels, packPlane } from '../data/proxyFile';
import { gatherFile, type GatheredFrame } from '../picture/gatherFile';
import { halved } from '../picture/makeProxy';
import { makeThumbnail } from '../picture/makeThumbnail';
import { RejectedFile } from '../picture/limits';
import { ALONE, type Claim } from './claims';
import { ENDED_EACH_TIME, MOST_ATTEMPTS } from './failures';
import { send } from './queues';
import type { Workshop } from './workshop';

/** Seconds from the last frame to sorting. */
const SETTLE = 1;

/** What a file turned out to be: a frame, or the reason why it is none. */
async function read({ store }: Workshop, id: string, sha256: string, name: string): Promise<GatheredFrame | RejectedFile> {
  try {
    const path = await store.bringOriginal(sha256);
    if (path === null) return new RejectedFile('its file is not in the store any more; copy it from the card again');
    const gathered = await gatherFile(path, id, name);
    const thumbnail = await makeThumbnail(gathered.proxy);
    await store.putDerived('proxy', id, packPixels(gathered.proxy));
    await store.putDerived('half', id, packPixels(halved(gathered.proxy)));
    await store.putDerived('structure', id, packPlane(gathered.structure));
    await store.putDerived('thumbnail', id, thumbnail);
    return gathered;
  } catch (error) {
    if (error instanceof RejectedFile) return error;
    throw error;
  }
}

/** Reads one frame's file; a bad file is rejected with its reason and stops nothing. The last frame of a shoot starts sorting. */
export async function gatherTask(workshop: Workshop, id: string, claim: Claim = ALONE): Promise<void> {
  const { database, boss } = workshop;
  const frame = await database.getRepository(FrameEntity).findOneBy({ id });
  if (frame?.state !== 'waiting') return;
  // Counted beforehand: a file that ends the process never gets to the end.
  await database.getRepository(FrameEntity).increment({ id }, 'attempts', 1);
  const found = frame.attempts >= MOST_ATTEMPTS ? new RejectedFile(ENDED_EACH_TIME.gather) : await read(workshop, id, frame.sha256, frame.name);
  await database.transaction(async (manager) => {
    // One at a time for a shoot: of two last frames, one sees that none is left.
    await manager.getRepository(ShootEntity).findOne({ where: { id: frame.shootId }, lock: { mode: 'pessimistic_write' } });
    if (!(await claim.isMine(manager))) return;
    const frames = manager.getRepository(FrameEntity);
    const change = found instanceof RejectedFile ? { state: 'rejected' as const, why: found.message } : { state: 'gathered' as const, facts: found.facts as never, stats: found.stats as never, why: '' };
    await frames.update({ id, state: 'waiting' }, change);
    const waiting = await frames.countBy({ shootId: frame.shootId, state: 'waiting' });
    // Files that are sent one by one all leave none waiting: a moment later, one sorting does for several.
    if (waiting === 0) await send(boss, 'sort', { shoot: frame.shootId }, { after: SETTLE, within: manager });
    await announceIn(manager, { kind: 'shoot', shoot: frame.shootId });
  });
}
