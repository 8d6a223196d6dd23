import type { Builder, Rect } from './builder';
import type { Vec } from './vector';

/** A source whose light is kept apart in a layer of its own. */
export type LightSource =
  | { readonly kind: 'panel'; readonly rect: Rect; readonly radiance: Vec }
  | { readonly kind: 'bulb'; readonly centre: Vec; readonly radius: number; readonly power: Vec }
  /** Flash in a small softener: a bulb that gives more light ahead. */
  | { readonly kind: 'flash'; readonly centre: Vec; readonly aim: Vec; readonly radius: number; readonly power: Vec };

export interface Layer {
  readonly name: string;
  readonly sources: readonly LightSource[];
  /** Radiance of the view outside, times the texture, or 0. */
  readonly view: number;
}

export interface View {
  readonly from: Vec;
  readonly to: Vec;
  /** Horizontal field of view, degrees. */
  readonly fieldOfView: number;
  /** Degrees by which the camera hangs to the right. */
  readonly roll?: number;
}

export interface Room {
  readonly name: string;
  readonly label: string;
  /** The room whose lights it has besides those that it makes itself: only its last light is its own. */
  readonly base?: string;
  /** Puts everything into the builder and says which lights there are; the day comes first, lamps second. */
  readonly furnish: (b: Builder) => readonly Layer[];
  readonly view: View;
  /** Radiance outside by bearing and elevation, radians, relative to a bright sky of 1; none: the creek by day. */
  readonly outside?: (bearing: number, elevation: number, out: Float64Array) => void;
  /** How strong each light is in the picture that was drawn of the room before it was built, if somebody drew one. */
  readonly drawn?: Readonly<Record<string, number>>;
}
