import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { cpus } from 'node:os';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { kernelFigures } from './benchKernels';
import { largeShot } from './benchLarge';
import { shotFigures } from './benchShot';

/** How fast the desk answers: a program of its own measures it in the real browser. */
async function deskFigures(): Promise<unknown> {
  const script = fileURLToPath(new URL('../../../e2e/benchDesk.ts', import.meta.url));
  try {
    const { stdout } = await promisify(execFile)(process.execPath, ['--import', import.meta.resolve('tsx'), script], { maxBuffer: 1 << 20 });
    return JSON.parse(stdout.trim().split('\n').at(-1)!) as unknown;
  } catch (error) {
    return { failed: (error as Error).message.split('\n')[0] };
  }
}

/** What can be measured by itself, quickest first, and what it comes to. */
const PARTS = {
  kernels: async () => Promise.resolve(kernelFigures()),
  shot: shotFigures,
  large: async () => ({ largeShot: await largeShot() }),
  desk: async () => ({ desk: await deskFigures() }),
} satisfies Record<string, () => Promise<Record<string, unknown>>>;

export type BenchPart = keyof typeof PARTS;
export const BENCH_PARTS = Object.keys(PARTS) as BenchPart[];

/**
 * The speed figures, each a ratio within this run; those of the desk are milliseconds.
 * @param asked which parts; all where none is named
 * @param measured told of each part's figures as soon as they are there: all of them take many minutes
 */
export async function bench(asked: readonly BenchPart[], measured: (part: BenchPart, figures: Record<string, unknown>) => void): Promise<Record<string, unknown>> {
  let result: Record<string, unknown> = { run: randomUUID(), cores: cpus().length };
  for (const part of BENCH_PARTS) {
    if (asked.length > 0 && !asked.includes(part)) continue;
    const figures = await PARTS[part]();
    measured(part, figures);
    result = { ...result, ...figures };
  }
  return result;
}
