import { randomUUID } from 'node:crypto';
import { execFile } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { BLEND_MODE_CODES } from '@zaddle/core/blend/blendModes';
import { writeRowCoords, composeMap, coordCount } from '@zaddle/core/geometry/composedMap';
import { IDENTITY } from '@zaddle/core/geometry/homography';
import { NO_LENS } from '@zaddle/core/geometry/lens';
import { Arena } from '@zaddle/core/kernels/arena';
import { cubicPhases } from '@zaddle/core/kernels/cubicPhases';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import { twinKernels } from '@zaddle/core/kernels/twinKernels';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import type { Pixels } from '@zaddle/core/image/plane';
import { readyMix } from '@zaddle/core/graph/readyMix';
import { cleanUp } from '@zaddle/core/propose/cleanUp';
import { AUTOMATIC, proposeMix, type Proposal } from '@zaddle/core/propose/proposeMix';
import { gatherRatio, lineUpRatio } from './benchIntake';
import { largeShot } from './benchLarge';
import { decodeFrame } from '../picture/decodeFrame';
import { encodeImage } from '../picture/encodePicture';
import { FrameShelf, shelfBytes } from '../picture/frameShelf';
import { newKernels } from '../picture/kernels';
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
async function ofFiles(): Promise<Record<'whole' | 'lineUp' | 'gather', unknown>> {
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
    return { whole, lineUp: await lineUpRatio(proxies), gather: await gatherRatio(paths) };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** How much faster a kernel is than its TypeScript twin on the same rows: medians of alternating runs. */
function speedup(run: (kernels: Kernels, arena: Arena) => () => void): { speedupOverJs: number } {
  const wasm = newKernels(64 << 20);
  const twin = twinKernels(new ArrayBuffer(64 << 20));
  const calls = [run(wasm, new Arena(wasm.memory.buffer)), run(twin, new Arena(twin.memory.buffer))];
  const times: number[][] = [[], []];
  for (let round = 0; round < 15; round++) {
    calls.forEach((call, k) => {
      const start = performance.now();
      call();
      times[k].push(performance.now() - start);
    });
  }
  const [fast, slow] = times.map((list) => list.slice(3).sort((a, b) => a - b)[6]);
  return { speedupOverJs: slow / fast };
}

const N = 3000;
const ROWS = 60;

function warpRun(kernels: Kernels, arena: Arena): () => void {
  const [w, h, plane] = [N + 40, ROWS + 10, N * 4 + 64];
  const src = arena.placeBytes(Uint8Array.from({ length: w * h * 3 }, (_, i) => (i * 7919) % 251));
  const phases = arena.placeBytes(new Uint8Array(cubicPhases().buffer));
  const coords = arena.take(coordCount(N) * 8);
  const view = new Float64Array(arena.buffer, coords, coordCount(N));
  const [out, cover] = [arena.take(plane * 3), arena.take(plane)];
  const map = composeMap([0.9995, 0.001, 8.3, -0.001, 0.9995, 4.6, 0, 0, 1], IDENTITY, IDENTITY, NO_LENS, w, h);
  return () => {
    for (let y = 0; y < ROWS; y++) {
      writeRowCoords(map, 0, y, N, view);
      kernels.warpRow8(src, w, h, coords, N, phases, out, plane, cover);
    }
  };
}

/** Seven passes as a room has them: plain, part brightness and colour, lighten, masked. */
function mixRun(kernels: Kernels, arena: Arena): () => void {
  const plane = N * 4 + 64;
  const light = (): number => {
    const at = arena.take(plane * 3);
    for (let c = 0; c < 3; c++) arena.floats(at + c * plane, N).forEach((_, i, all) => (all[i] = ((i * 31 + c * 7) % 97) / 97));
    return at;
  };
  const below = light();
  const sources = Array.from({ length: 7 }, light);
  const mask = arena.placeFloats(Float32Array.from({ length: N }, (_, i) => 0.1 + ((i * 13) % 89) / 100));
  const passes = [[0, 1, 1], [0, 1, 1], [0, 0.6, 0.1], [2, 1, 1], [0, 0.4, 0.9], [5, 1, 1], [0, 1, 1]] as const;
  return () => {
    for (let y = 0; y < ROWS; y++) {
      passes.forEach(([mode, brightness, colour], k) => {
        if (mode !== BLEND_MODE_CODES.normal) kernels.blendRow(below, plane, sources[k], plane, N, mode);
        kernels.mixRow(below, plane, sources[k], plane, mask, N, brightness, colour);
      });
    }
  };
}

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

/** The speed figures, each a ratio within this run; those of the desk are milliseconds. */
export async function bench(): Promise<Record<string, unknown>> {
  const desk = await deskFigures();
  const large = await largeShot();
  const { whole, lineUp, gather } = await ofFiles();
  const result = { run: randomUUID(), cores: cpus().length, wholeShot: whole, largeShot: large, desk, gather, lineUp, mixKernel: speedup(mixRun), warpKernel: speedup(warpRun) };
  await closeRenderPool();
  return result;
}
