import sharp from 'sharp';
import { readyBytes, readyMix } from '@zaddle/core/graph/readyMix';
import type { Pixels } from '@zaddle/core/image/plane';
import { shrunkSize } from '@zaddle/core/image/shrink';
import { toldStance } from '@zaddle/core/read/leaningReading';
import type { ViewFeatures } from '@zaddle/core/set/describeView';
import { lookOf, type Look } from '@zaddle/core/set/lookOf';
import { viewOfMix } from '@zaddle/core/set/viewOfMix';
import type { PreparedMix } from '@zaddle/core/graph/prepareMix';
import { packWide } from '@zaddle/core/graph/storedWide';
import { readTrusted, type FrameId, type MixDocument } from '@zaddle/document';
import { In } from 'typeorm';
import { tablesFor } from '../data/colourTables';
import { announce } from '../data/events';
import { FrameEntity, MixEntity, ShotEntity, ShotLookEntity } from '../data/entities';
import { unpackPixels } from '../data/proxyFile';
import { foundOf } from '../found/foundStore';
import { FrameShelf, shelfBytes } from '../picture/frameShelf';
import { newTools } from '../picture/kernels';
import { finishedPicture, renderingOf } from '../picture/rendering';
import { framesToRender, healedScratch, renderScratch } from '../picture/renderPicture';
import { hasView, keepView } from '../set/shotViews';
import { readGathered } from './derivedFiles';
import type { Workshop } from './workshop';

/** Longer side of the pictures on the wall, pixels: large enough to fill a window. */
export const PREVIEW_SIDE = 1200;
const QUALITY = 86;
/** Times that drawing one picture is begun. What ends its process each time is left undrawn. */
export const MOST_TRIES = 3;

/** A picture that was drawn small, as a file. */
export interface Preview {
  readonly file: Buffer;
  readonly look: Look;
  /** What it shows; null: that is known already. */
  readonly view: ViewFeatures | null;
  /** What was worked out for it in a wide context, packed, for whoever opens the shot next; null: nothing. */
  readonly wide: Uint8Array | null;
}

/** Draws a prepared mix small. @param proxies of the frames that it takes, at least */
export async function drawPreview(prepared: PreparedMix, proxies: ReadonlyMap<FrameId, Pixels>): Promise<Buffer> {
  const size = shrunkSize(prepared.mix.width, prepared.mix.height, PREVIEW_SIDE);
  const ids = framesToRender(prepared);
  const pixels = ids.map((id) => proxies.get(id)!);
  const shelf = new FrameShelf(pixels.reduce((sum, { width, height }) => sum + shelfBytes(width, height, false), 0), renderScratch(size.width, size.height, ids.length, 'encoded') + healedScratch(prepared, size.width, ids.length));
  try {
    ids.forEach((id, k) => shelf.place(id, pixels[k]));
    const { width, height, data } = await finishedPicture(renderingOf(prepared, shelf, size));
    return await sharp(data as Uint8Array, { raw: { width, height, channels: 3 } }).jpeg({ quality: QUALITY }).toBuffer();
  } finally {
    shelf.close();
  }
}

/** Keeps the picture of a mix as it stood at a revision. */
export async function keepPreview({ database, store }: Workshop, shotId: string, revision: number, { file, look, view, wide }: Preview): Promise<void> {
  // Megabytes, over a line that may be slow: not while anything is held.
  if (wide) await store.putDerived('wide', shotId, wide);
  const shot = await database.transaction(async (manager) => {
    // Held, so that joining shots, which takes this one away, waits until its picture is there to be taken away with it.
    const found = await manager.getRepository(ShotEntity).findOne({ where: { id: shotId }, lock: { mode: 'for_key_share' } });
    if (!found) return null;
    await store.putDerived('preview', shotId, file);
    await manager.getRepository(ShotLookEntity).upsert({ shotId, revision, look: look as never, tried: revision, attempts: 1 }, ['shotId']);
    return found;
  });
  // Whoever took the shot away may have been there before that file.
  if (!shot) return wide ? store.removeDerived('wide', shotId) : undefined;
  await announce(database, { kind: 'wall', shoot: shot.shootId });
  if (!view) return;
  // Takes a second beside many shots; the picture is seen meanwhile.
  await keepView(database, shot, view);
  await announce(database, { kind: 'wall', shoot: shot.shootId });
}

async function draw(workshop: Workshop, shotId: string, mix: MixDocument): Promise<Preview> {
  const { database, store } = workshop;
  const shot = await database.getRepository(ShotEntity).findOneByOrFail({ id: shotId });
  const members = await database.getRepository(FrameEntity).findBy({ id: In(Object.keys(mix.frames)) });
  const proxies = new Map<string, Pixels>();
  for (const frame of members) proxies.set(frame.id, await readGathered(workshop, 'proxy', frame.id, unpackPixels));
  const { found } = await foundOf(store, shotId, mix);
  const [stance, isKnown] = [toldStance(shot.readings), await hasView(database, shotId)];
  const { prepared, result } = readyMix(newTools(readyBytes(mix)), mix, found, proxies, (level, ready) => {
    const picture = level.picture(ready);
    return { look: lookOf(level, ready, stance, picture), view: isKnown ? null : viewOfMix(mix, picture, stance) };
  }, await tablesFor(database, mix.passes));
  return { file: await drawPreview(prepared, proxies), wide: packWide(prepared), ...result };
}

/** Draws a shot's picture as it stands small, from its proxies, measures what it looks like, and describes what it shows. Does nothing where that is there already. */
export async function previewTask(workshop: Workshop, id: string): Promise<void> {
  const { database } = workshop;
  const mix = await database.getRepository(MixEntity).findOneBy({ shotId: id });
  if (!mix) return;
  const looks = database.getRepository(ShotLookEntity);
  const last = await looks.findOneBy({ shotId: id });
  if (last?.revision === mix.revision && (await hasView(database, id))) return;
  const attempts = last?.tried === mix.revision ? last.attempts + 1 : 1;
  if (attempts > MOST_TRIES) return;
  await looks.upsert({ shotId: id, tried: mix.revision, attempts, revision: last?.revision ?? null, look: (last?.look ?? null) as never }, ['shotId']);
  await keepPreview(workshop, id, mix.revision, await draw(workshop, id, readTrusted(mix.document)));
}
