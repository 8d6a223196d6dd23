import { execFile } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import type { Pixels } from '@zaddle/core/image/plane';
import { readyMix } from '@zaddle/core/graph/readyMix';
import { cleanUp } from '@zaddle/core/propose/cleanUp';
import { AUTOMATIC, proposeMix, type Proposal } from '@zaddle/core/propose/proposeMix';
import { gatherRatio, lineUpRatio } from './benchIntake';
import { decodeFrame } from '../picture/decodeFrame';
import { encodeImage } from '../picture/encodePicture';
import { FrameShelf, shelfBytes } from '../picture/frameShelf';
import { closeRenderPool, openRenderPool } from '../picture/renderPool';
import { finishedPicture, renderingOf } from '../picture/rendering';
import { renderScratch } from '../picture/renderPicture';

const [WIDTH, HEIGHT, FRAMES] = [6000, 4000, 7];
const ROUNDS = 7;
const META = { description: 'bench', changed: [], taken: null };
const JPEG = { file: 'jpeg', quality: 95, profile: 'srgb' } as const;

/** CPU time of this process, all threads, milliseconds. */
const cpu = (): number => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1000;
};

async function measured<T>(work: () => Promise<T>): Promise<{ value: T; ms: number }> {
  const start = cpu();
  const value = await work();
  return { value, ms: cpu() - start };
}

const STOPS = [0, -2, 2, -1, 1, -3, -4];
const factsOf = (k: number): FrameFacts => ({ id: String(k), name: `${k}.jpg`, width: WIDTH, height: HEIGHT, takenAt: k * 1000, seconds: 2 ** STOPS[k], aperture: 8, iso: 200, flash: null, bracketed: true, focalLength: 20, format: 'jpeg', camera: null, lensName: null, twinOf: null });
const middle = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1];

/** What nobody can avoid: decoding all frames, encoding one picture. */
async function decodeAndEncode(paths: readonly string[]): Promise<void> {
  let last: Pixels | null = null;
  for (const path of paths) last = await decodeFrame(path);
  await encodeImage(last!, JPEG, META);
}

/** One shot from files to an encoded picture; CPU time of its parts, milliseconds. */
async function makePicture(paths: readonly string[], shelf: FrameShelf): Promise<Record<string, number>> {
  const parts: Record<string, number> = {};
  let mark = cpu();
  const lap = (part: string): void => {
    parts[part] = (parts[part] ?? 0) + cpu() - mark;
    mark = cpu();
  };
  shelf.clear();
  const members = [];
  for (const [k, path] of paths.entries()) {
    const pixels = await decodeFrame(path);
    lap('decode');
    shelf.place(String(k), pixels);
    members.push({ facts: factsOf(k), proxy: shelf.proxy(String(k)) });
    lap('proxies');
  }
  const proposal = proposeMix(shelf, members, AUTOMATIC, () => performance.now());
  lap('propose');
  const proxies = new Map(members.map(({ facts, proxy }) => [facts.id, proxy]));
  const made = ({ mix, findings }: Proposal) => readyMix(shelf, mix, findings, proxies, (level, ready) => level.picture(ready));
  const start = made(proposal);
  const cleaned = cleanUp(proposal, start.result);
  const { prepared } = cleaned === proposal ? start : made(cleaned);
  lap('prepare');
  const picture = await finishedPicture(renderingOf(prepared, shelf, { width: proposal.mix.width, height: proposal.mix.height }));
  lap('render');
  await encodeImage(picture, JPEG, META);
  lap('encode');
  return parts;
}

/** A shot against the floor, medians of alternating rounds, as a shoot has many shots; then its parts before mixing. */
export async function shotFigures(): Promise<Record<'wholeShot' | 'lineUp' | 'gather', unknown>> {
  const folder = await mkdtemp(join(tmpdir(), 'zaddle-bench-'));
  try {
    // Made in another process, so that its memory does not count here.
    await promisify(execFile)(process.execPath, ['--import', import.meta.resolve('tsx'), fileURLToPath(new URL('./benchFrames.ts', import.meta.url)), folder, String(WIDTH), String(HEIGHT), ...STOPS.map(String)]);
    const paths = STOPS.map((_, k) => join(folder, `${k}.jpg`));
    // Threads and memory are there once a process, as the decoder is.
    await openRenderPool();
    const shelf = new FrameShelf(FRAMES * shelfBytes(WIDTH, HEIGHT, false), renderScratch(WIDTH, HEIGHT, FRAMES, 'encoded'));
    const floors: number[] = [];
    const shots: Record<string, number>[] = [];
    for (let round = 0; round < ROUNDS; round++) {
      floors.push((await measured(() => decodeAndEncode(paths))).ms);
      shots.push(await makePicture(paths, shelf));
    }
    const wholes = shots.map((parts) => Object.values(parts).reduce((sum, ms) => sum + ms, 0));
    const parts = Object.fromEntries(Object.keys(shots[0]).map((part) => [part, Math.round(middle(shots.map((s) => s[part])))]));
    const proxies = paths.map((_, k) => ({ facts: factsOf(k), proxy: shelf.proxy(String(k)) }));
    const whole = {
      frames: FRAMES, megapixels: (WIDTH * HEIGHT) / 1e6, ratioToFloor: middle(wholes) / middle(floors), floorMs: Math.round(middle(floors)), wholeMs: Math.round(middle(wholes)), parts,
      firstRatioToFloor: wholes[0] / floors[0], peakRssMiB: Math.round(process.resourceUsage().maxRSS / 1024),
    };
    return { wholeShot: whole, lineUp: await lineUpRatio(proxies), gather: await gatherRatio(paths) };
  } finally {
    await closeRenderPool();
    await rm(folder, { recursive: true, force: true });
  }
}
