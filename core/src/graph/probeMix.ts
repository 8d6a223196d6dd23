import type { FrameId, Triple } from '@zaddle/document';
import type { Homography } from '../geometry/homography';
import { displayLight } from '../finish/toneCurve';
import { applyMatrix, WORKING_TO_SRGB } from '../colour/primaries';
import { linearToSrgb } from '../colour/transfer';
import { Arena } from '../kernels/arena';
import type { Tools } from '../kernels/tools';
import { placeMix } from './placeMix';
import { placedBytes, type PlacedSource } from './placedMix';
import { withoutPass, type PreparedMix, type PreparedPass } from './prepareMix';
import { RowRenderer, type LightRow } from './rowRenderer';

/** Pixels of the patch that is looked at, each way. */
const PATCH = 5;

/** What is known of a place of the picture. */
export interface Probe {
  /** Working light of the picture there. */
  readonly light: Triple;
  /** The same as it is delivered, 0..255. */
  readonly delivered: Triple;
  /** Working light below a pass, and what the pass itself brings; null where it is not to be seen, or brings none. */
  readonly below: Triple | null;
  readonly own: Triple | null;
  /** What would be otherwise without each pass, as shares of all of that; from the largest on. What holds nothing of the place is left out. */
  readonly shares: readonly { readonly pass: string; readonly share: number }[];
}

export const deliveredOf = (light: Triple): Triple => displayLight(applyMatrix(WORKING_TO_SRGB, light)).map((v) => 255 * linearToSrgb(v)) as unknown as Triple;

/**
 * Looks at a few pixels about one place of the picture: its light, and which passes it comes from.
 * @param at output pixel at full size. @param scale pixels of the patch to one of the picture. @param pass whose light is told
 */
export function probeMix({ kernels, arena }: Tools, prepared: PreparedMix, sources: ReadonlyMap<FrameId, PlacedSource>, at: readonly [number, number], scale: number, pass: string | null): Probe {
  const toOutput: Homography = [1 / scale, 0, at[0] - (PATCH - 1) / 2 / scale, 0, 1 / scale, at[1] - (PATCH - 1) / 2 / scale, 0, 0, 1];
  const mean = (passes: readonly PreparedPass[], row: (renderer: RowRenderer, y: number) => LightRow | null): Triple | null => {
    const mark = arena.mark();
    const placed = placeMix({ ...prepared, passes }, sources, { width: PATCH, height: PATCH, toOutput }, arena);
    const bytes = placedBytes(placed);
    const start = arena.take(bytes);
    const renderer = new RowRenderer(kernels, new Arena(arena.buffer, start, start + bytes), placed);
    const sum: [number, number, number] = [0, 0, 0];
    let any = false;
    for (let y = 0; y < PATCH; y++) {
      const light = row(renderer, y);
      if (!light) break;
      any = true;
      for (let c = 0; c < 3; c++) for (const v of arena.floats(light.at + light.plane * c, PATCH)) sum[c] += v / PATCH ** 2;
    }
    arena.release(mark);
    return any ? sum : null;
  };
  const { passes } = prepared;
  const light = mean(passes, (renderer, y) => renderer.renderRow(y)) ?? [0, 0, 0];
  const delivered = deliveredOf(light);
  const changes = passes.map((each, index) => {
    const rest = deliveredOf(mean(withoutPass(passes, index), (renderer, y) => renderer.renderRow(y)) ?? [0, 0, 0]);
    return { pass: each.pass.id, change: Math.hypot(...rest.map((v, c) => v - delivered[c])) };
  });
  const total = changes.reduce((sum, { change }) => sum + change, 0);
  const shares = changes.filter(({ change }) => change > 0.5).map((each) => ({ pass: each.pass, share: each.change / total })).sort((a, b) => b.share - a.share);
  const index = passes.findIndex((each) => each.pass.id === pass);
  return {
    light, delivered, shares,
    below: index < 0 ? null : mean(passes, (renderer, y) => renderer.renderRow(y, index)),
    own: index < 0 ? null : mean(passes, (renderer, y) => renderer.ownRow(index, y)),
  };
}
