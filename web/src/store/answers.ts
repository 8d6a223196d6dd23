import type { Speck } from '@zaddle/core/read/findSpecks';
import type { CellState } from '@zaddle/core/read/setQuality';
import type { Start } from '@zaddle/core/propose/starts';
import type { Reading } from '@zaddle/core/read/readings';
import type { Places } from '@zaddle/core/set/lookOf';
import type { SetReading } from '@zaddle/core/set/setReadings';
import type { FrameFacts, Role } from '@zaddle/core/intake/frameFacts';
import type { MethodChoice } from '@zaddle/core/method/placeMethod';
import type { Method, Order, PartName, Point } from '@zaddle/document';
import type { MixState } from '../edits/editQueue';

/* What the server answers. */

export interface ShootSummary {
  readonly id: string;
  readonly name: string;
  readonly address: string;
  readonly dueAt: string | null;
  readonly frames: { readonly waiting: number; readonly gathered: number; readonly rejected: number };
  readonly shots: number;
  readonly mixed: number;
  readonly delivered: number;
  /** Pictures that are approved as they stand, and that were sent back. */
  readonly approved: number;
  readonly sentBack: number;
  readonly createdAt: string;
  readonly cover: string | null;
}
export interface Frame {
  readonly id: string;
  readonly shotId: string | null;
  readonly name: string;
  readonly state: 'waiting' | 'gathered' | 'rejected';
  readonly why: string;
  readonly facts: FrameFacts | null;
  readonly role: Role;
  readonly used: boolean;
  readonly residualPx: number | null;
  readonly parts: readonly (number | null)[];
  readonly marked: boolean;
  readonly dropped: boolean;
}
export interface Shot {
  readonly id: string;
  readonly shootId: string;
  readonly position: number;
  readonly label: string;
  readonly confidence: number;
  readonly why: string;
  readonly state: 'sorted' | 'mixed' | 'failed';
  readonly readings: readonly Reading[];
  /** Places that a person lets stay as they are, in longer sides of the reference. */
  readonly stays: readonly Point[];
}
export interface ShootDetail {
  readonly id: string;
  readonly name: string;
  readonly address: string;
  readonly dueAt: string | null;
  /** Of regrouping by hand. */
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  readonly frames: readonly Frame[];
  readonly shots: readonly Shot[];
  /** What is delivered of it as soon as it is ready; null: nothing. */
  readonly standing: StandingOrder | null;
}
/** What was ordered of a shoot before it is ready. */
interface StandingOrder {
  readonly orders: readonly string[];
  readonly folder: string | null;
  readonly receiver: string | null;
  readonly batches: readonly string[];
  /** Why it can make nothing. */
  readonly fault: string | null;
}
export interface ShotDetail {
  readonly shot: Shot;
  readonly frames: readonly Frame[];
  readonly mix: MixState | null;
  /** What somebody thinks of its picture. */
  readonly review: { readonly state: ReviewState; readonly note: string } | null;
  /** Dust on the sensor, told by other shots of the visit: middle and radius, longer sides of the reference. */
  readonly dust: readonly Speck[];
}
/** A colour table that is kept. */
export interface KeptTable {
  readonly digest: string;
  readonly name: string;
  readonly what: string;
}
/** An order that is kept. */
export interface KeptOrder {
  readonly id: string;
  readonly name: string;
  readonly order: Order;
}
export interface Delivery {
  readonly id: string;
  readonly shotId: string;
  readonly name: string;
  /** What its order is called, and what that asked for; null: an order that ships. */
  readonly order: string;
  readonly asked: Order | null;
  readonly quality: number;
  /** `stopped`: taken off the queue before it was made. */
  readonly state: 'waiting' | 'running' | 'done' | 'failed' | 'stopped';
  readonly progress: number;
  readonly why: string;
  readonly bytes: string | null;
  readonly attempts: number;
  readonly createdAt: string;
  readonly doneAt: string | null;
  readonly batchId: string;
  readonly place: number;
  /** Where it lies below the folder for deliveries. */
  readonly liesAt: string | null;
  /** How far sending it to its batch's receiver is; null: nobody is to get it. */
  readonly sending: 'waiting' | 'sent' | 'refused' | null;
  readonly sendingWhy: string;
  readonly sentAt: string | null;
}
/** Deliveries that were ordered in one go. */
export interface Batch {
  readonly id: string;
  readonly place: number;
  readonly paused: boolean;
  readonly folder: string | null;
  readonly receiver: string | null;
  readonly createdAt: string;
  readonly shoots: readonly { readonly id: string; readonly name: string }[];
}
/** The folder that pictures may be put below, null where this server has none; and whom they may be sent to. */
export interface Destinations {
  readonly deliverTo: string | null;
  readonly receivers: readonly string[];
}
export type Help = { readonly kind: 'as they stand' | 'another worker'; readonly seconds: number } | { readonly kind: 'leave out'; readonly order: string; readonly seconds: number };
/** When a shoot will be done; times are seconds from when it was asked. */
export interface ForeseenShoot {
  readonly id: string;
  readonly name: string;
  readonly dueAt: string | null;
  readonly read: number;
  readonly mixed: number;
  readonly byHand: number;
  readonly delivered: number;
  readonly within: number;
  readonly inHand: number | null;
  readonly machineSeconds: number;
  readonly handSeconds: number;
  readonly handPerShot: number;
  /** A person said so; otherwise it was measured, or is the usual. */
  readonly handIsOwn: boolean;
  readonly byHandShots: number;
  readonly ordersToCome: readonly string[];
  readonly pausedPictures: number;
  readonly helps: readonly Help[];
}
export interface Forecast {
  readonly shoots: readonly ForeseenShoot[];
  /** When batches are done, seconds from now; null: it rests. */
  readonly batches: readonly { readonly id: string; readonly ends: number | null; readonly within: number }[];
  readonly hand: { readonly secondsPerShot: number; readonly shots: number };
  readonly measured: boolean;
}

/** A mix as it stood when somebody gave it a name. */
/** What was done to a mix, in words, and how much of it is in force. */
export interface MixHistory {
  readonly position: number;
  readonly steps: readonly { readonly step: number; readonly words: string; readonly undone: boolean }[];
}

export interface MixVersion {
  readonly id: string;
  readonly name: string;
  readonly createdAt: string;
}

/** What is kept for the camera and lens of a shot. */
export interface LensView {
  readonly lens: { readonly camera: string; readonly lens: string; readonly focalLength: number } | null;
  readonly kept: { readonly keptAt: string } | null;
}

/** What a shoot begins with, and its shots that nobody has changed otherwise. */
export interface ShootStart {
  readonly start: Start;
  readonly untouched: readonly { readonly shot: string; readonly start: Start }[];
}

/** The view that a tethered camera is shooting right now. */
export interface LiveView {
  /** Whether a folder is watched, of which no frame came yet. */
  readonly watching?: boolean;
  readonly shoot: { readonly id: string; readonly name: string } | null;
  readonly shot?: { readonly id: string | null; readonly label: string; readonly frames: number; readonly latest: { readonly id: string; readonly name: string; readonly seconds: number | null } } | null;
  readonly coverage?: { readonly columns: number; readonly rows: number; readonly cells: readonly CellState[] } | null;
  /** Places are shares of width and height. */
  readonly readings?: readonly Reading[];
}

/** A method that is kept; the first nine have keys. */
export interface KeptMethod {
  readonly id: string;
  readonly method: Method;
}
/** The method that shots to come are given, and when shots were given one together last. */
export interface ShootMethod {
  readonly later: MethodChoice | null;
  readonly last: { readonly id: string; readonly name: string; readonly strength: number; readonly shots: number } | null;
}
/** What came of giving a method to shots. */
export interface GivenMethod {
  readonly run: string;
  readonly changed: number;
  readonly waiting: number;
  readonly lacking: readonly { readonly shot: string; readonly label: string; readonly part: PartName; readonly why: string }[];
  readonly failed: readonly { readonly shot: string; readonly label: string; readonly why: string }[];
}

/** What somebody thinks of a shot's picture. */
export type ReviewState = 'approved' | 'sent back' | 'later';
export interface WallShot {
  readonly id: string;
  readonly label: string;
  /** Its room: as its label names it, or told by what it shows; null: nobody knows. */
  readonly room: { readonly name: string; readonly seen: boolean } | null;
  readonly state: Shot['state'];
  readonly why: string;
  readonly reference: string | null;
  /** Of its mix, and of the one that its picture shows; null: there is none. */
  readonly revision: number | null;
  readonly preview: number | null;
  readonly drawing: boolean;
  readonly touched: boolean;
  readonly review: { readonly state: ReviewState; readonly note: string; readonly changedSince: boolean } | null;
  /** What is not good about it, and in what it differs from the others. */
  readonly readings: readonly Pick<Reading, 'kind' | 'state' | 'text'>[];
  readonly set: readonly SetReading[];
  /** How much a hand would gain it. */
  readonly gain: number;
  /** Where its picture shows what is told of it, and its width over height; null: it was not measured yet. */
  readonly places: Places;
  readonly ratio: number | null;
}
/** All pictures of a shoot, in the order of the tour. */
export interface Wall {
  readonly name: string;
  readonly dueAt: string | null;
  readonly shots: readonly WallShot[];
  /** When pictures were brought together last, and of how many. */
  readonly last: { readonly id: string; readonly shots: number } | null;
}

/** A key for use over the network. */
export interface NetworkKey {
  readonly id: string;
  readonly name: string;
  readonly opens: 'pages' | 'work';
  readonly madeAt: string;
  readonly usedAt: string | null;
  readonly usedBy: string;
}
/** One that was just made, with what is told this once. */
export interface MadeKey extends NetworkKey {
  readonly secret: string;
}
/** How this Zaddle is reached from elsewhere. */
export interface Network {
  /** None: it listens on loopback only. */
  readonly addresses: readonly string[];
  readonly encrypted: boolean;
  /** Whether this page itself came over the network. */
  readonly away: boolean;
  readonly keys: readonly NetworkKey[];
}
