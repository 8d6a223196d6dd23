import { In, type EntityManager } from 'typeorm';
import type { NamedPicture } from '@zaddle/document';
import { FrameEntity, MixEntity, ShootEntity, ShotEntity } from './entities';
import { onTour } from './onTour';

/** A shot's picture as its files are named by. */
export interface NamedShot {
  readonly shot: string;
  readonly shoot: string;
  readonly picture: NamedPicture;
}

const day = (milliseconds: number): string => new Date(milliseconds).toISOString().slice(0, 10);

/** What names of files are made of for all shots of shoots, shoot by shoot in the order of the tour. */
export async function namedPictures(manager: EntityManager, shoots: readonly string[]): Promise<NamedShot[]> {
  const shots = await manager.getRepository(ShotEntity).findBy({ shootId: In([...shoots]), retired: false });
  const properties = new Map((await manager.getRepository(ShootEntity).findBy({ id: In([...shoots]) })).map(({ id, name, createdAt }) => [id, { name, createdAt }]));
  // An empty list is no SQL: an id that is no shot's goes with it.
  const references = (await manager.getRepository(MixEntity).createQueryBuilder('mix').select('mix.shot_id', 'shot').addSelect(`mix.document->>'reference'`, 'frame').where('mix.shot_id IN (:...ids)', { ids: [...shots.map(({ id }) => id), shoots[0]] }).getRawMany()) as { shot: string; frame: string }[];
  const frames = new Map((await manager.getRepository(FrameEntity).findBy({ id: In(references.map(({ frame }) => frame)) })).map((frame) => [frame.id, frame]));
  const referenceOf = new Map(references.map(({ shot, frame }) => [shot, frames.get(frame)]));
  const places = new Map<string, number>();
  return shots.sort(onTour).map(({ id, shootId, label }) => {
    const [number, reference, property] = [(places.get(shootId) ?? 0) + 1, referenceOf.get(id), properties.get(shootId)];
    places.set(shootId, number);
    return { shot: id, shoot: shootId, picture: { property: property?.name ?? '', room: label, number, date: day(reference?.facts?.takenAt ?? property?.createdAt.getTime() ?? 0), frame: reference?.name ?? '' } };
  });
}
