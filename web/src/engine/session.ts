import type { StoredFound } from '@zaddle/core/found/storedFound';
import { wantedBy } from '@zaddle/core/found/storedFound';
import { denoises, denoisingBytes, placeNoise } from '@zaddle/core/finish/denoise';
import { placeSharpening, sharpeningBytes, sharpens } from '@zaddle/core/finish/sharpen';
import { GuideLevel } from '@zaddle/core/graph/guideLevel';
import { Heap } from '@zaddle/core/graph/heap';
import { Keep } from '@zaddle/core/graph/keep';
import { placeMix } from '@zaddle/core/graph/placeMix';
import { placedBytes, type PlacedMix, type PlacedSource } from '@zaddle/core/graph/placedMix';
import { prepareMix, type PreparedMix } from '@zaddle/core/graph/prepareMix';
import type { StoredWide } from '@zaddle/core/graph/storedWide';
import { newWideContext } from '@zaddle/core/graph/wideContext';
import { PROXY_SIDE } from '@zaddle/core/image/shrink';
import { Arena } from '@zaddle/core/kernels/arena';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import { createKernelMemory, loadKernels, type KernelMemory } from '@zaddle/core/kernels/loadKernels';
import type { Tools } from '@zaddle/core/kernels/tools';
import type { Region } from '@zaddle/core/mix/regionBox';
import { framesOfPass, type Mix, type MixDocument } from '@zaddle/document';
import { FrameSources, PARTS_BUDGET } from './frameSources';
import type { Marks } from './messages';
import type { StripJob } from './renderStrips';
import type { TableShelf } from './tableShelf';
import type { Threads } from './threads';
import type { Fineness, Visible } from './visiblePart';

/** Bytes for results that are kept, for parts of originals, and for what one picture needs while it is made. Parts of all sizes come and go: twice their budget leaves room between them. */
const KEPT = 100_000_000;
const PARTS = 2 * PARTS_BUDGET;
const SCRATCH = 64_000_000;
/** Bytes of a proxy with its smaller copies, at most. */
const PROXY_BYTES = 1.4 * PROXY_SIDE ** 2 * 3;
/** Screen pixels to a proxy's pixel up to which it serves as it is. */
const PROXY_SERVES = 1.2;
/** How much more than what is seen is loaded on either side, so that the neighbourhood is there when somebody goes on; less where many frames would take more than so many bytes. */
const AHEAD = 0.2;
const SEEN_BUDGET = 0.5 * PARTS_BUDGET;
/** How much of the neighbourhood is loaded once the picture is there: a drag goes about so far. */
const AROUND = 0.75;
/** Bytes that the neighbourhood may take of those for parts: what is seen stays beside it. */
const AROUND_BUDGET = 0.7 * PARTS_BUDGET;

/** Everything that lasts while a shot is open: its pixels, what was found in it, and what was made of them so far. */
export class Session {
  readonly memory: KernelMemory;
  readonly kernels: Kernels;
  readonly sources: FrameSources;
  private readonly keep: Keep;
  private readonly scratch: readonly [number, number];
  private readonly wide = newWideContext();
  /** Those of a mix that is compared with: its passes have the same names, and other light below them. */
  readonly otherWide = newWideContext();
  /** What results for the screen are kept for, whole and rough. */
  private readonly gridKeys: Record<Fineness, string> = { whole: '', rough: '' };
  found: StoredFound;
  /** What was worked out for the picture before, as the server has it: for the first one here, which remembers it. */
  stored: StoredWide | null = null;

  /** @param left memory of an earlier session, taken over where it is large enough. */
  constructor(module: WebAssembly.Module, private readonly threads: Threads, frames: number, found: StoredFound, readonly shelf: TableShelf, left: KernelMemory | null) {
    // What is not used is only promised, not taken.
    const bytes = Math.min(2 ** 31, frames * PROXY_BYTES + KEPT + PARTS + SCRATCH);
    this.memory = left && left.buffer.byteLength >= bytes ? left : createKernelMemory(bytes);
    this.kernels = loadKernels(module, this.memory);
    this.scratch = [1024, SCRATCH];
    const heap = new Heap(SCRATCH, this.memory.buffer.byteLength);
    this.sources = new FrameSources(this.kernels, heap, this.scratch);
    this.keep = new Keep(heap, this.memory.buffer, KEPT);
    this.found = found;
    if (this.memory !== left) threads.share(module, this.memory);
  }

  /** Another shot takes the memory over: what is still on its way for this one finds no place any more. */
  close(): void {
    this.sources.close();
  }

  arena(): Arena {
    return new Arena(this.memory.buffer, ...this.scratch);
  }

  /** What computations of the core take. */
  tools(): Tools {
    return { kernels: this.kernels, arena: this.arena() };
  }

  /** Whether all that the masks of a mix refer to is at hand. */
  hasFound(mix: MixDocument): boolean {
    return this.found.has(wantedBy(mix));
  }

  /** The guide level of a mix, with those of its frames that are at hand. */
  guideLevel(mix: MixDocument, wide = this.wide, stored: StoredWide | null = null): GuideLevel {
    const sources = this.sources.guideSources(mix, Object.keys(mix.frames).filter((id) => this.sources.has(id)));
    return new GuideLevel(this.kernels, this.arena(), sources, { keeper: this.keep, grid: 'guide', working: null }, wide, ({ what, placed, passes, out, stride, arena }) => this.renderRows(placed, arena, out, { kind: what, passes, stride }), stored);
  }

  /** A mix with what it refers to, nothing worked out yet. */
  bare(mix: MixDocument): PreparedMix {
    return prepareMix(mix, this.found, this.shelf.tables);
  }

  /** The same, ready to be seen. @param exact tones anew where what lies below them changed; else as they were last, since somebody is dragging. */
  prepare(mix: MixDocument, exact: boolean): PreparedMix {
    this.keep.begin();
    const stored = exact ? this.stored : null;
    if (exact) this.stored = null;
    return this.guideLevel(mix, this.wide, stored).workOut(this.bare(mix), exact);
  }

  /** A mix that is compared with, likewise. */
  prepareOther(mix: MixDocument, exact: boolean): PreparedMix {
    this.keep.begin();
    return this.guideLevel(mix, this.otherWide).workOut(this.bare(mix), exact);
  }

  /** Frames that a picture takes whose pixels are not as fine as the screen yet: to be loaded as whole proxies, or as parts of the originals. */
  missing(mix: MixDocument, frames: readonly string[], { drawn: { view: { scale } }, region }: Visible): { proxies: string[]; parts: string[] } {
    const proxies: string[] = [];
    const parts: string[] = [];
    for (const id of frames) {
      const use = mix.frames[id];
      if (this.wantsPart(use, scale)) {
        if (!this.sources.partFor(mix, id, region)) parts.push(id);
      } else if (this.sources.halvings(use, scale) === 0 && !this.sources.has(id, true)) proxies.push(id);
    }
    return { proxies, parts };
  }

  /** Whether a proxy is too coarse for a view. */
  wantsPart(use: { readonly width: number; readonly height: number }, scale: number): boolean {
    const finest = this.sources.proxyWidth(use) / use.width;
    return finest < 1 && scale > finest * PROXY_SERVES;
  }

  /** Pixels of the frames that a picture takes, as fine as the screen, or what is at hand in their place. */
  private pixelsFor({ mix, passes }: PreparedMix, visible: Visible): { sources: Map<string, PlacedSource>; level: number | null } {
    const sources = new Map<string, PlacedSource>();
    const { scale } = visible.drawn.view;
    let level: number | null = null;
    for (const id of new Set(passes.flatMap(({ pass }) => framesOfPass(mix, pass)))) {
      const use = mix.frames[id];
      const part = this.wantsPart(use, scale) ? this.sources.partFor(mix as MixDocument, id, visible.region) : null;
      if (part) level = visible.region.level;
      const whole = this.sources.copyFor(id, use, scale);
      sources.set(id, part ? { ...part, instead: whole } : whole);
    }
    return { sources, level };
  }

  /** How much more than a region there is room for, as a share of it on either side. @param most beyond which nothing is gained */
  private roomAround(frames: number, region: Region, budget: number, most: number): number {
    const bytes = frames * region.width * region.height * 4 ** -region.level * 3;
    return Math.max(0, Math.min(most, (Math.sqrt(budget / Math.max(1, bytes)) - 1) / 2));
  }

  /** Loads what a view needs of the originals, and some of what lies around it. @param ahead how much more, as a share of it on either side. */
  async load(mix: MixDocument, frames: readonly string[], region: Region, ahead = this.roomAround(frames.length, region, SEEN_BUDGET, AHEAD)): Promise<void> {
    const more = { ...region, x: region.x - ahead * region.width, y: region.y - ahead * region.height, width: region.width * (1 + 2 * ahead), height: region.height * (1 + 2 * ahead) };
    if (frames.length > 0) this.sources.dropWholes();
    await Promise.all(frames.map((id) => this.sources.loadPart(mix, id, more)));
  }

  /** Loads the neighbourhood of a view that is shown from the originals, as much of it as fits beside it. */
  async loadAround(mix: MixDocument, frames: readonly string[], { region, drawn }: Visible): Promise<void> {
    const parts = frames.filter((id) => this.wantsPart(mix.frames[id], drawn.view.scale));
    const ahead = this.roomAround(parts.length, region, AROUND_BUDGET, AROUND);
    if (parts.length > 0 && ahead > AHEAD) await this.load(mix, parts, region, ahead);
  }

  /** Pixels of the frames that a mix takes, for a scale. */
  copiesFor({ mix, passes }: PreparedMix, scale: number): Map<string, PlacedSource> {
    return new Map([...new Set(passes.flatMap(({ pass }) => framesOfPass(mix, pass)))].map((id) => [id, this.sources.copyFor(id, mix.frames[id], scale)] as const));
  }

  /** Renders the rows of a placed mix, on all threads. @param bytes of scratch that each thread takes */
  renderRows(mix: PlacedMix, arena: Arena, out: number, what: StripJob['what'], bytes = placedBytes(mix)): void {
    const [counter, done] = [arena.take(4), arena.take(4)];
    const scratch = Array.from({ length: this.threads.count }, () => {
      const start = arena.take(bytes);
      return [start, start + bytes] as const;
    });
    this.threads.render(this.kernels, { mix, what, counter, done, out, scratch });
  }

  /** A rendered picture of the screen with its noise taken away, as far as that shows at its scale; where it lies. */
  private calmed({ noise }: Mix, placed: PlacedMix, { grid }: Visible, from: number, arena: Arena): number {
    const scale = 1 / grid.toOutput[0];
    if (!denoises(noise, scale)) return from;
    const plan = placeNoise(noise, scale, arena);
    const out = arena.take(grid.width * grid.height * 4);
    this.renderRows(placed, arena, out, { kind: 'denoise', from, plan }, denoisingBytes(grid.width, plan.spacing));
    return out;
  }

  /** A rendered picture of the screen sharpened, as far as that shows at its scale; where it lies. @param free a place for it where another picture lay, or null */
  private sharpened({ sharpening }: Mix, placed: PlacedMix, { grid }: Visible, from: number, free: number | null, shows: 'picture' | 'edges', arena: Arena): number {
    const scale = 1 / grid.toOutput[0];
    const wished = shows === 'edges' && sharpening ? { ...sharpening, amount: Math.max(sharpening.amount, 0.01), radius: Math.max(sharpening.radius, 0.3 / scale) } : sharpening;
    if (!sharpens(wished, scale)) return from;
    const plan = placeSharpening(wished, scale, arena);
    const out = free ?? arena.take(grid.width * grid.height * 4);
    this.renderRows(placed, arena, out, { kind: 'sharpen', from, plan, shows }, sharpeningBytes(grid.width, plan.radius));
    return out;
  }

  /**
   * Renders what is visible, on all threads. Results are kept apart by fineness. @param working the pass that is worked on; marks of a mask are of its mask.
   * @returns RGBA that lies in shared memory until the next picture.
   */
  render(prepared: PreparedMix, visible: Visible, fineness: Fineness, working: string | null, marks: Marks): { pixels: Uint8ClampedArray; level: number | null } {
    const { sources, level } = this.pixelsFor(prepared, visible);
    const { grid } = visible;
    const gridKey = `${grid.width}x${grid.height} ${grid.toOutput.join()} ${prepared.mix.geometry.join()}`;
    // Only one view is looked at: what was made for the last one is of no use.
    if (gridKey !== this.gridKeys[fineness]) this.keep.drop(fineness);
    this.gridKeys[fineness] = gridKey;
    this.keep.begin();
    const arena = this.arena();
    const placed = placeMix(prepared, sources, grid, arena, { keeper: this.keep, grid: fineness, working });
    const out = arena.take(grid.width * grid.height * 4);
    const row = Array.from({ length: this.threads.count }, () => arena.take(grid.width * 3));
    const masked = prepared.passes.findIndex(({ pass }) => pass.id === working);
    const ofMask = marks === 'coloured' || marks === 'mask';
    const marked = (ofMask && masked < 0) || marks === 'edges' ? 'none' : marks;
    this.renderRows(placed, arena, out, { kind: 'canvas', marks: marked, masked, row });
    const calm = marked === 'none' ? this.calmed(prepared.mix, placed, visible, out, arena) : out;
    // Two pictures at a time: a large screen's take tens of megabytes each.
    const finished = marked === 'none' ? this.sharpened(prepared.mix, placed, visible, calm, calm === out ? null : out, marks === 'edges' ? 'edges' : 'picture', arena) : out;
    return { pixels: new Uint8ClampedArray(this.memory.buffer, finished, grid.width * grid.height * 4), level };
  }
}
