import type { Kernels } from '@zaddle/core/kernels/kernels';
import type { KernelMemory } from '@zaddle/core/kernels/loadKernels';
import { renderStrips, type StripJob } from './renderStrips';
import type { ToThread } from './strips.worker';

/** Milliseconds that one thread may need longer than the others. A thread that died would be waited for else. */
const PATIENCE = 5000;

/** Threads that render strips of one picture, this one among them. All share one memory. */
export class Threads {
  private readonly others: Worker[];
  /** Those that have said that they are there: one that is still being loaded needs this thread, which waits while it renders. */
  private ready: Worker[] = [];
  private sharing = 0;

  constructor(most: number) {
    this.others = Array.from({ length: most - 1 }, () => new Worker(new URL('./strips.worker.ts', import.meta.url), { type: 'module' }));
    for (const worker of this.others) {
      worker.onmessage = ({ data }: MessageEvent<number>) => {
        if (data === this.sharing) this.ready.push(worker);
      };
    }
  }

  /** How many can render right now. */
  get count(): number {
    return 1 + this.ready.length;
  }

  /** Gives all threads the memory that pictures lie in from now on. */
  share(module: WebAssembly.Module, memory: KernelMemory): void {
    this.ready = [];
    this.sharing += 1;
    for (const worker of this.others) worker.postMessage({ kind: 'memory', module, memory, sharing: this.sharing } satisfies ToThread);
  }

  /** Renders a picture. @param job with row buffers for as many threads as can render right now. @throws Error when a thread does not come to an end */
  render(kernels: Kernels, job: StripJob): void {
    const { buffer } = kernels.memory;
    const done = new Int32Array(buffer, job.done, 1);
    new Int32Array(buffer, job.counter, 1)[0] = 0;
    done[0] = 0;
    this.ready.forEach((worker, k) => worker.postMessage({ kind: 'job', job, thread: k + 1 } satisfies ToThread));
    renderStrips(kernels, job, 0);
    const until = performance.now() + PATIENCE;
    for (let seen = Atomics.load(done, 0); seen < this.count; seen = Atomics.load(done, 0)) {
      if (performance.now() > until) throw new Error('A part of the picture was not made. Reload the page.');
      Atomics.wait(done, 0, seen, 50);
    }
  }
}
