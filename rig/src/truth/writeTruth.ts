import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { linearToSrgb } from '@zaddle/core/colour/transfer';
import { frameView, roomOf, type FrameSize } from '../camera/house';
import { KIT_LENS } from '../camera/simulateFrame';
import type { PlannedFrame } from '../camera/takeFrames';
import type { LightSource, Room } from '../scene/room';
import { Eye } from '../trace/eyeRay';
import { PathTracer } from '../trace/pathTracer';
import type { Layers } from '../trace/renderRoom';
import { displacement, lookForGlare, lookRoom, type RoomLook } from './lookRoom';

/** Displacements are kept as 16-bit numbers: this many to a pixel, and 0 lies in the middle. */
const PER_PIXEL = 64;
const MIDDLE = 32768;

const byte = (v: number): number => Math.max(0, Math.min(255, Math.round(v)));

async function writeMask(file: string, share: Float32Array, { width, height }: FrameSize): Promise<void> {
  await sharp(Uint8Array.from(share, (v) => byte(255 * v)), { raw: { width, height, channels: 1 } }).png().toFile(file);
}

/** Linear RGB as sRGB, halved: 8 bit. */
async function writeHalf(file: string, linear: Float32Array, { width, height }: FrameSize, encode: (v: number) => number): Promise<void> {
  const pixels = new Uint8Array(linear.length);
  for (let i = 0; i < linear.length; i++) pixels[i] = byte(255 * encode(Math.max(0, Math.min(1, linear[i]))));
  await sharp(pixels, { raw: { width, height, channels: 3 } }).resize(Math.floor(width / 2)).png().toFile(file);
}

const sum = (values: ArrayLike<number>): number => Array.prototype.reduce.call(values, (a, b) => (a as number) + (b as number), 0) as number;

/** Mean paint where a thing fills whole pixels, linear sRGB, or null where it is not seen. */
function meanPaint({ things, paint }: RoomLook, thing: 'ceiling' | 'wall' | 'floor'): number[] | null {
  const share = things.get(thing);
  if (!share) return null;
  const total = [0, 0, 0];
  let count = 0;
  for (let i = 0; i < share.length; i++) {
    if (share[i] < 1) continue;
    count++;
    for (let c = 0; c < 3; c++) total[c] += paint[i * 3 + c];
  }
  return count > 0 ? total.map((v) => v / count) : null;
}

/** Colour of a light's first source, green 1. */
function colourOf(sources: readonly LightSource[]): readonly number[] {
  if (sources.length === 0) return [1, 1, 1];
  const given = sources[0].kind === 'panel' ? sources[0].radiance : sources[0].power;
  return given.map((v) => v / given[1]);
}

/** The view alone, cut to where it is seen: 16 bit sRGB. Returns where it was cut, or null where there is none. */
async function writeView(file: string, { view, width, height }: RoomLook): Promise<{ x: number; y: number; width: number; height: number } | null> {
  let [left, top, right, bottom] = [width, height, -1, -1];
  for (let i = 0; i < width * height; i++) {
    if (view[i * 3 + 1] === 0) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    left = Math.min(left, x);
    right = Math.max(right, x);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y);
  }
  if (right < 0) return null;
  const [w, h] = [right - left + 1, bottom - top + 1];
  const pixels = new Uint16Array(w * h * 3);
  for (let y = 0; y < h; y++) for (let x = 0; x < w * 3; x++) pixels[y * w * 3 + x] = Math.round(65535 * linearToSrgb(Math.min(1, view[((y + top) * width + left) * 3 + x])));
  await sharp(pixels, { raw: { width: w, height: h, channels: 3 } }).toColourspace('rgb16').png().toFile(file);
  return { x: left, y: top, width: w, height: h };
}

/** All lights of a room made white, cut to the frame; sums of what each shows. */
function neutralLight(pictures: Layers, scene: PathTracer, { width, height }: FrameSize): Float32Array {
  const out = new Float32Array(width * height * 3);
  const [left, top] = [Math.round((pictures.width - width) / 2), Math.round((pictures.height - height) / 2)];
  for (const { name, sources } of scene.layers) {
    const layer = pictures.layers.get(name);
    if (!layer) continue;
    const colour = colourOf(sources);
    for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) for (let c = 0; c < 3; c++) out[(y * width + x) * 3 + c] += layer[((y + top) * pictures.width + x + left) * 3 + c] / colour[c];
  }
  return out;
}

async function writeDisplacement(file: string, moved: Float32Array, { width, height }: FrameSize): Promise<void> {
  const pixels = new Uint16Array(width * height * 3);
  for (let i = 0; i < width * height; i++) {
    if (Number.isNaN(moved[i * 2])) continue;
    for (let c = 0; c < 2; c++) pixels[i * 3 + c] = Math.max(1, Math.min(65535, Math.round(MIDDLE + PER_PIXEL * moved[i * 2 + c])));
  }
  await sharp(pixels, { raw: { width, height, channels: 3 } }).toColourspace('rgb16').png().toFile(file);
}

/** What came into the room for some frames: people, equipment; and where near and far moved apart. */
async function writeVariant(folder: string, name: string, base: Room, size: FrameSize): Promise<object> {
  const room = roomOf(name);
  const scene = new PathTracer(room);
  const look = lookRoom(scene, frameView(room.view), size.width, size.height);
  const masks: Record<string, string> = {};
  for (const thing of ['person', 'equipment'] as const) {
    const share = look.things.get(thing);
    if (!share) continue;
    masks[thing] = `mask_${thing}_${name}.png`;
    await writeMask(join(folder, masks[thing]), share, size);
  }
  if (base.view === room.view) return { masks };
  const file = `displacement_${name}.png`;
  await writeDisplacement(join(folder, file), displacement(new PathTracer(base), frameView(base.view), frameView(room.view), size.width, size.height), size);
  return { masks, displacement: file };
}

/** Row-major nine numbers as rows of three. */
const rows = (h: readonly number[]): number[][] => [0, 1, 2].map((k) => h.slice(k * 3, k * 3 + 3));

/**
 * Writes what is true of a shot into a folder: `truth.json`, masks of things, paint, the view alone, all lights made white,
 * glare of each flash. Pictures are those of the reference frame, freed of lens error.
 * @param pictures of the shot's own room
 */
export async function writeShotTruth(folder: string, frames: readonly PlannedFrame[], pictures: Layers, size: FrameSize): Promise<void> {
  await mkdir(folder, { recursive: true });
  const room = roomOf(frames[0].room);
  const scene = new PathTracer(room);
  const view = frameView(room.view);
  const look = lookRoom(scene, view, size.width, size.height);
  for (const [thing, share] of look.things) await writeMask(join(folder, `mask_${thing}.png`), share, size);
  await writeHalf(join(folder, 'paint_albedo_srgb_half.png'), look.paint, size, linearToSrgb);
  const neutral = neutralLight(pictures, scene, size);
  await writeHalf(join(folder, 'neutral_light_half.png'), neutral.map((v) => v / 4), size, (v) => v ** (1 / 2.4));
  const outside = await writeView(join(folder, 'view_srgb16.png'), look);
  const flashes = [...new Set(frames.flatMap((frame) => Object.keys(frame.flashes)))].filter((name) => scene.layers.some((layer) => layer.name === name));
  const glare: Record<string, string> = {};
  for (const name of flashes) {
    const share = lookForGlare(scene, view, scene.layers.findIndex((layer) => layer.name === name), size.width, size.height);
    if (sum(share) === 0) continue;
    glare[name] = `mask_glare_${name}.png`;
    await writeMask(join(folder, glare[name]), share, size);
  }
  const variants: Record<string, object> = {};
  for (const name of new Set(frames.map((frame) => frame.room))) if (name !== room.name) variants[name] = await writeVariant(folder, name, room, size);
  const truth = {
    room: room.name, frame_size: [size.width, size.height],
    lens: { k1: KIT_LENS.k1, k2: KIT_LENS.k2, ca_r: KIT_LENS.red, ca_b: KIT_LENS.blue, vignette: KIT_LENS.falloff },
    camera: { position_m: room.view.from, to_m: room.view.to, roll_deg: room.view.roll ?? 0, hfov_deg: view.fieldOfView },
    H_ref_to_level: rows(new Eye(view, size.width, size.height).toLevel()),
    masks: Object.fromEntries([...look.things.keys()].map((thing) => [thing, `mask_${thing}.png`])),
    paint: { ceiling: meanPaint(look, 'ceiling'), wall: meanPaint(look, 'wall'), floor: meanPaint(look, 'floor') },
    lights: Object.fromEntries(scene.layers.map(({ name, sources }) => [name, { colour: colourOf(sources), sources: sources.length }])),
    window_offset_xy: outside && [outside.x, outside.y], glare, variants,
    displacement: { per_pixel: PER_PIXEL, zero: MIDDLE },
    frames: frames.map((frame, k) => ({
      file: frame.file, role: frame.role, is_reference: k === 0, room: frame.room,
      exposure: { time_s: frame.seconds, f_number: frame.aperture, iso: frame.iso, product_rel_ref: (frame.seconds / frame.aperture ** 2 * frame.iso) / (frames[0].seconds / frames[0].aperture ** 2 * frames[0].iso) },
      H_frame_to_ref: rows(frame.toReference), steady: frame.steady, flashes: frame.flashes, balance: frame.balance,
    })),
  };
  await writeFile(join(folder, 'truth.json'), JSON.stringify(truth, null, 1));
}
