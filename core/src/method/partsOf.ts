import equal from 'fast-deep-equal';
import { isPortable, type AdjustPass, type FramingPart, type MethodParts, type Mix, type MixDocument, type Pass, type TonePart } from '@zaddle/document';
import { framingOf } from '../mix/frameMix';
import { isAmbient, isFlash } from './placeMethod';
import { FALL_PASS, FINISH_PASS, PAINT_PASS, VIEWS_BUNDLE } from '../propose/starts';

const TONE_KEYS = ['exposure', 'balance', 'contrast', 'highlights', 'shadows', 'localContrast', 'veil', 'glow', 'saturation', 'muted', 'curve', 'bands', 'table'] as const;

/** The tone pass's settings, those that were left out aside. */
const toneOf = (pass: AdjustPass): TonePart => Object.fromEntries(TONE_KEYS.filter((key) => pass[key] !== undefined && pass[key] !== null).map((key) => [key, pass[key]]));

/** How the picture is framed, as a rule for others: that of the method that framed it, where nothing was changed since. */
function framingPart(mix: MixDocument): FramingPart {
  const told = mix.method?.off.includes('framing') ? undefined : mix.method?.method.parts.framing;
  if (told && equal(mix.method?.set.mix.framing, mix.framing)) return told;
  const { roll, pitch, yaw, strength, ratio } = framingOf(mix);
  return { straighten: yaw !== 0 ? 'facing' : roll !== 0 || pitch !== 0 ? 'verticals' : 'leave', strength, ratio };
}

/** By how much passes of a kind were moved since they were proposed, stops: the middle of them, since a method moves all alike. */
function movedBy(mix: MixDocument, proposed: MixDocument, is: (pass: Pass) => boolean): number {
  const moves = mix.passes.filter(is).flatMap((pass) => {
    const then = proposed.passes.find(({ id }) => id === pass.id);
    return then ? [pass.exposure - then.exposure] : [];
  });
  return moves.length === 0 ? 0 : [...moves].sort((a, b) => a - b)[moves.length >> 1];
}

/** What of noise is taken away, where somebody decided that: what was measured on one shot means nothing on others. */
function noisePart({ noise }: Mix, proposed: Mix): Pick<MethodParts, 'noise'> {
  const same = noise?.brightness === proposed.noise?.brightness && noise?.colour === proposed.noise?.colour;
  return noise && !same ? { noise: { brightness: noise.brightness, colour: noise.colour } } : {};
}

/**
 * All that was decided on a shot and means something on others, for a person to choose from.
 * @param proposed the same mix as it was proposed, which exposures of lights are told against
 */
export function partsOf(mix: MixDocument, proposed: MixDocument): MethodParts {
  const fall = mix.passes.find(({ id, kind, on }) => id === FALL_PASS && kind === 'light' && on);
  const paint = mix.passes.find(({ id }) => id === PAINT_PASS);
  const [flash, ambient, views, ofAll] = [isFlash, isAmbient, (pass: Pass) => pass.kind === 'view', (pass: Pass) => pass.id === VIEWS_BUNDLE].map((is) => movedBy(mix, proposed, is));
  const view = views + ofAll;
  const light = {
    ...(fall?.kind === 'light' ? { fall: { brightness: fall.brightness * fall.opacity, colour: fall.colour * fall.opacity } } : {}),
    ...(paint?.kind === 'adjust' && paint.on ? { evenness: (paint.evenness ?? 0) * paint.opacity } : {}),
    ...(flash ? { flash } : {}), ...(ambient ? { ambient } : {}),
  };
  const tone = mix.passes.find(({ id, kind }) => id === FINISH_PASS && kind === 'adjust');
  const own = mix.passes.filter((pass) => pass.on && pass.id !== FINISH_PASS && pass.id !== PAINT_PASS && !(pass.kind === 'adjust' && pass.tied) && isPortable(pass)).map((pass, k): Pass => ({ ...pass, id: `own-${k + 1}`, why: '' }));
  return {
    ...(Object.keys(light).length > 0 ? { light } : {}),
    ...(view ? { view: { exposure: view } } : {}),
    ...(tone?.kind === 'adjust' && tone.on ? { tone: toneOf(tone) } : {}),
    ...(own.length > 0 ? { passes: own.slice(0, 16) } : {}),
    framing: framingPart(mix),
    ...noisePart(mix, proposed),
    ...(mix.sharpening ? { sharpening: mix.sharpening } : {}),
    lens: mix.corrects,
  };
}
