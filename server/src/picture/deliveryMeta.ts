import type { OrderWords } from '@zaddle/document';

/** What a delivered file tells of its picture. */
export interface DeliveryMeta {
  /** What made the picture and what was changed, for EXIF. */
  readonly description: string;
  /** What was replaced or filled, a line each, for XMP. */
  readonly changed: readonly string[];
  /** EXIF date 'YYYY:MM:DD HH:MM:SS' of the reference, or null. */
  readonly taken: string | null;
  /** Pixels an inch that it says of itself; left out, or null: nothing. */
  readonly ppi?: number | null;
  /** What it is called, who made it, whose it is; left out: nothing. */
  readonly words?: OrderWords;
}
