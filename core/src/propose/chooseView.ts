import type { FrameId } from '@zaddle/document';
import { inverseToneCurve } from '../finish/toneCurve';
import type { Analysis } from './analyseShot';
import { viewQuality, type ViewQuality } from './guessRoles';

/** Median and high tones of a view that reads as day, linear display light: its middle as bright as the light walls of most rooms; what is brighter keeps room below white, for contrast that comes after. */
const VIEW_MIDDLE = 0.62;
const VIEW_HIGH = 0.93;
/** Share clipped from which on its white stays one, and what that is, linear display light: darker, a blown sky would be a grey one. */
const CLIPPED_VIEW = 0.08;
const VIEW_WHITE = 0.8;
/** Stops between middle and high tones of a view up to which it is nothing but sky, which is to be as bright as white, and from which on it is none. */
const ALL_SKY = 0.12;
const NO_SKY = 0.45;
/** A source of the view: its best median; how many stops off it are as good by two thirds; and how much a clipped part of it costs: no fader brings back a sky. */
const VIEW_EXPOSED = 0.35;
const VIEW_LATITUDE = 2;
const CLIPPING_TELLS = 8;

/** How many times as good a frame must be for one window as that which shows all glass best: windows of one frame look alike. */
const BETTER = 1.15;
/** Share of a window that another frame must have clipped, or mirroring a flash, more than its own for that to be why. */
const MORE = 0.02;
/** Stops by which a frame is exposed longer than another one to be clipped for that: else it is what glass mirrors that is clipped. */
const LONGER = 0.5;
/** Stops by which the view in one window may lie off what would be best for it alone: what lies outside of two windows is one place, and one light. */
const OFF_ITS_BEST = 1;

/** Where the view through some glass is taken from. */
export interface ChosenView {
  readonly frame: FrameId;
  /** Of its pass, stops. */
  readonly exposure: number;
  readonly quality: ViewQuality;
  readonly why: string;
}

type Seen = Pick<Analysis, 'guides' | 'findings' | 'mix'>;

/** How well each frame shows what is seen at some places. */
export function viewQualities({ guides, findings, mix }: Seen, places: Int32Array): Map<FrameId, ViewQuality> {
  return new Map([...guides.frames].map(([id, guide]) => [id, viewQuality(guide, places, findings.own(), mix.frames[id].stops)]));
}

function scoreOf({ usable, glare, median }: ViewQuality): number {
  const off = Math.log2(Math.max(1e-4, median) / VIEW_EXPOSED);
  return usable ** CLIPPING_TELLS * (1 - glare) ** 3 * Math.exp(-(off * off) / (2 * VIEW_LATITUDE ** 2));
}

/** Exposure, in stops, at which a frame's view is readable, and what is clipped in it stays bright. */
export function viewExposure({ usable, median, high }: Pick<ViewQuality, 'usable' | 'median' | 'high'>): number {
  const plain = Math.min(1, Math.max(0, (NO_SKY - Math.log2(high / Math.max(1e-4, median))) / (NO_SKY - ALL_SKY)));
  const middle = VIEW_MIDDLE + plain * (VIEW_WHITE - VIEW_MIDDLE);
  const wished = Math.log2(Math.min(inverseToneCurve(middle) / Math.max(0.01, median), inverseToneCurve(VIEW_HIGH) / Math.max(0.01, high)));
  return 1 - usable > CLIPPED_VIEW ? Math.max(wished, Math.log2(inverseToneCurve(VIEW_WHITE))) : wished;
}

const against = (stops: number): string => (Math.abs(stops) < 0.05 ? 'as bright as the reference' : `${Math.abs(stops).toFixed(1)} stops ${stops < 0 ? 'darker' : 'brighter'} than the reference`);
const inWords = ({ usable, glare }: ViewQuality): string => `${Math.round(usable * 100)} % of the glass unclipped, ${glare < MORE ? 'no flash mirrored in it' : `${Math.round(100 * glare)} % of it with light that is mirrored`}`;

/** The view through all glass: the frame that has it best, and what makes it readable. */
export function chooseView(seen: Seen, qualities: ReadonlyMap<FrameId, ViewQuality>): ChosenView {
  const frame = [...qualities.keys()].reduce((best, id) => (scoreOf(qualities.get(id)!) > scoreOf(qualities.get(best)!) ? id : best));
  const quality = qualities.get(frame)!;
  const why = `the outside as this frame has it: ${against(seen.mix.frames[frame].stops)}, ${inWords(quality)}`;
  return { frame, quality, why, exposure: viewExposure(quality) };
}

/**
 * The view through one window of several: from the frame that has all of them best, unless another has this one clearly better, and as
 * bright as that makes it, unless it would not be readable.
 * @param qualities of what is seen through this window. @param all what is chosen for all glass
 */
export function chooseWindow(seen: Seen, qualities: ReadonlyMap<FrameId, ViewQuality>, all: ChosenView): ChosenView {
  const { frames } = seen.mix;
  const own = chooseView(seen, qualities);
  const shared = qualities.get(all.frame)!;
  const isOwn = own.frame !== all.frame && scoreOf(own.quality) > BETTER * scoreOf(shared);
  const [frame, quality] = isOwn ? [own.frame, own.quality] : [all.frame, shared];
  const alike = all.exposure + frames[all.frame].stops - frames[frame].stops;
  const best = viewExposure(quality);
  const exposure = Math.min(best + OFF_ITS_BEST, Math.max(best - OFF_ITS_BEST, alike));
  const shows = `${against(frames[frame].stops)}, ${inWords(quality)}`;
  const [isClipped, isLonger] = [shared.usable < quality.usable - MORE, frames[all.frame].stops > frames[frame].stops + LONGER];
  const instead = isClipped && isLonger ? 'is clipped here' : isClipped || shared.glare > quality.glare + MORE ? 'mirrors a flash here' : 'has it worse exposed here';
  const told = isOwn ? `from a frame of its own, since that of the other windows ${instead}: ${shows}` : shows;
  return { frame, quality, exposure, why: exposure === alike ? told : `${told}; ${Math.abs(exposure - alike).toFixed(1)} stops ${exposure > alike ? 'brighter' : 'darker'} than the others would make it` };
}
