import type { Kernels } from '@zaddle/core/kernels/kernels';
import type { KernelMemory } from '@zaddle/core/kernels/loadKernels';
import { renderStrips, type StripJob } from './renderStrips';
import type { ToThread } from './strips.worker';

/** Milliseconds that one thread may need longer than the others. A thread that died would be waited for else. */
const PATIENCE = 5000;

/** Threads that render strips of one picture, this one among them. All share one memory. */
export class Threads {
  /** Which memory each has said that it works in: one that is still being loaded is not waited for. */
  private readonly ready: Int32Array;
  private sharing = 0;

  /** @param others ways to the other threads, which the page started: a worker's own would need it while they start. */
  constructor(private readonly others: readonly MessagePort[]) {
    this.ready = new Int32Array(new SharedArrayBuffer(4 * Math.max(1, others.length)));
  }

  private isReady(k: number): boolean {
    return this.sharing > 0 && Atomics.load(this.ready, k) === this.sharing;
  }

  /** How many can render right now. */
  get count(): number {
    return 1 + this.others.filter((_, k) => this.isReady(k)).length;
  }

  /** Gives all threads the memory that pictures lie in from now on. */
  share(module: WebAssembly.Module, memory: KernelMemory): void {
    this.sharing += 1;
    this.others.forEach((other, k) => other.postMessage({ kind: 'memory', module, memory, ready: this.ready, thread: k, sharing: this.sharing } satisfies ToThread));
  }

  /** Renders a picture. @param job with row buffers for threads, at most as many as can render. @throws Error when a thread does not come to an end */
  render(kernels: Kernels, job: StripJob): void {
    const { buffer } = kernels.memory;
    const done = new Int32Array(buffer, job.done, 1);
    new Int32Array(buffer, job.counter, 1)[0] = 0;
    done[0] = 0;
    const count = job.scratch.length;
    this.others.filter((_, k) => this.isReady(k)).slice(0, count - 1).forEach((other, k) => other.postMessage({ kind: 'job', job, thread: k + 1 } satisfies ToThread));
    renderStrips(kernels, job, 0);
    const until = performance.now() + PATIENCE;
    for (let seen = Atomics.load(done, 0); seen < count; seen = Atomics.load(done, 0)) {
      if (performance.now() > until) throw new Error('A part of the picture was not made. Reload the page.');
      Atomics.wait(done, 0, seen, 50);
    }
  }
}
