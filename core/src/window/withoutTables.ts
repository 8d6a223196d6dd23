import type { PaneQuad } from './fitPane';

/** Places aside per place down from which on sides lean: a wall's stand, also before a camera that looks down a little. */
const LEANS = 0.2;

const stands = ([a, b, c, d]: PaneQuad): boolean => Math.max(Math.abs(d[0] - a[0]) / Math.max(1, d[1] - a[1]), Math.abs(c[0] - b[0]) / Math.max(1, c[1] - b[1])) < LEANS;

/** Panes without those that lean and lie under all that stand: there a table top mirrors a window. Skylights lean, too, but no lower than windows. */
export function withoutTables(panes: readonly PaneQuad[]): PaneQuad[] {
  const lowest = Math.max(...panes.filter(stands).map((pane) => Math.max(pane[2][1], pane[3][1])));
  return panes.filter((pane) => stands(pane) || lowest === -Infinity || Math.min(...pane.map(([, y]) => y)) < lowest);
}
