import kernelsUrl from '@zaddle/kernels/kernels.wasm?url';
import type { Answer, FromEngine, ToEngine } from './messages';

/*
 * One worker makes the pictures of this page, whichever shot is open: it starts once, and what it has compiled stays warm.
 */

/** Threads that render: one for each core, but no crowd. */
const MOST_THREADS = 4;
/** Milliseconds without an open shot after which the worker, and all its memory, is given back. */
const IDLE = 30_000;

let compiled: Promise<WebAssembly.Module> | null = null;
const kernels = (): Promise<WebAssembly.Module> => (compiled ??= WebAssembly.compileStreaming(fetch(kernelsUrl)));

let worker: Worker | null = null;
/** Threads that render along with it. */
let helpers: Worker[] = [];
let openings = 0;
let current: { readonly opening: number; readonly answer: (answer: Answer) => void; readonly broken: () => void } | null = null;
let idle: ReturnType<typeof setTimeout> | undefined;

function started(): Worker {
  if (worker) return worker;
  worker = new Worker(new URL('./engine.worker.ts', import.meta.url), { type: 'module' });
  worker.onmessage = ({ data }: MessageEvent<FromEngine>) => {
    if (data.opening === current?.opening) current.answer(data);
  };
  worker.onerror = () => current?.broken();
  const ports: MessagePort[] = [];
  helpers = Array.from({ length: Math.max(1, Math.min(MOST_THREADS, navigator.hardwareConcurrency)) - 1 }, () => {
    const { port1, port2 } = new MessageChannel();
    const helper = new Worker(new URL('./strips.worker.ts', import.meta.url), { type: 'module' });
    helper.postMessage(null, [port1]);
    ports.push(port2);
    return helper;
  });
  worker.postMessage({ kind: 'threads', ports } satisfies ToEngine, ports);
  return worker;
}

/** Starts the worker ahead of the first shot. */
export function warmEngine(): void {
  started();
  void kernels();
}

/** A shot that is open in the worker. */
/** What is asked about the shot that is open. */
export type Question = Exclude<ToEngine, { kind: 'open' | 'threads' }>;

export interface OpenEngine {
  readonly post: (message: Question) => void;
  readonly close: () => void;
}

/** Opens a shot; the one that was open before is left. @param ready called once the worker takes messages. */
export function openEngine(shot: string, ready: (engine: OpenEngine) => void, answer: (answer: Answer) => void, broken: () => void): () => void {
  clearTimeout(idle);
  const opening = ++openings;
  current = { opening, answer, broken };
  const engine = started();
  const isOpen = (): boolean => current?.opening === opening;
  const close = (): void => {
    if (!isOpen()) return;
    current = null;
    idle = setTimeout(() => {
      [worker, ...helpers].forEach((each) => each?.terminate());
      worker = null;
      helpers = [];
    }, IDLE);
  };
  void kernels().then((module) => {
    if (!isOpen()) return;
    engine.postMessage({ kind: 'open', opening, shot, kernels: module } satisfies ToEngine);
    ready({ close, post: (message) => { if (isOpen()) engine.postMessage(message); } });
  });
  return close;
}
