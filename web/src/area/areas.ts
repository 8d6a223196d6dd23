import type { Area, AreaKinds, Point } from '@zaddle/document';
import type { AreaField, AreaHandle, AreaView, Drawing, Listed } from './areaView';
import { box } from './box';
import { brush } from './brush';
import { channel } from './channel';
import { found } from './found';
import { hues } from './hues';
import { outline } from './outline';
import { ramp } from './ramp';
import { same } from './same';
import { spot } from './spot';
import { tones } from './tones';

const VIEWS: { readonly [K in keyof AreaKinds]: AreaView<AreaKinds[K]> } = { brush, ramp, found, spot, outline, box, tones, channel, hues, same };

const viewOf = (area: Area): AreaView<Area> => VIEWS[area.kind];

/** An area as the list of a mask says it, and as a strip does. */
export const areaName = (area: Area): string => viewOf(area).name(area);
export const shortAreaName = (area: Area): string => viewOf(area).short(area);

/** Places of an area that can be taken hold of; the area with one of them elsewhere, or without it. */
export const handlesOf = (area: Area): readonly AreaHandle[] => viewOf(area).handles(area);
export const draggedArea = (area: Area, handle: string, to: Point): Area => viewOf(area).dragged(area, handle, to);
export const areaWithout = (area: Area, handle: string): Area => viewOf(area).without(area, handle);

/** Numbers of an area that sliders set. */
export const fieldsOf = (area: Area): readonly AreaField<Area>[] => viewOf(area).fields(area);

/** Kinds that are begun from the list of a mask. */
export const LISTED: readonly (Listed<Area> & { readonly kind: Area['kind'] })[] = Object.entries(VIEWS).flatMap(([kind, { listed }]: [string, AreaView<Area>]) => (listed ? [{ ...listed, kind: kind as Area['kind'] }] : []));

/** A kind that is drawn by one drag. */
export interface DrawnKind extends Drawing<Area> {
  readonly kind: Area['kind'];
}

/** All kinds that are drawn by one drag. */
export const DRAWN: readonly DrawnKind[] = Object.entries(VIEWS).flatMap(([kind, { drawing }]: [string, AreaView<Area>]) => (drawing ? [{ ...drawing, kind: kind as Area['kind'] }] : []));

/** The kind that a tool draws, if it draws one. */
export const drawnBy = (tool: string): DrawnKind | null => DRAWN.find(({ kind }) => kind === tool) ?? null;
