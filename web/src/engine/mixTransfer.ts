import type { Area, MixDocument, Pass, Stroke } from '@zaddle/document';

/*
 * A mix on its way to the worker: what was sent before goes as a number, so that a stroke among thousands costs what a
 * stroke costs, and the worker gets the very same objects again, by which it knows what did not change.
 */

type Reference = { readonly $: number };
/** A thing that is sent for the first time, under a number if it will be referred to, or a reference to one that was. */
type Sent<T> = Reference | { readonly $?: number; readonly v: T };

type PackedArea = Exclude<Area, { kind: 'brush' }> | (Omit<Extract<Area, { kind: 'brush' }>, 'strokes'> & { readonly strokes: readonly Sent<Stroke>[] });
type PackedPass = Omit<Pass, 'mask'> & { readonly mask: readonly Sent<PackedArea>[] };
export interface PackedMix {
  readonly rest: Omit<MixDocument, 'frames' | 'passes'>;
  readonly frames: Sent<MixDocument['frames']>;
  readonly passes: readonly Sent<PackedPass>[];
}

/** The sending side. One belongs to one receiver. */
export class MixSender {
  private readonly numbers = new WeakMap<object, number>();
  private last = 0;

  private send<T extends object, P>(thing: T, lasting: boolean, pack: (thing: T) => P): Sent<P> {
    const known = this.numbers.get(thing);
    if (known !== undefined) return { $: known };
    // In the middle of a drag things live for a moment: they are not remembered.
    if (!lasting) return { v: pack(thing) };
    const number = ++this.last;
    this.numbers.set(thing, number);
    return { $: number, v: pack(thing) };
  }

  /** @param lasting not in the middle of a drag */
  pack(mix: MixDocument, lasting: boolean): PackedMix {
    const { frames, passes, ...rest } = mix;
    const stroke = (s: Stroke): Sent<Stroke> => this.send(s, lasting, (x) => x);
    const area = (a: Area): Sent<PackedArea> => this.send(a, lasting, (x): PackedArea => (x.kind === 'brush' ? { ...x, strokes: x.strokes.map(stroke) } : x));
    const pass = (p: Pass): Sent<PackedPass> => this.send(p, lasting, (x) => ({ ...x, mask: x.mask.map(area) }));
    return { rest, frames: this.send(frames, lasting, (x) => x), passes: passes.map(pass) };
  }
}

/** The receiving side: the same objects for the same numbers. */
export class MixReceiver {
  private readonly things = new Map<number, unknown>();

  private take<P, T>(sent: Sent<P>, unpack: (packed: P) => T): T {
    if (!('v' in sent)) return this.things.get(sent.$) as T;
    const thing = unpack(sent.v);
    if (sent.$ !== undefined) this.things.set(sent.$, thing);
    return thing;
  }

  unpack({ rest, frames, passes }: PackedMix): MixDocument {
    const area = (sent: Sent<PackedArea>): Area => this.take(sent, (a): Area => (a.kind === 'brush' ? { ...a, strokes: a.strokes.map((s) => this.take(s, (x) => x)) } : a));
    return { ...rest, frames: this.take(frames, (x) => x), passes: passes.map((sent) => this.take(sent, (p) => ({ ...p, mask: p.mask.map(area) }) as unknown as Pass)) };
  }
}
