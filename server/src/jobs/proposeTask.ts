import { prepareMix } from '@zaddle/core/mix/prepareMix';
import { AUTOMATIC, proposeMix } from '@zaddle/core/propose/proposeMix';
import { setQuality } from '@zaddle/core/read/setQuality';
import { readShot } from '@zaddle/core/read/readShot';
import { CURRENT_VERSION, openMix, type MixDocument } from '@zaddle/document';
import { announce } from '../data/events';
import { FrameEntity, MixEntity, ShootEntity, ShotEntity } from '../data/entities';
import { keptProfile } from '../data/lensProfiles';
import { unpackPixels } from '../data/proxyFile';
import { newTools } from '../picture/kernels';
import type { Workshop } from './workshop';

const idsOf = (frames: readonly { readonly id: string }[]): string => frames.map((f) => f.id).sort().join();

/** Lines a shot up and writes the automatic start as its mix. A mix that exists already is kept. */
export async function proposeTask({ database, store }: Workshop, id: string): Promise<void> {
  const shots = database.getRepository(ShotEntity);
  const frames = database.getRepository(FrameEntity);
  const shot = await shots.findOneBy({ id });
  if (!shot || (await database.getRepository(MixEntity).existsBy({ shotId: id }))) return;
  const members = await frames.findBy({ shotId: id });
  // Frames that were gathered before stats were kept have none.
  const stated = (await frames.find({ where: { shotId: id }, select: { id: true, facts: true, stats: true } as never })).flatMap(({ facts, stats }) => (facts && stats && facts.twinOf === null ? [{ facts, stats }] : []));
  const inputs = [];
  for (const frame of members) inputs.push({ facts: frame.facts!, proxy: unpackPixels(await store.readDerived('proxy', frame.id)) });
  inputs.sort((a, b) => a.facts.name.localeCompare(b.facts.name, 'en', { numeric: true }));
  const known = await keptProfile(database, inputs[0].facts);
  const proposal = proposeMix(newTools(64_000_000), inputs, known ? { ...AUTOMATIC, lens: known.optics, response: known.response } : AUTOMATIC, () => performance.now());
  const { picture } = prepareMix(proposal.mix, proposal.guides, proposal.findings);
  const document: MixDocument = openMix({ version: CURRENT_VERSION, ...proposal.mix });
  await database.transaction(async (manager) => {
    await manager.getRepository(ShootEntity).findOne({ where: { id: shot.shootId }, lock: { mode: 'pessimistic_write' } });
    // Regrouped meanwhile: the grouping has asked for another proposal.
    const still = await manager.getRepository(ShotEntity).findOne({ where: { id }, lock: { mode: 'pessimistic_write' } });
    const now = await manager.getRepository(FrameEntity).findBy({ shotId: id });
    if (!still || idsOf(now) !== idsOf(members) || (await manager.getRepository(MixEntity).existsBy({ shotId: id }))) return;
    await manager.getRepository(MixEntity).insert({ shotId: id, document, position: 0 } as never);
    await manager.getRepository(ShotEntity).update({ id }, { state: 'mixed', readings: [...readShot(proposal, picture), ...setQuality(stated)] as never });
    for (const [frame, verdict] of proposal.verdicts) await manager.getRepository(FrameEntity).update({ id: frame }, { role: verdict.role, used: verdict.used, why: verdict.why, residualPx: verdict.residualPx, parts: verdict.parts as never });
  });
  await announce(database, { kind: 'shot', shoot: shot.shootId, shot: id });
}
