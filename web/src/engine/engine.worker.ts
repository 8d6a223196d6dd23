import { Arena } from '@zaddle/core/kernels/arena';
import type { Pixels } from '@zaddle/core/image/plane';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import { createKernelMemory, loadKernels } from '@zaddle/core/kernels/loadKernels';
import { makeGuides, type GuideSet } from '@zaddle/core/mix/guides';
import { wholeGrid, type OutputGrid, type PlacedSource } from '@zaddle/core/mix/placeMix';
import { Findings, prepareMix, reprepareMix, type PreparedMix } from '@zaddle/core/mix/prepareMix';
import { PROXY_SIDE, shrunkSize } from '@zaddle/core/image/shrink';
import type { MixDocument } from '@zaddle/document';
import { checkMix } from './checkMix';
import { fetchDetail } from './fetchDetail';
import { fetchProxies } from './fetchProxies';
import { alignPart } from './alignPart';
import type { FromEngine, Region, ToEngine } from './messages';
import { renderGrid, type Finish } from './renderGrid';

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
  readonly mix: MixDocument;
  readonly kernels: Kernels;
  readonly arena: Arena;
  readonly sources: ReadonlyMap<string, PlacedSource>;
  readonly proxies: ReadonlyMap<string, Pixels>;
  readonly guides: GuideSet;
  readonly findings: Findings;
  prepared: PreparedMix | null;
  /** What it was settled for, as JSON; null in the middle of a drag. */
  preparedFor: string | null;
  /** What is on the canvas: the mix, or what a check shows in its place. */
  shown: readonly PreparedMix[];
}
let session: Session | null = null;

/** Frames' geometry and balance, reference and lens: what alignment decides. */
const keyOf = (mix: MixDocument): string => JSON.stringify([mix.reference, mix.lens, mix.response, mix.merge, mix.frames]);

/** What all guides depend on. */
const homeOf = (mix: MixDocument): string => JSON.stringify([mix.reference, mix.lens, mix.response]);

async function open(mix: MixDocument): Promise<Session> {
  const ids = Object.keys(mix.frames);
  // A change of alignment or lens makes everything anew but what was loaded.
  const proxies = session && ids.every((id) => session!.proxies.has(id)) ? session.proxies : await fetchProxies(ids, (done) => send({ kind: 'progress', done, total: ids.length }));
  const bytes = [...proxies.values()].reduce((sum, p) => sum + p.data.byteLength + 4096, 0);
  const memory = createKernelMemory(bytes + EXTRA);
  const kernels = loadKernels(compiled, memory);
  const arena = new Arena(memory.buffer);
  const sources = new Map<string, PlacedSource>();
  for (const [id, { width, height, data }] of proxies) sources.set(id, { at: arena.placeBytes(data as Uint8Array), width, height, depth: 8 });
  const mark = arena.mark();
  const old = session;
  const same = (id: string): boolean => old !== null && homeOf(old.mix) === homeOf(mix) && JSON.stringify(old.mix.frames[id]) === JSON.stringify(mix.frames[id]);
  const guides = makeGuides(kernels, new Arena(memory.buffer, mark), mix, proxies, (id) => (same(id) ? old!.guides.frames.get(id) : undefined));
  return { key: keyOf(mix), mix, kernels, arena, sources, proxies, guides, findings: new Findings(guides, mix.frames), prepared: null, preparedFor: null, shown: [] };
}

function draw(canvas: OffscreenCanvas, image: ImageData): void {
  canvas.width = image.width;
  canvas.height = image.height;
  canvas.getContext('2d', { alpha: false })!.putImageData(image, 0, 0);
}

type Show = Extract<ToEngine, { kind: 'show' }>;
const finishOf = (wish: Show): Finish => (wish.check?.kind === 'difference' ? 'difference' : wish.clipping && !wish.check ? 'clipping' : 'plain');

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
      // A check shows frames alone: what the mix needs of wide context waits.
      const { passes, geometry, corrects, width, height } = wish.mix;
      const what = JSON.stringify([passes, geometry, corrects, width, height]);
      // Back from a check, or from a look at something else: what was worked out still stands.
      if (!wish.check && !(s.prepared && s.preparedFor === what)) s.prepared = wish.settled || !s.prepared ? prepareMix(wish.mix, s.guides, s.findings).prepared : reprepareMix(wish.mix, s.prepared, s.findings);
      if (!wish.check) s.preparedFor = wish.settled ? what : null;
      s.shown = wish.check ? checkMix(wish.mix, s.guides, wish.check).map((mix) => prepareMix(mix, s.guides, s.findings).prepared) : [s.prepared!];
      const size = shrunkSize(wish.mix.width, wish.mix.height, PROXY_SIDE);
      draw(previewCanvas, renderGrid(s.kernels, s.shown, s.sources, wholeGrid(wish.mix, size.width, size.height), s.arena, finishOf(wish)));
      current = wish;
      send({ kind: 'shown', ticket: wish.ticket, milliseconds: performance.now() - started, ...size, settled: wish.settled });
    } catch (error) {
      send({ kind: 'failed', why: (error as Error).message });
    }
  }
  busy = false;
}

let detailTicket = 0;

/** Renders a part from the originals' pixels, at the level that the screen can show. */
async function showDetail(region: Region): Promise<void> {
  const ticket = ++detailTicket;
  const s = session;
  const wish = current;
  if (!s || s.shown.length === 0 || !wish) return;
  const { shown } = s;
  const parts = await fetchDetail(shown, region);
  if (ticket !== detailTicket) return;
  const bytes = [...parts.values()].reduce((sum, part) => sum + part.pixels.data.byteLength + 4096, 0);
  const memory = createKernelMemory(bytes + EXTRA);
  const arena = new Arena(memory.buffer);
  const sources = new Map<string, PlacedSource>();
  for (const [id, { pixels, whole }] of parts) sources.set(id, { at: arena.placeBytes(pixels.data as Uint8Array), width: pixels.width, height: pixels.height, depth: 8, whole });
  const k = 2 ** region.level;
  // Centres of halved pixels lie between those of the pixels that they stand for.
  const grid: OutputGrid = { width: Math.ceil(region.width / k), height: Math.ceil(region.height / k), toOutput: [k, 0, region.x + (k - 1) / 2, 0, k, region.y + (k - 1) / 2, 0, 0, 1] };
  draw(detailCanvas, renderGrid(loadKernels(compiled, memory), shown, sources, grid, arena, finishOf(wish)));
  send({ kind: 'detailShown', region });
}

/** Lines up what the mask of a pass covers, on proxies. */
function lineUpOnePart({ mix, pass }: Extract<ToEngine, { kind: 'lineUpPart' }>): void {
  const s = session;
  if (!s || s.key !== keyOf(mix)) return send({ kind: 'partLinedUp', pass, found: null });
  send({ kind: 'partLinedUp', pass, found: alignPart(compiled, mix, pass, s.proxies, s.guides, s.findings) });
}

addEventListener('message', ({ data }: MessageEvent<ToEngine>) => {
  if (data.kind === 'open') {
    compiled = data.kernels;
    previewCanvas = data.preview;
    detailCanvas = data.detail;
  } else if (data.kind === 'show') {
    waiting = data;
    void work();
  } else if (data.kind === 'lineUpPart') {
    lineUpOnePart(data);
  } else if (data.region) {
    void showDetail(data.region).catch((error: Error) => send({ kind: 'failed', why: error.message }));
  } else {
    detailTicket++;
  }
});

