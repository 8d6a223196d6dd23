import { ADJUST_LEFT_OUT, MOST_BANDS, type HueBand, type TableUse, type TonePoint } from '@zaddle/document';
import { toneChange } from '../finish/tonePoints';

const between = (a: number, b: number, share: number): number => (share === 1 ? b : a + (b - a) * share);

/** Gains lie between in stops: half of twice and half is none. */
const gainBetween = (a: number, b: number, share: number): number => (a > 0 && b > 0 ? Math.exp(between(Math.log(a), Math.log(b), share)) : between(a, b, share));

/** Tone points of a document at most, and places where two sets of points are read off where they have more together. */
const MOST_POINTS = 16;
const SPREAD = Array.from({ length: MOST_POINTS }, (_, k) => -8 + k * 0.8);

/** A curve between two. @param a,b points from dark to bright */
function curveBetween(a: readonly TonePoint[], b: readonly TonePoint[], share: number): readonly TonePoint[] {
  const tones = [...new Set([...a, ...b].map(([tone]) => tone))].sort((x, y) => x - y);
  const at = (points: readonly TonePoint[], tone: number): number => (points.length === 0 ? 0 : toneChange(points, tone));
  return (tones.length <= MOST_POINTS ? tones : SPREAD).map((tone) => [tone, between(at(a, tone), at(b, tone), share)] as const);
}

/** Bands of both, each as far as its share goes. */
function bandsBetween(a: readonly HueBand[], b: readonly HueBand[], share: number): readonly HueBand[] {
  const scaled = (bands: readonly HueBand[], by: number): HueBand[] =>
    by === 0 ? [] : bands.map((band) => ({ ...band, shift: band.shift * by, chroma: between(1, band.chroma, by), lightness: band.lightness * by }));
  return [...scaled(b, share), ...scaled(a, 1 - share)].slice(0, MOST_BANDS);
}

/** A colour table between two uses: one of them at most is there, as far as its share goes. */
function tableBetween(a: TableUse | null, b: TableUse | null, share: number): TableUse | null {
  if (b) return { ...b, strength: between(a?.digest === b.digest && a.space === b.space ? a.strength : 0, b.strength, share) };
  return a && { ...a, strength: between(a.strength, 0, share) };
}

/**
 * A setting of a pass between what it is and what it is wished to be. @param share 0 is as it is, 1 as wished
 * @param key its name, as in `PassChanges`
 */
export function settingBetween(key: string, is: unknown, wished: unknown, share: number): unknown {
  const rest: Readonly<Record<string, unknown>> = ADJUST_LEFT_OUT;
  const [from, to] = [is ?? rest[key] ?? null, wished ?? rest[key] ?? null];
  if (share === 1) return wished;
  if (key === 'curve') return curveBetween(from as readonly TonePoint[], to as readonly TonePoint[], share);
  if (key === 'bands') return bandsBetween(from as readonly HueBand[], to as readonly HueBand[], share);
  if (key === 'table') return tableBetween(from as TableUse | null, wished as TableUse | null, share);
  if (typeof from === 'number' && typeof to === 'number') return between(from, to, share);
  if (Array.isArray(from) && Array.isArray(to)) return (from as number[]).map((value, k) => gainBetween(value, (to as number[])[k], share));
  return wished;
}
