import type { FrameId } from '@zaddle/document';
import { believedOfFlash } from '../colour/believedOfFlash';
import { estimateNeutral } from '../colour/estimateNeutral';
import type { Triple } from '../colour/primaries';
import { createLight, createPlane, quantile, total, type Light, type Plane } from '../image/plane';
import type { GuideSet } from '../mix/guides';
import { luminanceOf } from '../mix/guideTones';
import { levelled, type Analysis } from './analyseShot';
import { scaled } from './gains';
import { matchBalance } from './matchBalance';
import { spoiltPops } from './spoiltPops';

/** Where the middle tones of what a flash lights go, linear display light. */
const FLASH_MIDDLE = 0.38;
/** Of so many places one is looked at for how bright a flash is, and how many such tell. */
const SAMPLED = 5;
const ENOUGH = 100;

/** A flash that is worked with: where it lights, and what brings it to the level and white balance of all. */
interface PopLight {
  readonly id: FrameId;
  readonly lit: Plane;
  readonly exposure: number;
  readonly balance: Triple;
}

/** Brings all pops to one level and one white balance. */
function matchPops({ guides, findings, roles }: Analysis): PopLight[] {
  const pops: PopLight[] = [];
  const ids = [...roles].filter(([, r]) => r.role === 'flash').map(([id]) => id);
  const amount = (plane: Plane): number => total(plane) / plane.data.length;
  const planes = ids.map((id) => ({ id, lit: findings.litBy(id) })).filter(({ lit }) => amount(lit) > 0.03).sort((a, b) => amount(b.lit) - amount(a.lit));
  for (const { id, lit } of planes) {
    const { light } = guides.frames.get(id)!;
    const y = luminanceOf(light).data;
    const levels = new Float32Array(Math.ceil(y.length / SAMPLED));
    let n = 0;
    for (let i = 0; i < y.length; i += SAMPLED) if (lit.data[i] > 0.35) levels[n++] = y[i];
    if (n < ENOUGH) continue;
    const exposure = Math.log2(FLASH_MIDDLE / quantile(levels.subarray(0, n), 0.5));
    const first = pops[0];
    const match = first ? matchBalance(light, guides.frames.get(first.id)!.light, (i) => lit.data[i] > 0.3 && first.lit.data[i] > 0.3) : null;
    pops.push({ id, lit, exposure, balance: match ? levelled(match) : [1, 1, 1] });
  }
  return pops;
}

/** The pops' mean light, each where it lights well. */
function joinPops(pops: readonly PopLight[], guides: GuideSet): { light: Light; weight: Plane } {
  const light = createLight(guides.width, guides.height);
  const weight = createPlane(guides.width, guides.height);
  for (const pop of pops) {
    const source = guides.frames.get(pop.id)!.light;
    const gain = 2 ** pop.exposure;
    const [red, green, blue] = pop.balance.map((v) => v * gain);
    const lit = pop.lit.data;
    for (let i = 0; i < lit.length; i++) {
      const w = lit[i];
      weight.data[i] += w;
      light.r[i] += w * red * source.r[i];
      light.g[i] += w * green * source.g[i];
      light.b[i] += w * blue * source.b[i];
    }
  }
  for (let i = 0; i < weight.data.length; i++) {
    const inverse = 1 / Math.max(1e-4, weight.data[i]);
    light.r[i] *= inverse;
    light.g[i] *= inverse;
    light.b[i] *= inverse;
    weight.data[i] = Math.min(1, weight.data[i]);
  }
  return { light, weight };
}

/** What the flashes of a shot give. */
interface FlashLights {
  /** Those that are worked with, and those that somebody stands in. */
  readonly pops: readonly PopLight[];
  readonly spoilt: readonly PopLight[];
  /** Their light where they light well, white being white, and how well they do. */
  readonly joined: { readonly light: Light; readonly weight: Plane };
  /** Gains that make their white one. */
  readonly neutral: Triple;
}

/** What the flashes of a shot give; null where none is usable. */
export function flashLights(analysis: Analysis): FlashLights | null {
  const matched = matchPops(analysis);
  const without = spoiltPops(analysis, matched);
  const pops = matched.filter((p) => !without.has(p.id));
  if (pops.length === 0) return null;
  const { light, weight } = joinPops(pops, analysis.guides);
  const neutral = levelled(believedOfFlash(estimateNeutral(light, weight)));
  return { pops, spoilt: matched.filter((p) => without.has(p.id)), joined: { light: scaled(light, neutral), weight }, neutral };
}
