import { usesMerge, type FrameId } from '@zaddle/document';
import { areaEvaluation } from '../area/areas';
import { BLEND_MODE_CODES } from '../blend/blendModes';
import { responseTables, type Response } from '../colour/responseTable';
import { SRGB_TO_WORKING, scaleMatrix } from '../colour/primaries';
import { displayBlock } from '../finish/displayBlock';
import type { Arena } from '../kernels/arena';
import type { Pointer } from '../kernels/kernels';
import { cubicPhases } from '../kernels/cubicPhases';
import { shortKey } from '../kind/keeper';
import { bracketWeights, longestFirst } from '../merge/bracketWeights';
import { passEvaluation } from '../pass/passes';
import { layersOf } from './layersOf';
import { GridLayout } from './gridLayout';
import { elsewhereGrid, sourcesFor } from './elsewhere';
import type { Keeping, KeptBelow, OutputGrid, PlacedMix, PlacedPass, PlacedSource } from './placedMix';
import type { PreparedArea, PreparedMix } from './prepareMix';

const PHASES = new Uint8Array(cubicPhases().buffer);
/** Tables of the responses met so far: a few in the life of a program. */
const responses = new Map<string, Float32Array>();

function tablesOf(response: Response): Float32Array {
  const key = response.join();
  let tables = responses.get(key);
  if (!tables) responses.set(key, (tables = responseTables(response)));
  return tables;
}
const WEIGHTS = [false, true].map((shortest) => bracketWeights(shortest));

/**
 * Lays a prepared mix out in kernel memory for one output grid.
 * @param sources pixels of the frames, placed before, at whatever size is at hand. @param keeping where results of this evaluation are kept for the next.
 * @param extent how much of it is laid out.
 * @throws Error when a frame that a pass needs is missing.
 */
export function placeMix(prepared: PreparedMix, sources: ReadonlyMap<FrameId, PlacedSource>, grid: OutputGrid, arena: Arena, keeping: Keeping | null = null, { passes: count = prepared.passes.length, within = 0, namesOnly = false, shared = newShared(grid) }: PlacedExtent = {}): PlacedMix {
  const { mix } = prepared;
  const shown = prepared.passes.slice(0, count);
  const elsewhere: PlacedMix[] = [];
  const layout = new GridLayout({ ...prepared, passes: shown }, sources, grid, arena, keeping, shared.there, (index, map, part) => {
    shared.left -= 1;
    shared.pixels -= part.width * part.height;
    if (namesOnly || index === 0 || within === DEEPEST_ELSEWHERE || shared.left < 0 || shared.pixels < 0) return null;
    const other = elsewhereGrid(mix, grid, map, part);
    return elsewhere.push(placeMix(prepared, sourcesFor(mix, sources, other), other, arena, keeping && withoutRows(keeping), { passes: index, within: within + 1, shared })) - 1;
  });
  const bracketed = shown.some(({ pass }) => usesMerge(pass));
  const { merge, key: mergeKey } = placeMerge(layout, bracketed);
  const common = `${mix.response.join()} ${mix.corrects.falloff ? mix.lens.falloff.join() : ''}`;
  let belowKey = 'nothing';
  const belowKeys: string[] = [];
  const maskKeys: string[] = [];
  const layers = layersOf(prepared.passes);
  const passes = shown.map(({ pass, mask, tone, veil, glow, cast, table, around, tied }, index): PlacedPass => {
    layout.index = index;
    layout.below = tied ? `${belowKey} tied` : belowKey;
    const evaluation = passEvaluation(pass.kind);
    const { placed, key } = evaluation.does === 'brings' ? evaluation.place(pass, layout, around) : evaluation.place(pass, { tone, veil, glow, cast, table }, layout);
    const maskKey = mask.length === 0 ? '' : layout.maskKey(mask);
    belowKeys.push(belowKey);
    maskKeys.push(maskKey);
    belowKey = shortKey(`${belowKey} ${JSON.stringify({ ...pass, mask: null, name: null, why: null })} ${key} ${maskKey} ${usesMerge(pass) ? mergeKey : ''} ${common}`);
    return {
      opacity: pass.opacity, ...layers[index], tied, looksBelow: mask.some(looksBelow), gathers: evaluation.does === 'brings' && evaluation.gathers,
      blending: evaluation.does === 'brings' && 'mode' in pass ? { mode: BLEND_MODE_CODES[pass.mode], brightness: pass.brightness, colour: pass.colour } : null,
      mask: mask.map((area) => layout.placeArea(area)), maskKept: maskKey ? layout.rows(`m${maskKey}`) : null, kind: pass.kind, placed,
    };
  });
  return {
    width: grid.width,
    height: grid.height,
    frames: layout.frames,
    merge,
    mergeKept: bracketed ? layout.rows(`g${mergeKey}`, 4) : null,
    passes,
    opens: layers[count]?.opens ?? 0,
    elsewhere,
    belowKeys,
    maskKeys,
    ...(keeping ? belowOf(layout, prepared, belowKeys, layers.map(({ depth }) => depth), keeping.working) : { from: null, keep: null }),
    referenceMap: layout.referenceMap(),
    phases: layout.bytes(PHASES),
    tables: layout.floats(tablesOf(mix.response)),
    display: layout.bytes(displayBlock('srgb')),
  };
}

/** How much of a mix is laid out: how many passes; how many pictures seen elsewhere it lies within; and whether only names are wanted, so that none of those are. */
interface PlacedExtent {
  readonly passes?: number;
  readonly within?: number;
  readonly namesOnly?: boolean;
  readonly shared?: SharedPlacing;
}

/** What a grid and all pictures seen elsewhere on it have in common: values that were placed already, and how many such pictures there may still be. */
interface SharedPlacing {
  readonly there: Map<object, Pointer>;
  left: number;
  pixels: number;
}

/** Pictures seen elsewhere on one grid, and how often they may cover it: more is nobody's picture, and would take all the time and memory there is. */
const MOST_ELSEWHERE = 600;
const MOST_COVERED = 12;
const newShared = ({ width, height }: OutputGrid): SharedPlacing => ({ there: new Map(), left: MOST_ELSEWHERE, pixels: MOST_COVERED * (width + 64) * (height + 64) });

/** Pictures that are seen elsewhere lie within each other so deep at most: a place that was healed from one that was healed, and so on. */
const DEEPEST_ELSEWHERE = 4;

/** What is seen elsewhere is small and made anew; only values that never change are kept. */
const withoutRows = ({ keeper, grid }: Keeping): Keeping => ({ keeper: { rows: () => null, holds: () => false, floats: (values) => keeper.floats(values), bytes: (values) => keeper.bytes(values) }, grid, working: null });

/** Whether what an area covers depends on the light below its pass. */
const looksBelow = ({ of, linked, bordered }: PreparedArea): boolean => !bordered && (linked ? linked.some(looksBelow) : (areaEvaluation(of.kind).looksBelow?.(of) ?? false));

/** The ambient frames that are joined, from the longest exposure to the shortest, and what names their merge. */
function placeMerge(layout: GridLayout, bracketed: boolean): { merge: PlacedMix['merge']; key: string } {
  const { mix } = layout;
  const members = bracketed ? longestFirst(mix.merge.map((id) => ({ id, ...mix.frames[id] }))) : [];
  const merge = members.map(({ id, stops, balance }, k) => {
    const gain = 2 ** -stops;
    return { frame: layout.frame(id), matrix: layout.once(scaleMatrix(SRGB_TO_WORKING, [gain, gain, gain], balance)), weights: layout.floats(WEIGHTS[k === members.length - 1 ? 1 : 0]) };
  });
  return { merge, key: shortKey(`merge ${members.map(({ id, stops, balance }) => `${layout.frameKey(layout.frame(id))} ${stops} ${balance.join()}`).join(';')} ${mix.response.join()} ${mix.corrects.falloff ? mix.lens.falloff.join() : ''}`) };
}

/** The highest pass whose below is at hand; and the one that is worked on, if that lies higher. */
function belowOf(layout: GridLayout, { passes }: PreparedMix, keys: readonly string[], depths: readonly number[], working: string | null): Pick<PlacedMix, 'from' | 'keep'> {
  // The picture's rows, and those of every layer that is open there.
  const names = (index: number): string[] => Array.from({ length: depths[index] + 1 }, (_, level) => `c${keys[index]}.${level}`);
  const at = (index: number): KeptBelow | null => {
    if (index <= 0) return null;
    const rows = names(index).map((name, level) => layout.rows(name, level === 0 ? 3 : 4));
    return rows.every((r) => r !== null) ? { index, rows } : null;
  };
  let held = keys.length - 1;
  // Before a tied pass nothing is whole: its light is in the hands of the pass that it belongs to.
  while (held > 0 && (passes[held].tied || !names(held).every((name) => layout.holds(name)))) held--;
  let wanted = passes.findIndex(({ pass }) => pass.id === working);
  while (wanted > 0 && passes[wanted].tied) wanted--;
  return { from: at(held), keep: wanted > held ? at(wanted) : null };
}
