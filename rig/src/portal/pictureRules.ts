import sharp from 'sharp';

/** What a listing site takes. */
export interface PictureRules {
  /** Longer side by shorter one; null: any. */
  readonly ratio: number | null;
  /** Shortest longer side that is taken, pixels. */
  readonly leastSide: number;
  /** Longest longer side, pixels. */
  readonly mostSide: number;
  /** Largest file, bytes. */
  readonly mostBytes: number;
}
export const USUAL_RULES: PictureRules = { ratio: 4 / 3, leastSide: 1024, mostSide: 4096, mostBytes: 2_000_000 };
/** By how much a ratio may be off. */
const RATIO_SLACK = 0.01;

/** Why a picture is not taken, in the site's words; null: it is. */
export async function whyRefused(file: string, bytes: number, { ratio, leastSide, mostSide, mostBytes }: PictureRules): Promise<string | null> {
  if (bytes > mostBytes) return `The file has ${(bytes / 1e6).toFixed(1)} MB; at most ${(mostBytes / 1e6).toFixed(1)} MB are taken.`;
  const { format, width = 0, height = 0 } = await sharp(file).metadata().catch(() => ({ format: undefined }) as { format: undefined; width?: number; height?: number });
  if (format !== 'jpeg') return 'Only JPEG files are taken.';
  const [long, short] = [Math.max(width, height), Math.min(width, height)];
  if (long < leastSide || long > mostSide) return `The longer side has ${long} pixels; ${leastSide} to ${mostSide} are taken.`;
  if (ratio !== null && Math.abs(long / short / ratio - 1) > RATIO_SLACK) return `The picture is ${width} × ${height}; the sides must be as ${ratio.toFixed(3)} to 1.`;
  return null;
}
