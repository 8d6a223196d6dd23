import { encodeTable } from '../finish/toneCurve';
import { responseTables } from '../colour/responseTable';
import { SRGB_TO_WORKING, WORKING_TO_SRGB, scaleMatrix, type Triple } from '../colour/primaries';
import { composeMap, type ComposedMap, type Extent } from '../geometry/composedMap';
import { compose, IDENTITY, rescale, type Homography } from '../geometry/homography';
import { NO_LENS, type Optics } from '../geometry/lens';
import { placeMesh } from '../geometry/mesh';
import type { Plane } from '../image/plane';
import type { Arena } from '../kernels/arena';
import { cubicPhases } from '../kernels/cubicPhases';
import { BLEND_MODE_CODES, INVERTED, JOIN_CODES, type Pointer } from '../kernels/kernels';
import { bracketWeights, longestFirst } from '../merge/bracketWeights';
import { framesOfPass, type FrameId, type FrameUse, type Pass } from './mix';
import type { PreparedArea, PreparedMix } from './prepareMix';

/** A frame's pixels in kernel memory: interleaved RGB at any size. */
export interface PlacedSource {
  readonly at: Pointer;
  readonly width: number;
  readonly height: number;
  readonly depth: 8 | 16;
  /** Set when only a part of the picture is at hand. */
  readonly whole?: Extent;
}

interface PlacedPlane {
  readonly at: Pointer;
  readonly map: ComposedMap;
}

export type PlacedArea = { readonly how: number } & (
  | { readonly kind: 'plane'; readonly plane: PlacedPlane }
  | { readonly kind: 'edge'; readonly a: PlacedPlane; readonly b: PlacedPlane; readonly edge: number; readonly top: number; readonly bottom: number }
);

export interface PlacedFrame {
  readonly source: PlacedSource;
  readonly map: ComposedMap;
  /** Matrix from camera light to balanced working light in the frame's own exposure. */
  readonly matrix: Pointer;
}

export interface PlacedPass {
  readonly opacity: number;
  readonly mask: readonly PlacedArea[];
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
  readonly passes: readonly PlacedPass[];
  readonly guideMap: ComposedMap;
  readonly phases: Pointer;
  readonly tables: Pointer;
  readonly outMatrix: Pointer;
  readonly outTable: Pointer;
}

/** The output grid: its size, and its pixels' positions on the full-size output of the mix. */
export interface OutputGrid {
  readonly width: number;
  readonly height: number;
  readonly toOutput: Homography;
}

/** The whole picture at its full size or smaller. */
export function wholeGrid(mix: { width: number; height: number }, width: number, height: number): OutputGrid {
  return { width, height, toOutput: rescale(width, height, mix.width, mix.height) };
}

/**
 * Lays a prepared mix out in kernel memory for one output grid.
 * @param sources pixels of the frames, placed before, at whatever size is at hand.
 * @throws Error when a frame that a pass needs is missing.
 */
export function placeMix(prepared: PreparedMix, sources: ReadonlyMap<FrameId, PlacedSource>, grid: OutputGrid, arena: Arena): PlacedMix {
  const { mix } = prepared;
  const reference = mix.frames[mix.reference];
  const outputToReference = compose(mix.geometry, grid.toOutput);
  const bends = !mix.corrects.distortion && (mix.lens.k1 !== 0 || mix.lens.k2 !== 0);
  const first = bends
    ? { toReference: outputToReference, lens: mix.lens, centre: [(reference.width - 1) / 2, (reference.height - 1) / 2] as const, half: (reference.width ** 2 + reference.height ** 2) / 4 }
    : outputToReference;
  const lens: Optics = { ...mix.lens, ...(mix.corrects.fringes ? {} : { red: 0, blue: 0 }), ...(mix.corrects.falloff ? {} : { falloff: NO_LENS.falloff }) };
  const needed = new Set<FrameId>();
  for (const { pass } of prepared.passes) framesOfPass(mix, pass).forEach((id) => needed.add(id));
  const ids = [...needed];
  const place = (matrix: readonly number[]): Pointer => arena.placeFloats(matrix);
  const placeFrame = (id: FrameId, use: FrameUse): PlacedFrame => {
    const source = sources.get(id);
    if (!source) throw new Error(`The picture needs frame ${id}, which is not at hand.`);
    const { width, height } = source.whole ?? source;
    const mesh = use.mesh && placeMesh(use.mesh, bends ? IDENTITY : outputToReference, reference.width, reference.height, width / use.width);
    const map = composeMap(first, use.homography, rescale(use.width, use.height, width, height), lens, source.width, source.height, source.whole, mesh);
    return { source, map, matrix: place(scaleMatrix(SRGB_TO_WORKING, [1, 1, 1], use.balance)) };
  };
  const frames = ids.map((id) => placeFrame(id, mix.frames[id]));
  const planeMap = (width: number, height: number): ComposedMap => composeMap(first, rescale(reference.width, reference.height, width, height), IDENTITY, NO_LENS, width, height);
  const placed = new Map<Plane, PlacedPlane>();
  const placePlane = (plane: Plane): PlacedPlane => {
    let found = placed.get(plane);
    if (!found) placed.set(plane, (found = { at: arena.placeFloats(plane.data), map: planeMap(plane.width, plane.height) }));
    return found;
  };
  const placeArea = (area: PreparedArea): PlacedArea => {
    const base = { how: JOIN_CODES[area.join] + (area.inverted ? INVERTED : 0) };
    if (area.kind === 'plane') return { ...base, kind: 'plane', plane: placePlane(area.plane) };
    return { ...base, kind: 'edge', a: placePlane(area.a), b: placePlane(area.b), edge: ids.indexOf(area.edge), top: area.top, bottom: area.bottom };
  };
  const gainsOf = (pass: Pass): Triple => pass.balance.map((v) => v * 2 ** pass.exposure) as unknown as Triple;
  const placeWhat = (pass: Pass, tone: { a: Plane; b: Plane } | null): PlacedPass['what'] => {
    if (pass.kind === 'adjust') {
      const slope = pass.contrast - 1;
      return { kind: 'adjust', gains: pass.balance, tone: tone && { a: placePlane(tone.a), b: placePlane(tone.b) }, slope, lift: pass.exposure - slope * Math.log2(0.18), saturation: pass.saturation };
    }
    const blend = { mode: BLEND_MODE_CODES[pass.mode], brightness: pass.brightness, colour: pass.colour };
    if (pass.source.kind === 'merge') return { kind: 'merge', gains: gainsOf(pass), ...blend };
    const use = mix.frames[pass.source.frame];
    // A pass that is lined up by itself reads its frame through a map of its own.
    const frame = pass.alignment ? frames.push(placeFrame(pass.source.frame, { ...use, homography: pass.alignment, mesh: null })) - 1 : ids.indexOf(pass.source.frame);
    if (pass.source.kind === 'flash') return { kind: 'flash', frame, share: 2 ** use.stops, gains: gainsOf(pass), ...blend };
    return { kind: 'frame', frame, matrix: place(scaleMatrix(SRGB_TO_WORKING, gainsOf(pass), use.balance)), ...blend };
  };
  const usesMerge = prepared.passes.some(({ pass }) => pass.kind !== 'adjust' && pass.source.kind !== 'frame');
  const members = longestFirst(mix.merge.map((id) => ({ id, ...mix.frames[id] })));
  const passes = prepared.passes.map(({ pass, mask, tone }): PlacedPass => ({ opacity: pass.opacity, mask: mask.map(placeArea), what: placeWhat(pass, tone) }));
  return {
    width: grid.width,
    height: grid.height,
    frames,
    merge: usesMerge
      ? members.map(({ id, stops, balance }, k) => {
          const gain = 2 ** -stops;
          return { frame: ids.indexOf(id), matrix: place(scaleMatrix(SRGB_TO_WORKING, [gain, gain, gain], balance)), weights: arena.placeFloats(bracketWeights(k === members.length - 1)) };
        })
      : [],
    passes,
    guideMap: planeMap(prepared.guideWidth, prepared.guideHeight),
    phases: arena.placeBytes(new Uint8Array(cubicPhases().buffer)),
    tables: arena.placeFloats(responseTables(mix.response)),
    outMatrix: place(WORKING_TO_SRGB),
    outTable: arena.placeBytes(encodeTable()),
  };
}
