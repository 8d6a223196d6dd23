/** Levels that a frame is served at: 0 is the original, each further one half as large. */
export const LEVELS = [0, 1, 2, 3] as const;
export type Level = (typeof LEVELS)[number];

/** Size of a frame at a level, pixels. */
export const levelSize = (width: number, height: number, level: Level): { width: number; height: number } => ({ width: Math.max(1, Math.ceil(width / 2 ** level)), height: Math.max(1, Math.ceil(height / 2 ** level)) });
