import sharp, { type Sharp } from 'sharp';
import { ask, told } from './ask';
import { pause, type Dice } from '../dice';
import { smallFrames } from './frames';
import { memoryOf } from './hostileRequests';
import type { Instance } from './instance';

/** Files of one shoot, of which the last is a good one; files sent at once. */
const SHOOT = 250;
const LANES = 4;
/** Seconds that the files of a shoot may take to be read or refused, and most memory that a worker may come to hold, bytes. */
const PATIENCE = 300;
const MOST_MEMORY = 2.5e9;

/** What came of many broken files. */
export interface FilesReport {
  readonly files: number;
  readonly gathered: number;
  readonly rejected: number;
  readonly findings: Readonly<Record<string, { times: number; readonly example: string }>>;
  /** Most memory that one worker held, bytes. */
  readonly memory: number;
}

/** Small files of the formats that are taken, to be broken. */
async function soundFiles(): Promise<{ readonly ending: string; readonly bytes: Buffer }[]> {
  const [{ bytes: frame }] = await smallFrames(0, 1, 1);
  const small = await sharp(frame).resize(160).keepExif().jpeg().toBuffer();
  const made = (): Sharp => sharp(small).keepExif();
  return Promise.all([
    ['jpg', Promise.resolve(small)], ['jpg', made().jpeg({ progressive: true }).toBuffer()], ['png', made().png().toBuffer()], ['png', made().toColourspace('rgb16').png({ progressive: true }).toBuffer()],
    ['tif', made().tiff({ compression: 'none' }).toBuffer()], ['tif', made().toColourspace('rgb16').tiff({ compression: 'lzw', predictor: 'horizontal' }).toBuffer()], ['tif', made().tiff({ compression: 'deflate', tile: true, tileWidth: 64, tileHeight: 64 }).toBuffer()],
    ['webp', made().webp().toBuffer()], ['avif', made().avif({ effort: 0 }).toBuffer()],
  ].map(async ([ending, bytes]) => ({ ending: ending as string, bytes: await (bytes as Promise<Buffer>) })));
}

const any = (dice: Dice, length: number): number => Math.floor(dice.between(0, length));

/** A file with something broken. */
function broken(dice: Dice, bytes: Buffer, other: Buffer): Buffer {
  const copy = Buffer.from(bytes);
  const way = any(dice, 9);
  if (way === 0) return copy.subarray(0, any(dice, copy.length));
  if (way === 1) return Buffer.concat([copy.subarray(0, any(dice, copy.length)), other.subarray(any(dice, other.length))]);
  if (way === 2) { const [a, b] = [any(dice, copy.length), any(dice, copy.length)]; return Buffer.concat([copy.subarray(0, a), copy.subarray(b)]); }
  if (way === 3) { copy.fill(dice.pick([0, 0xff]), any(dice, copy.length), Math.min(copy.length, any(dice, copy.length) + 64)); return copy; }
  // Sizes and offsets stand in the first bytes; numbers there become huge, or nothing.
  const span = Math.min(copy.length - 4, way < 6 ? 600 : copy.length - 4);
  if (way === 4 || way === 6) { for (let k = 0; k < 3; k++) copy.writeUInt32BE(dice.pick([0, 1, 0xffffffff, 0x7fffffff, 0x10000, 0xffff]), any(dice, span)); return copy; }
  if (way === 5 || way === 7) { for (let k = 0; k < 3; k++) copy.writeUInt16LE(dice.pick([0, 1, 0xffff, 0x7fff, 60_000]), any(dice, span)); return copy; }
  for (let k = 0, n = 1 + any(dice, 40); k < n; k++) copy[any(dice, copy.length)] ^= 1 << any(dice, 8);
  return copy;
}

interface ToldFrames { readonly frames: readonly { readonly name: string; readonly state: string; readonly why: string }[] }

/** Broken files of all formats, each shoot of them with a sound one at its end: every one must be read, or refused in words; the sound ones read; nothing left waiting; no process over its memory. */
export async function hostileFiles(instance: Instance, dice: Dice, count: number, tell: (words: string) => void): Promise<FilesReport> {
  const sound = await soundFiles();
  const findings: Record<string, { times: number; example: string }> = {};
  const note = (what: string, example: string): void => { (findings[what] ??= { times: 0, example: example.slice(0, 300) }).times++; };
  const say = (method: string, path: string, body: Buffer | object | null = null): ReturnType<typeof ask> => ask(instance.port, instance.port, method, path, body);
  let [sent, gathered, rejected, memory] = [0, 0, 0, 0];
  for (let round = 0; sent < count; round++) {
    const shoot = told<{ id: string }>(await say('POST', '/api/shoots', { name: `Broken ${round}` }))?.id;
    if (!shoot) { note('no new shoot', String(round)); break; }
    const [good] = await smallFrames(round, 1, 9000 + round);
    const files = Array.from({ length: Math.min(SHOOT, count - sent) }, (_, k) => {
      const [one, other] = [dice.pick(sound), dice.pick(sound)];
      return { name: `${k}.${dice.between(0, 1) < 0.9 ? one.ending : other.ending}`, bytes: broken(dice, one.bytes, other.bytes) };
    });
    await Promise.all(Array.from({ length: LANES }, async (_, lane) => {
      for (let k = lane; k < files.length; k += LANES) {
        const { status, body } = await say('POST', `/api/shoots/${shoot}/frames?name=${files[k].name}`, files[k].bytes);
        if (status === 0 || status >= 500) note(`upload answers ${status}`, body.toString());
      }
    }));
    await say('POST', `/api/shoots/${shoot}/frames?name=good.jpg`, good.bytes);
    sent += files.length;
    let frames: ToldFrames['frames'] = [];
    for (const end = Date.now() + 1000 * PATIENCE; Date.now() < end; await pause(500)) {
      frames = told<ToldFrames>(await say('GET', `/api/shoots/${shoot}`))?.frames ?? [];
      memory = Math.max(memory, ...instance.workers.map(memoryOf));
      if (frames.length > 0 && frames.every(({ state }) => state !== 'waiting')) break;
    }
    for (const { name, state, why } of frames) {
      if (state === 'waiting') note('left waiting', name);
      else if (state === 'rejected' && why.trim() === '') note('refused without a word', name);
      else if (/node_modules|\/tmp\/|\bat [\w.<>]+ \(|VipsJpeg|libvips/.test(why)) note('tells too much', why);
      if (name === 'good.jpg' && state !== 'gathered') note('a sound file refused', why);
    }
    gathered += frames.filter(({ state }) => state === 'gathered').length;
    rejected += frames.filter(({ state }) => state === 'rejected').length;
    if (instance.server === null) { note('the server ended', ''); break; }
    tell(`${sent} of ${count} files; ${gathered} read, ${rejected} refused; ${Object.keys(findings).length} findings; ${Math.round(memory / 1e6)} MB`);
    await say('DELETE', `/api/shoots/${shoot}`);
  }
  if (memory > MOST_MEMORY) note('memory of a worker', `${Math.round(memory / 1e6)} MB`);
  return { files: sent, gathered, rejected, findings, memory };
}
