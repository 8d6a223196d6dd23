import { createHash, randomUUID } from 'node:crypto';
import { ask, told, type Answer } from './ask';
import { pause, type Dice } from '../dice';
import { smallFrames, type CardFile } from './frames';
import type { Instance } from './instance';
import type { Ledger } from './ledger';
import type { Wire } from './wire';

/** Frames of a visit, files sent at once, and pictures that may wait to be made before more are ordered. */
const FRAMES = 6;
const LANES = 2;
const MOST_WAITING = 8;
/** Pictures that may wait to be made, and frames to be read, before another visit is brought. */
const MOST_BEHIND = 10;
/** Pauses between what a person does, and before what was not answered is tried again, milliseconds. */
const STEP = [40, 400] as const;
const AGAIN = 500;
/** What is painted lies on a pass of this name. */
export const PAINTED = 'Painted while it was hurt';

/** A shoot as the server tells it. */
export interface ToldShoot {
  readonly frames: readonly { readonly id: string; readonly name: string; readonly sha256: string; readonly state: string; readonly why: string; readonly shotId: string | null }[];
  readonly shots: readonly { readonly id: string; readonly state: string; readonly label: string }[];
  readonly standing?: { readonly batches: readonly string[]; readonly fault: string | null } | null;
}
/** The mix of a shot, as far as it is looked at. */
export interface ToldMix {
  readonly document: { readonly passes: readonly { readonly id: string; readonly name: string; readonly mask: readonly { readonly id: string; readonly kind: string; readonly strokes?: readonly { readonly points: readonly (readonly [number, number])[] }[] }[] }[] };
}

/** The place that stands for a stroke's number. */
export const placeOf = (mark: number): [number, number] => [(mark % 1000) / 1000, Math.floor(mark / 1000) / 1000];
export const markAt = ([x, y]: readonly [number, number]): number => Math.round(x * 1000) + 1000 * Math.round(y * 1000);

/** Whoever works with a server while it is hurt: brings frames, paints, orders; notes what was acknowledged, and tries the rest again as a person would. */
export class Photographer {
  private readonly shoots: string[] = [];
  private marks = 0;
  private visits = 0;
  private going = true;

  constructor(private readonly instance: Instance, private readonly wire: Wire, private readonly ledger: Ledger, private readonly dice: Dice) {}

  get allShoots(): readonly string[] {
    return this.shoots;
  }

  async ask(method: string, path: string, body: Buffer | object | null = null): Promise<Answer> {
    const answer = await ask(this.wire.port, this.instance.port, method, path, body);
    if (answer.status === 0 || answer.status >= 500) this.ledger.misses++;
    return answer;
  }

  async get<T>(path: string): Promise<T | null> {
    return told<T>(await this.ask('GET', path));
  }

  stop(): void {
    this.going = false;
  }

  /** Works until it is told to stop. */
  async work(): Promise<void> {
    await Promise.all([this.visit(), this.paint(), this.order()]);
  }

  private async visit(): Promise<void> {
    while (this.going) {
      const made = told<{ id: string }>(await this.ask('POST', '/api/shoots', { name: `Visit ${this.visits}`, address: '', dueAt: null }));
      if (!made) { await pause(AGAIN); continue; }
      this.shoots.push(made.id);
      // Every second one is ordered before anything of it is there.
      if (this.visits % 2 === 1 && (await this.ask('PUT', `/api/shoots/${made.id}/standing`, { orders: ['web'] })).status === 200) this.ledger.ahead.push(made.id);
      const files = await smallFrames(FRAMES * this.visits, FRAMES, this.visits);
      this.visits++;
      await Promise.all(Array.from({ length: LANES }, (_, lane) => this.send(made.id, files.filter((_, k) => k % LANES === lane))));
      do await pause(AGAIN); while (this.going && !(await this.keepsUp()));
    }
  }

  /** Whether few enough pictures are still to be made for another visit to be brought: a server that is hurt time and again falls behind. */
  private async keepsUp(): Promise<boolean> {
    const shoots = await this.get<{ shots: number; mixed: number; frames: { waiting: number } }[]>('/api/shoots');
    return shoots !== null && shoots.reduce((sum, { shots, mixed, frames }) => sum + shots - mixed + frames.waiting, 0) <= MOST_BEHIND;
  }

  /** Sends files until each is acknowledged. */
  private async send(shoot: string, files: readonly CardFile[]): Promise<void> {
    for (const { name, bytes } of files) {
      for (;;) {
        const answer = await this.ask('POST', `/api/shoots/${shoot}/frames?name=${encodeURIComponent(name)}`, bytes);
        const taken = told<{ id: string; sha256: string }>(answer);
        if (taken) {
          this.ledger.frames.push({ shoot, id: taken.id, name, sha256: createHash('sha256').update(bytes).digest('hex') });
          break;
        }
        if (!this.going) return;
        await pause(AGAIN);
      }
    }
  }

  /** A shot that shows its picture, of any shoot. */
  private async someShot(): Promise<{ readonly shoot: string; readonly shot: string } | null> {
    if (this.shoots.length === 0) return null;
    const shoot = this.dice.pick(this.shoots);
    const ready = (await this.get<ToldShoot>(`/api/shoots/${shoot}`))?.shots.filter(({ state }) => state === 'mixed') ?? [];
    return ready.length > 0 ? { shoot, shot: this.dice.pick(ready).id } : null;
  }

  /** The painted pass of a shot and its area; made where there is none yet. */
  private async canvas(shot: string): Promise<{ readonly pass: string; readonly area: string } | null> {
    const mix = (await this.get<{ mix: ToldMix | null }>(`/api/shots/${shot}`))?.mix;
    const known = mix?.document.passes.find(({ name }) => name === PAINTED);
    if (known) return { pass: known.id, area: known.mask[0].id };
    if (!mix) return null;
    const [pass, area] = [`pass-${randomUUID().slice(0, 13)}`, `area-${randomUUID().slice(0, 13)}`];
    const fill = { id: pass, name: PAINTED, within: null, why: '', on: true, opacity: 0.5, mask: [{ id: area, kind: 'brush', join: 'add', inverted: false, strokes: [] }], exposure: 0, balance: [1, 1, 1], mode: 'normal', brightness: 1, colour: 1, kind: 'fill', tone: [0.18, 0.18, 0.18], ramp: null, around: false };
    const added = await this.ask('POST', `/api/shots/${shot}/mix/commands`, { kind: 'addPass', pass: fill, index: mix.document.passes.length });
    return added.status === 200 ? { pass, area } : null;
  }

  private async paint(): Promise<void> {
    while (this.going) {
      const at = await this.someShot();
      const canvas = at && (await this.canvas(at.shot));
      if (!at || !canvas) { await pause(AGAIN); continue; }
      const mark = this.marks++;
      const stroke = { points: [placeOf(mark)], radius: 0.01, softness: 0.5, strength: 1, reveal: true };
      // Until it is answered it may be there or not.
      this.ledger.unanswered.add(mark);
      const answer = await this.ask('POST', `/api/shots/${at.shot}/mix/commands`, { kind: 'addStroke', pass: canvas.pass, area: canvas.area, stroke });
      if (answer.status === 200) this.ledger.strokes.push({ shoot: at.shoot, mark });
      if (answer.status !== 0 && answer.status < 500) this.ledger.unanswered.delete(mark);
      await pause(this.dice.between(...STEP));
    }
  }

  private async order(): Promise<void> {
    while (this.going) {
      await pause(2 * AGAIN);
      const listed = await this.get<{ state: string }[]>('/api/deliveries');
      if (!listed || listed.filter(({ state }) => state === 'waiting' || state === 'running').length >= MOST_WAITING) continue;
      const at = await this.someShot();
      if (!at) continue;
      const ordered = told<{ ids: string[] }>(await this.ask('POST', '/api/deliveries', { shots: [at.shot], orders: [this.dice.pick(['web', 'listing'])], folder: `For ${at.shoot.slice(0, 8)}`, receiver: 'portal' }));
      if (ordered) this.ledger.deliveries.push(...ordered.ids);
    }
  }
}
