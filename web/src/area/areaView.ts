import type { Area, AreaBase, Point } from '@zaddle/document';
import { percent } from '../desk/showValues';

/** An area that is drawn by one drag over the picture. */
export interface Drawing<A extends Area> {
  /** Its key at the desk. */
  readonly key: string;
  /** What the tool says. */
  readonly label: string;
  /** What the picture says while it is drawn, before the pass's name. */
  readonly doing: string;
  readonly shortcut: string;
  /** Drawn again, it takes the place of the one before; else it joins it. */
  readonly single: boolean;
  /** It is pointed at: there is nothing to see of it before the pointer goes up. */
  readonly pointed?: true;
  /** @param reference of the mix */
  byDrag(from: Point, to: Point, reference: string): Omit<A, keyof AreaBase>;
}

/** A place of an area that can be taken hold of. */
export interface AreaHandle {
  readonly id: string;
  readonly at: Point;
  readonly label: string;
  /** The place that it belongs to, for one that bends. */
  readonly of: Point | null;
  /** It can be taken away. */
  readonly removable: boolean;
}

/** A number of an area that is set by a slider. */
export interface AreaField<A extends Area> {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  readonly show: (value: number) => string;
  /** It takes a while to be worked out: it is when the knob is let go of. */
  readonly late?: true;
  put(value: number): A;
}

/** An area that is begun from the list of a mask, not drawn. */
export interface Listed<A extends Area> {
  readonly label: string;
  start(): Omit<A, keyof AreaBase>;
}

/** How one kind of area looks at the desk. */
export interface AreaView<A extends Area> {
  /** As the list of a mask says it. */
  name(area: A): string;
  /** As a strip says it. */
  short(area: A): string;
  readonly drawing: Drawing<A> | null;
  readonly listed: Listed<A> | null;
  fields(area: A): readonly AreaField<A>[];
  handles(area: A): readonly AreaHandle[];
  /** The area with one of its handles elsewhere, or without it. */
  dragged(area: A, handle: string, to: Point): A;
  without(area: A, handle: string): A;
}

/** A key as people read it. */
export const keyWords = (key: string): string => key.replace('shift+', 'Shift + ');

/** A soft border, as a share of the picture's side. */
export const softnessField = <A extends Extract<Area, { softness: number }>>(area: A, max: number): AreaField<A> => ({ label: 'Softness', value: area.softness, min: 0, max, step: max / 200, show: percent, put: (softness) => ({ ...area, softness }) });

/** What kinds without handles answer. */
export const NO_HANDLES = { handles: () => [], dragged: <A>(area: A): A => area, without: <A>(area: A): A => area } as const;

/** Places are kept to a hundred-thousandth of the picture's side: finer than a pixel of any camera. */
const rounded = (v: number): number => Math.round(v * 1e5) / 1e5;
export const roundedPoint = ([x, y]: Point): Point => [rounded(x), rounded(y)];
