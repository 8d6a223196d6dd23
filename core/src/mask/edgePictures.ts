import { createPlane, type Plane } from '../image/plane';

/** Light from which on a frame counts as clipped. */
const CLIPPED = 0.9;
/** The least light that is told from none, as a share of what the flashes give where they light much; and how bright that is among all places. */
const LEAST = 1 / 64;
const MUCH = 0.9;
/** Light of flashes, as a share of the room's own, that a tenth of the picture at least has to have. */
const TELLING = 0.15;
/** Places that are looked at for these shares: every so many pixels. */
const EVERY = 37;

/** A picture of the place: log2 luminance as the frame has it, clipped at 0, and its exposure in stops. */
export interface Exposed {
  readonly log: Plane;
  readonly stops: number;
}

/** The room's own light at each place: of the brightest picture that is not clipped there; clipped in all, what the darkest shows. */
function steadyLight(steady: readonly Exposed[]): Float32Array {
  const byLight = [...steady].sort((a, b) => a.stops - b.stops);
  const out = byLight[0].log.data.map((v) => 2 ** (v - byLight[0].stops));
  for (const { log: { data }, stops } of byLight.slice(1)) {
    for (let i = 0; i < out.length; i++) if (2 ** data[i] < CLIPPED) out[i] = 2 ** (data[i] - stops);
  }
  return out;
}

const shareOf = (values: Float32Array, share: number): number => values.filter((_, i) => i % EVERY === 0).sort()[Math.floor(share * Math.ceil(values.length / EVERY))] ?? 0;

/**
 * What flashes add to the room's own light, the most that any of them gives at each place, as log2 of what they give where they
 * light much, down to -6. Glass lets a flash out and joinery sends it back: in this light a pane is dark whatever lies behind
 * it, and what bounds it bright (flash and no flash: Petschnigg et al. 2004; Eisemann and Durand 2004).
 * @param steady pictures in the room's own light. @param others pictures by flash, or some of them; null where none adds much
 */
export function flashOnlyLog(steady: readonly Exposed[], others: readonly Exposed[]): Plane | null {
  if (steady.length === 0 || others.length === 0) return null;
  const own = steadyLight(steady);
  const most = new Float32Array(own.length);
  for (const { log, stops } of others) {
    for (let i = 0; i < most.length; i++) {
      const light = 2 ** log.data[i];
      if (light < CLIPPED) most[i] = Math.max(most[i], light / 2 ** stops - own[i]);
    }
  }
  if (!(shareOf(most.map((v, i) => v / own[i]), MUCH) > TELLING)) return null;
  const much = shareOf(most, MUCH);
  return createPlane(steady[0].log.width, steady[0].log.height, most.map((v) => Math.log2(Math.max(LEAST, v / much))));
}

/** How often what flashes add counts beside what each frame shows. */
const FLASH_COUNTS = 2;

/** Pictures of one place that tell together where its edges run, log2 luminance. @param steady frames in the room's own light. @param others all further ones, by flash among them */
export function edgePictures(steady: readonly Exposed[], others: readonly Exposed[]): Plane[] {
  const flash = flashOnlyLog(steady, others);
  return [...[...steady, ...others].map(({ log }) => log), ...Array.from({ length: flash ? FLASH_COUNTS : 0 }, () => flash!)];
}
