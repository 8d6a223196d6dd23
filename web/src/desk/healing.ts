import { addInsetCommand, CLEAN_UP } from '@zaddle/core/clean/cleanUpBundle';
import { MOST_PATCHES, type Area, type Command, type HealPass, type HealPatch, type Pass, type Point, type Quad } from '@zaddle/document';
import type { Speck } from '@zaddle/core/read/findSpecks';
import type { HealWay } from '../engine/healSpot';
import { freshId } from './newPass';

/** Areas that one pass of spots may hold. */
const MOST_SPOTS = 60;
const SPOTS = 'Healed spots';

interface Box {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

function boxOf(points: readonly Point[]): Box {
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  return { left: Math.min(...xs), top: Math.min(...ys), right: Math.max(...xs), bottom: Math.max(...ys) };
}
const meet = (a: Box, b: Box): boolean => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;
const boxesOf = ({ to, from }: HealPatch): readonly Box[] => [boxOf(to), boxOf(from)];

/** The pass of spots that another may join: the topmost of the bundle, if it holds nothing but spots and none of them lies where this one takes, or is taken from. */
function spotsPass(passes: readonly Pass[], areas: readonly Area[], way: HealWay): HealPass | null {
  const top = passes.findLast(({ within }) => within === CLEAN_UP);
  if (top?.kind !== 'heal' || !top.on || areas.length !== 1 || areas[0].kind !== 'spot' || way.patches.length !== 1) return null;
  if (top.mask.length >= MOST_SPOTS || top.patches.length >= MOST_PATCHES || top.mask.some(({ kind }) => kind !== 'spot')) return null;
  const theirs = top.patches.flatMap(boxesOf);
  return boxesOf(way.patches[0]).some((box) => theirs.some((other) => meet(box, other))) ? null : top;
}

/** What is done to heal a place: the change, the pass that heals it, and the pieces of other places that this pass has. */
export interface Healing {
  readonly command: Command;
  readonly pass: string;
  readonly others: readonly HealPatch[];
}

/** Heals a place: by one more spot of the pass that holds such, or by a pass of its own in the bundle *Clean-up*. */
export function healing(passes: readonly Pass[], areas: readonly Area[], way: HealWay): Healing {
  const spots = spotsPass(passes, areas, way);
  if (spots) {
    const add: Command = { kind: 'addArea', pass: spots.id, area: areas[0], index: spots.mask.length };
    const change: Command = { kind: 'changePass', id: spots.id, changes: { patches: [...spots.patches, ...way.patches] } };
    return { command: { kind: 'several', commands: [add, change] }, pass: spots.id, others: spots.patches };
  }
  const pass: HealPass = {
    id: freshId('pass'), name: areas.length === 1 && areas[0].kind === 'spot' && way.patches.length === 1 ? SPOTS : 'Healed place', why: 'retouched from the picture itself', within: CLEAN_UP, kind: 'heal', on: true, opacity: 1,
    mask: areas, exposure: 0, balance: [1, 1, 1], mode: 'normal', brightness: 1, colour: 1, ...way, matched: true,
  };
  return { command: addInsetCommand(passes, pass), pass: pass.id, others: [] };
}

/** Places of dust that no healed place covers yet. */
export function dustLeft(passes: readonly Pass[], dust: readonly Speck[]): Speck[] {
  const healed = passes.flatMap((pass) => (pass.kind === 'heal' && pass.on ? pass.mask.flatMap((area) => (area.kind === 'spot' ? [area] : [])) : []));
  return dust.filter(([x, y]) => !healed.some(({ at, rim }) => Math.hypot(x - at[0], y - at[1]) <= Math.hypot(rim[0] - at[0], rim[1] - at[1])));
}

const middle = (corners: Quad): Point => [0, 1].map((c) => corners.reduce((sum, corner) => sum + corner[c], 0) / 4) as unknown as Point;
const rounded = (v: number): number => Math.round(v * 1e7) / 1e7;

/** Where the middle of what a piece is taken from lies. */
export const sourceMiddle = ({ from }: HealPatch): Point => middle(from);
export const placeMiddle = ({ to }: HealPatch): Point => middle(to);

/** A piece that is taken from about another place. */
export function movedSource(patch: HealPatch, [x, y]: Point): HealPatch {
  const [mx, my] = middle(patch.from);
  return { ...patch, from: patch.from.map(([a, b]) => [rounded(a + x - mx), rounded(b + y - my)]) as unknown as Quad };
}

/** A piece whose source is seen turned by a quarter, or mirrored, about its middle. */
export function turnedSource(patch: HealPatch, how: 'quarter' | 'mirrored'): HealPatch {
  const [mx, my] = middle(patch.from);
  const turn = ([x, y]: Point): Point => (how === 'quarter' ? [rounded(mx - (y - my)), rounded(my + x - mx)] : [rounded(2 * mx - x), y]);
  return { ...patch, from: patch.from.map(turn) as unknown as Quad };
}
