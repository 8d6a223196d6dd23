import { EntitySchema } from 'typeorm';
import type { Look } from '@zaddle/core/set/lookOf';

const uuid = { type: 'uuid', primary: true } as const;
const text = { type: 'text' } as const;
/** What a shot's picture looked like when it was last drawn small, and how often drawing the one that stands was begun. */
export interface ShotLook {
  shotId: string;
  /** Revision of the mix that the kept picture shows; null: there is none. */
  revision: number | null;
  look: Look | null;
  tried: number;
  attempts: number;
}
export const ShotLookEntity = new EntitySchema<ShotLook>({
  name: 'ShotLook', tableName: 'shot_looks',
  columns: { shotId: { type: 'uuid', primary: true, name: 'shot_id' }, revision: { type: 'integer', nullable: true }, look: { type: 'jsonb', nullable: true }, tried: { type: 'integer' }, attempts: { type: 'integer' } },
});
/** What a shot's picture shows, packed (`set/shotViews`), and how many things of it those of other shots show, by their ids. */
export interface ShotView {
  shotId: string;
  features: Buffer;
  shows: Record<string, number>;
}
export const ShotViewEntity = new EntitySchema<ShotView>({
  name: 'ShotView', tableName: 'shot_views',
  columns: { shotId: { type: 'uuid', primary: true, name: 'shot_id' }, features: { type: 'bytea' }, shows: { type: 'jsonb' } },
});
/** What somebody thinks of a shot's picture. */
export interface Review {
  shotId: string;
  state: 'approved' | 'sent back' | 'later';
  note: string;
  /** Revision of the mix that was looked at. */
  revision: number;
  at: Date;
}
export const ReviewEntity = new EntitySchema<Review>({
  name: 'Review', tableName: 'reviews',
  columns: { shotId: { type: 'uuid', primary: true, name: 'shot_id' }, state: text, note: text, revision: { type: 'integer' }, at: { type: 'timestamptz' } },
});
/** Shots of a shoot that were brought together in one go, so that it can be taken back in one go. */
export interface SetRun {
  id: string;
  shootId: string;
  shots: readonly { readonly shot: string; readonly revision: number }[];
  takenBack: boolean;
  createdAt: Date;
}
export const SetRunEntity = new EntitySchema<SetRun>({
  name: 'SetRun', tableName: 'set_runs',
  columns: { id: uuid, shootId: { type: 'uuid', name: 'shoot_id' }, shots: { type: 'jsonb' }, takenBack: { type: 'boolean', name: 'taken_back', default: false }, createdAt: { type: 'timestamptz', name: 'created_at', createDate: true } },
});
