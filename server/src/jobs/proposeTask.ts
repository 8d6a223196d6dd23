import { readyBytes, readyMix } from '@zaddle/core/graph/readyMix';
import { viewMasks } from '@zaddle/core/graph/viewMasks';
import { packWide } from '@zaddle/core/graph/storedWide';
import type { Pixels } from '@zaddle/core/image/plane';
import { cleanUp } from '@zaddle/core/propose/cleanUp';
import { offerLate } from '@zaddle/core/propose/offerLate';
import { AUTOMATIC, proposeMix, type Proposal } from '@zaddle/core/propose/proposeMix';
import { lookOf } from '@zaddle/core/set/lookOf';
import { viewOfMix } from '@zaddle/core/set/viewOfMix';
import { setQuality, type StatedFrame } from '@zaddle/core/read/setQuality';
import { toldStance } from '@zaddle/core/read/leaningReading';
import { readShot } from '@zaddle/core/read/readShot';
import { methodStep } from '@zaddle/core/method/methodStep';
import { applyCommand, CURRENT_VERSION, InvalidMix, openMix, readTrusted, type Command, type MixDocument } from '@zaddle/document';
import { announceIn } from '../data/events';
import { FrameEntity, MixEntity, ShootEntity, ShotEntity, ShotViewEntity, type Frame, type Shot } from '../data/entities';
import { noteOfFrames } from '../data/grouping';
import { keptProfile } from '../data/lensProfiles';
import { insertStep, NoSuchMix } from '../data/mixHistory';
import { unpackPixels } from '../data/proxyFile';
import { specksOf } from '../found/dust';
import { keepFound } from '../found/foundStore';
import { newTools } from '../picture/kernels';
import { ALONE, type Claim } from './claims';
import { readGathered } from './derivedFiles';
import { ENDED_EACH_TIME, failShot, MOST_ATTEMPTS } from './failures';
import { drawPreview, keepPreview } from './previewTask';
import { send } from './queues';
import type { Workshop } from './workshop';

const idsOf = (frames: readonly { readonly id: string }[]): string => frames.map((f) => f.id).sort().join();
const PROPOSING_BYTES = 64_000_000;

/** Lines a shot up and works out an automatic start. @param shot whose shoot says how it begins. @param mix a mix whose lens and response are to be kept. */
async function propose(workshop: Workshop, shot: Shot, members: readonly Frame[], mix: MixDocument | null): Promise<{ proposal: Proposal; proxies: ReadonlyMap<string, Pixels> }> {
  const inputs = [];
  for (const frame of members) inputs.push({ facts: frame.facts!, proxy: await readGathered(workshop, 'proxy', frame.id, unpackPixels) });
  inputs.sort((a, b) => a.facts.name.localeCompare(b.facts.name, 'en', { numeric: true }));
  const known = mix ? { optics: mix.lens, response: mix.response } : await keptProfile(workshop.database, inputs[0].facts);
  const { start } = await workshop.database.getRepository(ShootEntity).findOneByOrFail({ id: shot.shootId });
  const proposal = proposeMix(newTools(PROPOSING_BYTES), inputs, { ...AUTOMATIC, start, ...(known ? { lens: known.optics, response: known.response } : {}) }, () => performance.now());
  return { proposal, proxies: new Map(inputs.map(({ facts, proxy }) => [facts.id, proxy])) };
}

/** What a verdict says of a frame. */
const asVerdict = ({ role, used, why, residualPx, parts }: Proposal['verdicts'] extends ReadonlyMap<string, infer V> ? V : never) => ({ role, used, why, residualPx, parts: parts as never });

/** A mix as proposed, with the method that its shoot goes on with. What was asked for may not fit a shot: then it begins without. */
async function withMethod(database: Workshop['database'], { shootId }: Shot, mix: MixDocument, readings: Shot['readings']): Promise<MixDocument> {
  const { method } = await database.getRepository(ShootEntity).findOneByOrFail({ id: shootId });
  if (!method) return mix;
  try {
    return applyCommand(mix, methodStep(mix, method, toldStance(readings)).command).document;
  } catch (error) {
    if (error instanceof InvalidMix) return mix;
    throw error;
  }
}

/** Writes an automatic start as the mix of a shot that has none. */
async function startMix(workshop: Workshop, shot: Shot, members: readonly Frame[], stated: readonly StatedFrame[], { proposal: first, proxies }: Awaited<ReturnType<typeof propose>>, claim: Claim): Promise<void> {
  const { database, boss, store } = workshop;
  const made = ({ mix, findings, stance }: Proposal) => readyMix(newTools(readyBytes(mix)), mix, findings, proxies, (level, prepared) => {
    const picture = level.picture(prepared);
    return { picture, look: lookOf(level, prepared, stance, picture), views: viewMasks(level, prepared) };
  });
  const start = made(first);
  const proposal = cleanUp(first, start.result.picture);
  const { prepared, result: { picture, look, views } } = proposal === first ? start : made(proposal);
  const proposed: MixDocument = openMix({ version: CURRENT_VERSION, ...proposal.mix });
  const readings = [...readShot(proposal, picture, views), ...setQuality(stated)];
  const document = await withMethod(database, shot, proposed, readings);
  const specks = specksOf(document, new Map(members.map((frame) => [frame.id, frame.facts!])), proxies);
  await keepFound(store, shot.id, document, proposal.findings, proposal.guides);
  const revision = await database.transaction(async (manager) => {
    await manager.getRepository(ShootEntity).findOne({ where: { id: shot.shootId }, lock: { mode: 'pessimistic_write' } });
    // Regrouped meanwhile: the grouping has asked for another proposal.
    const still = await manager.getRepository(ShotEntity).findOne({ where: { id: shot.id }, lock: { mode: 'pessimistic_write' } });
    const now = await manager.getRepository(FrameEntity).findBy({ shotId: shot.id });
    if (!still || idsOf(now) !== idsOf(members) || (await manager.getRepository(MixEntity).existsBy({ shotId: shot.id })) || !(await claim.isMine(manager))) return null;
    // Of other frames, it may show something else.
    await manager.getRepository(ShotViewEntity).delete({ shotId: shot.id });
    await manager.getRepository(MixEntity).insert({ shotId: shot.id, document, position: 0, revision: still.lastRevision + 1 } as never);
    await manager.getRepository(ShotEntity).update({ id: shot.id }, { state: 'mixed', readings: readings as never, specks: specks as never });
    for (const [frame, verdict] of proposal.verdicts) await manager.getRepository(FrameEntity).update({ id: frame }, asVerdict(verdict));
    // With a method on it, it is another picture: that is drawn by itself.
    if (document !== proposed) await send(boss, 'preview', { shot: shot.id }, { within: manager });
    await announceIn(manager, { kind: 'shot', shoot: shot.shootId, shot: shot.id });
    return still.lastRevision + 1;
  });
  if (revision === null || document !== proposed) return;
  // All that a small picture takes is at hand here. One that cannot be drawn, or is not because this process ends, is found to be missing.
  const file = await drawPreview(prepared, proxies).catch(() => null);
  if (file) await keepPreview(workshop, shot.id, revision, { file, look, view: viewOfMix(document, picture, proposal.stance), wide: packWide(prepared) });
}

/** Frames of a shot that its mix does not hold, other files of the same exposures aside. */
function lateFrames(members: readonly Frame[], mix: MixDocument): Frame[] {
  const held = (id: string): boolean => Object.hasOwn(mix.frames, id);
  const exposure = (frame: Frame): string => frame.facts!.twinOf ?? frame.id;
  const known = new Set(members.filter((f) => held(f.id)).map(exposure));
  return members.filter((f) => f.facts!.twinOf === null && !held(f.id) && !known.has(f.id));
}

/** Offers frames that came late to a mix that somebody has worked on, as one step that can be undone. */
async function offer(workshop: Workshop, shot: Shot, members: readonly Frame[], claim: Claim): Promise<void> {
  const { database } = workshop;
  const stored = await database.getRepository(MixEntity).findOneByOrFail({ shotId: shot.id });
  const mix = readTrusted(stored.document);
  const late = lateFrames(members, mix);
  const gone = Object.keys(mix.frames).some((id) => !members.some((f) => f.id === id));
  const proposal = late.length > 0 ? (await propose(workshop, shot, members, mix)).proposal : null;
  const nameOf = (id: string): string => members.find((f) => f.id === id)!.name;
  const offered = proposal && offerLate(mix, proposal.mix, late.map((f) => f.id), nameOf);
  if (!(await claim.isMine(database.manager))) return;
  if (offered) {
    const commands: Command[] = [
      ...Object.entries(offered.frames).map(([id, use]): Command => ({ kind: 'addFrame', id, use: use as never })),
      ...offered.passes.map(({ pass, index }): Command => ({ kind: 'addPass', pass: pass as never, index })),
    ];
    await insertStep(database, shot.id, () => ({ kind: 'several', commands }));
  }
  await database.transaction(async (manager) => {
    const names = late.map((f) => f.name).join(', ');
    const text = offered ? `${names}: came after you began to work here. Muted passes at the desk offer ${late.length > 1 ? 'them' : 'it'}; your picture stays as it was until you switch one on.`
      : late.length > 0 ? `${names}: came after you began to work here, and could not be lined up with your picture. “Propose anew” starts again with all frames.`
      : gone ? 'Frames that this mix uses are in other shots now. It stands as it was; “Propose anew” starts again.' : null;
    await noteOfFrames(manager, shot.id, text);
    for (const { id } of late) await manager.getRepository(FrameEntity).update({ id }, asVerdict({ ...proposal!.verdicts.get(id)!, used: false }));
    await announceIn(manager, { kind: 'shot', shoot: shot.shootId, shot: shot.id });
  });
}

/** Lines a shot up and writes the automatic start as its mix. A mix that exists already is kept; frames that came since are offered to it. */
export async function proposeTask(workshop: Workshop, id: string, claim: Claim = ALONE): Promise<void> {
  const { database } = workshop;
  const shot = await database.getRepository(ShotEntity).findOneBy({ id });
  if (!shot || shot.retired) return;
  const members = (await database.getRepository(FrameEntity).findBy({ shotId: id, state: 'gathered' })) as Frame[];
  if (members.length === 0) return;
  // Counted beforehand: what ends the process never gets to the end.
  await database.getRepository(ShotEntity).increment({ id }, 'attempts', 1);
  if (shot.attempts >= MOST_ATTEMPTS) return failShot(workshop, id, ENDED_EACH_TIME.propose);
  if (await database.getRepository(MixEntity).existsBy({ shotId: id })) {
    // Thrown away meanwhile, to be proposed anew: another job does that.
    return offer(workshop, shot, members, claim).catch((error: unknown) => { if (!(error instanceof NoSuchMix)) throw error; });
  }
  // Frames that were gathered before stats were kept have none.
  const stated = (await database.getRepository(FrameEntity).find({ where: { shotId: id }, select: { id: true, facts: true, stats: true } as never })).flatMap(({ facts, stats }) => (facts && stats && facts.twinOf === null ? [{ facts, stats }] : []));
  await startMix(workshop, shot, members, stated, await propose(workshop, shot, members, null), claim);
}
