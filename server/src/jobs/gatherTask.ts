import { announce } from '../data/events';
import { FrameEntity } from '../data/entities';
import { packPixels, packPlane } from '../data/proxyFile';
import { RejectedFile } from '../picture/limits';
import { gatherFile } from '../picture/gatherFile';
import { makeThumbnail } from '../picture/makeThumbnail';
import { send } from './queues';
import type { Workshop } from './workshop';

/** Seconds from the last frame to sorting. */
const SETTLE = 1;

/** Reads one frame's file; a bad file is rejected with its reason and stops nothing. The last frame of a shoot starts sorting. */
export async function gatherTask({ database, boss, store }: Workshop, id: string): Promise<void> {
  const frames = database.getRepository(FrameEntity);
  const frame = await frames.findOneBy({ id });
  if (!frame) return;
  if (frame.state === 'waiting') {
    try {
      const { facts, proxy, structure, stats } = await gatherFile(store.original(frame.sha256), id, frame.name);
      const thumbnail = await makeThumbnail(proxy);
      await store.putDerived('proxy', id, packPixels(proxy));
      await store.putDerived('structure', id, packPlane(structure));
      await store.putDerived('thumbnail', id, thumbnail);
      await frames.update({ id }, { state: 'gathered', facts: facts as never, stats: stats as never, why: '' });
    } catch (error) {
      if (!(error instanceof RejectedFile)) throw error;
      await frames.update({ id }, { state: 'rejected', why: error.message });
    }
  }
  await announce(database, { kind: 'shoot', shoot: frame.shootId });
  const waiting = await frames.countBy({ shootId: frame.shootId, state: 'waiting' });
  // Files that are sent one by one all leave none waiting: a moment later, one sorting does for several.
  if (waiting === 0) await send(boss, 'sort', { shoot: frame.shootId }, SETTLE);
}
