import { linearToSrgb } from '@zaddle/core/colour/transfer';
import { estimateStance } from '@zaddle/core/geometry/estimateStance';
import { findStraightEdges } from '@zaddle/core/geometry/findStraightEdges';
import { NO_DISTORTION } from '@zaddle/core/geometry/lens';
import { snapLine } from '@zaddle/core/geometry/snapLine';
import { mapPlane, type Plane } from '@zaddle/core/image/plane';
import type { MixDocument, Point } from '@zaddle/document';
import { fetchProxies } from './fetchProxies';
import type { Asked } from './messages';
import type { Asker } from './placeQuestions';
import { logLuminance } from './measureMix';
import type { Session } from './session';

/** Pixels of the longer side that straight edges are looked for on. */
const SIDE = 1500;

const rounded = ([x, y]: readonly [number, number], k: number): Point => [Math.round(x * k * 1e6) / 1e6, Math.round(y * k * 1e6) / 1e6];

/** Answers questions about what is straight in the reference. */
export function straightQuestions(asker: Pick<Asker, 'session' | 'send'>) {
  /** The reference in grey, 0..255, freed of lens error; kept, since lines are drawn one after the other. */
  let kept: { readonly session: Session; readonly key: string; readonly plane: Plane } | null = null;

  async function greyOf(mix: MixDocument): Promise<Plane | null> {
    const session = asker.session();
    if (!session) return null;
    const key = JSON.stringify([mix.reference, mix.lens, mix.response]);
    if (kept?.session === session && kept.key === key) return kept.plane;
    await fetchProxies([mix.reference].filter((id) => !session.sources.has(id, true)), false, (id, proxy) => session.sources.addProxy(id, proxy, 0));
    if (asker.session() !== session) return null;
    const plane = mapPlane(logLuminance(session, mix, mix.reference, SIDE), (v) => 255 * linearToSrgb(Math.min(1, 2 ** v)));
    kept = { session, key, plane };
    return plane;
  }

  return {
    async stance({ mix, focal, ticket }: Asked<'stance'>): Promise<void> {
      const plane = await greyOf(mix).catch(() => null);
      asker.send({ kind: 'stanceTold', ticket, stance: plane && estimateStance(findStraightEdges(plane), plane, NO_DISTORTION, focal) });
    },
    async snapLine({ mix, line, ticket }: Asked<'snapLine'>): Promise<void> {
      const plane = await greyOf(mix).catch(() => null);
      const side = plane ? Math.max(plane.width, plane.height) : 1;
      const snapped = plane && snapLine(plane, rounded(line.from, side), rounded(line.to, side));
      asker.send({ kind: 'lineSnapped', ticket, line: snapped && { from: rounded(snapped.from, 1 / side), to: rounded(snapped.to, 1 / side) } });
    },
  };
}
