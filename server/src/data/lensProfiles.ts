import type { DataSource } from 'typeorm';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import { LensProfileEntity, type LensProfile } from './entities';

/** What a profile is kept for, or null where the files do not name their camera. Focal lengths count to a tenth of a millimetre. */
export function lensOf(facts: FrameFacts): Pick<LensProfile, 'camera' | 'lens' | 'focalLength'> | null {
  if (!facts.camera) return null;
  return { camera: facts.camera, lens: facts.lensName ?? '', focalLength: Math.round((facts.focalLength ?? 0) * 10) / 10 };
}

/** The profile that a person kept for this camera and lens, if any. */
export async function keptProfile(database: DataSource, facts: FrameFacts): Promise<LensProfile | null> {
  const key = lensOf(facts);
  return key ? database.getRepository(LensProfileEntity).findOneBy(key) : null;
}
