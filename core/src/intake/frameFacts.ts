import type { Grain } from '@zaddle/document';

/** What is known of a frame without looking at its picture. */
export interface FrameFacts {
  readonly id: string;
  /** File name as on the card. */
  readonly name: string;
  readonly format: 'jpeg' | 'tiff' | 'raw' | 'heic' | 'other';
  /** Size in pixels after the EXIF orientation is applied. */
  readonly width: number;
  readonly height: number;
  /** Milliseconds since 1970 by the camera's clock, or null without EXIF. */
  readonly takenAt: number | null;
  readonly seconds: number | null;
  readonly aperture: number | null;
  readonly iso: number | null;
  /** What the EXIF flash bit says; null when it says nothing. */
  readonly flash: boolean | null;
  /** EXIF exposure mode 'auto bracket'. */
  readonly bracketed: boolean;
  readonly focalLength: number | null;
  /** What that is on 35 mm film, millimetres; null, or left out: files do not tell. */
  readonly focal35?: number | null;
  /** Camera and lens as EXIF names them; null when it does not. */
  readonly camera: string | null;
  readonly lensName: string | null;
  /** The other file of the same exposure, if that one is worked with. */
  readonly twinOf: string | null;
  /** How grainy its pixels are at full size; null, or left out: nothing in it is plain enough to tell, or it was gathered before that was measured. */
  readonly grain?: Grain | null;
  /** More than 8 bits a channel are stored. */
  readonly deep?: boolean;
  /** A person wants this file of its exposure. */
  readonly wanted?: boolean;
}

export type Role = 'ambient' | 'flash' | 'view' | 'lamp' | 'plate' | 'sun' | 'spare';

/** Whether a frame is, or may be, lit by more than the room's own light. */
export const mayHaveFlash = (role: Role): boolean => role === 'flash' || role === 'view' || role === 'sun';

/** Light gathered by the sensor for a given scene, in stops, up to a constant; null when EXIF does not say. */
export function exposureStops(facts: FrameFacts): number | null {
  if (!facts.seconds || !facts.aperture || !facts.iso) return null;
  return Math.log2((facts.seconds * facts.iso) / (100 * facts.aperture ** 2));
}
