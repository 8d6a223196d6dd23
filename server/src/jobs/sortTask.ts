import { randomUUID } from 'node:crypto';
import { greyPyramid } from '@zaddle/core/align/structure';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import { In } from 'typeorm';
import { announce } from '../data/events';
import { FrameEntity, ShotEntity, type Frame } from '../data/entities';
import { unpackPixels } from '../data/proxyFile';
import { sortFrames } from '../picture/sortFrames';
import { send } from './queues';
import type { Workshop } from './workshop';

/** Sorts a shoot's gathered frames into shots and asks for a proposal for each; shots whose frames stayed the same are left alone. */
export async function sortTask({ database, boss, store }: Workshop, shoot: string): Promise<void> {
  const gathered: Frame[] = await database.getRepository(FrameEntity).findBy({ shootId: shoot, state: 'gathered' });
  if (gathered.length === 0) return;
  const inputs: { facts: FrameFacts; structure: ReturnType<typeof greyPyramid>['structure'] }[] = [];
  for (const frame of gathered) inputs.push({ facts: frame.facts!, structure: greyPyramid(unpackPixels(await store.readDerived('proxy', frame.id))).structure });
  const sorted = sortFrames(inputs);
  const created: string[] = [];
  await database.transaction(async (manager) => {
    const shots = manager.getRepository(ShotEntity);
    const frames = manager.getRepository(FrameEntity);
    for (const facts of sorted.facts) await frames.update({ id: facts.id }, { facts });
    const old = await shots.findBy({ shootId: shoot });
    const members = new Map(old.map((shot) => [shot.id, gathered.filter((f) => f.shotId === shot.id).map((f) => f.id).sort().join()]));
    const kept = new Set<string>();
    for (const [position, shot] of sorted.shots.entries()) {
      const same = old.find((o) => members.get(o.id) === [...shot.frames].sort().join());
      if (same) {
        kept.add(same.id);
        await shots.update({ id: same.id }, { position });
        continue;
      }
      const id = randomUUID();
      created.push(id);
      await shots.insert({ id, shootId: shoot, position, label: `Shot ${position + 1}`, confidence: shot.confidence, why: shot.why, state: 'sorted', readings: [] });
      await frames.update({ id: In([...shot.frames]) }, { shotId: id });
    }
    const gone = old.filter((shot) => !kept.has(shot.id)).map((shot) => shot.id);
    if (gone.length > 0) await shots.delete({ id: In(gone) });
  });
  for (const shot of created) await send(boss, 'propose', { shot });
  await announce(database, { kind: 'shoot', shoot });
}
