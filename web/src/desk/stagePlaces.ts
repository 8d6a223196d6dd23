import { outputToReference } from '@zaddle/core/mix/outputToReference';
import { invert, mapPoint } from '@zaddle/core/geometry/homography';
import type { MixDocument, Point } from '@zaddle/document';
import type { Viewport } from './useViewport';

const longerSide = (mix: MixDocument): number => Math.max(mix.frames[mix.reference].width, mix.frames[mix.reference].height);

/** A position on the stage as a place of the reference, in its longer sides (centres of pixels are integers). */
export function toPlace(mix: MixDocument, view: Viewport, [sx, sy]: Point): Point {
  const [x, y] = outputToReference(mix, (sx - view.x) / view.scale - 0.5, (sy - view.y) / view.scale - 0.5);
  const unit = longerSide(mix);
  return [x / unit, y / unit];
}

/** Where a place of the reference, in its longer sides, lies on the stage. */
export function toStage(mix: MixDocument, view: Viewport): (place: Point) => Point {
  const back = invert(mix.geometry);
  const unit = longerSide(mix);
  return ([px, py]) => {
    const [x, y] = mapPoint(back, px * unit, py * unit);
    return [view.x + (x + 0.5) * view.scale, view.y + (y + 0.5) * view.scale];
  };
}
