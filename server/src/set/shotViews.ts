import { In, type DataSource } from 'typeorm';
import { LOOK_BYTES, type ViewFeatures } from '@zaddle/core/set/describeView';
import { matchViews } from '@zaddle/core/set/matchViews';
import { roomsOf, type TheRoom } from '@zaddle/core/set/roomsOf';
import { ShotEntity, ShotViewEntity, type Shot } from '../data/entities';

/** Shots before and after one that may be of its room: people go through a house once, or twice. */
const BESIDE = 6;
/** Bytes of a feature: three numbers of its ray, two of its colour, and how it looks. */
const FEATURE = 5 * 4 + LOOK_BYTES;

const bytesOf = ({ buffer, byteOffset, byteLength }: Float32Array | Uint8Array): Buffer => Buffer.from(buffer, byteOffset, byteLength);

const packed = ({ rays, colours, looks }: ViewFeatures): Buffer => Buffer.concat([bytesOf(rays), bytesOf(colours), bytesOf(looks)]);

function unpacked(file: Buffer): ViewFeatures {
  const count = Math.floor(file.length / FEATURE);
  // Numbers want to begin where they may.
  const { buffer } = Uint8Array.from(file);
  return { rays: new Float32Array(buffer, 0, count * 3), colours: new Float32Array(buffer, count * 12, count * 2), looks: new Uint8Array(buffer, count * 20, count * LOOK_BYTES) };
}

/** Whether it is known what a shot shows. */
export const hasView = (database: DataSource, shotId: string): Promise<boolean> => database.getRepository(ShotViewEntity).existsBy({ shotId });

/** Keeps what a shot's picture shows, and what of it the shots taken before and after show, too. Whichever of two is kept later sees the other. */
export async function keepView(database: DataSource, shot: Pick<Shot, 'id' | 'shootId'>, view: ViewFeatures): Promise<void> {
  const views = database.getRepository(ShotViewEntity);
  await views.upsert({ shotId: shot.id, features: packed(view), shows: {} }, ['shotId']);
  const order = (await database.getRepository(ShotEntity).find({ where: { shootId: shot.shootId, retired: false }, order: { position: 'ASC' }, select: { id: true, position: true } as never })).map(({ id }) => id);
  const at = order.indexOf(shot.id);
  const beside = order.slice(Math.max(0, at - BESIDE), at + BESIDE + 1).filter((id) => id !== shot.id);
  const shows: Record<string, number> = {};
  for (const { shotId, features } of await views.findBy({ shotId: In(beside) })) shows[shotId] = matchViews(view, unpacked(features));
  await views.update({ shotId: shot.id }, { shows });
}

/** The rooms of a shoot's shots, by their ids; and those shots of which it is known what they show. */
export async function roomsOfShoot(database: DataSource, shootId: string): Promise<{ readonly rooms: ReadonlyMap<string, TheRoom | null>; readonly described: ReadonlySet<string> }> {
  const rows: { id: string; label: string; shows: Record<string, number> | null }[] = await database.query('SELECT s.id, s.label, v.shows FROM shots s LEFT JOIN shot_views v ON v.shot_id = s.id WHERE s.shoot_id = $1 AND NOT s.retired ORDER BY s.position', [shootId]);
  return { rooms: roomsOf(rows.map(({ id, label, shows }) => ({ id, label, shows: shows ?? {} }))), described: new Set(rows.flatMap(({ id, shows }) => (shows ? [id] : []))) };
}
