import { checkFrameMap, checkGeometry, checkPatches } from './checkMaps';
import type { Command } from './commands';
import { checkOrder } from './bundles';
import { checkLinks } from './links';
import { InvalidMix } from './invalidMix';
import { checkFrames } from './openMix';
import { areaSchema } from './area/areaSchema';
import type { Area } from './area/areas';
import { MOST_STROKES, strokeSchema } from './area/brush';
import type { MixDocument } from './mixDocument';
import { MOST_AREAS } from './pass/passKind';
import { passSchema, type Pass } from './pass/passes';
import { tablesOf } from './pass/tableUse';
import { frameUseSchema, frameSchema, mixSchema } from './schema';
import type { Schema } from 'joi';

const LIMITS = { tables: 8, areas: MOST_AREAS, passes: 200, strokes: MOST_STROKES, frames: 200 } as const;

function must(schema: Schema, value: unknown): void {
  const { error } = schema.validate(value, { convert: false });
  if (error) throw new InvalidMix(error.message);
}

function checkPass(pass: Pass, mix: MixDocument): void {
  if (pass.kind === 'heal') return checkPatches(pass);
  if (pass.kind === 'adjust' && pass.table && tablesOf(mix.passes).length > LIMITS.tables) throw new InvalidMix(`A mix may go through at most ${LIMITS.tables} colour tables.`);
  if (!('alignment' in pass) || !pass.alignment || !('frame' in pass.source)) return;
  checkFrameMap(pass.alignment, mix.frames[pass.source.frame], mix.frames[mix.reference], `pass “${pass.name}”`);
}

function checkFrame(id: string, mix: MixDocument): void {
  const use = mix.frames[id];
  if (id !== mix.reference) checkFrameMap(use.homography, use, mix.frames[mix.reference], 'this frame');
}

const passOf = (mix: MixDocument, id: string): Pass => mix.passes.find((p) => p.id === id)!;
const areaOf = (mix: MixDocument, pass: string, area: string): Area => passOf(mix, pass).mask.find((a) => a.id === area)!;

/**
 * Checks a document after a change, as far as the change reaches: the rest was checked when it came. So a stroke costs what
 * a stroke is, however much was painted before.
 * @throws InvalidMix
 */
export function checkChange(mix: MixDocument, command: Command): void {
  switch (command.kind) {
    case 'addStroke':
      must(strokeSchema, command.stroke);
      if ((areaOf(mix, command.pass, command.area) as Extract<Area, { kind: 'brush' }>).strokes.length > LIMITS.strokes) throw new InvalidMix(`An area may have at most ${LIMITS.strokes} strokes. Begin another.`);
      return;
    case 'addArea':
      must(areaSchema, command.area);
      if (passOf(mix, command.pass).mask.length > LIMITS.areas) throw new InvalidMix(`A mask may have at most ${LIMITS.areas} areas.`);
      checkLinks(mix);
      return checkFrames(mix);
    case 'changePass':
      must(passSchema, passOf(mix, command.id));
      checkFrames(mix);
      checkLinks(mix);
      return checkPass(passOf(mix, command.id), mix);
    case 'addPass':
      must(passSchema, command.pass);
      if (mix.passes.filter((p) => p.id === command.pass.id).length > 1) throw new InvalidMix(`There is a pass ${command.pass.id} already: ids are not used twice, this one would be a duplicate.`);
      if (mix.passes.length > LIMITS.passes) throw new InvalidMix(`A mix may have at most ${LIMITS.passes} passes.`);
      checkFrames(mix);
      checkOrder(mix);
      checkLinks(mix);
      return checkPass(command.pass, mix);
    case 'removePass':
      if (mix.passes.length === 0) throw new InvalidMix('This is the last pass: without it there is no picture. Mute it, or add another first.');
      checkLinks(mix);
      return checkOrder(mix);
    case 'addFrame':
      must(frameSchema, command.id);
      must(frameUseSchema, command.use);
      if (Object.keys(mix.frames).length > LIMITS.frames) throw new InvalidMix(`A mix may have at most ${LIMITS.frames} frames.`);
      return checkFrame(command.id, mix);
    case 'changeFrame':
      must(frameUseSchema, mix.frames[command.id]);
      return checkFrame(command.id, mix);
    case 'removeFrame':
      return checkFrames(mix);
    case 'changeMix':
      return checkWhole(mix);
    case 'several':
      // Parts may lean on each other: the result counts.
      return checkWhole(mix);
    case 'removeArea':
    case 'removeStroke':
      return;
    case 'movePass':
      return checkOrder(mix);
  }
}

/** Checks all of a document. @throws InvalidMix */
export function checkWhole(mix: MixDocument): void {
  must(mixSchema, mix);
  if (mix.passes.length === 0) throw new InvalidMix('A mix needs a pass at least: without one there is no picture.');
  checkFrames(mix);
  checkOrder(mix);
  checkLinks(mix);
  checkGeometry(mix);
  Object.keys(mix.frames).forEach((id) => checkFrame(id, mix));
  mix.passes.forEach((pass) => checkPass(pass, mix));
}
