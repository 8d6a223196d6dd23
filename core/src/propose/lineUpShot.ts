import { alignmentReference, chain, lineUp, type Alignment } from '../align/lineUp';
import { greyPyramid, type GreyPyramid } from '../align/structure';
import { estimateLens } from '../geometry/estimateLens';
import { compose, IDENTITY, rescale, type Homography } from '../geometry/homography';
import { NO_LENS, type Lens } from '../geometry/lens';
import { exposureStops, type FrameFacts } from '../intake/frameFacts';
import type { Pixels } from '../image/plane';
import type { AddedLight } from './addedLight';
import { flashFired } from './guessRoles';

/** A frame of a shot with its proxy. */
export interface ShotFrame {
  readonly facts: FrameFacts;
  readonly proxy: Pixels;
}

/** How one frame lies on the reference, or why it could not be told. */
export type LinedUp =
  | { readonly ok: true; readonly homography: Homography; readonly residualPx: number }
  | { readonly ok: false; readonly why: string };

/** Residual, in full-size pixels of a 1500-pixel picture, above which a frame is not used unasked. */
const LIMIT = 1.5;

/** Share of a proxy that is neither black nor clipped. */
function wellExposed({ data }: Pixels): number {
  let good = 0;
  for (let i = 1; i < data.length; i += 30) if (data[i] > 20 && data[i] < 235) good++;
  return good / (data.length / 30);
}

/** The frame that others are lined up to: the best exposed ambient one, a bracket's middle rather than its ends. */
export function chooseReference(frames: readonly ShotFrame[], added: ReadonlyMap<string, AddedLight>): string {
  const own = frames.filter((f) => f.facts.twinOf === null);
  const ambient = own.filter((f) => !flashFired(f.facts, added.get(f.facts.id)));
  const pool = ambient.length > 0 ? ambient : own;
  const stops = pool.map((f) => exposureStops(f.facts) ?? 0).sort((a, b) => a - b);
  const middle = stops[stops.length >> 1];
  const score = (f: ShotFrame): number => wellExposed(f.proxy) - 0.06 * Math.abs((exposureStops(f.facts) ?? 0) - middle);
  return pool.reduce((best, f) => (score(f) > score(best) + 1e-9 ? f : best)).facts.id;
}

/** Lines one frame up, directly or by way of frames that are lined up already. */
function alignOne(reference: ReturnType<typeof alignmentReference>, pyramid: GreyPyramid, done: ReadonlyMap<string, { alignment: Alignment; pyramid: GreyPyramid }>, lens: Lens): Alignment | null {
  const direct = lineUp(reference, pyramid, lens);
  if (direct && direct.residual < 0.4 && direct.inliers >= 60) return direct;
  let best = direct;
  for (const via of done.values()) {
    if (via.alignment.residual > 0.4) continue;
    const step = lineUp(alignmentReference(via.pyramid), pyramid, lens);
    if (!step || step.inliers < 40) continue;
    const whole = chain(via.alignment, step);
    if (!best || whole.residual < 0.7 * best.residual) best = whole;
    if (best.residual < 0.3) break;
  }
  return best;
}

export interface ShotLineUp {
  readonly reference: string;
  readonly lens: Lens;
  readonly frames: ReadonlyMap<string, LinedUp>;
}

/**
 * Lines all frames of a shot up with a reference and finds the lens error that they share.
 * @param withLens false leaves the pictures as stored: homographies then relate stored pixels.
 */
export function lineUpShot(frames: readonly ShotFrame[], withLens: boolean, reference: string): ShotLineUp {
  const pyramids = new Map(frames.filter((f) => f.facts.twinOf === null).map((f) => [f.facts.id, greyPyramid(f.proxy)]));
  const base = frames.find((f) => f.facts.id === reference)!;
  const target = alignmentReference(pyramids.get(reference)!);
  const others = [...pyramids.keys()].filter((id) => id !== reference);
  let lens = NO_LENS;
  const first = new Map<string, Alignment>();
  if (withLens) {
    for (const id of others) {
      const alignment = lineUp(target, pyramids.get(id)!, NO_LENS);
      if (alignment) first.set(id, alignment);
    }
    lens = estimateLens([...first.values()].map((a) => a.matches), base.proxy.width, base.proxy.height);
  }
  const done = new Map<string, { alignment: Alignment; pyramid: GreyPyramid }>();
  const out = new Map<string, LinedUp>([[reference, { ok: true, homography: IDENTITY, residualPx: 0 }]]);
  for (const id of others) {
    const pyramid = pyramids.get(id)!;
    const known = first.get(id);
    const reusable = lens === NO_LENS && known && known.residual < 0.4 && known.inliers >= 60;
    const alignment = reusable ? known : alignOne(target, pyramid, done, lens);
    if (alignment) done.set(id, { alignment, pyramid });
    const frame = frames.find((f) => f.facts.id === id)!;
    out.set(id, verdict(alignment, base, frame));
  }
  return { reference, lens, frames: out };
}

/** From proxy pixels to full size, and whether the result may be used unasked. */
function verdict(alignment: Alignment | null, base: ShotFrame, frame: ShotFrame): LinedUp {
  if (!alignment) return { ok: false, why: 'could not be lined up: too little in common with the reference' };
  const up = rescale(frame.proxy.width, frame.proxy.height, frame.facts.width, frame.facts.height);
  const down = rescale(base.facts.width, base.facts.height, base.proxy.width, base.proxy.height);
  const residualPx = (alignment.residual * frame.facts.width) / frame.proxy.width;
  if (alignment.residual > LIMIT) return { ok: false, why: `could not be lined up safely: off by about ${residualPx.toFixed(1)} px` };
  return { ok: true, homography: compose(up, compose(alignment.homography, down)), residualPx };
}
