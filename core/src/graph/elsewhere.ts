import type { FrameId, Mix } from '@zaddle/document';
import { compose, invert, mapPoint, type Homography } from '../geometry/homography';
import type { GridPart } from '../kind/placing';
import { regionBox, type Region } from '../mix/regionBox';
import type { OutputGrid, PlacedSource } from './placedMix';

/** A part of a grid that shows the picture as it is elsewhere. @param map from where it lies to where it is seen, reference pixels */
export function elsewhereGrid({ geometry }: Mix, grid: OutputGrid, map: Homography, { left, top, width, height }: GridPart): OutputGrid {
  const toReference = compose(geometry, compose(grid.toOutput, [1, 0, left, 0, 1, top, 0, 0, 1]));
  return { width, height, toOutput: compose(invert(geometry), compose(map, toReference)) };
}

/** The part of the output that a grid shows, full-size pixels. */
export function gridRegion({ width, height, toOutput }: OutputGrid): Region {
  const corners = [[-0.5, -0.5], [width - 0.5, -0.5], [width - 0.5, height - 0.5], [-0.5, height - 0.5]].map(([x, y]) => mapPoint(toOutput, x, y));
  const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y, level: 0 };
}

/** Pixels of frames for what a grid shows: where only parts are at hand that do not reach so far, whole pictures in their place. */
export function sourcesFor(mix: Mix, sources: ReadonlyMap<FrameId, PlacedSource>, grid: OutputGrid): ReadonlyMap<FrameId, PlacedSource> {
  if (![...sources.values()].some(({ instead }) => instead)) return sources;
  const region = gridRegion(grid);
  return new Map([...sources].map(([id, source]) => [id, source.instead && !reaches(mix, id, source, region) ? source.instead : source] as const));
}

function reaches(mix: Mix, id: FrameId, { whole, width, height }: PlacedSource, region: Region): boolean {
  if (!whole || !Object.hasOwn(mix.frames, id)) return true;
  const { box } = regionBox(mix, id, region, 'none');
  const k = whole.width / mix.frames[id].width;
  return box.x * k >= whole.x && box.y * k >= whole.y && (box.x + box.w) * k <= whole.x + width && (box.y + box.h) * k <= whole.y + height;
}
