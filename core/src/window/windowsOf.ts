import { centreOf, pixelsOfPane, type PaneQuad } from './fitPane';
import type { Glass } from './findGlass';
import { liesBeside } from './liesBeside';

/** Windows that are told apart, at most: more are more than anybody sets one by one. */
const MOST = 5;
/** Share of all glass below which a window goes with the one that is nearest: too little of it is seen to tell it by. */
const LITTLE = 0.03;

/** Panes that belong together: one window, or several that are too small to be told apart from it. */
export interface Window {
  readonly panes: readonly PaneQuad[];
  /** Its glass, guide pixels. */
  readonly places: Int32Array;
}

/** Panes that lie beside each other over bars, each with all that are reached from it. */
function joined(panes: readonly PaneQuad[]): PaneQuad[][] {
  const left = new Set(panes);
  const groups: PaneQuad[][] = [];
  for (const first of panes) {
    if (!left.delete(first)) continue;
    const group = [first];
    for (const pane of group) for (const other of left) if (liesBeside(pane, other) && left.delete(other)) group.push(other);
    groups.push(group);
  }
  return groups;
}

/** How far the panes of two windows lie apart, where they are nearest. */
function apart(a: readonly PaneQuad[], b: readonly PaneQuad[]): number {
  return Math.min(...a.flatMap((pane) => b.map((other) => {
    const [[x, y], [u, v]] = [centreOf(pane), centreOf(other)];
    return Math.hypot(x - u, y - v);
  })));
}

/**
 * The windows that panes belong to, from left to right: panes over a bar from each other are one window's. Where there are many,
 * or small ones, these go with the one that is nearest.
 */
export function windowsOf({ plane, panes }: Pick<Glass, 'plane' | 'panes'>): Window[] {
  const groups = joined(panes).map((group) => ({ panes: group, places: placesOf(plane, group) })).sort((a, b) => b.places.length - a.places.length);
  const all = groups.reduce((sum, { places }) => sum + places.length, 0);
  const own = groups.filter(({ places }, k) => k === 0 || (k < MOST && places.length >= LITTLE * all)).map((group) => ({ ...group, panes: [...group.panes] }));
  for (const { panes: few } of groups.slice(own.length)) own.reduce((best, window) => (apart(few, window.panes) < apart(few, best.panes) ? window : best)).panes.push(...few);
  const middle = (of: readonly PaneQuad[]): number => of.reduce((sum, pane) => sum + centreOf(pane)[0], 0) / of.length;
  return own.map(({ panes: its }) => ({ panes: its, places: placesOf(plane, its) })).sort((a, b) => middle(a.panes) - middle(b.panes));
}

/** Glass that lies within some panes, guide pixels in order. */
function placesOf({ width, height, data }: Glass['plane'], panes: readonly PaneQuad[]): Int32Array {
  const within = new Set<number>();
  for (const pane of panes) pixelsOfPane(pane, width, height, (i) => data[i] > 0.5 && within.add(i));
  return Int32Array.from(within).sort();
}
