import type { Triple } from '../colour/primaries';
import { quantile } from '../image/plane';
import { changeReference } from '../mix/changeReference';
import { areaWithin, type FrameId, type FrameUse, type Mix, type Pass, type SourcePass } from '@zaddle/document';

/** What frames that came late would bring to a mix that somebody has worked on. */
export interface LateOffer {
  readonly frames: Readonly<Record<FrameId, FrameUse>>;
  /** Muted, each to be put in at its index, in this order. */
  readonly passes: readonly { readonly pass: Pass; readonly index: number }[];
}

const LATE = 'came after you began: switch it on to use it';

/** What brings exposures and balances of a proposal to those of the mix, by the frames that both have. */
function between(mix: Mix, proposed: Mix): { stops: number; balance: Triple } {
  const common = Object.keys(mix.frames).filter((id) => Object.hasOwn(proposed.frames, id));
  const median = (of: (id: FrameId) => number): number => quantile(common.map(of), 0.5);
  const gain = (c: 0 | 1 | 2): number => median((id) => mix.frames[id].balance[c] / Math.max(1e-6, proposed.frames[id].balance[c]));
  return { stops: median((id) => mix.frames[id].stops - proposed.frames[id].stops), balance: [gain(0), gain(1), gain(2)] };
}

const clampStops = (v: number): number => Math.max(-12, Math.min(12, v));

/**
 * Offers frames that came after somebody began to work: lined up to the mix's own reference, in its exposures and white
 * balance, each as a muted pass, so that the picture stays what it is.
 * @param proposed an automatic start from all frames, the late ones too, with the mix's own lens and response.
 * @param late frames that the mix does not hold. @returns null where none of them could be lined up, or the two have no frame in common.
 */
export function offerLate(mix: Mix, proposed: Mix, late: readonly FrameId[], nameOf: (id: FrameId) => string): LateOffer | null {
  if (!Object.hasOwn(proposed.frames, mix.reference)) return null;
  const moved = changeReference(proposed, mix.reference);
  const { stops, balance } = between(mix, moved);
  const usable = late.filter((id) => Object.hasOwn(moved.frames, id) && !Object.hasOwn(mix.frames, id));
  if (usable.length === 0) return null;
  const frames = Object.fromEntries(usable.map((id) => {
    const use = moved.frames[id];
    return [id, { ...use, stops: clampStops(use.stops + stops), balance: [use.balance[0] * balance[0], use.balance[1] * balance[1], use.balance[2] * balance[2]] as Triple }];
  }));
  const holds = (id: FrameId): boolean => Object.hasOwn(mix.frames, id) || Object.hasOwn(frames, id);
  const taken = new Set(mix.passes.map((pass) => pass.id));
  const firstTone = mix.passes.findIndex((pass) => pass.kind === 'adjust' && pass.within === null && !pass.tied);
  const passes: { pass: Pass; index: number }[] = [];
  for (const id of usable) {
    const own = moved.passes.filter((pass): pass is SourcePass => 'source' in pass && 'frame' in pass.source && pass.source.frame === id);
    const plain: SourcePass = { id, name: nameOf(id), within: null, why: '', kind: 'light', on: false, opacity: 1, mask: [], exposure: clampStops(-frames[id].stops), balance: [1, 1, 1], source: { kind: 'frame', frame: id }, alignment: null, mode: 'normal', brightness: 1, colour: 1 };
    for (const pass of own.length > 0 ? own : [plain]) {
      const name = `late-${id}`;
      const free = [name, `${name}-2`, `${name}-3`].find((n) => !taken.has(n))!;
      taken.add(free);
      const offered = { ...pass, id: free, on: false, why: pass.why ? `${LATE}. ${pass.why}`.slice(0, 500) : LATE, mask: pass.mask.map((area) => areaWithin(area, holds)) };
      // Light belongs under what tones it; views and insets lie on top.
      const index = pass.kind === 'light' && firstTone >= 0 ? firstTone + passes.filter((p) => p.pass.kind === 'light').length : mix.passes.length + passes.length;
      passes.push({ pass: offered, index });
    }
  }
  return { frames, passes };
}
