import { EntitySchema } from 'typeorm';
import type { MixDocument, Order } from '@zaddle/document';

export interface Delivery {
  id: string;
  shotId: string;
  /** The mix as it stood when the picture was ordered; null for deliveries from before it was kept. */
  document: MixDocument | null;
  name: string;
  /** Name of the order that it was delivered by, and what that asked for then; null for those from before that was kept, of orders that ship. */
  order: string;
  asked: Order | null;
  quality: number;
  /** `stopped`: taken off the queue by a person before it was made. */
  state: 'waiting' | 'running' | 'done' | 'failed' | 'stopped';
  progress: number;
  why: string;
  bytes: string | null;
  attempts: number;
  createdAt: Date;
  doneAt: Date | null;
  batchId: string;
  /** Its turn within the batch. */
  place: number;
  /** Where it lies below the folder for deliveries, once that is settled; null: nowhere but in the store. */
  liesAt: string | null;
  /** How far sending it to its batch's receiver is; null: nobody is to get it. */
  sending: 'waiting' | 'sent' | 'refused' | null;
  /** Why it was refused, or why it waits. */
  sendingWhy: string;
  /** How often sending it came to nothing. */
  sendingTimes: number;
  /** Where an upload that was begun goes on. */
  uploadUrl: string | null;
  sentAt: Date | null;
}
/** Deliveries that were ordered in one go. */
export interface Batch {
  id: string;
  /** Its turn among batches. */
  place: number;
  paused: boolean;
  /** Folder below the one for deliveries that its files are put into as well; null: none. */
  folder: string | null;
  /** Whom its files are sent to; null: nobody. */
  receiver: string | null;
  createdAt: Date;
}

const uuid = { type: 'uuid', primary: true } as const;
const text = { type: 'text' } as const;

export const DeliveryEntity = new EntitySchema<Delivery>({
  name: 'Delivery', tableName: 'deliveries',
  columns: {
    id: uuid, shotId: { type: 'uuid', name: 'shot_id' }, document: { type: 'jsonb', nullable: true, select: false }, name: text, order: { type: 'text', name: 'ordered_as' }, asked: { type: 'jsonb', nullable: true }, quality: { type: 'integer' }, state: text, progress: { type: 'double precision' }, why: text,
    bytes: { type: 'bigint', nullable: true }, attempts: { type: 'integer' }, createdAt: { type: 'timestamptz', name: 'created_at', createDate: true },
    doneAt: { type: 'timestamptz', name: 'done_at', nullable: true }, batchId: { type: 'uuid', name: 'batch_id' }, place: { type: 'integer' }, liesAt: { type: 'text', name: 'lies_at', nullable: true },
    sending: { type: 'text', nullable: true }, sendingWhy: { type: 'text', name: 'sending_why', default: '' }, sendingTimes: { type: 'integer', name: 'sending_times', default: 0 }, uploadUrl: { type: 'text', name: 'upload_url', nullable: true }, sentAt: { type: 'timestamptz', name: 'sent_at', nullable: true },
  },
});
export const BatchEntity = new EntitySchema<Batch>({
  name: 'Batch', tableName: 'batches',
  columns: { id: uuid, place: { type: 'integer' }, paused: { type: 'boolean', default: false }, folder: { type: 'text', nullable: true }, receiver: { type: 'text', nullable: true }, createdAt: { type: 'timestamptz', name: 'created_at', createDate: true } },
});
