import { applyMatrix, linearSrgbToLab, WORKING_TO_SRGB } from '../colour/primaries';
import { estimateNeutral } from '../colour/estimateNeutral';
import { displayLight } from '../finish/toneCurve';
import { luminance, mapPlane, quantile, type Light, type Plane } from '../image/plane';
import type { SeenView } from '../graph/viewMasks';
import { grade } from './grade';
import type { Reading } from './readings';

/** Displayed value from which a channel is white. */
const WHITE = 0.995;
/** Working light below which no channel can be displayed as white. */
const SURELY_BELOW = 0.55;
/** Stops by which a view may lie below the room's middle, and above it. */
const VIEW_BELOW = -0.5;
const VIEW_ABOVE = 2.2;
/** Guide pixels of glass from which there is a view to speak of. */
const LEAST_GLASS = 300;

/** Share of the picture that the display curve leaves at white, in per cent. */
function clippedReading(picture: Light, scale: number): Reading {
  let [clipped, sumX, sumY] = [0, 0, 0];
  for (let i = 0; i < picture.r.length; i++) {
    if (Math.max(picture.r[i], picture.g[i], picture.b[i]) < SURELY_BELOW) continue;
    if (Math.max(...displayLight(applyMatrix(WORKING_TO_SRGB, [picture.r[i], picture.g[i], picture.b[i]]))) < WHITE) continue;
    clipped++;
    sumX += i % picture.width;
    sumY += Math.floor(i / picture.width);
  }
  const value = (100 * clipped) / picture.r.length;
  const state = grade(value, 1.5, 5);
  return {
    kind: 'clipped', value, unit: '%', state,
    text: state === 'good' ? 'Hardly anything is clipped.' : 'Parts of the picture are pure white: lower the highlights of “Tone”, or add a darker frame hidden (n) and paint it in there.',
    ...(clipped > 0 ? { where: [(sumX / clipped) * scale, (sumY / clipped) * scale] as const } : {}),
  };
}

/** How far the likely whites of the finished picture are from grey, CIELAB chroma. */
function castReading(picture: Light, glass: Plane): Reading {
  const gains = estimateNeutral(picture, mapPlane(glass, (v) => 1 - v));
  const white = applyMatrix(WORKING_TO_SRGB, [1 / gains[0], 1 / gains[1], 1 / gains[2]]).map((v) => v * 0.6) as [number, number, number];
  const [, a, b] = linearSrgbToLab(white);
  const value = Math.hypot(a, b);
  const state = grade(value, 4, 9);
  const towards = Math.abs(b) >= Math.abs(a) ? (b > 0 ? 'yellow: a cooler temperature' : 'blue: a warmer temperature') : a > 0 ? 'pink: a greener tint' : 'green: a pinker tint';
  const advice = state === 'good' ? '' : ` They lean to ${towards} of the pass that lights them, or pick one of them as white (y); true paint may stay.`;
  return { kind: 'cast', value, unit: 'ΔE', state, text: `Light surfaces measure a* ${a.toFixed(1)}, b* ${b.toFixed(1)}.${advice}` };
}

/** Middle luminance of the places that are meant, of every third; null where there are too few to speak of. */
function middleOf(y: Plane, isMeant: (i: number) => boolean): number | null {
  const values: number[] = [];
  for (let i = 0; i < y.data.length; i += 3) if (isMeant(i)) values.push(y.data[i]);
  return values.length < LEAST_GLASS / 3 ? null : Math.max(1e-4, quantile(values, 0.5));
}

/** How far the view that is furthest from where it should be lies above the room; null where there is none to speak of. */
function viewReading(picture: Light, glass: Plane, views: readonly SeenView[]): Reading | null {
  const y = luminance(picture);
  if (middleOf(y, (i) => glass.data[i] > 0.5) === null) return null;
  if (views.length === 0) return { kind: 'view', value: 0, unit: 'stops', state: 'bad', text: 'No frame shows the view outside unclipped: shoot a shorter exposure.' };
  const room = middleOf(y, (i) => glass.data[i] <= 0.5) ?? 1;
  const told = views.flatMap(({ name, mask }) => {
    const view = middleOf(y, (i) => mask.data[i] > 0.5);
    return view === null ? [] : [{ name, value: Math.log2(view / room) }];
  });
  if (told.length === 0) return null;
  const off = (value: number): number => Math.max(VIEW_BELOW - value, value - VIEW_ABOVE);
  const { name, value } = told.reduce((worst, each) => (off(each.value) > off(worst.value) ? each : worst));
  const text = value < VIEW_BELOW ? `The view is darker than the room: raise the exposure of “${name}”.` : value > VIEW_ABOVE ? `The view is far brighter than the room: lower the exposure of “${name}”.` : 'How far the view lies above the room.';
  return { kind: 'view', value, unit: 'stops', state: off(value) > 0 ? 'check' : 'good', text };
}

/**
 * What is measured on the picture itself, as it stands: these follow every change.
 * @param picture the mix on the guide before the display curve. @param glass where a view is to be seen, 0..1, of the same size. @param views those that passes bring. @param scale reference pixels to one of the guide
 */
export function pictureReadings(picture: Light, glass: Plane, views: readonly SeenView[], scale: number): Reading[] {
  const view = viewReading(picture, glass, views);
  return [clippedReading(picture, scale), castReading(picture, glass), ...(view ? [view] : [])];
}
