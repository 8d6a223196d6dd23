import type { Area, AreaKinds } from '@zaddle/document';
import type { AreaView, Drawing } from './areaView';
import { brush } from './brush';
import { found } from './found';
import { ramp } from './ramp';
import { spot } from './spot';

const VIEWS: { readonly [K in keyof AreaKinds]: AreaView<AreaKinds[K]> } = { brush, ramp, found, spot };

const viewOf = (area: Area): AreaView<Area> => VIEWS[area.kind];

/** An area as the list of a mask says it, and as a strip does. */
export const areaName = (area: Area): string => viewOf(area).name(area);
export const shortAreaName = (area: Area): string => viewOf(area).short(area);

/** A kind that is drawn by one drag. */
export interface DrawnKind extends Drawing<Area> {
  readonly kind: Area['kind'];
}

/** All kinds that are drawn by one drag. */
export const DRAWN: readonly DrawnKind[] = Object.entries(VIEWS).flatMap(([kind, { drawing }]: [string, AreaView<Area>]) => (drawing ? [{ ...drawing, kind: kind as Area['kind'] }] : []));

/** The kind that a tool draws, if it draws one. */
export const drawnBy = (tool: string): DrawnKind | null => DRAWN.find(({ kind }) => kind === tool) ?? null;
