import type { DataSource } from 'typeorm';
import type { QueueName } from '../jobs/queues';

/** Kinds of work that are measured apart: deliveries by the kind of their files, which take very different time. */
export type WorkKind = 'gather' | 'sort' | 'propose' | 'preview' | 'upload' | `deliver ${string}`;

/** What is worked on takes as long as this many frames more: opening, joining, encoding. */
export const OVERHEAD_FRAMES = { propose: 2, deliver: 3 } as const;
/** However small they are: a file takes as long as this many megabytes more, a delivery as so many megapixels. */
export const OVERHEAD_MEGABYTES = 1;
export const OVERHEAD_MEGAPIXELS = 30;

/** Megapixels of a picture, where no frame tells. */
export const USUAL_MEGAPIXELS = 24;
/** Megapixels of frames, in the middle. */
export const MEGAPIXELS = `percentile_cont(0.5) WITHIN GROUP (ORDER BY (facts->>'width')::float8 * (facts->>'height')::float8 / 1e6)`;
/** Kind of a delivery `d`, and its amount: frames that are opened and what is written, by their size. */
export const DELIVERED_KIND = `'deliver ' || coalesce(d.asked->>'file', 'jpeg')`;
export const DELIVERED_UNITS = `(SELECT (count(*) + ${OVERHEAD_FRAMES.deliver}) * coalesce(${MEGAPIXELS}, ${USUAL_MEGAPIXELS}) + ${OVERHEAD_MEGAPIXELS} FROM frames f WHERE f.shot_id = d.shot_id)`;

/** Kind and amount of a job, by the id of what it is about. Amounts are such that time is about proportional to them. */
const WORK: Readonly<Record<QueueName, string>> = {
  gather: `SELECT 'gather' AS kind, bytes / 1e6 + ${OVERHEAD_MEGABYTES} AS units FROM frames WHERE id = $1`,
  sort: `SELECT 'sort' AS kind, count(*)::float8 AS units FROM frames WHERE shoot_id = $1`,
  propose: `SELECT 'propose' AS kind, count(*)::float8 + ${OVERHEAD_FRAMES.propose} AS units FROM frames WHERE shot_id = $1`,
  preview: `SELECT 'preview' AS kind, 1::float8 AS units`,
  deliver: `SELECT ${DELIVERED_KIND} AS kind, ${DELIVERED_UNITS} AS units FROM deliveries d WHERE id = $1 AND state = 'done'`,
  upload: `SELECT 'upload' AS kind, bytes / 1e6 AS units FROM deliveries WHERE id = $1 AND sending = 'sent'`,
};
/** Anything quicker had nothing to do: another process did it, or it is not wanted any more. Seconds. */
const NOTHING = 0.05;

/** Notes how long a job took on this machine, for the forecast. */
export async function noteWork(database: DataSource, queue: QueueName, id: string, seconds: number): Promise<void> {
  if (seconds < NOTHING) return;
  const own = queue === 'preview' ? [seconds] : [id, seconds];
  await database.query(`INSERT INTO work_times (kind, units, started_at, ended_at) SELECT kind, units, clock_timestamp() - make_interval(secs => $${own.length}), clock_timestamp() FROM (${WORK[queue]}) w WHERE units > 0`, own);
}

/** Days that measured times and moments are kept. */
const KEPT_DAYS = 60;

/** Forgets what is too old to tell anything. */
export async function forgetOldTimes(database: DataSource): Promise<void> {
  await database.query(`DELETE FROM work_times WHERE ended_at < now() - make_interval(days => $1)`, [KEPT_DAYS]);
  await database.query(`DELETE FROM hand_moments WHERE at < now() - make_interval(days => $1)`, [KEPT_DAYS]);
}
