import kernelsUrl from '@zaddle/kernels/kernels.wasm?url';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { MixDocument } from '@zaddle/document';
import type { Check } from './checkMix';
import type { Drawn, FromEngine, ToEngine, View } from './messages';
import { MixSender } from './mixTransfer';

export interface EngineState {
  readonly loading: { readonly done: number; readonly total: number } | null;
  /** Ticket of the picture that is on the canvas, and of the latest that was asked for. */
  readonly ticket: number;
  readonly asked: number;
  /** Nothing of the picture is still to come. */
  readonly final: boolean;
  /** Level of the originals' pixels that it is made from; null for what is at hand from the beginning. */
  readonly level: number | null;
  readonly drawn: Drawn | null;
  readonly failure: string | null;
  /** What came of lining up one part, the latest. */
  readonly part: Extract<FromEngine, { kind: 'partLinedUp' }> | null;
}

/** What is to be seen. */
export interface Seen {
  readonly mix: MixDocument;
  readonly view: View;
  readonly working: string | null;
  readonly settled: boolean;
  readonly clipping: boolean;
  readonly check: Check | null;
}

export interface Engine {
  readonly state: EngineState;
  readonly show: (seen: Seen) => void;
  readonly lineUpPart: (mix: MixDocument, pass: string) => void;
}

const START: EngineState = { loading: null, ticket: 0, asked: 0, final: false, level: null, drawn: null, failure: null, part: null };
/** Threads that render: one for each core, but no crowd. */
const MOST_THREADS = 4;

let compiled: Promise<WebAssembly.Module> | null = null;
const kernels = (): Promise<WebAssembly.Module> => (compiled ??= WebAssembly.compileStreaming(fetch(kernelsUrl)));

/**
 * The worker that makes the picture of a shot. It comes as a bitmap, which goes onto the canvas in the same moment as the
 * place that it belongs to: the main thread never touches a pixel. @param onDrawn called right then.
 */
export function useEngine(shot: string, canvas: HTMLCanvasElement | null, onDrawn: (drawn: Drawn) => void): Engine {
  const worker = useRef<Worker | null>(null);
  const sender = useRef(new MixSender());
  const ticket = useRef(0);
  const early = useRef<Seen | null>(null);
  const ready = useRef(false);
  const [state, setState] = useState<EngineState>(START);

  const post = useCallback((seen: Seen) => {
    const { mix, ...rest } = seen;
    worker.current?.postMessage({ kind: 'show', wish: { ...rest, mix: sender.current.pack(mix, seen.settled), ticket: ticket.current } } satisfies ToEngine);
  }, []);

  useEffect(() => {
    if (!canvas) return;
    const engine = new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module' });
    worker.current = engine;
    sender.current = new MixSender();
    const context = canvas.getContext('bitmaprenderer')!;
    engine.onmessage = ({ data }: MessageEvent<FromEngine>) => {
      if (data.kind === 'progress') setState((s) => ({ ...s, loading: { done: data.done, total: data.total } }));
      if (data.kind === 'shown') {
        canvas.width = data.drawn.width;
        canvas.height = data.drawn.height;
        context.transferFromImageBitmap(data.bitmap);
        onDrawn(data.drawn);
        setState((s) => ({ ...s, loading: null, failure: null, ticket: data.ticket, final: data.final, level: data.level, drawn: data.drawn }));
      }
      if (data.kind === 'partLinedUp') setState((s) => ({ ...s, part: data }));
      if (data.kind === 'failed') setState((s) => ({ ...s, loading: null, failure: data.why }));
    };
    engine.onerror = () => setState((s) => ({ ...s, failure: 'The picture could not be made in this browser. Reload the page.' }));
    let ended = false;
    void kernels().then((module) => {
      if (ended) return;
      engine.postMessage({ kind: 'open', shot, kernels: module, threads: Math.max(1, Math.min(MOST_THREADS, navigator.hardwareConcurrency)) } satisfies ToEngine);
      ready.current = true;
      if (early.current) post(early.current);
      early.current = null;
    });
    return () => {
      ended = true;
      ready.current = false;
      engine.terminate();
    };
  }, [canvas, shot, post, onDrawn]);

  const show = useCallback((seen: Seen) => {
    ticket.current += 1;
    setState((s) => ({ ...s, asked: ticket.current }));
    if (ready.current) post(seen);
    else early.current = seen;
  }, [post]);
  const lineUpPart = useCallback((mix: MixDocument, pass: string) => worker.current?.postMessage({ kind: 'lineUpPart', mix: sender.current.pack(mix, true), pass } satisfies ToEngine), []);
  return { state, show, lineUpPart };
}
