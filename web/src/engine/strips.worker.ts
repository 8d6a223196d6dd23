import { loadKernels, type KernelMemory } from '@zaddle/core/kernels/loadKernels';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import { renderStrips, type StripJob } from './renderStrips';

export type ToThread =
  /** A memory to work in from now on; once that can be done, `sharing` is written to the thread's place in `ready`, where one sees it who does not listen. */
  | { readonly kind: 'memory'; readonly module: WebAssembly.Module; readonly memory: KernelMemory; readonly ready: Int32Array; readonly thread: number; readonly sharing: number }
  | { readonly kind: 'job'; readonly job: StripJob; readonly thread: number };

let kernels: Kernels;

function take({ data }: MessageEvent<ToThread>): void {
  if (data.kind === 'job') return renderStrips(kernels, data.job, data.thread);
  kernels = loadKernels(data.module, data.memory);
  Atomics.store(data.ready, data.thread, data.sharing);
}

// The page hands over the way that jobs come by.
addEventListener('message', ({ ports }) => {
  ports[0].onmessage = take;
});
