import type { CoarseFit } from '../align/coarseSearch';
import { srgbToLinear } from '../colour/transfer';
import { createPlane, quantile, type Pixels } from '../image/plane';
import { exposureStops } from '../intake/frameFacts';
import { labelRegions } from '../window/labelRegions';
import type { ShotView } from './lineUpShot';

/** Cells across the longer side on which light is compared: coarse enough that small movements do not matter. */
const CELLS = 60;
/** Pixels from one that is looked at to the next. */
const STEP = 4;

/** What a frame says of a cell: light per exposure, log2, or NaN where it is clipped or too dark to tell. */
type Radiance = Float32Array;

const DECODE = Float32Array.from({ length: 256 }, (_, v) => srgbToLinear(v / 255));

/** Light of the cells of the first frame's view, as another frame saw them from where it stood. */
function cellRadiance(proxy: Pixels, stops: number, { dx, dy, turn }: CoarseFit): Radiance {
  const scale = Math.max(proxy.width, proxy.height) / CELLS;
  const columns = Math.round(proxy.width / scale);
  const rows = Math.round(proxy.height / scale);
  const out = new Float32Array(columns * rows);
  const [cx, cy] = [(proxy.width - 1) / 2, (proxy.height - 1) / 2];
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      let sum = 0;
      let clipped = 0;
      let count = 0;
      for (let y = Math.floor((row * proxy.height) / rows); y < Math.floor(((row + 1) * proxy.height) / rows); y += STEP) {
        for (let x = Math.floor((column * proxy.width) / columns); x < Math.floor(((column + 1) * proxy.width) / columns); x += STEP) {
          const u = Math.round(cx + cos * (x - cx) - sin * (y - cy) + dx);
          const v = Math.round(cy + sin * (x - cx) + cos * (y - cy) + dy);
          if (u < 0 || v < 0 || u >= proxy.width || v >= proxy.height) continue;
          const p = (v * proxy.width + u) * 3;
          sum += 0.25 * DECODE[proxy.data[p]] + 0.65 * DECODE[proxy.data[p + 1]] + 0.1 * DECODE[proxy.data[p + 2]];
          if (Math.max(proxy.data[p], proxy.data[p + 1], proxy.data[p + 2]) > 247) clipped++;
          count++;
        }
      }
      const mean = sum / count;
      out[row * columns + column] = count < 8 || clipped > 0.1 * count || mean < 0.0015 ? NaN : Math.log2(mean) - stops;
    }
  }
  return out;
}

/** Light that the exposure does not explain, against the least light that any frame of the shot has there. */
export interface AddedLight {
  /** Median over the cells, stops. */
  readonly median: number;
  /** Share of the cells with more than one stop. */
  readonly share: number;
  /** Share of the largest connected patch of such cells: a flash lights a patch, noise and small movements do not. */
  readonly patch: number;
}

/**
 * Where frames of one view have more light than their exposure explains, a flash (or a lamp) added it.
 * EXIF cannot tell: a flash that is triggered by radio leaves no trace there.
 * @returns per frame id; frames without exposure data are left out.
 */
export function addedLight(views: readonly ShotView[]): Map<string, AddedLight> {
  const known = views.filter((v) => exposureStops(v.frame.facts) !== null);
  if (known.length === 0) return new Map();
  // Where the camera moved by more than a cell, a lamp or a window would pass for added light.
  const radiance = known.map(({ frame, pyramid, coarse }) => {
    const scale = 2 ** (pyramid.levels.length - 1);
    return cellRadiance(frame.proxy, exposureStops(frame.facts)!, { ...coarse, dx: coarse.dx * scale, dy: coarse.dy * scale });
  });
  const out = new Map<string, AddedLight>();
  const least = new Float32Array(radiance[0].length).fill(Infinity);
  for (const map of radiance) for (let i = 0; i < least.length; i++) if (map[i] < least[i]) least[i] = map[i];
  known.forEach(({ frame }, k) => {
    const added: number[] = [];
    for (let i = 0; i < least.length; i++) {
      const value = radiance[k][i] - least[i];
      if (Number.isFinite(value)) added.push(value);
    }
    const share = added.filter((v) => v > 1).length / Math.max(1, added.length);
    const columns = Math.round((CELLS * frame.proxy.width) / Math.max(frame.proxy.width, frame.proxy.height));
    const lit = createPlane(columns, least.length / columns, least.map((v, i) => (radiance[k][i] - v > 1 ? 1 : 0)));
    const patch = labelRegions(lit).reduce((most, region) => Math.max(most, region.pixels.length), 0) / least.length;
    out.set(frame.facts.id, { median: added.length > 20 ? quantile(added, 0.5) : 0, share, patch });
  });
  return out;
}
