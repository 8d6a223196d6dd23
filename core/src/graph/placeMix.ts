import { encodeTable } from '../finish/toneCurve';
import { responseTables, type Response } from '../colour/responseTable';
import { SRGB_TO_WORKING, WORKING_TO_SRGB, scaleMatrix, type Triple } from '../colour/primaries';
import { composeMap, type ComposedMap, type Extent, type Unbent } from '../geometry/composedMap';
import { compose, IDENTITY, invert, rescale, type Homography } from '../geometry/homography';
import { NO_LENS, type Optics } from '../geometry/lens';
import { placeMesh } from '../geometry/mesh';
import type { Plane } from '../image/plane';
import type { Arena } from '../kernels/arena';
import { cubicPhases } from '../kernels/cubicPhases';
import { BLEND_MODE_CODES, INVERTED, JOIN_CODES, PADDING, type Pointer } from '../kernels/kernels';
import { bracketWeights, longestFirst } from '../merge/bracketWeights';
import { framesOfPass, type FrameId, type FrameUse, type Mix, type Pass } from '../mix/mix';
import { identity, shortKey, type Keeper, type KeptRows } from './keeper';
import type { PreparedArea, PreparedMix, PreparedPass } from './prepareMix';
import { strokeTable, type StrokeGrid } from './strokes';

/** A frame's pixels in kernel memory: interleaved RGB at any size. */
export interface PlacedSource {
  readonly at: Pointer;
  readonly width: number;
  readonly height: number;
  readonly depth: 8 | 16;
  /** Set when only a part of the picture is at hand. */
  readonly whole?: Extent;
  /** Names these pixels, where what is made of them is kept: other pixels of the same frame have another name. */
  readonly name?: string;
}

interface PlacedPlane {
  readonly at: Pointer;
  readonly map: ComposedMap;
}

/** A kept stage of a brush area: the coverage of its first strokes. */
export interface KeptStrokes {
  readonly rows: KeptRows;
  readonly count: number;
}

export type PlacedArea = { readonly how: number } & (
  | { readonly kind: 'plane'; readonly plane: PlacedPlane }
  | { readonly kind: 'edge'; readonly a: PlacedPlane; readonly b: PlacedPlane; readonly edge: number; readonly top: number; readonly bottom: number }
  | { readonly kind: 'brush'; readonly strokes: Pointer; readonly count: number; readonly segments: Pointer; /** Coverage of all strokes but the last, and of those before it, where they are kept. */ readonly stages: readonly KeptStrokes[] }
  | { readonly kind: 'ramp'; readonly from: readonly [number, number]; readonly by: readonly [number, number] }
  | { readonly kind: 'nothing' }
);

/** What lies below the pass of this index. */
export interface KeptBelow {
  readonly index: number;
  readonly rows: KeptRows;
}

export interface PlacedFrame {
  readonly source: PlacedSource;
  readonly map: ComposedMap;
  /** Matrix from camera light to balanced working light in the frame's own exposure. */
  readonly matrix: Pointer;
  /** The frame's interpolated codes and cover, where they are kept. */
  readonly kept: KeptRows | null;
}

export interface PlacedPass {
  readonly opacity: number;
  readonly mask: readonly PlacedArea[];
  /** The mask's rows, before opacity, where they are kept. */
  readonly maskKept: KeptRows | null;
  readonly what:
    | { readonly kind: 'frame'; readonly frame: number; readonly matrix: Pointer; readonly mode: number; readonly brightness: number; readonly colour: number }
    | { readonly kind: 'merge'; readonly gains: Triple; readonly mode: number; readonly brightness: number; readonly colour: number }
    | { readonly kind: 'flash'; readonly frame: number; readonly share: number; readonly gains: Triple; readonly mode: number; readonly brightness: number; readonly colour: number }
    | { readonly kind: 'adjust'; readonly gains: Triple; readonly tone: { a: PlacedPlane; b: PlacedPlane } | null; readonly slope: number; readonly lift: number; readonly saturation: number };
}

/** A mix laid out in kernel memory for one output grid: plain data, to be handed to any thread that shares the memory. */
export interface PlacedMix {
  readonly width: number;
  readonly height: number;
  readonly frames: readonly PlacedFrame[];
  /** From the longest exposure to the shortest. */
  readonly merge: readonly { readonly frame: number; readonly matrix: Pointer; readonly weights: Pointer }[];
  readonly mergeKept: KeptRows | null;
  readonly passes: readonly PlacedPass[];
  /** Names what lies below each pass: everything that it depends on. */
  readonly belowKeys: readonly string[];
  /** What lies below a pass, kept from before: evaluation starts there in rows that are made. */
  readonly from: KeptBelow | null;
  /** What lies below another, to be kept for the next time. */
  readonly keep: KeptBelow | null;
  /** From output pixel to pixel of the reference, and to that of the planes of what was found. */
  readonly referenceMap: ComposedMap;
  readonly foundMap: ComposedMap;
  readonly phases: Pointer;
  readonly tables: Pointer;
  readonly outMatrix: Pointer;
  readonly outTable: Pointer;
}

/** Pixels of an output grid and where they lie in the output at full size. */
export interface OutputGrid {
  readonly width: number;
  readonly height: number;
  /** Grid pixel to output pixel at full size. */
  readonly toOutput: Homography;
}

/** The whole picture at its full size or smaller. */
export function wholeGrid(mix: { width: number; height: number }, width: number, height: number): OutputGrid {
  return { width, height, toOutput: rescale(width, height, mix.width, mix.height) };
}

/** Bytes of a kept row of this many planes of floats. */
export const keptRowBytes = (width: number, planes: number): number => rowPlane(width) * planes;
/** Bytes between planes of a row of floats, and of 16-bit codes. */
export const rowPlane = (width: number): number => Math.ceil((width * 4 + PADDING) / 64) * 64;
export const codePlane = (width: number): number => Math.ceil((width * 2 + PADDING) / 64) * 64;

const PHASES = new Uint8Array(cubicPhases().buffer);
const OUT_TABLE = encodeTable();
const OUT_MATRIX = Float32Array.from(WORKING_TO_SRGB);
/** Tables of the responses met so far: a few in the life of a program. */
const responses = new Map<string, Float32Array>();

function tablesOf(response: Response): Float32Array {
  const key = response.join();
  let tables = responses.get(key);
  if (!tables) responses.set(key, (tables = responseTables(response)));
  return tables;
}
const WEIGHTS = [false, true].map((shortest) => bracketWeights(shortest));

/** Where things lie and what they are called while a mix is laid out for one grid. */
class Placing {
  readonly frames: PlacedFrame[] = [];
  readonly frameKeys: string[] = [];
  readonly ids: readonly FrameId[];
  readonly first: Homography | Unbent;
  private readonly outputToReference: Homography;
  private readonly lens: Optics;
  private readonly bends: boolean;
  private readonly reference: FrameUse;
  private readonly strokes: StrokeGrid;

  constructor(readonly prepared: PreparedMix, private readonly sources: ReadonlyMap<FrameId, PlacedSource>, readonly grid: OutputGrid, private readonly arena: Arena, readonly keeper: Keeper | null, private readonly gridKey: string) {
    const { mix } = prepared;
    this.reference = mix.frames[mix.reference];
    this.outputToReference = compose(mix.geometry, grid.toOutput);
    this.bends = !mix.corrects.distortion && (mix.lens.k1 !== 0 || mix.lens.k2 !== 0);
    const { width, height } = this.reference;
    this.first = this.bends ? { toReference: this.outputToReference, lens: mix.lens, centre: [(width - 1) / 2, (height - 1) / 2] as const, half: (width ** 2 + height ** 2) / 4 } : this.outputToReference;
    this.lens = { ...mix.lens, ...(mix.corrects.fringes ? {} : { red: 0, blue: 0 }), ...(mix.corrects.falloff ? {} : { falloff: NO_LENS.falloff }) };
    const needed = new Set<FrameId>();
    for (const { pass } of prepared.passes) framesOfPass(mix, pass).forEach((id) => needed.add(id));
    this.ids = [...needed];
    const h = this.outputToReference;
    const pixel = Math.sqrt(Math.abs(h[0] * h[4] - h[1] * h[3])) / Math.abs(h[8]);
    const bend = this.bends ? (Math.abs(mix.lens.k1) + Math.abs(mix.lens.k2)) * Math.hypot(width, height) * 0.5 : 0;
    this.strokes = { width: grid.width, height: grid.height, toGrid: invert(h), pixel, full: Math.max(width, height), slack: bend / pixel };
    for (const id of this.ids) this.placeFrame(id, mix.frames[id]);
  }

  /** Values that never change are placed once where results are kept, else for this one time. */
  floats(values: Float32Array): Pointer {
    return this.keeper?.floats(values) ?? this.arena.placeFloats(values);
  }
  bytes(values: Uint8Array): Pointer {
    return this.keeper?.bytes(values) ?? this.arena.placeBytes(values);
  }
  matrix(values: readonly number[]): Pointer {
    return this.arena.placeFloats(values);
  }

  /** Rows kept for this grid, or null where nothing is kept. */
  rows(key: string, rowBytes: number): KeptRows | null {
    return this.keeper ? this.keeper.rows(`${this.gridKey}|${key}`, this.grid.height, rowBytes) : null;
  }
  holds(key: string): boolean {
    return this.keeper !== null && this.keeper.holds(`${this.gridKey}|${key}`);
  }

  /** Lays a frame out, and returns its place in the list. */
  placeFrame(id: FrameId, use: FrameUse): number {
    const source = this.sources.get(id);
    if (!source) throw new Error(`The picture needs frame ${id}, which is not at hand.`);
    const { width, height } = source.whole ?? source;
    const mesh = use.mesh && placeMesh(use.mesh, this.bends ? IDENTITY : this.outputToReference, this.reference.width, this.reference.height, width / use.width);
    const map = composeMap(this.first, use.homography, rescale(use.width, use.height, width, height), this.lens, source.width, source.height, source.whole, mesh);
    const { k1, k2, red, blue } = this.lens;
    const key = shortKey(`frame ${id} ${source.name ?? ''} ${use.homography.join()} ${use.mesh ? identity(use.mesh) : ''} ${[k1, k2, red, blue].join()} ${this.bends}`);
    const kept = source.name === undefined ? null : this.rows(`f${key}`, codePlane(this.grid.width) * 3 + rowPlane(this.grid.width));
    this.frameKeys.push(key);
    return this.frames.push({ source, map, matrix: this.matrix(scaleMatrix(SRGB_TO_WORKING, [1, 1, 1], use.balance)), kept }) - 1;
  }

  /** Output pixel to pixel of a plane that covers the whole of a frame's picture. */
  planeMap(width: number, height: number, on: FrameId): ComposedMap {
    const use = this.prepared.mix.frames[on];
    const alignment = on === this.prepared.mix.reference || !use ? IDENTITY : use.homography;
    const { width: fw, height: fh } = use ?? this.reference;
    return composeMap(this.first, alignment, rescale(fw, fh, width, height), NO_LENS, width, height);
  }
  placePlane(plane: Plane, on: FrameId): PlacedPlane {
    return { at: this.floats(plane.data), map: this.planeMap(plane.width, plane.height, on) };
  }

  private placeBrush(area: Extract<PreparedArea, { kind: 'brush' }>): Extract<PlacedArea, { kind: 'brush' }> {
    const { strokes } = area.of;
    const table = strokeTable(strokes, this.strokes);
    const stages: KeptStrokes[] = [];
    // While somebody paints, all strokes but the last stay what they are.
    const stage = (count: number): string => shortKey(`strokes ${strokes.slice(0, count).map(identity).join()}`);
    if (this.keeper && table.strokes.length / 10 === strokes.length) {
      for (const count of [strokes.length - 1, strokes.length - 2]) {
        if (count < 1 || (stages.length > 0 && !this.holds(`b${stage(count)}`))) continue;
        const rows = this.rows(`b${stage(count)}`, rowPlane(this.grid.width));
        if (rows) stages.push({ rows, count });
      }
    }
    return { how: 0, kind: 'brush', strokes: this.arena.placeFloats(table.strokes), count: table.strokes.length / 10, segments: this.arena.placeFloats(table.segments), stages };
  }

  placeArea(area: PreparedArea): PlacedArea {
    const how = JOIN_CODES[area.join] + (area.inverted ? INVERTED : 0);
    const { foundOn } = this.prepared;
    switch (area.kind) {
      case 'missing':
        return { how, kind: 'nothing' };
      case 'plane':
        return { how, kind: 'plane', plane: this.placePlane(area.plane, foundOn) };
      case 'edge':
        return { how, kind: 'edge', a: this.placePlane(area.a, foundOn), b: this.placePlane(area.b, foundOn), edge: this.ids.indexOf(area.edge), top: area.top, bottom: area.bottom };
      case 'brush':
        return { ...this.placeBrush(area), how };
      case 'ramp': {
        const { full } = this.strokes;
        const [from, to] = [area.of.from, area.of.to];
        return { how, kind: 'ramp', from: [from[0] * full, from[1] * full], by: [(to[0] - from[0]) * full, (to[1] - from[1]) * full] };
      }
    }
  }

  /** Names everything that a mask depends on. */
  maskKey(mask: readonly PreparedArea[]): string {
    return shortKey(`mask ${mask.map((area) => `${identity(area.of)} ${area.join} ${area.inverted} ${area.kind} ${area.kind === 'plane' ? identity(area.plane) : area.kind === 'edge' ? `${identity(area.a)} ${this.frameKeys[this.ids.indexOf(area.edge)]} ${this.prepared.mix.frames[area.edge].balance.join()} ${this.prepared.mix.response.join()}` : ''}`).join(';')}`);
  }
}

const gainsOf = (pass: Pass): Triple => pass.balance.map((v) => v * 2 ** pass.exposure) as unknown as Triple;

function placeWhat(placing: Placing, mix: Mix, { pass, tone }: PreparedPass): { what: PlacedPass['what']; key: string } {
  if (pass.kind === 'adjust') {
    const slope = pass.contrast - 1;
    const placed = tone && { a: placing.placePlane(tone.a, mix.reference), b: placing.placePlane(tone.b, mix.reference) };
    return { what: { kind: 'adjust', gains: pass.balance, tone: placed, slope, lift: pass.exposure - slope * Math.log2(0.18), saturation: pass.saturation }, key: tone ? `${identity(tone.a)}` : '' };
  }
  const blend = { mode: BLEND_MODE_CODES[pass.mode], brightness: pass.brightness, colour: pass.colour };
  if (pass.source.kind === 'merge') return { what: { kind: 'merge', gains: gainsOf(pass), ...blend }, key: '' };
  const use = mix.frames[pass.source.frame];
  // A pass that is lined up by itself reads its frame through a map of its own.
  const frame = pass.alignment ? placing.placeFrame(pass.source.frame, { ...use, homography: pass.alignment, mesh: null }) : placing.ids.indexOf(pass.source.frame);
  const key = `${placing.frameKeys[frame]} ${use.balance.join()} ${use.stops}`;
  if (pass.source.kind === 'flash') return { what: { kind: 'flash', frame, share: 2 ** use.stops, gains: gainsOf(pass), ...blend }, key };
  return { what: { kind: 'frame', frame, matrix: placing.matrix(scaleMatrix(SRGB_TO_WORKING, gainsOf(pass), use.balance)), ...blend }, key };
}

/** What results are kept under, and which of what lies below is worth keeping. */
export interface Keeping {
  readonly keeper: Keeper;
  /** Names the grid: its size and where it lies. */
  readonly grid: string;
  /** The pass that is worked on: what lies below it is kept. */
  readonly working: string | null;
}

/**
 * Lays a prepared mix out in kernel memory for one output grid.
 * @param sources pixels of the frames, placed before, at whatever size is at hand. @param keeping where results of this evaluation are kept for the next.
 * @throws Error when a frame that a pass needs is missing.
 */
export function placeMix(prepared: PreparedMix, sources: ReadonlyMap<FrameId, PlacedSource>, grid: OutputGrid, arena: Arena, keeping: Keeping | null = null): PlacedMix {
  const { mix } = prepared;
  const placing = new Placing(prepared, sources, grid, arena, keeping?.keeper ?? null, keeping?.grid ?? '');
  const usesMerge = prepared.passes.some(({ pass }) => pass.kind !== 'adjust' && pass.source.kind !== 'frame');
  const members = usesMerge ? longestFirst(mix.merge.map((id) => ({ id, ...mix.frames[id] }))) : [];
  const merge = members.map(({ id, stops, balance }, k) => {
    const gain = 2 ** -stops;
    return { frame: placing.ids.indexOf(id), matrix: placing.matrix(scaleMatrix(SRGB_TO_WORKING, [gain, gain, gain], balance)), weights: placing.floats(WEIGHTS[k === members.length - 1 ? 1 : 0]) };
  });
  const mergeKey = shortKey(`merge ${members.map(({ id, stops, balance }) => `${placing.frameKeys[placing.ids.indexOf(id)]} ${stops} ${balance.join()}`).join(';')} ${mix.response.join()} ${mix.corrects.falloff ? mix.lens.falloff.join() : ''}`);
  const common = `${mix.response.join()} ${mix.corrects.falloff ? mix.lens.falloff.join() : ''}`;
  let belowKey = 'nothing';
  const belowKeys: string[] = [];
  const passes = prepared.passes.map((prepared_): PlacedPass => {
    const { pass, mask } = prepared_;
    const { what, key } = placeWhat(placing, mix, prepared_);
    const maskKey = mask.length === 0 ? '' : placing.maskKey(mask);
    belowKeys.push(belowKey);
    const usesBracket = what.kind === 'merge' || what.kind === 'flash';
    belowKey = shortKey(`${belowKey} ${what.kind} ${JSON.stringify({ ...pass, mask: null, name: null, why: null })} ${key} ${maskKey} ${usesBracket ? mergeKey : ''} ${common}`);
    return { opacity: pass.opacity, mask: mask.map((area) => placing.placeArea(area)), maskKept: maskKey ? placing.rows(`m${maskKey}`, rowPlane(grid.width)) : null, what };
  });
  const { width, height } = mix.frames[mix.reference];
  const plane = prepared.passes.flatMap(({ mask }) => mask).find((area) => area.kind === 'edge');
  return {
    width: grid.width,
    height: grid.height,
    frames: placing.frames,
    merge,
    mergeKept: usesMerge ? placing.rows(`g${mergeKey}`, keptRowBytes(grid.width, 4)) : null,
    passes,
    belowKeys,
    ...(keeping ? belowOf(placing, prepared, belowKeys, keeping.working) : { from: null, keep: null }),
    referenceMap: placing.planeMap(width, height, mix.reference),
    foundMap: plane && plane.kind === 'edge' ? placing.planeMap(plane.a.width, plane.a.height, prepared.foundOn) : placing.planeMap(width, height, mix.reference),
    phases: placing.bytes(PHASES),
    tables: placing.floats(tablesOf(mix.response)),
    outMatrix: placing.floats(OUT_MATRIX),
    outTable: placing.bytes(OUT_TABLE),
  };
}

/** The highest pass whose below is at hand; and the one that is worked on, if that lies higher. */
function belowOf(placing: Placing, { passes }: PreparedMix, keys: readonly string[], working: string | null): Pick<PlacedMix, 'from' | 'keep'> {
  const at = (index: number): KeptBelow | null => {
    const rows = index > 0 ? placing.rows(`c${keys[index]}`, keptRowBytes(placing.grid.width, 3)) : null;
    return rows && { index, rows };
  };
  let held = keys.length - 1;
  while (held > 0 && !placing.holds(`c${keys[held]}`)) held--;
  const wanted = passes.findIndex(({ pass }) => pass.id === working);
  return { from: at(held), keep: wanted > held ? at(wanted) : null };
}
