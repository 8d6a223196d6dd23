import { EntitySchema } from 'typeorm';
import type { Grouping } from '@zaddle/core/intake/regroup';
import type { Speck } from '@zaddle/core/read/findSpecks';
import type { FrameFacts, Role } from '@zaddle/core/intake/frameFacts';
import type { FrameStats } from '@zaddle/core/read/frameStats';
import { FIRST_START, type Start } from '@zaddle/core/propose/starts';
import type { Reading } from '@zaddle/core/read/readings';
import type { MethodChoice } from '@zaddle/core/method/placeMethod';
import type { Command, Method, MixDocument, Optics, Order } from '@zaddle/document';
import { BatchEntity, DeliveryEntity } from './deliveryEntities';
import { NetworkKeyEntity } from './keyEntities';
import { ReviewEntity, SetRunEntity, ShotLookEntity, ShotViewEntity } from './wallEntities';

export * from './deliveryEntities';
export * from './keyEntities';
export * from './wallEntities';

export interface Shoot {
  id: string;
  name: string;
  address: string;
  dueAt: Date | null;
  createdAt: Date;
  /** How many steps of regrouping by hand are in force. */
  groupingPosition: number;
  /** Fed by a watched folder while it is shot. */
  live: boolean;
  /** What its shots begin with. */
  start: Start;
  /** The method that shots to come are given; null: none. */
  method: MethodChoice | null;
  /** Seconds that a person says a shot takes them; null: as was measured. */
  handSeconds: number | null;
  /** What is delivered of it as soon as it is ready; null: nothing. */
  standing: StandingOrder | null;
}
/** What is delivered of a shoot once all of it is there, with nobody asking again. */
export interface StandingOrder {
  readonly orders: readonly string[];
  readonly quality: number;
  readonly folder: string | null;
  readonly receiver: string | null;
  /** Batches that it has made so far. */
  readonly batches: readonly string[];
  /** For each shot that it has delivered, the frames that it had then, in short: kept here, since what was delivered may be cleared away. */
  readonly made: Readonly<Record<string, string>>;
  /** Why it can make none, and rests; null: nothing is wrong. */
  readonly fault: string | null;
}
export interface Frame {
  id: string;
  shootId: string;
  shotId: string | null;
  /** SHA-256 of the file, which is also its name in the store. */
  sha256: string;
  name: string;
  bytes: string;
  state: 'waiting' | 'gathered' | 'rejected';
  /** Why it was rejected, or what its role rests on. */
  why: string;
  facts: FrameFacts | null;
  /** Exposure and sharpness, read while gathering. */
  stats: FrameStats | null;
  role: Role;
  used: boolean;
  residualPx: number | null;
  /** Expected misalignment part by part, pixels; null where it cannot be told. */
  parts: readonly (number | null)[];
  /** A person's mark, for reviewing. */
  marked: boolean;
  /** Taken out by a person. */
  dropped: boolean;
  /** How often reading it was begun. */
  attempts: number;
}
/** Small dark places of a shot's frames, where they lie on the sensor. */
export interface Specks {
  /** What tells one sensor from another. */
  readonly camera: string;
  readonly places: readonly Speck[];
}
export interface Shot {
  id: string;
  shootId: string;
  position: number;
  label: string;
  confidence: number;
  why: string;
  state: 'sorted' | 'mixed' | 'failed';
  readings: Reading[];
  /** Places that a person lets stay as they are, in longer sides of the reference. */
  stays: readonly (readonly [number, number])[];
  /** Small dark places of its frames, by which dust on the sensor is told; read only where it is asked for. */
  specks?: Specks;
  /** All its frames went to other shots. What a person made of it is kept, for when they come back. */
  retired: boolean;
  /** How often proposing it was begun since its frames changed. */
  attempts: number;
  /** Last revision of mixes of this shot that were thrown away: the next one counts on from there, so that no number means two things. */
  lastRevision: number;
  /** Its place on the tour of the property, where somebody has put it; null: where it was taken. */
  tour: number | null;
}
export interface StoredMix {
  shotId: string;
  document: MixDocument;
  /** How many steps of the history are in force; later ones can be redone. */
  position: number;
  /** Counts every change, undoing and redoing too. */
  revision: number;
}
/** A change that was made to a mix: which places it touched, so that changes based on what was before can be held against it, and which request it was, so that asking twice does it once. */
export interface MixChange {
  shotId: string;
  revision: number;
  request: string | null;
  editor: string | null;
  touched: readonly string[];
}
export interface MixStep {
  shotId: string;
  step: number;
  command: Command;
  inverse: Command;
}
/** What a person kept of a camera with a lens at a focal length, for shots to come. */
export interface LensProfile {
  camera: string;
  lens: string;
  focalLength: number;
  optics: Optics;
  response: readonly number[];
  keptAt: Date;
}
/** A job that a worker process has in hand, so that another can tell when that worker is gone. */
export interface Claim {
  jobId: string;
  queue: string;
  worker: string;
  seenAt: Date;
}

const uuid = { type: 'uuid', primary: true } as const;
const text = { type: 'text' } as const;

export const ShootEntity = new EntitySchema<Shoot>({
  name: 'Shoot', tableName: 'shoots',
  columns: { id: uuid, name: text, address: text, dueAt: { type: 'timestamptz', nullable: true, name: 'due_at' }, createdAt: { type: 'timestamptz', name: 'created_at', createDate: true }, groupingPosition: { type: 'integer', name: 'grouping_position', default: 0 }, live: { type: 'boolean', default: false }, start: { type: 'text', default: FIRST_START }, method: { type: 'jsonb', nullable: true }, handSeconds: { type: 'double precision', name: 'hand_seconds', nullable: true }, standing: { type: 'jsonb', nullable: true } },
});
export const FrameEntity = new EntitySchema<Frame>({
  name: 'Frame', tableName: 'frames',
  columns: {
    id: uuid, shootId: { type: 'uuid', name: 'shoot_id' }, shotId: { type: 'uuid', name: 'shot_id', nullable: true }, sha256: text, name: text, bytes: { type: 'bigint' },
    state: text, why: text, facts: { type: 'jsonb', nullable: true }, stats: { type: 'jsonb', nullable: true, select: false }, role: text, used: { type: 'boolean' }, residualPx: { type: 'double precision', name: 'residual_px', nullable: true }, parts: { type: 'jsonb', default: [] },
    marked: { type: 'boolean', default: false }, dropped: { type: 'boolean', default: false }, attempts: { type: 'integer', default: 0 },
  },
});
export const ShotEntity = new EntitySchema<Shot>({
  name: 'Shot', tableName: 'shots',
  columns: { id: uuid, shootId: { type: 'uuid', name: 'shoot_id' }, position: { type: 'integer' }, label: text, confidence: { type: 'double precision' }, why: text, state: text, readings: { type: 'jsonb' }, stays: { type: 'jsonb', default: [] }, specks: { type: 'jsonb', default: { camera: '', places: [] }, select: false }, retired: { type: 'boolean', default: false }, attempts: { type: 'integer', default: 0 }, lastRevision: { type: 'integer', name: 'last_revision', default: 0 }, tour: { type: 'integer', nullable: true } },
});
export const MixEntity = new EntitySchema<StoredMix>({
  name: 'Mix', tableName: 'mixes',
  columns: { shotId: { type: 'uuid', primary: true, name: 'shot_id' }, document: { type: 'jsonb' }, position: { type: 'integer' }, revision: { type: 'integer', default: 0 } },
});
export const MixStepEntity = new EntitySchema<MixStep>({
  name: 'MixStep', tableName: 'mix_steps',
  columns: { shotId: { type: 'uuid', primary: true, name: 'shot_id' }, step: { type: 'integer', primary: true }, command: { type: 'jsonb' }, inverse: { type: 'jsonb' } },
});
export const MixChangeEntity = new EntitySchema<MixChange>({
  name: 'MixChange', tableName: 'mix_changes',
  columns: { shotId: { type: 'uuid', primary: true, name: 'shot_id' }, revision: { type: 'integer', primary: true }, request: { type: 'uuid', nullable: true }, editor: { type: 'uuid', nullable: true }, touched: { type: 'jsonb' } },
});
/** A mix as it stood when a person gave it a name. */
export interface MixVersion {
  id: string;
  shotId: string;
  name: string;
  document: MixDocument;
  createdAt: Date;
}
export const MixVersionEntity = new EntitySchema<MixVersion>({
  name: 'MixVersion', tableName: 'mix_versions',
  columns: { id: uuid, shotId: { type: 'uuid', name: 'shot_id' }, name: text, document: { type: 'jsonb' }, createdAt: { type: 'timestamptz', name: 'created_at' } },
});
/** A method that is kept here; the first nine have keys. */
export interface KeptMethod {
  id: string;
  position: number;
  method: Method;
  createdAt: Date;
}
export const MethodEntity = new EntitySchema<KeptMethod>({
  name: 'KeptMethod', tableName: 'methods',
  columns: { id: uuid, position: { type: 'integer' }, method: { type: 'jsonb' }, createdAt: { type: 'timestamptz', name: 'created_at', createDate: true } },
});
/** A colour table, as the file that it came in. */
export interface KeptTable {
  /** SHA-256 of the text. */
  digest: string;
  name: string;
  /** What it is, for people. */
  what: string;
  body: string;
  createdAt: Date;
}
export const ColourTableEntity = new EntitySchema<KeptTable>({
  name: 'KeptTable', tableName: 'colour_tables',
  columns: { digest: { type: 'text', primary: true }, name: text, what: text, body: { type: 'text', select: false }, createdAt: { type: 'timestamptz', name: 'created_at', createDate: true } },
});
/** An order that is kept here. */
export interface KeptOrder {
  id: string;
  name: string;
  asked: Order;
  createdAt: Date;
}
export const OrderEntity = new EntitySchema<KeptOrder>({
  name: 'KeptOrder', tableName: 'orders',
  columns: { id: uuid, name: text, asked: { type: 'jsonb' }, createdAt: { type: 'timestamptz', name: 'created_at', createDate: true } },
});
/** A method that shots of a shoot were given together, so that it can be taken back together. */
export interface MethodRun {
  id: string;
  shootId: string;
  choice: MethodChoice;
  /** What shots to come were given before, where that was changed; else null. */
  former: { readonly choice: MethodChoice | null } | null;
  /** Shots that were changed, and the revision that it made of each. */
  shots: readonly { readonly shot: string; readonly revision: number }[];
  takenBack: boolean;
  createdAt: Date;
}
export const MethodRunEntity = new EntitySchema<MethodRun>({
  name: 'MethodRun', tableName: 'method_runs',
  columns: { id: uuid, shootId: { type: 'uuid', name: 'shoot_id' }, choice: { type: 'jsonb' }, former: { type: 'jsonb', nullable: true }, shots: { type: 'jsonb' }, takenBack: { type: 'boolean', name: 'taken_back', default: false }, createdAt: { type: 'timestamptz', name: 'created_at', createDate: true } },
});
/** A step of regrouping by hand: the whole grouping before and after it, which is small. */
export interface GroupingStep {
  shootId: string;
  step: number;
  before: Grouping;
  after: Grouping;
}
export const GroupingStepEntity = new EntitySchema<GroupingStep>({
  name: 'GroupingStep', tableName: 'grouping_steps',
  columns: { shootId: { type: 'uuid', primary: true, name: 'shoot_id' }, step: { type: 'integer', primary: true }, before: { type: 'jsonb' }, after: { type: 'jsonb' } },
});
export const ClaimEntity = new EntitySchema<Claim>({
  name: 'Claim', tableName: 'claims',
  columns: { jobId: { type: 'uuid', primary: true, name: 'job_id' }, queue: text, worker: text, seenAt: { type: 'timestamptz', name: 'seen_at' } },
});

export const LensProfileEntity = new EntitySchema<LensProfile>({
  name: 'LensProfile', tableName: 'lens_profiles',
  columns: {
    camera: { type: 'text', primary: true }, lens: { type: 'text', primary: true }, focalLength: { type: 'double precision', primary: true, name: 'focal_length' },
    optics: { type: 'jsonb' }, response: { type: 'jsonb' }, keptAt: { type: 'timestamptz', name: 'kept_at', default: () => 'now()' },
  },
});

export const ENTITIES = [LensProfileEntity, ShootEntity, FrameEntity, ShotEntity, MixEntity, MixStepEntity, MixChangeEntity, MixVersionEntity, MethodEntity, MethodRunEntity, ColourTableEntity, OrderEntity, ShotLookEntity, ShotViewEntity, ReviewEntity, SetRunEntity, GroupingStepEntity, BatchEntity, DeliveryEntity, ClaimEntity, NetworkKeyEntity];
