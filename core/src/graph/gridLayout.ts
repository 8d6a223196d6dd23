import { framesOfPass, type AreaBorder, type FrameId, type FrameUse, type Mix } from '@zaddle/document';
import { areaEvaluation } from '../area/areas';
import { borderKey, placeBorder } from '../area/border';
import { SRGB_TO_WORKING, scaleMatrix } from '../colour/primaries';
import { composeMap, type ComposedMap, type Extent, type Unbent } from '../geometry/composedMap';
import { compose, IDENTITY, invert, rescale, type Homography } from '../geometry/homography';
import { NO_LENS, type Optics } from '../geometry/lens';
import { placeMesh } from '../geometry/mesh';
import type { Plane } from '../image/plane';
import type { Arena } from '../kernels/arena';
import { INVERTED, JOIN_CODES, type Pointer } from '../kernels/kernels';
import { identity, shortKey, type KeptRows } from '../kind/keeper';
import type { GridPart, PlacedPlane, Placing, ShapeGrid } from '../kind/placing';
import { codePlane, rowPlane } from '../kind/rowScratch';
import type { Keeping, OutputGrid, PlacedArea, PlacedFrame, PlacedSource } from './placedMix';
import type { PreparedArea, PreparedMix } from './prepareMix';

/** Where things lie and what they are called while a mix is laid out for one grid. */
export class GridLayout implements Placing {
  readonly frames: PlacedFrame[] = [];
  readonly mix: Mix;
  readonly shapes: ShapeGrid;
  below = '';
  /** Place of the pass at hand. */
  index = 0;
  private readonly frameKeys: string[] = [];
  private readonly ids: readonly FrameId[];
  private readonly first: Homography | Unbent;
  private readonly outputToReference: Homography;
  private readonly lens: Optics;
  private readonly bends: boolean;
  private readonly reference: FrameUse;

  constructor(private readonly prepared: PreparedMix, private readonly sources: ReadonlyMap<FrameId, PlacedSource>, private readonly grid: OutputGrid, private readonly arena: Arena, private readonly keeping: Keeping | null, private readonly there: Map<object, Pointer>, private readonly placeElsewhere: (index: number, map: Homography, part: GridPart) => number | null) {
    const { mix } = prepared;
    this.mix = mix;
    this.reference = mix.frames[mix.reference];
    this.outputToReference = compose(mix.geometry, grid.toOutput);
    this.bends = !mix.corrects.distortion && (mix.lens.k1 !== 0 || mix.lens.k2 !== 0);
    const { width, height } = this.reference;
    this.first = this.bends ? { toReference: this.outputToReference, lens: mix.lens, centre: [(width - 1) / 2, (height - 1) / 2] as const, half: (width ** 2 + height ** 2) / 4 } : this.outputToReference;
    this.lens = { ...mix.lens, ...(mix.corrects.fringes ? {} : { red: 0, blue: 0 }), ...(mix.corrects.falloff ? {} : { falloff: NO_LENS.falloff }) };
    this.ids = [...new Set(prepared.passes.flatMap(({ pass }) => framesOfPass(mix, pass)))];
    const h = this.outputToReference;
    const pixel = Math.sqrt(Math.abs(h[0] * h[4] - h[1] * h[3])) / Math.abs(h[8]);
    const bend = this.bends ? (Math.abs(mix.lens.k1) + Math.abs(mix.lens.k2)) * Math.hypot(width, height) * 0.5 : 0;
    this.shapes = { width: grid.width, height: grid.height, toGrid: invert(h), pixel, full: Math.max(width, height), slack: bend / pixel };
    for (const id of this.ids) this.placeFrame(id, mix.frames[id]);
  }

  /** Values that never change are placed once where results are kept, else once for this evaluation and what it shows elsewhere. */
  floats(values: Float32Array): Pointer {
    return this.keeping?.keeper.floats(values) ?? this.placedOnce(values, () => this.arena.placeFloats(values));
  }
  bytes(values: Uint8Array): Pointer {
    return this.keeping?.keeper.bytes(values) ?? this.placedOnce(values, () => this.arena.placeBytes(values));
  }
  private placedOnce(values: object, place: () => Pointer): Pointer {
    let at = this.there.get(values);
    if (at === undefined) this.there.set(values, (at = place()));
    return at;
  }
  once(values: ArrayLike<number>): Pointer {
    return this.arena.placeFloats(values);
  }

  elsewhere(map: Homography, part: GridPart): number | null {
    return this.placeElsewhere(this.index, map, part);
  }

  get keeps(): boolean {
    return this.keeping !== null;
  }
  rows(key: string, planes = 1): KeptRows | null {
    return this.rowsOf(key, planes * rowPlane(this.grid.width));
  }
  holds(key: string): boolean {
    return this.keeping !== null && this.keeping.keeper.holds(`${this.keeping.grid}|${key}`);
  }
  private rowsOf(key: string, rowBytes: number): KeptRows | null {
    return this.keeping && this.keeping.keeper.rows(`${this.keeping.grid}|${key}`, this.grid.height, rowBytes);
  }

  placeFrame(id: FrameId, use: FrameUse): number {
    const source = this.sources.get(id);
    if (!source) throw new Error(`The picture needs frame ${id}, which is not at hand.`);
    const { width, height } = source.whole ?? source;
    const mesh = use.mesh && placeMesh(use.mesh, this.bends ? IDENTITY : this.outputToReference, this.reference.width, this.reference.height, width / use.width);
    const map = composeMap(this.first, use.homography, rescale(use.width, use.height, width, height), this.lens, source.width, source.height, source.whole, mesh);
    const { k1, k2, red, blue } = this.lens;
    const key = shortKey(`frame ${id} ${source.name ?? ''} ${use.homography.join()} ${use.mesh ? identity(use.mesh) : ''} ${[k1, k2, red, blue].join()} ${this.bends}`);
    const kept = source.name === undefined ? null : this.rowsOf(`f${key}`, codePlane(this.grid.width) * 3 + rowPlane(this.grid.width));
    this.frameKeys.push(key);
    return this.frames.push({ source, map, matrix: this.once(scaleMatrix(SRGB_TO_WORKING, [1, 1, 1], use.balance)), kept }) - 1;
  }
  frame(id: FrameId): number {
    return this.ids.indexOf(id);
  }
  frameKey(index: number): string {
    return this.frameKeys[index];
  }
  frameMatrix(index: number): Pointer {
    return this.frames[index].matrix;
  }

  /** Output pixel to pixel of a plane that covers the whole of a frame's picture, or a part of it. */
  private planeMap(width: number, height: number, on: FrameId, whole: Extent = { width, height, x: 0, y: 0 }): ComposedMap {
    const use = this.mix.frames[on];
    const alignment = on === this.mix.reference || !use ? IDENTITY : use.homography;
    const { width: fw, height: fh } = use ?? this.reference;
    return composeMap(this.first, alignment, rescale(fw, fh, whole.width, whole.height), NO_LENS, width, height, whole);
  }
  referenceMap(): ComposedMap {
    return this.planeMap(this.reference.width, this.reference.height, this.mix.reference);
  }
  private placePlane(plane: Plane, on: FrameId, whole?: Extent): PlacedPlane {
    return { at: this.floats(plane.data), map: this.planeMap(plane.width, plane.height, on, whole) };
  }
  onReference(plane: Plane, whole?: Extent): PlacedPlane {
    return this.placePlane(plane, this.mix.reference, whole);
  }
  onFound(plane: Plane): PlacedPlane {
    return this.placePlane(plane, this.prepared.foundOn);
  }

  placeArea(area: PreparedArea): PlacedArea {
    const { of, prepared, linked, bordered } = area;
    const placed = prepared === null || bordered ? null : areaEvaluation(of.kind).place(prepared, this);
    return { how: JOIN_CODES[of.join] + (of.inverted ? INVERTED : 0), kind: of.kind, placed, linked: linked && linked.map((each) => this.placeArea(each)), bordered: bordered && placeBorder(bordered, this), border: of.border && !bordered ? this.borderOf(area, of.border) : null };
  }

  /** Names everything that a mask depends on. */
  maskKey(mask: readonly PreparedArea[]): string {
    return shortKey(`mask ${mask.map((area) => this.areaKey(area)).join(';')}`);
  }
  private areaKey({ of, prepared, linked, bordered }: PreparedArea): string {
    const own = bordered ? borderKey(bordered, this) : linked ? this.maskKey(linked) : prepared === null ? '' : areaEvaluation(of.kind).key(prepared, this);
    return `${identity(of)} ${of.join} ${of.inverted} ${own}`;
  }
  private borderOf(area: PreparedArea, { snap }: AreaBorder): PlacedArea['border'] {
    const frame = snap === null ? -1 : this.frame(snap);
    return { key: `${this.areaKey(area)} ${frame < 0 ? '' : this.frameKey(frame)}`, snap: frame };
  }
}
