import { freeOfLens } from '@zaddle/core/geometry/lens';
import type { Pixels } from '@zaddle/core/image/plane';
import { shrinkFrom, shrinkScratch, shrunkSize } from '@zaddle/core/image/shrink';
import { GUIDE_SIDE } from '@zaddle/core/mix/guides';
import { commonSpecks, findSpecks, recurringSpecks, type Speck } from '@zaddle/core/read/findSpecks';
import type { MixDocument } from '@zaddle/document';
import type { DataSource } from 'typeorm';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import { ShotEntity, type Shot, type Specks } from '../data/entities';
import { newTools } from '../picture/kernels';

/** What tells one sensor from another, as it lies in the frame. */
const cameraOf = ({ camera, width, height }: FrameFacts): string => `${camera ?? ''} ${width}x${height}`;

/** Small dark places that the reference of a mix has, and another of its frames where there is one. @param proxies pixels as they are stored */
export function specksOf({ reference, frames }: MixDocument, facts: ReadonlyMap<string, FrameFacts>, proxies: ReadonlyMap<string, Pixels>): Specks {
  const small = (id: string): Pixels => {
    const proxy = proxies.get(id)!;
    const { width, height } = shrunkSize(proxy.width, proxy.height, GUIDE_SIDE);
    const tools = newTools(shrinkScratch(proxy.width) + 65536);
    return shrinkFrom(tools.kernels, tools.arena, proxy, width, height);
  };
  const other = Object.keys(frames).find((id) => id !== reference && frames[id].width === frames[reference].width && frames[id].height === frames[reference].height);
  const own = findSpecks(small(reference));
  return { camera: cameraOf(facts.get(reference)!), places: other ? commonSpecks(own, findSpecks(small(other))) : own };
}

/** Where dust lies in a shot: small dark places that other shots of the visit by the same camera have, too; middle and radius, longer sides of the reference. */
export async function dustOf(database: DataSource, { id, shootId }: Pick<Shot, 'id' | 'shootId'>, mix: MixDocument): Promise<Speck[]> {
  const all: Shot[] = await database.getRepository(ShotEntity).find({ where: { shootId, retired: false }, select: { id: true, specks: true } as never });
  const specks = all.find((shot) => shot.id === id)?.specks;
  if (!specks || specks.places.length === 0) return [];
  const theirs = all.flatMap((other) => (other.id !== id && other.specks?.camera === specks.camera ? [other.specks.places] : []));
  const { width, height } = mix.frames[mix.reference];
  const full = Math.max(width, height);
  return recurringSpecks(specks.places, theirs).map(([x, y, radius]): Speck => {
    const [u, v] = mix.corrects.distortion ? freeOfLens(mix.lens, width, height, x * full, y * full) : [x * full, y * full];
    return [u / full, v / full, radius];
  });
}
