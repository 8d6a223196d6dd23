import { castOf } from '@zaddle/core/colour/castOf';
import { lightFace } from '@zaddle/core/clean/lightFace';
import { wholeMix } from '@zaddle/core/clean/renderPlace';
import type { ColourTable } from '@zaddle/core/finish/colourTable';
import { measureGrain } from '@zaddle/core/finish/measureGrain';
import { contributionMap, type ContributionMap } from '@zaddle/core/graph/contributionMap';
import { maskFaces } from '@zaddle/core/graph/maskFaces';
import { placeMix } from '@zaddle/core/graph/placeMix';
import { wholeGrid, type PlacedSource } from '@zaddle/core/graph/placedMix';
import { prepareMix } from '@zaddle/core/graph/prepareMix';
import { probeMix, type Probe } from '@zaddle/core/graph/probeMix';
import { smallPicture } from '@zaddle/core/graph/smallPicture';
import { tabulatePass } from '@zaddle/core/graph/tabulatePass';
import { viewMasks, whereSeen } from '@zaddle/core/graph/viewMasks';
import { createPlane, type Light, type Plane } from '@zaddle/core/image/plane';
import { rowPlane } from '@zaddle/core/kind/rowScratch';
import { pictureReadings } from '@zaddle/core/read/pictureReadings';
import type { Reading } from '@zaddle/core/read/readings';
import type { Grain, MixDocument, TableSpace, Triple } from '@zaddle/document';
import { frameOnly } from './frameOnly';
import type { Session } from './session';
import type { Visible } from './visiblePart';

/** How far a pixel of the screen may be from one of the picture for both to count as the same size. */
const ONE_TO_ONE = 0.01;

/** Which pass gives most, place by place. */
export function contributionsOf(session: Session, mix: MixDocument, columns: number, rows: number): ContributionMap {
  const prepared = session.prepare(mix, false);
  return contributionMap(session.tools(), prepared, session.copiesFor(prepared, columns / mix.width), columns, rows);
}

/** What is measured on the picture as it stands. */
export function readingsOf(session: Session, mix: MixDocument): Reading[] {
  const level = session.guideLevel(mix);
  const prepared = level.workOut(session.bare(mix), false);
  const picture = level.picture(prepared);
  const views = viewMasks(level, prepared);
  return pictureReadings(picture, whereSeen(views) ?? createPlane(picture.width, picture.height), views, mix.frames[mix.reference].width / picture.width);
}

/** What a pass does to colours as a colour table; null where it is no pass that does. */
export function tabulated(session: Session, mix: MixDocument, id: string, space: TableSpace): ColourTable | null {
  const pass = mix.passes.find((each) => each.id === id);
  return pass?.kind === 'adjust' ? tabulatePass(session.tools(), mix, pass, session.found, session.shelf.tables, space, pass.name) : null;
}

/** Gains that take away the cast of what lies below a pass, within its mask; null where it is not seen, or there is too little light to tell. */
export function castBelow(session: Session, mix: MixDocument, pass: string): Triple | null {
  const level = session.guideLevel(mix);
  const prepared = level.workOut(session.bare(mix), false);
  const index = prepared.passes.findIndex((each) => each.pass.id === pass);
  if (index < 0) return null;
  return castOf(level.picture(prepared, index), prepared.passes[index].pass.mask.length > 0 ? level.mask(prepared, index) : null, whereSeen(viewMasks(level, prepared)));
}

/** How grainy the part of a mix is that is seen, before anything is done about it; null where pixels are not seen one by one, or nothing in it is plain. */
export function grainOf(session: Session, mix: MixDocument, visible: Visible): Grain | null {
  const { width, height, toOutput } = visible.grid;
  if (Math.abs(toOutput[0] - 1) > ONE_TO_ONE) return null;
  const { pixels } = session.render(session.prepareOther({ ...mix, noise: null, sharpening: null }, true), visible, 'whole', null, 'none');
  const data = new Uint8Array(width * height * 3);
  for (let i = 0, p = 0; p < data.length; i += 4, p += 3) {
    data[p] = pixels[i];
    data[p + 1] = pixels[i + 1];
    data[p + 2] = pixels[i + 2];
  }
  return measureGrain({ width, height, data });
}

/** A mix as it would be, small: 8-bit RGB. */
export function sketched(session: Session, mix: MixDocument, columns: number, rows: number): Uint8Array {
  const prepared = session.prepareOther(mix, true);
  return smallPicture(session.tools(), prepared, session.copiesFor(prepared, columns / mix.width), columns, rows);
}

/** The masks of all passes that are seen, small. */
export function facesOfMasks(session: Session, mix: MixDocument, columns: number, rows: number): Map<string, Uint8Array> {
  const prepared = session.prepare(mix, false);
  return maskFaces(session.tools(), prepared, session.copiesFor(prepared, columns / mix.width), columns, rows);
}

/** Light as it is delivered: 8-bit RGB. */
export function faceOf(session: Session, light: Light): Uint8Array {
  return lightFace(session.tools(), light);
}

/** What the picture is at a place, and where it comes from: by pixels that are at hand. */
export function probed(session: Session, mix: MixDocument, at: readonly [number, number], scale: number, pass: string | null): Probe {
  const prepared = session.prepare(mix, false);
  return probeMix(session.tools(), prepared, session.copiesFor(prepared, scale), at, scale, pass);
}

/** log2 luminance of a mix of one frame, whole, on a grid. @param source pixels of the frame */
export function logRows(session: Session, mix: MixDocument, frame: string, source: PlacedSource, width: number, height: number): Plane {
  const arena = session.arena();
  const placed = placeMix(prepareMix(mix, session.found), new Map([[frame, source]]), wholeGrid(mix, width, height), arena);
  const stride = rowPlane(width);
  const out = arena.take(height * stride);
  session.renderRows(placed, arena, out, { kind: 'log', passes: 1, stride });
  const plane = createPlane(width, height);
  for (let y = 0; y < height; y++) plane.data.set(arena.floats(out + y * stride, width), y * width);
  return plane;
}

/** The same of a frame as it lies on the reference, whole and straight. @param side pixels of the longer side, at most */
export function logLuminance(session: Session, mix: MixDocument, frame: string, side: number): Plane {
  const { width, height } = mix.frames[mix.reference];
  const k = Math.min(1, side / Math.max(width, height));
  const alone = frameOnly(mix, frame);
  return logRows(session, wholeMix(alone, alone.passes), frame, session.sources.copyFor(frame, mix.frames[frame], k), Math.round(width * k), Math.round(height * k));
}
