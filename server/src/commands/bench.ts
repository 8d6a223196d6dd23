import { randomUUID } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { writeRowCoords, composeMap, coordCount } from '@zaddle/core/geometry/composedMap';
import { IDENTITY } from '@zaddle/core/geometry/homography';
import { NO_LENS } from '@zaddle/core/geometry/lens';
import { Arena } from '@zaddle/core/kernels/arena';
import { cubicPhases } from '@zaddle/core/kernels/cubicPhases';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import { twinKernels } from '@zaddle/core/kernels/twinKernels';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import type { Pixels } from '@zaddle/core/image/plane';
import { prepareMix } from '@zaddle/core/mix/prepareMix';
import { proposeMix } from '@zaddle/core/propose/proposeMix';
import { decodeFrame } from '../picture/decodeFrame';
import { encodeJpeg } from '../picture/encodePicture';
import { makeProxy } from '../picture/gatherFile';
import { newKernels } from '../picture/kernels';
import { closeRenderPool } from '../picture/renderPool';
import { renderPicture } from '../picture/renderPicture';

const [WIDTH, HEIGHT, FRAMES] = [6000, 4000, 7];
const META = { description: 'bench', taken: null, longerSide: null };

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

/** A made-up 24-megapixel frame: furniture-like boxes with grain, at an exposure and a small shift, as JPEG. */
async function frame(stops: number, shift: number): Promise<Buffer> {
  let state = 77;
  const next = (): number => (state = (state * 48271) % 2147483647) / 2147483647;
  const [w, h] = [WIDTH / 2, HEIGHT / 2];
  const light = new Float32Array(w * h).fill(0.12);
  for (let k = 0; k < 900; k++) {
    const [x0, y0, bw, bh, v] = [Math.floor(next() * w) + shift, Math.floor(next() * h), 12 + Math.floor(next() * 240), 12 + Math.floor(next() * 200), 0.01 + next() ** 2 * 0.7];
    for (let y = y0; y < Math.min(h, y0 + bh); y++) light.fill(v, y * w + x0, y * w + Math.min(w, x0 + bw));
  }
  const data = Buffer.alloc(w * h * 3);
  for (let i = 0; i < w * h; i++) {
    const v = 255 * Math.min(1, light[i] * 2 ** stops + next() * 0.01) ** (1 / 2.2);
    data[i * 3] = v;
    data[i * 3 + 1] = v * 0.98;
    data[i * 3 + 2] = v * 0.95;
  }
  return sharp(data, { raw: { width: w, height: h, channels: 3 } }).resize(WIDTH, HEIGHT, { kernel: 'cubic' }).jpeg({ quality: 92 }).toBuffer();
}

/** A shot from decoded files to an encoded picture, against the floor of decoding all and encoding one. */
async function wholeShot(): Promise<Record<string, number>> {
  const folder = await mkdtemp(join(tmpdir(), 'zaddle-bench-'));
  try {
    const paths: string[] = [];
    for (let k = 0; k < FRAMES; k++) {
      paths.push(join(folder, `${k}.jpg`));
      await writeFile(paths[k], await frame([0, -2, 2, -1, 1, -3, -4][k], k));
    }
    const facts = (k: number): FrameFacts => ({ id: String(k), name: `${k}.jpg`, width: WIDTH, height: HEIGHT, takenAt: k * 1000, seconds: 2 ** [0, -2, 2, -1, 1, -3, -4][k], aperture: 8, iso: 200, flash: null, bracketed: true, focalLength: 20, twinOf: null });
    const floor = await measured(async () => {
      let last: Pixels | null = null;
      for (const path of paths) last = await decodeFrame(path);
      await encodeJpeg(last!, 95, META);
    });
    const whole = await measured(async () => {
      // Every file is decoded once: proxies come from the pixels that are rendered later.
      const decoded = new Map<string, Pixels>();
      const members = [];
      for (const [k, path] of paths.entries()) {
        const pixels = await decodeFrame(path);
        decoded.set(String(k), pixels);
        members.push({ facts: facts(k), proxy: makeProxy(pixels) });
      }
      const proposal = proposeMix(newKernels(64_000_000), members, true, true, () => performance.now());
      const { prepared } = prepareMix(proposal.mix, proposal.guides, proposal.findings);
      const take = async (id: string): Promise<Pixels> => {
        const pixels = decoded.get(id)!;
        decoded.delete(id);
        return pixels;
      };
      await encodeJpeg(await renderPicture(prepared, take, { width: proposal.mix.width, height: proposal.mix.height }, 'encoded'), 95, META);
    });
    return { frames: FRAMES, megapixels: (WIDTH * HEIGHT) / 1e6, ratioToFloor: whole.ms / floor.ms, floorMs: floor.ms, wholeMs: whole.ms, peakRssMiB: Math.round(process.resourceUsage().maxRSS / 1024) };
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
    for (let y = 0; y < ROWS; y++) passes.forEach(([mode, brightness, colour], k) => kernels.mixRow(below, plane, sources[k], plane, mask, N, mode, brightness, colour));
  };
}

/** The speed figures, each a ratio within this run. */
export async function bench(): Promise<Record<string, unknown>> {
  const result = { run: randomUUID(), cores: cpus().length, wholeShot: await wholeShot(), mixKernel: speedup(mixRun), warpKernel: speedup(warpRun) };
  await closeRenderPool();
  return result;
}
