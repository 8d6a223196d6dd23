import { srgbToLinear } from '../colour/transfer';
import { quantile, type Pixels } from '../image/plane';
import { exposureStops, type FrameFacts } from '../intake/frameFacts';

/** Cells across the longer side on which light is compared: coarse enough that small movements do not matter. */
const CELLS = 60;

/** What a frame says of a cell: light per exposure, log2, or NaN where it is clipped or too dark to tell. */
type Radiance = Float32Array;

const DECODE = Float32Array.from({ length: 256 }, (_, v) => srgbToLinear(v / 255));

function cellRadiance(proxy: Pixels, stops: number): Radiance {
  const scale = Math.max(proxy.width, proxy.height) / CELLS;
  const columns = Math.round(proxy.width / scale);
  const rows = Math.round(proxy.height / scale);
  const out = new Float32Array(columns * rows);
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      let sum = 0;
      let clipped = 0;
      let count = 0;
      for (let y = Math.floor((row * proxy.height) / rows); y < Math.floor(((row + 1) * proxy.height) / rows); y += 2) {
        for (let x = Math.floor((column * proxy.width) / columns); x < Math.floor(((column + 1) * proxy.width) / columns); x += 2) {
          const p = (y * proxy.width + x) * 3;
          sum += 0.25 * DECODE[proxy.data[p]] + 0.65 * DECODE[proxy.data[p + 1]] + 0.1 * DECODE[proxy.data[p + 2]];
          if (Math.max(proxy.data[p], proxy.data[p + 1], proxy.data[p + 2]) > 247) clipped++;
          count++;
        }
      }
      const mean = sum / count;
      out[row * columns + column] = clipped > 0.1 * count || mean < 0.0015 ? NaN : Math.log2(mean) - stops;
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
}

/**
 * Where frames of one view have more light than their exposure explains, a flash (or a lamp) added it.
 * EXIF cannot tell: a flash that is triggered by radio leaves no trace there.
 * @returns per frame id; frames without exposure data are left out.
 */
export function addedLight(frames: readonly { facts: FrameFacts; proxy: Pixels }[]): Map<string, AddedLight> {
  const known = frames.filter((f) => exposureStops(f.facts) !== null && f.facts.twinOf === null);
  const radiance = known.map((f) => cellRadiance(f.proxy, exposureStops(f.facts)!));
  const out = new Map<string, AddedLight>();
  if (known.length === 0) return out;
  const least = new Float32Array(radiance[0].length).fill(Infinity);
  for (const map of radiance) for (let i = 0; i < least.length; i++) if (map[i] < least[i]) least[i] = map[i];
  known.forEach((frame, k) => {
    const added: number[] = [];
    for (let i = 0; i < least.length; i++) {
      const value = radiance[k][i] - least[i];
      if (Number.isFinite(value)) added.push(value);
    }
    const share = added.filter((v) => v > 1).length / Math.max(1, added.length);
    out.set(frame.facts.id, { median: added.length > 20 ? quantile(added, 0.5) : 0, share });
  });
  return out;
}
