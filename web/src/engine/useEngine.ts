import kernelsUrl from '@zaddle/kernels/kernels.wasm?url';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { MixDocument } from '@zaddle/document';
import type { Check } from './checkMix';
import type { FromEngine, Region, ToEngine } from './messages';

export interface EngineState {
  readonly loading: { readonly done: number; readonly total: number } | null;
  /** Milliseconds of the latest repaint, or null before the first. */
  readonly milliseconds: number | null;
  /** Ticket of the picture that is on the canvas, and of the latest that was asked for. */
  readonly ticket: number;
  readonly asked: number;
  readonly settled: boolean;
  readonly detail: Region | null;
  readonly failure: string | null;
  /** What came of lining up one part, the latest. */
  readonly part: Extract<FromEngine, { kind: 'partLinedUp' }> | null;
}

export interface Engine {
  readonly state: EngineState;
  readonly show: (mix: MixDocument, settled: boolean, clipping: boolean, check: Check | null) => void;
  readonly detail: (region: Region | null) => void;
  readonly lineUpPart: (mix: MixDocument, pass: string) => void;
}

const START: EngineState = { loading: null, milliseconds: null, ticket: 0, asked: 0, settled: false, detail: null, failure: null, part: null };

/**
 * The worker that makes the picture, drawing on two canvases that are handed over to it: the main thread
 * never touches a pixel. The canvases must be new for each mount.
 */
export function useEngine(preview: HTMLCanvasElement | null, detail: HTMLCanvasElement | null): Engine {
  const worker = useRef<Worker | null>(null);
  const ticket = useRef(0);
  const early = useRef<ToEngine[]>([]);
  const ready = useRef(false);
  const [state, setState] = useState<EngineState>(START);

  useEffect(() => {
    if (!preview || !detail) return;
    const engine = new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module' });
    worker.current = engine;
    engine.onmessage = ({ data }: MessageEvent<FromEngine>) => {
      if (data.kind === 'progress') setState((s) => ({ ...s, loading: { done: data.done, total: data.total } }));
      if (data.kind === 'shown') setState((s) => ({ ...s, loading: null, failure: null, milliseconds: data.milliseconds, ticket: data.ticket, settled: data.settled }));
      if (data.kind === 'detailShown') setState((s) => ({ ...s, detail: data.region }));
      if (data.kind === 'partLinedUp') setState((s) => ({ ...s, part: data }));
      if (data.kind === 'failed') setState((s) => ({ ...s, loading: null, failure: data.why }));
    };
    engine.onerror = () => setState((s) => ({ ...s, failure: 'The picture could not be made in this browser. Reload the page.' }));
    void WebAssembly.compileStreaming(fetch(kernelsUrl)).then((kernels) => {
      const canvases = [preview.transferControlToOffscreen(), detail.transferControlToOffscreen()] as const;
      engine.postMessage({ kind: 'open', preview: canvases[0], detail: canvases[1], kernels } satisfies ToEngine, [...canvases]);
      ready.current = true;
      early.current.forEach((message) => engine.postMessage(message));
      early.current = [];
    });
    return () => {
      ready.current = false;
      engine.terminate();
    };
  }, [preview, detail]);

  const post = useCallback((message: ToEngine) => {
    if (ready.current) worker.current?.postMessage(message);
    else early.current = [...early.current.filter((m) => m.kind !== message.kind), message];
  }, []);
  const show = useCallback((mix: MixDocument, settled: boolean, clipping: boolean, check: Check | null) => {
    ticket.current += 1;
    setState((s) => ({ ...s, detail: null, asked: ticket.current }));
    post({ kind: 'show', mix, settled, clipping, check, ticket: ticket.current });
  }, [post]);
  const askDetail = useCallback((region: Region | null) => {
    if (!region) setState((s) => (s.detail ? { ...s, detail: null } : s));
    post({ kind: 'detail', region });
  }, [post]);
  const lineUpPart = useCallback((mix: MixDocument, pass: string) => post({ kind: 'lineUpPart', mix, pass }), [post]);
  return { state, show, detail: askDetail, lineUpPart };
}
