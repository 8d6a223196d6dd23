import type { Area, FillPass, FrameId, Pass, SourcePass } from '@zaddle/document';
import { inverseToneCurve } from '../finish/toneCurve';
import type { Analysis } from './analyseShot';
import { clearedView } from './clearedView';
import { glassMask } from './glassMask';
import { viewQuality, type ViewQuality } from './guessRoles';
import { newPass, sourcePass } from './newPass';
import { VIEWS_BUNDLE } from './starts';

/** Median and high tones of a view that reads as day, linear display light: its middle as bright as the light walls of most rooms; what is brighter keeps room below white, for contrast that comes after. */
const VIEW_MIDDLE = 0.62;
const VIEW_HIGH = 0.93;
/** Share of a view that must be unclipped to be shown at all; share clipped from which on its white stays one, and what that is, linear display light: darker, a blown sky would be a grey one. */
const LEAST_VIEW = 0.2;
const CLIPPED_VIEW = 0.08;
const VIEW_WHITE = 0.8;
/** Stops between middle and high tones of a view up to which it is nothing but sky, which is to be as bright as white, and from which on it is none. */
const ALL_SKY = 0.12;
const NO_SKY = 0.45;
/** A source of the view: its best median; how many stops off it are as good by two thirds; and how much a clipped part of it costs: no fader brings back a sky. */
const VIEW_EXPOSED = 0.35;
const VIEW_LATITUDE = 2;
const CLIPPING_TELLS = 8;

const qualityOf = ({ guides, findings, mix }: Pick<Analysis, 'guides' | 'findings' | 'mix'>, id: FrameId): ViewQuality => viewQuality(guides.frames.get(id)!, findings.panePlaces(), findings.own(), mix.frames[id].stops);

/** The frame whose luminance separates glass from joinery best: the largest step across the glass's edge. */
function edgeFrame({ guides, findings }: Analysis): FrameId | null {
  const glass = findings.pane();
  const { width } = glass;
  const inner: number[] = [];
  const outer: number[] = [];
  for (let i = 4 * width; i < glass.data.length - 4 * width; i++) {
    for (const by of [1, width]) {
      if (glass.data[i] > 0.5 === glass.data[i + by] > 0.5) continue;
      const isInside = glass.data[i] > 0.5;
      inner.push(isInside ? i - 2 * by : i + 3 * by);
      outer.push(isInside ? i + 3 * by : i - 2 * by);
    }
  }
  let best: FrameId | null = null;
  let bestStep = 0;
  for (const [id, { light }] of guides.frames) {
    const log = (i: number): number => Math.log2(Math.max(1 / 4096, 0.2627 * light.r[i] + 0.678 * light.g[i] + 0.0593 * light.b[i]));
    const step = inner.reduce((sum, i, k) => sum + log(i) - log(outer[k]), 0);
    if (step > bestStep) {
      bestStep = step;
      best = id;
    }
  }
  return best;
}

/** How far joinery is carried in beyond the edge of the glass, in longer sides of the reference: what a lens mixes of the two there. */
const MIXED_RIM = 0.0015;
/** How far under the view: more than its own edge is soft. Further in, the room's light stays, for when the view is muted or let through. */
const UNDER_VIEW = 0.003;

/** Joinery under the edge of the view: the room's light behind the glass, far brighter, would shine round it. */
function joineryPass(view: Pass): FillPass {
  const rim = (id: string, join: Area['join'], grow: number): Area => ({ id, kind: 'same', join, inverted: false, pass: view.id, border: { grow, soften: 0, snap: null } });
  const mask = [rim('about-view', 'add', MIXED_RIM), rim('within-view', 'subtract', -UNDER_VIEW)];
  return { ...newPass('joinery'), kind: 'fill', name: 'Joinery', why: 'frames and bars carried in under the edge of the view, so that no bright line shows round it', mask, mode: 'normal', brightness: 1, colour: 1, tone: [0.5, 0.5, 0.5], ramp: null, around: true };
}

/** Share of the glass that a frame has unclipped to show the view, too, and to show some of it. */
const SHOWS_VIEW = 0.9;
const SHOWS_SOME = 0.3;

/** Exposure, in stops, at which a frame's view is readable, and what is clipped in it stays bright. */
export function viewExposure({ usable, median, high }: Pick<ViewQuality, 'usable' | 'median' | 'high'>): number {
  const plain = Math.min(1, Math.max(0, (NO_SKY - Math.log2(high / Math.max(1e-4, median))) / (NO_SKY - ALL_SKY)));
  const middle = VIEW_MIDDLE + plain * (VIEW_WHITE - VIEW_MIDDLE);
  const wished = Math.log2(Math.min(inverseToneCurve(middle) / Math.max(0.01, median), inverseToneCurve(VIEW_HIGH) / Math.max(0.01, high)));
  return 1 - usable > CLIPPED_VIEW ? Math.max(wished, Math.log2(inverseToneCurve(VIEW_WHITE))) : wished;
}

/** The pass for the view outside, from the frame that has it best. */
function viewPass(analysis: Analysis): SourcePass | null {
  const { guides, findings, mix } = analysis;
  const glass = findings.pane();
  if (glass.data.every((v) => v === 0)) return null;
  const qualities = new Map([...guides.frames.keys()].map((id) => [id, qualityOf(analysis, id)]));
  const score = (id: FrameId): number => {
    const { usable, glare, median } = qualities.get(id)!;
    const off = Math.log2(Math.max(1e-4, median) / VIEW_EXPOSED);
    return usable ** CLIPPING_TELLS * (1 - glare) ** 3 * Math.exp(-(off * off) / (2 * VIEW_LATITUDE ** 2));
  };
  const frame = [...guides.frames.keys()].reduce((best, id) => (score(id) > score(best) ? id : best));
  const quality = qualities.get(frame)!;
  if (quality.usable < LEAST_VIEW) return null;
  const edge = edgeFrame(analysis) ?? frame;
  const darker = -mix.frames[frame].stops;
  return sourcePass('view', 'view', { kind: 'frame', frame }, {
    name: 'View',
    why: `the outside as this frame has it: ${darker.toFixed(1)} stops darker than the reference, ${Math.round(quality.usable * 100)} % of the glass unclipped`,
    exposure: viewExposure(quality),
    mask: glassMask(analysis, edge),
  });
}

/**
 * The view, and over it, where the glass mirrors the room, another frame in which it does not: of the two the darker is the
 * view itself. Both are one thing to a person, so a bundle holds them.
 */
function withClearedView({ guides, findings, mix }: Analysis, view: SourcePass): readonly Pass[] {
  const { frame } = view.source as { readonly frame: FrameId };
  const exposures = Object.fromEntries([...guides.frames.keys()].map((id) => [id, mix.frames[id].stops]));
  const others = [...guides.frames.keys()].filter((id) => id !== frame).map((id) => ({ id, usable: qualityOf({ guides, findings, mix }, id).usable }));
  const cleared = clearedView(guides, exposures, findings.own(), findings.pane(), frame, others.filter(({ usable }) => usable > SHOWS_VIEW).map(({ id }) => id), others.filter(({ usable }) => usable <= SHOWS_VIEW && usable > SHOWS_SOME).map(({ id }) => id));
  if (!cleared) return [view];
  const why = `${Math.round(100 * cleared.share)} % of the glass mirrors the room in the other frame: here it does not`;
  const mask: Area[] = [{ id: 'the-view', kind: 'same', join: 'add', inverted: false, pass: view.id }, cleared.area];
  const exposure = view.exposure + mix.frames[frame].stops - mix.frames[cleared.frame].stops;
  const over = sourcePass('view-cleared', 'view', { kind: 'frame', frame: cleared.frame }, { name: 'View, clear glass', why, exposure, mode: 'darken', mask });
  return [{ ...view, within: VIEWS_BUNDLE }, { ...over, within: VIEWS_BUNDLE }, { ...newPass(VIEWS_BUNDLE), kind: 'bundle', name: 'View from two frames', why: 'where the glass mirrors the room in one frame, the other has the view; its exposure is that of both', mode: 'normal', brightness: 1, colour: 1 }];
}

/** Passes for what is seen through glass, with the joinery carried in under its edge; none where no frame has it. */
export function viewPasses(analysis: Analysis): readonly Pass[] {
  const view = viewPass(analysis);
  return view ? [joineryPass(view), ...withClearedView(analysis, view)] : [];
}
