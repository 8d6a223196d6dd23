import { execFile } from 'node:child_process';
import { mkdir, mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';

const [WIDTH, HEIGHT, FRAMES] = [8256, 5504, 30];
const run = promisify(execFile);
const script = (name: string): string => fileURLToPath(new URL(name, import.meta.url));

interface Report {
  readonly shots: readonly { readonly frames: readonly { readonly used: boolean }[] }[];
  readonly totals: { readonly ms: number; readonly peakRssMiB: number };
}

/** A shot far larger than memory, as the command line makes it: from files to a picture, in a process of its own. */
export async function largeShot(): Promise<Record<string, number>> {
  const folder = await mkdtemp(join(tmpdir(), 'zaddle-large-'));
  const node = (file: string, ...rest: string[]): Promise<unknown> => run(process.execPath, ['--import', import.meta.resolve('tsx'), script(file), ...rest], { maxBuffer: 1 << 24 });
  try {
    const [card, out, report] = [join(folder, 'card'), join(folder, 'out'), join(folder, 'report.json')];
    await mkdir(card);
    await node('./benchFrames.ts', card, String(WIDTH), String(HEIGHT), ...Array.from({ length: FRAMES }, (_, k) => String((k % 7) - 3)));
    await node('../cli.ts', 'process', card, '--out', out, '--report', report);
    const { shots, totals } = JSON.parse(await readFile(report, 'utf8')) as Report;
    return { frames: FRAMES, megapixels: Math.round((WIDTH * HEIGHT) / 1e6), shots: shots.length, used: shots.reduce((sum, shot) => sum + shot.frames.filter((f) => f.used).length, 0), peakRssMiB: totals.peakRssMiB, ms: Math.round(totals.ms) };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
