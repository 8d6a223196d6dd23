import { fitWithin, towardsWithin, type Frame } from '@zaddle/core/geometry/cropWithin';
import { straightenByLines } from '@zaddle/core/geometry/straightenByLines';
import type { StanceFound } from '@zaddle/core/geometry/estimateStance';
import { cropOf, frameMix, framingOf, keptCrop, regionOf, shareShown } from '@zaddle/core/mix/frameMix';
import { inOrder, withOwnCrop } from '@zaddle/core/mix/orderMix';
import { focalOf } from '@zaddle/core/propose/proposeFraming';
import { MOST_LINES, type Command, type DrawnLine, type Framing, type MixDocument } from '@zaddle/document';
import type { Frame as ShotFrame } from '../store/api';

/** Ratios that pictures are asked for in, width over height. */
export const RATIOS = [
  ['4:3', 4 / 3], ['3:2', 3 / 2], ['16:9', 16 / 9], ['5:4', 5 / 4], ['4:5', 4 / 5], ['1:1', 1], ['A series', Math.SQRT2],
] as const;

/** How a mix is framed, with the focal length that its reference tells where nothing was framed yet. */
export function framingNow(mix: MixDocument, frames: readonly ShotFrame[]): Framing {
  const framing = framingOf(mix);
  const facts = mix.framing ? null : frames.find((f) => f.id === mix.reference)?.facts;
  return facts ? { ...framing, focal: focalOf(facts) } : framing;
}

/** How a mix is framed for orders of a ratio, or, null, as a picture: what crop and straightening are to be worked on. */
export function framingFor(mix: MixDocument, frames: readonly ShotFrame[], ratio: number | null): Framing {
  const framing = framingNow(mix, frames);
  if (ratio === null) return framing;
  const { ratio: wished, crop } = framingOf(inOrder(mix, { ratio }));
  return { ...framing, ratio: wished, crop };
}

/** The change that frames a mix so; worked on for orders of a ratio, its crop is theirs alone, and straightening is for all. @throws Error where nothing of the picture is left. */
export function framedFor(mix: MixDocument, frames: readonly ShotFrame[], ratio: number | null, next: Framing): Command {
  if (ratio === null) return framedCommand(mix, next);
  const [base, before] = [framingNow(mix, frames), framingFor(mix, frames, ratio)];
  const all = { ...next, ratio: base.ratio, crop: base.crop };
  return framedCommand(mix, JSON.stringify(next.crop) === JSON.stringify(before.crop) ? all : withOwnCrop(mix, all, ratio, next.crop));
}

/** The change that frames a mix so. @throws Error where nothing of the picture is left. */
const framedCommand = (mix: MixDocument, framing: Framing): Command => ({ kind: 'changeMix', changes: frameMix(mix, framing) });

/** What is straightened by what was measured. */
export const WAYS = ['as shot', 'level', 'verticals', 'both'] as const;
export type StraightenWay = (typeof WAYS)[number];

/** A framing straightened by what was measured; null where that was not told. Lines that were drawn are given up. */
export function straightenedBy(framing: Framing, way: StraightenWay, stance: StanceFound | null): Framing | null {
  const plain = { ...framing, roll: 0, pitch: 0, yaw: 0, turn: 0, strength: 1, lines: [] };
  if (way === 'as shot') return plain;
  if (!stance?.plumb || (way === 'both' && stance.yaw === null)) return null;
  const { roll, pitch } = stance.plumb;
  return way === 'level' ? { ...plain, roll } : { ...plain, roll, pitch, yaw: way === 'both' ? stance.yaw! : 0 };
}

/** A framing with one line more, or as it is where there are enough. */
export const withLine = (mix: MixDocument, framing: Framing, line: DrawnLine): Framing =>
  framing.lines.length >= MOST_LINES ? framing : straightenByLines({ ...framing, lines: [...framing.lines, line] }, mix.frames[mix.reference]);

/** A framing without a line; without any, nothing is straightened by lines any more. */
export function withoutLine(mix: MixDocument, framing: Framing, index: number): Framing {
  const lines = framing.lines.filter((_, k) => k !== index);
  return lines.length > 0 ? straightenByLines({ ...framing, roll: 0, pitch: 0, yaw: 0, lines }, mix.frames[mix.reference]) : { ...framing, roll: 0, pitch: 0, yaw: 0, lines };
}

/** A framing in a ratio (null: any): about the middle that it has, with about as much of the picture. */
export function inRatio(mix: MixDocument, framing: Framing, ratio: number | null): Framing {
  if (ratio === null || !framing.crop) return { ...framing, ratio, crop: ratio === null ? keptCrop(mix, framing, cropOf(mix, framing)) : null };
  const { x, y, width, height } = cropOf(mix, framing);
  const area = width * height;
  return { ...framing, ratio, crop: keptCrop(mix, framing, { x, y, width: Math.sqrt(area * ratio), height: Math.sqrt(area / ratio) }) };
}

/** A framing whose crop is moved by pixels of the straightened picture, staying inside. */
export function movedCrop(mix: MixDocument, framing: Framing, dx: number, dy: number): Framing {
  const crop = cropOf(mix, framing);
  return { ...framing, crop: keptCrop(mix, framing, fitWithin(regionOf(mix, framing), { ...crop, x: crop.x + dx, y: crop.y + dy })) };
}

/** A side or a corner of a crop: -1, 0 or 1 across and down. */
export interface Grip {
  readonly across: -1 | 0 | 1;
  readonly down: -1 | 0 | 1;
}
export const GRIPS: readonly Grip[] = ([-1, 0, 1] as const).flatMap((down) => ([-1, 0, 1] as const).map((across) => ({ across, down }))).filter(({ across, down }) => across !== 0 || down !== 0);

/** Pixels that a crop keeps at least. */
const LEAST = 60;

/** A rectangle whose grip was dragged; what lies opposite stays, and so does the ratio, where one is kept. */
function resized({ x, y, width, height }: Frame, { across, down }: Grip, dx: number, dy: number, ratio: number | null): Frame {
  let [w, h] = [Math.max(LEAST, width + across * dx), Math.max(LEAST, height + down * dy)];
  if (ratio !== null) {
    // At a corner the pull along the diagonal counts; at a side the other measure follows about the middle.
    const along = across !== 0 && down !== 0 ? (across * dx * width + down * dy * height) / (width * width + height * height) : across !== 0 ? w / width - 1 : h / height - 1;
    const factor = Math.max(LEAST / Math.min(width, height), 1 + along);
    [w, h] = [width * factor, width * factor / ratio];
  }
  return { x: x + (across * (w - width)) / 2, y: y + (down * (h - height)) / 2, width: w, height: h };
}

/** A framing whose crop was dragged at a grip by pixels of the straightened picture, as far as it stays inside. */
export function draggedCrop(mix: MixDocument, framing: Framing, grip: Grip, dx: number, dy: number): Framing {
  const crop = cropOf(mix, framing);
  return { ...framing, crop: keptCrop(mix, framing, towardsWithin(regionOf(mix, framing), crop, resized(crop, grip, dx, dy, framing.ratio))) };
}

/** A framing whose crop is larger by a factor about its middle, as far as it stays inside. */
export function grownCrop(mix: MixDocument, framing: Framing, factor: number): Framing {
  const crop = cropOf(mix, framing);
  const wish = { ...crop, width: Math.max(LEAST, crop.width * factor), height: Math.max(LEAST, crop.height * factor) };
  return { ...framing, crop: keptCrop(mix, framing, factor < 1 ? wish : fitWithin(regionOf(mix, framing), wish)) };
}

/** What the crop costs, in words. */
export function costWords(mix: MixDocument): string {
  const share = shareShown(mix);
  return `${mix.width} × ${mix.height}, ${((mix.width * mix.height) / 1e6).toFixed(1)} MP: ${share < 0.995 ? `${(100 * share).toFixed(0)} % of the frame` : 'all of the frame'}`;
}

/** What was measured, in words. */
export function stanceWords(stance: StanceFound): string {
  if (!stance.plumb) return 'Too little is vertical here to tell. Draw lines on what is straight.';
  const { roll, pitch } = stance.plumb;
  const part = (value: number, one: string, other: string, none: string): string => (Math.abs(value) < 0.05 ? none : `${value > 0 ? one : other} by ${Math.abs(value).toFixed(1)}°`);
  const wall = stance.yaw === null ? '' : ` The wall is faced ${Math.abs(stance.yaw).toFixed(1)}° from the ${stance.yaw > 0 ? 'left' : 'right'}.`;
  return `The camera looked ${part(pitch, 'up', 'down', 'straight ahead')} and hung ${part(roll, 'to the right', 'to the left', 'level')}: ${stance.verticals} vertical edges agree.${wall}`;
}
