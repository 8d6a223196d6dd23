import { paintLight } from '../colour/paintLight';
import type { Triple } from '../colour/primaries';
import type { ToldStance } from '../geometry/estimateStance';
import type { GuideLevel } from '../graph/guideLevel';
import type { PreparedMix } from '../graph/prepareMix';
import { createPlane, luminance, quantile, type Light, type Plane } from '../image/plane';
import { leaningReading } from '../read/leaningReading';

/** What a picture looks like, as far as it is held against others of its set. */
export interface Look {
  /** Median of the room's light, stops about middle grey, before the display curve. */
  readonly light: number;
  /** Light of its pale surfaces, working primaries, luminance 1; null where there are none. */
  readonly paint: Triple | null;
  /** Stops by which the view outside lies over the room; null: there is none. */
  readonly view: number | null;
  /** Degrees by which vertical edges lean; null where they do not tell. */
  readonly leaning: number | null;
  /** Width over height. */
  readonly ratio: number;
}

/** Share of a mask from which on a place counts as outside, and below which as the room. */
const OUTSIDE = 0.7;
const INSIDE = 0.1;
/** Places of the view that tell its brightness, at least. */
const FEWEST = 60;

/** log2 of the median luminance where a place counts. */
function medianLight(y: Plane, counts: (index: number) => boolean): number | null {
  const values: number[] = [];
  for (let i = 0; i < y.data.length; i += 3) if (counts(i)) values.push(y.data[i]);
  return values.length < FEWEST ? null : Math.log2(Math.max(1e-4, quantile(values, 0.5)) / 0.18);
}

/** What is told of a picture of which the view's mask is known. @param view where the view outside is, 0..1; null: nowhere */
export function lookOfPicture(picture: Light, view: Plane | null): Pick<Look, 'light' | 'paint' | 'view'> {
  const y = luminance(picture);
  const room = createPlane(y.width, y.height, Float32Array.from(y.data, (_, i) => (view && view.data[i] > INSIDE ? 0 : 1)));
  const light = medianLight(y, (i) => room.data[i] > 0) ?? medianLight(y, () => true) ?? 0;
  const outside = view && medianLight(y, (i) => view.data[i] > OUTSIDE);
  return { light, paint: paintLight(picture, room), view: outside === null ? null : outside - light };
}

/** Measures the picture of a mix on the guide. @param stance how its camera stood, where that is known @param picture where that is made already */
export function lookOf(level: GuideLevel, prepared: PreparedMix, stance: ToldStance | null, picture: Light = level.picture(prepared)): Look {
  const { mix } = prepared;
  const index = prepared.passes.findIndex(({ pass }) => pass.kind === 'view');
  return {
    ...lookOfPicture(picture, index < 0 ? null : level.mask(prepared, index)),
    leaning: (stance && leaningReading(mix, stance)?.value) ?? null, ratio: mix.width / mix.height,
  };
}
