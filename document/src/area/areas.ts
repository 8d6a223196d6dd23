import type { AreaKind, Move } from './areaKind';
import { box, type BoxArea } from './box';
import { brush, type BrushArea } from './brush';
import { found, type FoundArea } from './found';
import { outline, type OutlineArea } from './outline';
import { ramp, type RampArea } from './ramp';
import { spot, type SpotArea } from './spot';

/** Every kind of area, by its name. */
export interface AreaKinds {
  readonly brush: BrushArea;
  readonly ramp: RampArea;
  readonly found: FoundArea;
  readonly spot: SpotArea;
  readonly outline: OutlineArea;
  readonly box: BoxArea;
}
export type Area = AreaKinds[keyof AreaKinds];

export const AREAS: { readonly [K in keyof AreaKinds]: AreaKind<AreaKinds[K]> } = { brush, ramp, found, spot, outline, box };

const kindOf = (area: Area): AreaKind<Area> => AREAS[area.kind];

/** Frames that an area names. */
export const framesOfArea = (area: Area): readonly string[] => kindOf(area).frames(area);
/** Frames, of those, whose pixels the area follows. */
export const followedBy = (area: Area): readonly string[] => kindOf(area).followed(area);
/** The same area on another reference. */
export const movedArea = (area: Area, move: Move): Area => kindOf(area).moved(area, move);
/** The same area where only some frames are at hand. */
export const areaWithin = (area: Area, holds: (frame: string) => boolean): Area => kindOf(area).within(area, holds);
