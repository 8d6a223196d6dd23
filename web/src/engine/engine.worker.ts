import { Arena } from '@zaddle/core/kernels/arena';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import { createKernelMemory, loadKernels } from '@zaddle/core/kernels/loadKernels';
import { makeGuides, type GuideSet } from '@zaddle/core/mix/guides';
import { placeMix, wholeGrid, type OutputGrid, type PlacedSource } from '@zaddle/core/mix/placeMix';
import { Findings, prepareMix, reprepareMix, type PreparedMix } from '@zaddle/core/mix/prepareMix';
import { rendererBytes, RowRenderer } from '@zaddle/core/mix/renderRows';
import { PROXY_SIDE, shrunkSize } from '@zaddle/core/image/shrink';
import type { MixDocument } from '@zaddle/document';
import { fetchDetail } from './fetchDetail';
import { fetchProxies } from './fetchProxies';
import type { FromEngine, Region, ToEngine } from './messages';

/** Room for a picture's tables, planes and rows beside its frames. */
const EXTRA = 96_000_000;

const send = (message: FromEngine): void => postMessage(message);

let compiled: WebAssembly.Module;
let previewCanvas: OffscreenCanvas;
let detailCanvas: OffscreenCanvas;

/** Everything that lasts while a shot is open. */
interface Session {
  /** What the guides depend on; a change of it starts a new session. */
  readonly key: string;
  readonly kernels: Kernels;
  readonly arena: Arena;
  readonly sources: ReadonlyMap<string, PlacedSource>;
  readonly guides: GuideSet;
  readonly findings: Findings;
  prepared: PreparedMix | null;
}
let session: Session | null = null;

/** Frames' geometry and balance, reference and lens: what alignment decides. */
const keyOf = (mix: MixDocument): string => JSON.stringify([mix.reference, mix.lens, mix.merge, mix.frames]);

async function open(mix: MixDocument): Promise<Session> {
  const ids = Object.keys(mix.frames);
  const proxies = await fetchProxies(ids, (done) => send({ kind: 'progress', done, total: ids.length }));
  const bytes = [...proxies.values()].reduce((sum, p) => sum + p.data.byteLength + 4096, 0);
  const memory = createKernelMemory(bytes + EXTRA);
  const kernels = loadKernels(compiled, memory);
  const arena = new Arena(memory.buffer);
  const sources = new Map<string, PlacedSource>();
  for (const [id, { width, height, data }] of proxies) sources.set(id, { at: arena.placeBytes(data as Uint8Array), width, height, depth: 8 });
  const mark = arena.mark();
  const guides = makeGuides(kernels, new Arena(memory.buffer, mark), mix, proxies);
  return { key: keyOf(mix), kernels, arena, sources, guides, findings: new Findings(guides, mix.frames), prepared: null };
}

/** Renders an output grid into RGBA; with `clipping`, white and black are marked. */
function render(kernels: Kernels, prepared: PreparedMix, sources: ReadonlyMap<string, PlacedSource>, grid: OutputGrid, arena: Arena, clipping: boolean): ImageData {
  const mark = arena.mark();
  const mix = placeMix(prepared, sources, grid, arena);
  const scratch = arena.mark();
  const renderer = new RowRenderer(kernels, new Arena(arena.buffer, scratch, scratch + rendererBytes(grid.width, mix.frames.length)), mix);
  const rowArena = new Arena(arena.buffer, scratch + rendererBytes(grid.width, mix.frames.length));
  const row = rowArena.take(grid.width * 3);
  const rgb = new Uint8Array(arena.buffer, row, grid.width * 3);
  const image = new ImageData(grid.width, grid.height);
  const out = new Uint32Array(image.data.buffer);
  for (let y = 0, i = 0; y < grid.height; y++) {
    renderer.encodeRow(y, row);
    for (let x = 0, p = 0; x < grid.width; x++, p += 3, i++) {
      const [r, g, b] = [rgb[p], rgb[p + 1], rgb[p + 2]];
      if (clipping && Math.max(r, g, b) >= 254) out[i] = 0xff2020e0;
      else if (clipping && Math.max(r, g, b) <= 1) out[i] = 0xffe06020;
      else out[i] = 0xff000000 | (b << 16) | (g << 8) | r;
    }
  }
  arena.release(mark);
  return image;
}

function draw(canvas: OffscreenCanvas, image: ImageData): void {
  canvas.width = image.width;
  canvas.height = image.height;
  canvas.getContext('2d', { alpha: false })!.putImageData(image, 0, 0);
}

type Show = Extract<ToEngine, { kind: 'show' }>;
let waiting: Show | null = null;
let current: Show | null = null;
let busy = false;

/** Shows the latest wish; what came in between is skipped. */
async function work(): Promise<void> {
  if (busy) return;
  busy = true;
  for (;;) {
    // Wishes that came while a picture was made lie in the message queue: let them in, so that only the last one counts.
    await new Promise((resolve) => setTimeout(resolve, 0));
    if (!waiting) break;
    const wish: Show = waiting;
    waiting = null;
    const started = performance.now();
    try {
      if (session?.key !== keyOf(wish.mix)) session = await open(wish.mix);
      const s = session;
      s.prepared = wish.settled || !s.prepared ? prepareMix(wish.mix, s.guides, s.findings).prepared : reprepareMix(wish.mix, s.prepared, s.findings);
      const size = shrunkSize(wish.mix.width, wish.mix.height, PROXY_SIDE);
      draw(previewCanvas, render(s.kernels, s.prepared, s.sources, wholeGrid(wish.mix, size.width, size.height), s.arena, wish.clipping));
      current = wish;
      send({ kind: 'shown', ticket: wish.ticket, milliseconds: performance.now() - started, ...size, settled: wish.settled });
    } catch (error) {
      send({ kind: 'failed', why: (error as Error).message });
    }
  }
  busy = false;
}

let detailTicket = 0;

/** Renders a part from the originals' pixels, at one picture pixel to one screen pixel. */
async function showDetail(region: Region): Promise<void> {
  const ticket = ++detailTicket;
  const s = session;
  const wish = current;
  if (!s?.prepared || !wish) return;
  const { prepared } = s;
  const parts = await fetchDetail(prepared, region);
  if (ticket !== detailTicket) return;
  const bytes = [...parts.values()].reduce((sum, part) => sum + part.pixels.data.byteLength + 4096, 0);
  const memory = createKernelMemory(bytes + EXTRA);
  const arena = new Arena(memory.buffer);
  const sources = new Map<string, PlacedSource>();
  for (const [id, { pixels, whole }] of parts) sources.set(id, { at: arena.placeBytes(pixels.data as Uint8Array), width: pixels.width, height: pixels.height, depth: 8, whole });
  const grid: OutputGrid = { width: region.width, height: region.height, toOutput: [1, 0, region.x, 0, 1, region.y, 0, 0, 1] };
  draw(detailCanvas, render(loadKernels(compiled, memory), prepared, sources, grid, arena, wish.clipping));
  send({ kind: 'detailShown', region });
}

addEventListener('message', ({ data }: MessageEvent<ToEngine>) => {
  if (data.kind === 'open') {
    compiled = data.kernels;
    previewCanvas = data.preview;
    detailCanvas = data.detail;
  } else if (data.kind === 'show') {
    waiting = data;
    void work();
  } else if (data.region) {
    void showDetail(data.region).catch((error: Error) => send({ kind: 'failed', why: error.message }));
  } else {
    detailTicket++;
  }
});

