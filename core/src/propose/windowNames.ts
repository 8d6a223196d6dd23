import { centreOf, type PaneQuad } from '../window/fitPane';

/** How many times as far across as down windows lie from each other to be told by left and right. */
const ACROSS = 1.2;

/** What a person would call windows of one picture, from left to right. @param windows panes of each, from left to right */
export function windowNames(windows: readonly (readonly PaneQuad[])[]): string[] {
  const middles = windows.map((panes) => [0, 1].map((c) => panes.reduce((sum, pane) => sum + centreOf(pane)[c], 0) / panes.length));
  const [wide, high] = [0, 1].map((c) => Math.max(...middles.map((at) => at[c])) - Math.min(...middles.map((at) => at[c])));
  if (windows.length === 2 && high > ACROSS * wide) return middles[0][1] < middles[1][1] ? ['upper', 'lower'] : ['lower', 'upper'];
  if (windows.length === 2) return ['left', 'right'];
  if (windows.length === 3 && wide > ACROSS * high) return ['left', 'middle', 'right'];
  return windows.map((_, k) => `window ${k + 1} from the left`);
}
