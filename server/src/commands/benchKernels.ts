import { BLEND_MODE_CODES } from '@zaddle/core/blend/blendModes';
import { composeMap, coordCount, writeRowCoords } from '@zaddle/core/geometry/composedMap';
import { IDENTITY } from '@zaddle/core/geometry/homography';
import { NO_LENS } from '@zaddle/core/geometry/lens';
import { Arena } from '@zaddle/core/kernels/arena';
import { cubicPhases } from '@zaddle/core/kernels/cubicPhases';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import { twinKernels } from '@zaddle/core/kernels/twinKernels';
import { newKernels } from '../picture/kernels';

const N = 3000;
const ROWS = 60;

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

/** The decisive kernels against their TypeScript twins. */
export function kernelFigures(): Record<'mixKernel' | 'warpKernel', { speedupOverJs: number }> {
  return { mixKernel: speedup(mixRun), warpKernel: speedup(warpRun) };
}
