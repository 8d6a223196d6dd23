import { Piscina } from 'piscina';
import { fileURLToPath } from 'node:url';
import type { RenderTask } from './renderThread';

let pool: Piscina<RenderTask, number> | null = null;

/** Threads that render, one for each of the two cores that we count on. */
export const THREADS = 2;

/** Has all threads work on one picture until its strips are used up. */
export async function renderOnThreads(tasks: readonly RenderTask[]): Promise<void> {
  pool ??= new Piscina({
    filename: fileURLToPath(new URL('./renderThread.ts', import.meta.url)),
    minThreads: THREADS,
    maxThreads: THREADS,
    execArgv: ['--import', import.meta.resolve('tsx')],
  });
  await Promise.all(tasks.map((task) => pool!.run(task)));
}

/** Ends the threads, so that the process can. */
export async function closeRenderPool(): Promise<void> {
  await pool?.destroy();
  pool = null;
}
