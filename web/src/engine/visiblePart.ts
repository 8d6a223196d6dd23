import { levelFor, type Region } from '@zaddle/core/mix/regionBox';
import type { OutputGrid } from '@zaddle/core/graph/placedMix';
import type { MixDocument } from '@zaddle/document';
import type { Drawn, View } from './messages';

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
