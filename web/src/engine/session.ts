import type { StoredFound } from '@zaddle/core/found/storedFound';
import { wantedBy } from '@zaddle/core/found/storedFound';
import { GuideLevel } from '@zaddle/core/graph/guideLevel';
import { newWideContext } from '@zaddle/core/graph/wideContext';
import { Heap } from '@zaddle/core/graph/heap';
import { Keep } from '@zaddle/core/graph/keep';
import { placeMix } from '@zaddle/core/graph/placeMix';
import type { ColourTable } from '@zaddle/core/finish/colourTable';
import { tabulatePass } from '@zaddle/core/graph/tabulatePass';
import { measureGrain } from '@zaddle/core/finish/measureGrain';
import { denoises, denoisingBytes, placeNoise } from '@zaddle/core/finish/denoise';
import { placeSharpening, sharpeningBytes, sharpens } from '@zaddle/core/finish/sharpen';
import { castOf } from '@zaddle/core/colour/castOf';
import { createPlane, type Light, type Plane } from '@zaddle/core/image/plane';
import { partWhere } from '@zaddle/core/image/nearMask';
import { lightFace } from '@zaddle/core/clean/lightFace';
import { lookAtPlace, placeGrid, type PlaceBox, type PlaceLooks } from '@zaddle/core/clean/lookAtPlace';
import { placeBox } from '@zaddle/core/clean/placeBox';
import { lookToHeal, type PlacedHealGrid } from '@zaddle/core/heal/lookToHeal';
import type { HealLook } from '@zaddle/core/heal/healLook';
import { gridRegion } from '@zaddle/core/graph/elsewhere';
import { underCleanUp } from '@zaddle/core/clean/cleanUpBundle';
import { placedBytes, wholeGrid, type OutputGrid, type PlacedMix, type PlacedSource } from '@zaddle/core/graph/placedMix';
import { maskFaces } from '@zaddle/core/graph/maskFaces';
import { contributionMap, type ContributionMap } from '@zaddle/core/graph/contributionMap';
import { pictureReadings } from '@zaddle/core/read/pictureReadings';
import type { Reading } from '@zaddle/core/read/readings';
import { smallPicture } from '@zaddle/core/graph/smallPicture';
import { probeMix, type Probe } from '@zaddle/core/graph/probeMix';
import { prepareMix, type PreparedMix } from '@zaddle/core/graph/prepareMix';
import { rowPlane } from '@zaddle/core/kind/rowScratch';
import { Arena } from '@zaddle/core/kernels/arena';
import type { Kernels } from '@zaddle/core/kernels/kernels';
import { createKernelMemory, loadKernels, type KernelMemory } from '@zaddle/core/kernels/loadKernels';
import { framesOfPass } from '@zaddle/document';
import { PROXY_SIDE } from '@zaddle/core/image/shrink';
import type { Area, Grain, Mix, MixDocument, TableSpace, Triple } from '@zaddle/document';
import { frameOnly } from './frameOnly';
import { FrameSources, PARTS_BUDGET } from './frameSources';
import type { Drawn, Marks, View } from './messages';
import { levelFor, type Region } from '@zaddle/core/mix/regionBox';
import type { StripJob } from './renderStrips';
import type { TableShelf } from './tableShelf';
import type { Threads } from './threads';

/** Bytes for results that are kept, for parts of originals, and for what one picture needs while it is made. Parts of all sizes come and go: twice their budget leaves room between them. */
const KEPT = 100_000_000;
const PARTS = 2 * PARTS_BUDGET;
const SCRATCH = 64_000_000;
/** Bytes of a proxy with its smaller copies, at most. */
const PROXY_BYTES = 1.4 * PROXY_SIDE ** 2 * 3;
/** Screen pixels to a proxy's pixel up to which it serves as it is. */
const PROXY_SERVES = 1.2;
/** How far a pixel of the screen may be from one of the picture for both to count as the same size. */
const ONE_TO_ONE = 0.01;
/** How much more than what is seen is loaded on either side, so that the neighbourhood is there when somebody goes on; less where many frames would take more than so many bytes. */
const AHEAD = 0.2;
const SEEN_BUDGET = 0.5 * PARTS_BUDGET;
/** How much of the neighbourhood is loaded once the picture is there: a drag goes about so far. */
const AROUND = 0.75;
/** Bytes that the neighbourhood may take of those for parts: what is seen stays beside it. */
const AROUND_BUDGET = 0.7 * PARTS_BUDGET;

/** A mix seen whole and straight: its output is the reference. */
function straight(mix: MixDocument): MixDocument {
  const { width, height } = mix.frames[mix.reference];
  return { ...mix, geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width, height };
}

/** Every pixel of the screen, or every other each way. */
export type Fineness = 'whole' | 'rough';

/** The visible part of a picture, whole screen pixels. */
export interface Visible {
  readonly grid: OutputGrid;
  readonly drawn: Drawn;
  /** The same in pixels of the output. */
  readonly region: Region;
}

/** Which pixels of the screen show the picture, and where those lie in it; null when none does. */
export function visiblePart(mix: MixDocument, view: View): Visible | null {
  const left = Math.max(0, Math.floor(view.x));
  const top = Math.max(0, Math.floor(view.y));
  const width = Math.min(view.width, Math.ceil(view.x + mix.width * view.scale)) - left;
  const height = Math.min(view.height, Math.ceil(view.y + mix.height * view.scale)) - top;
  if (width <= 0 || height <= 0) return null;
  const k = 1 / view.scale;
  const [x0, y0] = [(left + 0.5 - view.x) * k - 0.5, (top + 0.5 - view.y) * k - 0.5];
  const region = { x: x0, y: y0, width: width * k, height: height * k, level: levelFor(view.scale) };
  return { grid: { width, height, toOutput: [k, 0, x0, 0, k, y0, 0, 0, 1] }, drawn: { view, left, top, width, height }, region };
}

/** The same part on half as many pixels each way: what a hand that moves is shown first. */
export function roughPart(mix: MixDocument, view: View, { region }: Visible): Visible | null {
  const half = { scale: view.scale / 2, x: view.x / 2, y: view.y / 2, width: Math.ceil(view.width / 2), height: Math.ceil(view.height / 2) };
  const rough = visiblePart(mix, half);
  return rough && { ...rough, region };
}

/** Everything that lasts while a shot is open: its pixels, what was found in it, and what was made of them so far. */
export class Session {
  readonly memory: KernelMemory;
  readonly kernels: Kernels;
  readonly sources: FrameSources;
  private readonly keep: Keep;
  private readonly scratch: readonly [number, number];
  private readonly wide = newWideContext();
  /** Those of a mix that is compared with: its passes have the same names, and other light below them. */
  private readonly otherWide = newWideContext();
  /** What results for the screen are kept for, whole and rough. */
  private readonly gridKeys: Record<Fineness, string> = { whole: '', rough: '' };
  found: StoredFound;

  /** @param left memory of an earlier session, taken over where it is large enough. */
  constructor(module: WebAssembly.Module, private readonly threads: Threads, frames: number, found: StoredFound, private readonly shelf: TableShelf, left: KernelMemory | null) {
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

  private arena(): Arena {
    return new Arena(this.memory.buffer, ...this.scratch);
  }

  /** Whether all that the masks of a mix refer to is at hand. */
  hasFound(mix: MixDocument): boolean {
    return this.found.has(wantedBy(mix));
  }

  /** The guide level of a mix, with those of its frames that are at hand. */
  guideLevel(mix: MixDocument, wide = this.wide): GuideLevel {
    const sources = this.sources.guideSources(mix, Object.keys(mix.frames).filter((id) => this.sources.has(id)));
    return new GuideLevel(this.kernels, this.arena(), sources, { keeper: this.keep, grid: 'guide', working: null }, wide, ({ placed, passes, out, stride, arena }) => this.renderRows(placed, arena, out, { kind: 'log', passes, stride }));
  }

  /** A mix with what it refers to, nothing worked out yet. */
  bare(mix: MixDocument): PreparedMix {
    return prepareMix(mix, this.found, this.shelf.tables);
  }

  /** The same, ready to be seen. @param exact tones anew where what lies below them changed; else as they were last, since somebody is dragging. */
  prepare(mix: MixDocument, exact: boolean): PreparedMix {
    this.keep.begin();
    return this.guideLevel(mix).workOut(this.bare(mix), exact);
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
  private wantsPart(use: { readonly width: number; readonly height: number }, scale: number): boolean {
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

  /** Which pass gives most, place by place. */
  contributions(mix: MixDocument, columns: number, rows: number): ContributionMap {
    const prepared = this.prepare(mix, false);
    return contributionMap({ kernels: this.kernels, arena: this.arena() }, prepared, this.copiesFor(prepared, columns / mix.width), columns, rows);
  }

  /** What is measured on the picture as it stands. */
  readings(mix: MixDocument): Reading[] {
    const level = this.guideLevel(mix);
    const prepared = level.workOut(this.bare(mix), false);
    const picture = level.picture(prepared);
    const view = prepared.passes.findIndex(({ pass }) => pass.kind === 'view');
    const glass = view < 0 ? createPlane(picture.width, picture.height) : level.mask(prepared, view);
    return pictureReadings(picture, glass, view >= 0, mix.frames[mix.reference].width / picture.width);
  }

  /** What a pass does to colours as a colour table; null where it is no pass that does. */
  tabulate(mix: MixDocument, id: string, space: TableSpace): ColourTable | null {
    const pass = mix.passes.find((each) => each.id === id);
    return pass?.kind === 'adjust' ? tabulatePass({ kernels: this.kernels, arena: this.arena() }, mix, pass, this.found, this.shelf.tables, space, pass.name) : null;
  }

  /** Gains that take away the cast of what lies below a pass, within its mask; null where it is not seen, or there is too little light to tell. */
  castBelow(mix: MixDocument, pass: string): Triple | null {
    const level = this.guideLevel(mix);
    const prepared = level.workOut(this.bare(mix), false);
    const index = prepared.passes.findIndex((each) => each.pass.id === pass);
    if (index < 0) return null;
    const view = prepared.passes.findIndex((each) => each.pass.kind === 'view');
    return castOf(level.picture(prepared, index), prepared.passes[index].pass.mask.length > 0 ? level.mask(prepared, index) : null, view < 0 ? null : level.mask(prepared, view));
  }

  /** How grainy the part of a mix is that is seen, before anything is done about it; null where pixels are not seen one by one, or nothing in it is plain. */
  grainOf(mix: MixDocument, visible: Visible): Grain | null {
    const { width, height, toOutput } = visible.grid;
    if (Math.abs(toOutput[0] - 1) > ONE_TO_ONE) return null;
    const { pixels } = this.render(this.prepareOther({ ...mix, noise: null, sharpening: null }, true), visible, 'whole', null, 'none');
    const data = new Uint8Array(width * height * 3);
    for (let i = 0, p = 0; p < data.length; i += 4, p += 3) {
      data[p] = pixels[i];
      data[p + 1] = pixels[i + 1];
      data[p + 2] = pixels[i + 2];
    }
    return measureGrain({ width, height, data });
  }

  /** A mix as it would be, small: 8-bit RGB. */
  sketch(mix: MixDocument, columns: number, rows: number): Uint8Array {
    const prepared = this.prepareOther(mix, true);
    return smallPicture({ kernels: this.kernels, arena: this.arena() }, prepared, this.copiesFor(prepared, columns / mix.width), columns, rows);
  }

  /** The masks of all passes that are seen, small. */
  maskFaces(mix: MixDocument, columns: number, rows: number): Map<string, Uint8Array> {
    const prepared = this.prepare(mix, false);
    return maskFaces({ kernels: this.kernels, arena: this.arena() }, prepared, this.copiesFor(prepared, columns / mix.width), columns, rows);
  }

  /** Pixels of the frames that a mix takes, for a scale. */
  private copiesFor({ mix, passes }: PreparedMix, scale: number): Map<string, PlacedSource> {
    return new Map([...new Set(passes.flatMap(({ pass }) => framesOfPass(mix, pass)))].map((id) => [id, this.sources.copyFor(id, mix.frames[id], scale)] as const));
  }

  /** log2 luminance of a frame as it lies on the reference, whole and straight. @param side pixels of the longer side, at most */
  logLuminance(mix: MixDocument, frame: string, side: number): Plane {
    const { width, height } = mix.frames[mix.reference];
    const k = Math.min(1, side / Math.max(width, height));
    const grid = { width: Math.round(width * k), height: Math.round(height * k) };
    const whole = { ...frameOnly(mix, frame), geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1] as const, width, height, corrects: { ...mix.corrects, distortion: true } };
    const arena = this.arena();
    const placed = placeMix(prepareMix(whole, this.found), new Map([[frame, this.sources.copyFor(frame, mix.frames[frame], k)]]), wholeGrid(whole, grid.width, grid.height), arena);
    const stride = rowPlane(grid.width);
    const out = arena.take(grid.height * stride);
    this.renderRows(placed, arena, out, { kind: 'log', passes: 1, stride });
    const plane = createPlane(grid.width, grid.height);
    for (let y = 0; y < grid.height; y++) plane.data.set(arena.floats(out + y * stride, grid.width), y * grid.width);
    return plane;
  }

  /** A place as the picture that a clean-up is laid over shows it, and as frames do whose pixels are at hand. @param box what the areas cover */
  lookAt(mix: MixDocument, areas: readonly Area[], box: PlaceBox, frames: readonly string[]): PlaceLooks {
    const prepared = this.prepareOther({ ...mix, passes: underCleanUp(mix.passes) }, true);
    const region = this.placeRegion(mix, box);
    const pixels = (id: string, scale: number): PlacedSource => (region && this.sources.partFor(straight(mix), id, region)) ?? this.sources.copyFor(id, mix.frames[id], scale);
    return lookAtPlace({ kernels: this.kernels, arena: this.arena() }, prepared, this.found, areas, box, frames, (needed, scale) => new Map(needed.map((id) => [id, pixels(id, scale)] as const)));
  }

  /** A place that is to be healed, in the picture that a clean-up is laid over. */
  lookToHeal(mix: MixDocument, areas: readonly Area[], grid: PlacedHealGrid): HealLook {
    const prepared = this.prepareOther({ ...mix, passes: underCleanUp(mix.passes) }, true);
    const region = this.healRegion(mix, grid);
    const pixels = (id: string, scale: number): PlacedSource => {
      const whole = this.sources.copyFor(id, mix.frames[id], scale);
      const part = region && this.sources.partFor(straight(mix), id, region);
      return part ? { ...part, instead: whole } : whole;
    };
    return lookToHeal({ kernels: this.kernels, arena: this.arena() }, prepared, this.found, areas, grid, (needed, scale) => new Map(needed.map((id) => [id, pixels(id, scale)] as const)));
  }

  /** The part of the reference that is looked at to heal a place, where proxies are too coarse for it; null: they are fine. */
  healRegion(mix: MixDocument, { grid, toReference: h }: PlacedHealGrid): Region | null {
    const scale = 1 / Math.sqrt(Math.abs(h[0] * h[4] - h[1] * h[3]));
    return this.wantsPart(mix.frames[mix.reference], scale) ? { ...gridRegion(grid), level: levelFor(scale) } : null;
  }

  /** Loads the pixels of the originals at a place. */
  async loadPlace(mix: MixDocument, region: Region, frames: readonly string[]): Promise<void> {
    await Promise.all(frames.filter((id) => !this.sources.partFor(straight(mix), id, region)).map((id) => this.sources.loadPart(straight(mix), id, region)));
  }

  /** The part of the reference that is looked at about a place, where proxies are too coarse for it; null: they are fine. */
  placeRegion(mix: MixDocument, box: PlaceBox): Region | null {
    const home = mix.frames[mix.reference];
    const { grid, pixel, left, top } = placeGrid(home, box);
    return this.wantsPart(home, 1 / pixel) ? { x: left, y: top, width: grid.width * pixel, height: grid.height * pixel, level: levelFor(1 / pixel) } : null;
  }

  /** Whether a place is so small that it takes whole proxies to see it as finely as it is looked at. */
  wantsWholes(mix: MixDocument, box: PlaceBox): boolean {
    const home = mix.frames[mix.reference];
    return this.sources.halvings(home, 1 / placeGrid(home, box).pixel) === 0;
  }

  /** What areas cover, reference pixels; null where nothing is meant. */
  boxOf(mix: MixDocument, areas: readonly Area[]): PlaceBox | null {
    return placeBox(areas, Math.max(mix.frames[mix.reference].width, mix.frames[mix.reference].height)) ?? this.boxOfMask(mix, areas);
  }

  /** What areas cover, by the guide, reference pixels. */
  private boxOfMask(mix: MixDocument, areas: readonly Area[]): PlaceBox | null {
    const pass = { ...frameOnly(mix, mix.reference).passes[0], mask: areas };
    const level = this.guideLevel(mix, this.otherWide);
    const mask = level.mask(level.workOut(prepareMix({ ...mix, passes: [pass] }, this.found)), 0);
    const part = partWhere(mask, (v) => v > 0.5, 0);
    const k = mix.frames[mix.reference].width / mask.width;
    return part && { left: part.left * k, top: part.top * k, right: part.right * k, bottom: part.bottom * k };
  }

  /** Light as it is delivered: 8-bit RGB. */
  face(light: Light): Uint8Array {
    return lightFace({ kernels: this.kernels, arena: this.arena() }, light);
  }

  /** What the picture is at a place, and where it comes from: by pixels that are at hand. */
  probe(mix: MixDocument, at: readonly [number, number], scale: number, pass: string | null): Probe {
    const prepared = this.prepare(mix, false);
    return probeMix({ kernels: this.kernels, arena: this.arena() }, prepared, this.copiesFor(prepared, scale), at, scale, pass);
  }

  /** Renders the rows of a placed mix, on all threads. @param bytes of scratch that each thread takes */
  private renderRows(mix: PlacedMix, arena: Arena, out: number, what: StripJob['what'], bytes = placedBytes(mix)): void {
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
