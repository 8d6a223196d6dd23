import { FrameEntity } from '../data/entities';
import type { Derived } from '../data/fileStore';
import { PlainError } from '../picture/limits';
import { send } from './queues';
import type { Workshop } from './workshop';

/**
 * Reads what gathering made of a frame. Where that is gone or damaged, the frame is read from its file again.
 * @throws PlainError when the frame has to be read again first.
 */
export async function readGathered<T>({ database, store, boss }: Workshop, kind: Derived, frame: string, unpack: (file: Buffer) => T): Promise<T> {
  try {
    return unpack(await store.readDerived(kind, frame));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT' && !(error instanceof RangeError)) throw error;
    await database.transaction(async (manager) => {
      await manager.getRepository(FrameEntity).update({ id: frame, state: 'gathered' }, { state: 'waiting', attempts: 0 });
      await send(boss, 'gather', { frame }, { within: manager });
    });
    throw new PlainError('What was kept of a frame is gone; the frame is being read again, and the shot after it.', { cause: error });
  }
}
