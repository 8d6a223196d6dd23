/** A frame whose arrival was acknowledged. */
export interface SentFrame {
  readonly shoot: string;
  readonly id: string;
  readonly name: string;
  readonly sha256: string;
}
/** A stroke whose arrival was acknowledged. Each has a place of its own, by which it is known again. */
export interface PaintedStroke {
  readonly shoot: string;
  readonly mark: number;
}

/** What a server has acknowledged: from then on it must be there, whatever happens. */
export class Ledger {
  readonly frames: SentFrame[] = [];
  readonly strokes: PaintedStroke[] = [];
  /** Marks of strokes that were sent and never answered: they may be there, once. */
  readonly unanswered = new Set<number>();
  /** Shoots that were ordered before they were ready. */
  readonly ahead: string[] = [];
  /** Ids of pictures that were ordered. */
  readonly deliveries: string[] = [];
  /** Requests that were not answered, or by a 5xx while something was being done to the server. */
  misses = 0;
}

/** What was found to be wrong. */
export interface Wrongs {
  readonly lost: string[];
  readonly doubled: string[];
  readonly stuck: string[];
  readonly broken: string[];
}
export const noWrongs = (): Wrongs => ({ lost: [], doubled: [], stuck: [], broken: [] });
export const isWhole = ({ lost, doubled, stuck, broken }: Wrongs): boolean => lost.length + doubled.length + stuck.length + broken.length === 0;
