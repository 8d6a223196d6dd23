import { Piscina } from 'piscina';
import { fileURLToPath } from 'node:url';
import type { RenderTask } from './renderThread';

let pool: Piscina<RenderTask | null, number> | null = null;

/** Threads that render, one for each of the two cores that we count on. */
export const THREADS = 2;

/** Starts the threads, unless they run already. */
function startedPool(): Piscina<RenderTask | null, number> {
  return (pool ??= new Piscina({
    filename: fileURLToPath(new URL('./renderThread.ts', import.meta.url)),
    minThreads: THREADS,
    maxThreads: THREADS,
    execArgv: ['--import', import.meta.resolve('tsx')],
  }));
}

/** Starts the threads ahead of the first picture and waits until they are ready. */
export async function openRenderPool(): Promise<void> {
  await Promise.all(Array.from({ length: THREADS }, () => startedPool().run(null)));
}

/** Has all threads work on one picture until its strips are used up. Where one fails, the others are waited for: what they work in may be somebody else's next. */
export async function renderOnThreads(tasks: readonly RenderTask[]): Promise<void> {
  const started = startedPool();
  const ended = await Promise.allSettled(tasks.map((task) => started.run(task)));
  for (const each of ended) if (each.status === 'rejected') throw each.reason;
}

/** Ends the threads, so that the process can. */
export async function closeRenderPool(): Promise<void> {
  await pool?.destroy();
  pool = null;
}
