import type { FrameId, Pass } from '@zaddle/document';
import type { Glare } from '../found/findGlare';
import type { Plane } from '../image/plane';
import type { Proposal } from '../propose/proposeMix';

/** Share of a flash's light in a place from which on the picture shows what that has there. */
const SHOWS = 0.04;

/** How much the picture takes of a frame at each place by a pass; 'all' where nothing tells, none where nothing. What an inset takes was chosen because it is clean there. */
function takenBy({ findings }: Proposal, pass: Pass): Plane | 'all' | null {
  if (pass.kind === 'view') return findings.pane();
  if (pass.kind !== 'light') return null;
  for (const area of pass.mask) if (area.kind === 'found' && area.what === 'lit') return findings.share(area.frame, area.among);
  return 'all';
}

/** What the picture of a proposal takes of a frame, pass by pass. */
const shares = (proposal: Proposal, frame: FrameId): (Plane | 'all')[] => proposal.mix.passes.flatMap((pass) => (pass.on && 'source' in pass && pass.source.kind === 'frame' && pass.source.frame === frame ? (takenBy(proposal, pass) ?? []) : []));

/** Those of some places of half-guide pixels where the picture of a proposal takes something of a flash frame: where others light a place, it may take nothing of it. */
export function shownPlaces(proposal: Proposal, frame: FrameId, places: readonly (readonly number[])[]): readonly (readonly number[])[] {
  const { width } = proposal.guides;
  const half = width >> 1;
  const taken = shares(proposal, frame);
  return places.filter((pixels) => taken.some((of) => of === 'all' || pixels.reduce((sum, i) => sum + of.data[2 * Math.floor(i / half) * width + 2 * (i % half)], 0) > SHOWS * pixels.length));
}

/** Flash heads and their mirror images that the picture of a proposal shows. */
export function shownGlare(proposal: Proposal, flashes: readonly FrameId[]): Glare[] {
  const [half, height] = [proposal.guides.width >> 1, proposal.guides.height >> 1];
  return proposal.findings.glareAmong(flashes).flatMap((glare): Glare[] => {
    const shown = shownPlaces(proposal, glare.frame, glare.places);
    if (shown.length === 0) return [];
    const [largest] = shown;
    const middle = (of: (i: number) => number): number => (2 * largest.reduce((sum, i) => sum + of(i), 0)) / largest.length;
    const share = shown.reduce((sum, { length }) => sum + length, 0) / (half * height);
    return [{ frame: glare.frame, count: shown.length, share, where: [middle((i) => i % half), middle((i) => Math.floor(i / half))], places: shown }];
  }).sort((a, b) => b.share - a.share);
}
