import type { AreaKind, Move } from './areaKind';
import { box, type BoxArea } from './box';
import { brush, type BrushArea } from './brush';
import { channel, type ChannelArea } from './channel';
import { found, type FoundArea } from './found';
import { hues, type HuesArea } from './hues';
import { outline, type OutlineArea } from './outline';
import { ramp, type RampArea } from './ramp';
import { same, type SameArea } from './same';
import { spot, type SpotArea } from './spot';
import { tones, type TonesArea } from './tones';

/** Every kind of area, by its name. */
export interface AreaKinds {
  readonly brush: BrushArea;
  readonly ramp: RampArea;
  readonly found: FoundArea;
  readonly spot: SpotArea;
  readonly outline: OutlineArea;
  readonly box: BoxArea;
  readonly tones: TonesArea;
  readonly channel: ChannelArea;
  readonly hues: HuesArea;
  readonly same: SameArea;
}
export type Area = AreaKinds[keyof AreaKinds];

export const AREAS: { readonly [K in keyof AreaKinds]: AreaKind<AreaKinds[K]> } = { brush, ramp, found, spot, outline, box, tones, channel, hues, same };

const kindOf = (area: Area): AreaKind<Area> => AREAS[area.kind];

const snapped = ({ border }: Area): readonly string[] => (border?.snap ? [border.snap] : []);

/** Frames that an area names. */
export const framesOfArea = (area: Area): string[] => [...kindOf(area).frames(area), ...snapped(area)];
/** Frames, of those, whose pixels the area follows. */
export const followedBy = (area: Area): string[] => [...kindOf(area).followed(area), ...snapped(area)];
/** The same area on another reference. */
export const movedArea = (area: Area, move: Move): Area => {
  const moved = kindOf(area).moved(area, move);
  const { border } = moved;
  return border ? { ...moved, border: { ...border, grow: border.grow * move.scale, soften: border.soften * move.scale } } : moved;
};
/** The pass whose mask an area takes over, or null. */
export const linkOf = (area: Area): string | null => kindOf(area).linked?.(area) ?? null;
/** The same area where only some frames are at hand. */
export const areaWithin = (area: Area, holds: (frame: string) => boolean): Area => kindOf(area).within(area, holds);
