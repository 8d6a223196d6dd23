import { Worker } from 'node:worker_threads';

/** Starts a thread of ours, which begins without the loader of TypeScript that this process runs with. @param file its address */
export function startThread(file: URL, workerData: unknown): Worker {
  const start = `const { register } = await import(${JSON.stringify(import.meta.resolve('tsx/esm/api'))}); register(); await import(${JSON.stringify(file.href)});`;
  return new Worker(new URL(`data:text/javascript,${encodeURIComponent(start)}`), { workerData, execArgv: [] });
}
