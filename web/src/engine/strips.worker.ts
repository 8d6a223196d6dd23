import { loadKernels, type KernelMemory } from '@zaddle/core/kernels/loadKernels';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import { renderStrips, type StripJob } from './renderStrips';

export type ToThread = { readonly kind: 'memory'; readonly module: WebAssembly.Module; readonly memory: KernelMemory; readonly thread: number } | { readonly kind: 'job'; readonly job: StripJob };

let kernels: Kernels;
let thread = 1;

addEventListener('message', ({ data }: MessageEvent<ToThread>) => {
  if (data.kind === 'job') return renderStrips(kernels, data.job, thread);
  kernels = loadKernels(data.module, data.memory);
  thread = data.thread;
});
