import { useCallback, useEffect, useRef, useState } from 'react';
import type { ScreenOff } from '@zaddle/core/clean/screenOff';
import type { HealWay } from './healSpot';
import type { StanceFound } from '@zaddle/core/geometry/estimateStance';
import type { Area, DrawnLine, Grain, MixDocument, SourcePass, TableSpace, Triple } from '@zaddle/document';
import type { Check } from './checkMix';
import { openEngine, type OpenEngine, type Question } from './engineWorker';
import type { WhyLooked } from '@zaddle/core/clean/rateCandidates';
import type { Reading } from '@zaddle/core/read/readings';
import type { ContributionMap } from '@zaddle/core/graph/contributionMap';
import type { Probe } from '@zaddle/core/graph/probeMix';
import type { Answer, Drawn, FoundSpot, Marks, Sketched, ToneCounts, View } from './messages';
import { MixSender } from './mixTransfer';

export interface EngineState {
  readonly loading: { readonly done: number; readonly total: number } | null;
  /** What its masks refer to is being found. */
  readonly finding: boolean;
  /** Ticket of the picture that is on the canvas, and of the latest that was asked for. */
  readonly ticket: number;
  readonly asked: number;
  /** Nothing of the picture is still to come. */
  readonly final: boolean;
  /** Level of the originals' pixels that it is made from; null for what is at hand from the beginning. */
  readonly level: number | null;
  readonly drawn: Drawn | null;
  /** How its tones are spread, once it is whole. */
  readonly tones: ToneCounts | null;
  readonly failure: string | null;
  /** What came of lining up one part, the latest. */
  readonly part: Extract<Answer, { kind: 'partLinedUp' }> | null;
  /** Masks of passes, small, as they were told last. */
  readonly faces: ReadonlyMap<string, ImageBitmap>;
  /** What was measured on the picture, as it was told last; null: nothing yet. */
  readonly readings: readonly Reading[] | null;
  /** Small pictures, by what they were asked as. */
  readonly sketches: ReadonlyMap<string, ImageBitmap>;
  /** Which pass gives most where, as it was told last. */
  readonly map: ContributionMap | null;
  /** What came of moving an outline onto edges, the latest. */
  readonly snapped: Extract<Answer, { kind: 'snapped' }> | null;
}

/** What is to be seen. */
export interface Seen {
  readonly mix: MixDocument;
  readonly view: View;
  readonly working: string | null;
  readonly settled: boolean;
  readonly known: boolean;
  readonly marks: Marks;
  readonly check: Check | null;
  readonly other: MixDocument | null;
}

export interface Engine {
  readonly state: EngineState;
  readonly show: (seen: Seen) => void;
  readonly lineUpPart: (mix: MixDocument, pass: string) => void;
  readonly askFaces: (mix: MixDocument, columns: number, rows: number) => void;
  readonly askReadings: (mix: MixDocument) => void;
  readonly sketch: (sketches: readonly Sketched<MixDocument>[]) => void;
  readonly map: (mix: MixDocument, columns: number, rows: number) => void;
  readonly snap: (mix: MixDocument, pass: string, area: string) => void;
  /** What a mix is at a place, output pixels; null where a newer question came in between. */
  readonly probe: (mix: MixDocument, at: readonly [number, number], scale: number, pass: string | null) => Promise<Probe | null>;
  /** What every frame would give a place, told at once, and again when finer pixels are there; null where nothing is meant, or a newer place was asked about. */
  readonly search: (mix: MixDocument, areas: readonly Area[], why: WhyLooked, tell: (spot: FoundSpot | null) => void) => void;
  /** The inset that takes the place that was searched last from a frame; null where there is none. */
  readonly insetsOf: (key: string, id: string) => Promise<readonly SourcePass[]>;
  /** Ways to heal a place from the picture itself, told one after the other as they are found. */
  readonly heal: (mix: MixDocument, areas: readonly Area[], tell: (answer: { readonly way: HealWay | null; readonly more: boolean }) => void) => void;
  /** The tones that a place has as a screen that is off; null where nothing of the room is seen about it. */
  readonly screenOff: (mix: MixDocument, areas: readonly Area[], tell: (tones: ScreenOff | null) => void) => void;
  /** How the camera stood, from straight edges of the reference; null where it cannot be looked at. */
  readonly stance: (mix: MixDocument, focal: number, tell: (stance: StanceFound | null) => void) => void;
  /** How grainy the part is that is seen at 1:1; null where that cannot be told. */
  readonly grain: (mix: MixDocument, view: View, tell: (grain: Grain | null) => void) => void;
  /** What a pass does to colours as the text of a colour table; null where that cannot be told. */
  readonly tabulate: (mix: MixDocument, pass: string, space: TableSpace, tell: (text: string | null) => void) => void;
  /** Gains that take away the cast of what lies below a pass, within its mask; null where that cannot be told. */
  readonly cast: (mix: MixDocument, pass: string, tell: (gains: Triple | null) => void) => void;
  /** A line moved onto the straight edge beside it; null where none stands out. */
  readonly snapLine: (mix: MixDocument, line: DrawnLine, tell: (line: DrawnLine | null) => void) => void;
  /** Has what a shot is opened with at hand, for when it is next. */
  readonly readAhead: (shot: string, frames: readonly string[]) => void;
}

const START: EngineState = { loading: null, finding: false, ticket: 0, asked: 0, final: false, level: null, drawn: null, tones: null, failure: null, part: null, snapped: null, map: null, faces: new Map(), sketches: new Map(), readings: null };
/**
 * The worker that makes the picture of a shot. It comes as a bitmap, which goes onto the canvas in the same moment as the
 * place that it belongs to: the main thread never touches a pixel. @param onDrawn called right then.
 */
export function useEngine(shot: string, canvas: HTMLCanvasElement | null, other: HTMLCanvasElement | null, onDrawn: (drawn: Drawn) => void): Engine {
  const engine = useRef<OpenEngine | null>(null);
  const sender = useRef(new MixSender());
  const ticket = useRef(0);
  const early = useRef<Seen | null>(null);
  const [state, setState] = useState<EngineState>(START);

  const probes = useRef<{ ticket: number; answer: ((probe: Probe | null) => void) | null }>({ ticket: 0, answer: null });
  /** Questions by their numbers. */
  const questions = useRef<{ count: number; open: Map<number, (answer: never) => void> }>({ count: 0, open: new Map() });
  const otherNow = useRef(other);
  otherNow.current = other;

  const post = useCallback(({ mix, other: compared, ...rest }: Seen) => {
    engine.current?.post({ kind: 'show', wish: { ...rest, mix: sender.current.pack(mix, rest.settled), other: compared && sender.current.pack(compared, rest.settled), ticket: ticket.current } });
  }, []);

  useEffect(() => {
    if (!canvas) return;
    sender.current = new MixSender();
    const context = canvas.getContext('bitmaprenderer')!;
    const answered = (answer: Answer): void => {
      if (answer.kind === 'finding') setState((s) => ({ ...s, finding: true }));
      if (answer.kind === 'progress') setState((s) => ({ ...s, loading: { done: answer.done, total: answer.total } }));
      if (answer.kind === 'shown') {
        canvas.width = answer.drawn.width;
        canvas.height = answer.drawn.height;
        context.transferFromImageBitmap(answer.bitmap);
        const beside = otherNow.current;
        if (answer.other && beside) {
          beside.width = answer.drawn.width;
          beside.height = answer.drawn.height;
          beside.getContext('bitmaprenderer')!.transferFromImageBitmap(answer.other);
        }
        onDrawn(answer.drawn);
        setState((s) => ({ ...s, loading: null, finding: false, failure: null, ticket: answer.ticket, final: answer.final, level: answer.level, drawn: answer.drawn, tones: answer.tones ?? s.tones }));
      }
      if (answer.kind === 'probed' && answer.ticket === probes.current.ticket) {
        probes.current.answer?.(answer.probe);
        probes.current.answer = null;
      }
      if (answer.kind === 'searched' || answer.kind === 'insetMade') {
        questions.current.open.get(answer.ticket)?.((answer.kind === 'searched' ? answer.spot : answer.insets) as never);
        if (answer.kind !== 'searched' || !answer.more) questions.current.open.delete(answer.ticket);
      }
      if (answer.kind === 'grainTold' || answer.kind === 'tabulated') {
        questions.current.open.get(answer.ticket)?.((answer.kind === 'grainTold' ? answer.grain : answer.text) as never);
        questions.current.open.delete(answer.ticket);
      }
      if (answer.kind === 'stanceTold' || answer.kind === 'lineSnapped' || answer.kind === 'castTold') {
        questions.current.open.get(answer.ticket)?.((answer.kind === 'stanceTold' ? answer.stance : answer.kind === 'castTold' ? answer.gains : answer.line) as never);
        questions.current.open.delete(answer.ticket);
      }
      if (answer.kind === 'screened') {
        questions.current.open.get(answer.ticket)?.(answer.tones as never);
        questions.current.open.delete(answer.ticket);
      }
      if (answer.kind === 'healed') {
        questions.current.open.get(answer.ticket)?.(answer as never);
        if (!answer.more) questions.current.open.delete(answer.ticket);
      }
      if (answer.kind === 'faced') setState((s) => ({ ...s, faces: answer.faces }));
      if (answer.kind === 'read') setState((s) => ({ ...s, readings: answer.readings }));
      if (answer.kind === 'sketched') setState((s) => ({ ...s, sketches: new Map([...s.sketches, [answer.key, answer.picture]]) }));
      if (answer.kind === 'mapped') setState((s) => ({ ...s, map: answer.map }));
      if (answer.kind === 'snapped') setState((s) => ({ ...s, snapped: answer }));
      if (answer.kind === 'partLinedUp') setState((s) => ({ ...s, part: answer }));
      if (answer.kind === 'failed') setState((s) => ({ ...s, loading: null, finding: false, failure: answer.why }));
    };
    const close = openEngine(shot, (open) => {
      engine.current = open;
      if (early.current) post(early.current);
      early.current = null;
    }, answered, () => setState((s) => ({ ...s, failure: 'The picture could not be made in this browser. Reload the page.' })));
    return () => {
      engine.current = null;
      close();
    };
  }, [canvas, shot, post, onDrawn]);

  const show = useCallback((seen: Seen) => {
    ticket.current += 1;
    setState((s) => ({ ...s, asked: ticket.current }));
    if (engine.current) post(seen);
    else early.current = seen;
  }, [post]);
  const lineUpPart = useCallback((mix: MixDocument, pass: string) => engine.current?.post({ kind: 'lineUpPart', mix: sender.current.pack(mix, true), pass }), []);
  const readAhead = useCallback((next: string, frames: readonly string[]) => engine.current?.post({ kind: 'ahead', shot: next, frames }), []);
  const probe = useCallback((mix: MixDocument, at: readonly [number, number], scale: number, pass: string | null): Promise<Probe | null> => new Promise((resolve) => {
    probes.current.answer?.(null);
    probes.current = { ticket: probes.current.ticket + 1, answer: resolve };
    engine.current?.post({ kind: 'probe', mix: sender.current.pack(mix, true), at, scale, pass, ticket: probes.current.ticket });
  }), []);
  /** Asks something that is answered under its number. */
  const ask = useCallback(<T,>(question: (ticket: number) => Question, tell: (answer: T | null) => void): void => {
    if (!engine.current) return tell(null);
    const { open } = questions.current;
    const number = ++questions.current.count;
    open.set(number, tell as (answer: never) => void);
    engine.current.post(question(number));
  }, []);
  const search = useCallback((mix: MixDocument, areas: readonly Area[], why: WhyLooked, tell: (spot: FoundSpot | null) => void) => ask((number) => ({ kind: 'search', mix: sender.current.pack(mix, true), areas, why, ticket: number }), tell), [ask]);
  const insetsOf = useCallback((key: string, id: string): Promise<readonly SourcePass[]> => new Promise((resolve) => ask<readonly SourcePass[]>((number) => ({ kind: 'inset', key, id, ticket: number }), (answer) => resolve(answer ?? []))), [ask]);
  const heal: Engine['heal'] = useCallback((mix, areas, tell) => ask<{ way: HealWay | null; more: boolean }>((number) => ({ kind: 'heal', mix: sender.current.pack(mix, true), areas, ticket: number }), (answer) => answer && tell(answer)), [ask]);
  const screenOff: Engine['screenOff'] = useCallback((mix, areas, tell) => ask<ScreenOff>((number) => ({ kind: 'screenOff', mix: sender.current.pack(mix, true), areas, ticket: number }), tell), [ask]);
  const stance: Engine['stance'] = useCallback((mix, focal, tell) => ask<StanceFound>((number) => ({ kind: 'stance', mix: sender.current.pack(mix, true), focal, ticket: number }), tell), [ask]);
  const grain: Engine['grain'] = useCallback((mix, view, tell) => ask<Grain>((number) => ({ kind: 'grain', mix: sender.current.pack(mix, true), view, ticket: number }), tell), [ask]);
  const cast: Engine['cast'] = useCallback((mix, pass, tell) => ask<Triple>((number) => ({ kind: 'cast', mix: sender.current.pack(mix, true), pass, ticket: number }), tell), [ask]);
  const tabulate: Engine['tabulate'] = useCallback((mix, pass, space, tell) => ask<string>((number) => ({ kind: 'tabulate', mix: sender.current.pack(mix, true), pass, space, ticket: number }), tell), [ask]);
  const snapLine: Engine['snapLine'] = useCallback((mix, line, tell) => ask<DrawnLine>((number) => ({ kind: 'snapLine', mix: sender.current.pack(mix, true), line, ticket: number }), tell), [ask]);
  const snap = useCallback((mix: MixDocument, pass: string, area: string) => engine.current?.post({ kind: 'snap', mix: sender.current.pack(mix, true), pass, area }), []);
  const map = useCallback((mix: MixDocument, columns: number, rows: number) => engine.current?.post({ kind: 'map', mix: sender.current.pack(mix, true), columns, rows }), []);
  const askFaces = useCallback((mix: MixDocument, columns: number, rows: number) => engine.current?.post({ kind: 'faces', mix: sender.current.pack(mix, true), columns, rows }), []);
  const askReadings = useCallback((mix: MixDocument) => engine.current?.post({ kind: 'readings', mix: sender.current.pack(mix, true) }), []);
  const sketch: Engine['sketch'] = useCallback((sketches) => engine.current?.post({ kind: 'sketch', sketches: sketches.map((each) => ({ ...each, mix: sender.current.pack(each.mix, false) })) }), []);
  return { state, show, search, insetsOf, heal, screenOff, stance, cast, tabulate, grain, snapLine, askReadings, sketch, lineUpPart, askFaces, map, snap, probe, readAhead };
}
