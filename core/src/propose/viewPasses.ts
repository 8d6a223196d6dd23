import type { Area, FillPass, FrameId, Pass, SourcePass, Triple } from '@zaddle/document';
import { createPlane, quantile, type Plane } from '../image/plane';
import { mayHaveFlash } from '../intake/frameFacts';
import { windowsOf } from '../window/windowsOf';
import { levelled, type Analysis } from './analyseShot';
import { chooseView, chooseWindow, viewQualities, type ChosenView } from './chooseView';
import { clearedView } from './clearedView';
import { glassMask, PANES } from './glassMask';
import type { ViewQuality } from './guessRoles';
import { times } from './gains';
import { matchBalance } from './matchBalance';
import { newPass, sourcePass } from './newPass';
import { VIEWS_BUNDLE } from './starts';
import { windowNames } from './windowNames';

/** Largest encoded value, 0..1, that is not clipped. */
const UNCLIPPED = 0.95;
/** Share of a view that must be unclipped to be shown at all. */
const LEAST_VIEW = 0.2;

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

/** Joinery under the edges of views: the room's light behind the glass, far brighter, would shine round them. */
function joineryPass(views: readonly Pass[]): FillPass {
  const rims = (id: string, join: Area['join'], grow: number): Area[] => views.map((view, k) => ({ id: k === 0 ? id : `${id}-${k + 1}`, kind: 'same', join, inverted: false, pass: view.id, border: { grow, soften: 0, snap: null } }));
  const mask = [...rims('about-view', 'add', MIXED_RIM), ...rims('within-view', 'subtract', -UNDER_VIEW)];
  return { ...newPass('joinery'), kind: 'fill', name: 'Joinery', why: 'frames and bars carried in under the edge of the view, so that no bright line shows round it', mask, mode: 'normal', brightness: 1, colour: 1, tone: [0.5, 0.5, 0.5], ramp: null, around: true };
}

/** Share of the glass that a frame has unclipped to show the view, too, and to show some of it. */
const SHOWS_VIEW = 0.9;
const SHOWS_SOME = 0.3;

/** Some glass that a view is seen through. */
interface Outlook {
  /** Its pass. */
  readonly id: string;
  readonly name: string;
  /** 0 or 1 on the guide. */
  readonly glass: Plane;
  readonly mask: readonly Area[];
  readonly qualities: ReadonlyMap<FrameId, ViewQuality>;
  readonly chosen: ChosenView;
}

/**
 * The balance of a view under the flashes' white, by what of it frames of theirs show behind all of the glass: the camera's white may have
 * wandered from frame to frame, but it is one for all windows. No change where no flash tells.
 */
function balanceOf({ guides, findings }: Analysis, frame: FrameId, pops: readonly SourcePass[]): Triple {
  const glass = findings.pane();
  const { light, top } = guides.frames.get(frame)!;
  const told = pops.flatMap(({ source, balance }): Triple[] => {
    const other = (source as { readonly frame: FrameId }).frame;
    if (other === frame) return [balance];
    const guide = guides.frames.get(other)!;
    const match = matchBalance(light, guide.light, (i) => glass.data[i] > 0.5 && top.data[i] < UNCLIPPED && guide.top.data[i] < UNCLIPPED);
    return match ? [times(levelled(match), balance)] : [];
  });
  const middle = (c: 0 | 1 | 2): number => quantile(told.map((gains) => gains[c]), 0.5);
  return told.length === 0 ? [1, 1, 1] : levelled([middle(0), middle(1), middle(2)]);
}

/** The pass for what is seen through some glass; over it, where that mirrors the room, another one by a frame in which it does not: of the two the darker is the view itself. */
function passesOf(analysis: Analysis, { id, name, glass, mask, qualities, chosen: { frame, exposure, why } }: Outlook, pops: readonly SourcePass[]): SourcePass[] {
  const { guides, findings, mix, roles } = analysis;
  const view = sourcePass(id, 'view', { kind: 'frame', frame }, { name, why, exposure, mask, balance: balanceOf(analysis, frame, pops) });
  const exposures = Object.fromEntries([...guides.frames.keys()].map((each) => [each, mix.frames[each].stops]));
  const others = [...qualities].filter(([each]) => each !== frame);
  const having = (from: number, to: number): FrameId[] => others.filter(([, { usable }]) => usable > from && usable <= to).map(([each]) => each);
  const cleared = clearedView(guides, exposures, findings.own(), glass, frame, mayHaveFlash(roles.get(frame)!.role), having(SHOWS_VIEW, 1), having(SHOWS_SOME, SHOWS_VIEW));
  if (!cleared) return [view];
  const over = sourcePass(`${id}-cleared`, 'view', { kind: 'frame', frame: cleared.frame }, {
    name: `${name}, clear glass`, why: `${cleared.share < 0.01 ? 'some' : `${Math.round(100 * cleared.share)} %`} of the glass mirrors the room, or a flash, in the other frame: here it does not`,
    exposure: exposure + exposures[frame] - exposures[cleared.frame] - cleared.brighter, mode: 'darken', balance: balanceOf(analysis, cleared.frame, pops),
    mask: [{ id: 'the-view', kind: 'same', join: 'add', inverted: false, pass: id }, cleared.area],
  });
  return [view, over];
}

/** The glass of a picture, each window by itself where there are several; none where no frame has the view. */
function outlooks(analysis: Analysis): Outlook[] {
  const { findings, guides } = analysis;
  const { plane, panes } = findings.panes();
  if (plane.data.every((v) => v === 0)) return [];
  const qualities = viewQualities(analysis, findings.panePlaces());
  const all = chooseView(analysis, qualities);
  if (all.quality.usable < LEAST_VIEW) return [];
  const edge = edgeFrame(analysis) ?? all.frame;
  const mask = glassMask(analysis, edge, panes);
  const windows = mask[0].id === PANES ? windowsOf({ plane, panes }) : [];
  if (windows.length < 2) return [{ id: 'view', name: 'View', glass: plane, mask, qualities, chosen: all }];
  const names = windowNames(windows.map(({ panes: its }) => its));
  return windows.map((window, k): Outlook => {
    const glass = createPlane(guides.width, guides.height);
    for (const i of window.places) glass.data[i] = 1;
    const own = viewQualities(analysis, window.places);
    return { id: k === 0 ? 'view' : `view-${k + 1}`, name: `View, ${names[k]}`, glass, mask: glassMask(analysis, edge, window.panes), qualities: own, chosen: chooseWindow(analysis, own, all) };
  });
}

/** Passes for what is seen through glass, each window by itself, with the joinery carried in under its edge; none where no frame has it. What takes several is one thing to a person, so a bundle holds them. */
export function viewPasses(analysis: Analysis, pops: readonly SourcePass[]): readonly Pass[] {
  const seen = outlooks(analysis);
  if (seen.length === 0) return [];
  const passes = seen.map((outlook) => passesOf(analysis, outlook, pops));
  const joinery = joineryPass(passes.map(([view]) => view));
  const all = passes.flat();
  if (all.length === 1) return [joinery, ...all];
  const [name, why] = seen.length > 1 ? ['Views', 'each window by itself; the exposure of this bundle is that of all'] : ['View from two frames', 'where the glass mirrors the room in one frame, the other has the view; its exposure is that of both'];
  return [joinery, ...all.map((pass) => ({ ...pass, within: VIEWS_BUNDLE })), { ...newPass(VIEWS_BUNDLE), kind: 'bundle', name, why, mode: 'normal', brightness: 1, colour: 1 }];
}
