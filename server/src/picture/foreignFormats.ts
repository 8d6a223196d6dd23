import { execFile } from 'node:child_process';
import { mkdtemp, open, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { MAX_PIXELS, RejectedFile } from './limits';
import { named } from './namedIn';

/** Formats that another program opens: makers' raw files and DNG by LibRaw, HEIC by libheif. */
export type Foreign = 'raw' | 'heic';

const run = promisify(execFile);
/** A decoder that takes longer hangs on a hostile file. */
const PATIENCE = 120_000;
const HEIC_BRANDS = new Set(['heic', 'heix', 'hevc', 'hevx', 'heim', 'heis', 'mif1', 'msf1']);
const PACKAGES: Readonly<Record<Foreign, string>> = { raw: 'libraw-bin', heic: 'libheif-examples' };

async function firstBytes(input: string | Buffer, count: number): Promise<Buffer> {
  if (Buffer.isBuffer(input)) return input.subarray(0, count);
  const file = await open(input, 'r');
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(count), 0, count, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

/** Runs a decoder program. @throws RejectedFile when it is not installed, and whatever it fails with. */
async function call(kind: Foreign, program: string, args: readonly string[]): Promise<string> {
  try {
    // They print times in our zone, of which the camera knows nothing.
    const { stdout } = await run(program, [...args], { timeout: PATIENCE, maxBuffer: 4 << 20, env: { ...process.env, TZ: 'UTC', LC_ALL: 'C' } });
    return stdout;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') throw new RejectedFile(`a ${kind === 'raw' ? 'raw' : 'HEIC'} file, and the program that opens those is missing: install Debian's package ${PACKAGES[kind]}`);
    throw error;
  }
}

/** Gives a file on disk to work with, since decoders of other programs read no memory. */
async function onDisk<T>(input: string | Buffer, work: (path: string, scratch: string) => Promise<T>): Promise<T> {
  const scratch = await mkdtemp(join(tmpdir(), 'zaddle-decode-'));
  try {
    const path = Buffer.isBuffer(input) ? join(scratch, 'in') : input;
    if (Buffer.isBuffer(input)) await writeFile(path, input);
    return await work(path, scratch);
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}

/** Whether LibRaw takes this file for a raw one; an ordinary TIFF begins the same way. */
const isRaw = (input: string | Buffer): Promise<boolean> =>
  onDisk(input, async (path) => / is a .+ image/.test(await call('raw', 'raw-identify', [path]).catch((error: unknown) => {
    // Without the program, a TIFF is read as the TIFF that it may be.
    if (error instanceof RejectedFile) return '';
    throw error;
  })));

/** What other program's format a file has, by its content, or null: its name says nothing. */
export async function foreignFormat(input: string | Buffer): Promise<Foreign | null> {
  const head = await firstBytes(input, 16);
  const start = head.toString('latin1');
  if (start.slice(4, 8) === 'ftyp') return HEIC_BRANDS.has(start.slice(8, 12)) ? 'heic' : start.slice(8, 11) === 'crx' ? 'raw' : null;
  if (/^(FUJIFILMCCD-RAW|FOVb|\0MRM)/.test(start)) return 'raw';
  return /^(II\*\0|MM\0\*|IIU\0|IIRO|IIRS|MMOR)/.test(start) && (await isRaw(input).catch(() => false)) ? 'raw' : null;
}

/** What is known of a foreign file without decoding it; sizes after its orientation is applied. */
export interface ForeignFacts {
  readonly width: number;
  readonly height: number;
  readonly takenAt: number | null;
  readonly seconds: number | null;
  readonly aperture: number | null;
  readonly iso: number | null;
  readonly focalLength: number | null;
  readonly camera: string | null;
  readonly lensName: string | null;
}

const numberAfter = (text: string, pattern: RegExp): number | null => {
  const value = Number(pattern.exec(text)?.[1]);
  return Number.isFinite(value) && value > 0 ? value : null;
};
const wordsAfter = (text: string, pattern: RegExp): string | null => named(pattern.exec(text)?.[1]);

function rawFacts(text: string): ForeignFacts {
  const shutter = /^Shutter: (1\/)?([\d.]+)/m.exec(text);
  const stamp = wordsAfter(text, /^Timestamp: (.+)$/m);
  // The camera's clock, of which no zone is known: read as if it were ours everywhere.
  const takenAt = stamp ? Date.parse(`${stamp} UTC`) : NaN;
  return {
    width: numberAfter(text, /^Output size:\s+(\d+) x/m) ?? 0,
    height: numberAfter(text, /^Output size:\s+\d+ x (\d+)/m) ?? 0,
    takenAt: Number.isFinite(takenAt) && takenAt > 0 ? takenAt : null,
    seconds: shutter && Number(shutter[2]) > 0 ? (shutter[1] ? 1 / Number(shutter[2]) : Number(shutter[2])) : null,
    aperture: numberAfter(text, /^Aperture: f\/([\d.]+)/m),
    iso: numberAfter(text, /^ISO speed: ([\d.]+)/m),
    focalLength: numberAfter(text, /^Focal length: ([\d.]+)/m),
    camera: wordsAfter(text, /^Camera: (.+?)(?: ID: .*)?$/m),
    lensName: wordsAfter(text, /^\tLens: (\S.*)$/m),
  };
}

const unreadable = (kind: Foreign): RejectedFile => new RejectedFile(`a ${kind === 'raw' ? 'raw' : 'HEIC'} file that is damaged or of an unknown make`);

/** @throws RejectedFile */
export async function foreignFacts(kind: Foreign, input: string | Buffer): Promise<ForeignFacts> {
  const facts = await onDisk(input, async (path) => {
    if (kind === 'raw') return rawFacts(await call('raw', 'raw-identify', ['-v', path]));
    const size = /^image: (\d+)x(\d+).*primary/m.exec(await call('heic', 'heif-info', [path]));
    return { width: Number(size?.[1] ?? 0), height: Number(size?.[2] ?? 0), takenAt: null, seconds: null, aperture: null, iso: null, focalLength: null, camera: null, lensName: null };
  }).catch((error: unknown) => {
    throw error instanceof RejectedFile ? error : unreadable(kind);
  });
  if (facts.width < 1 || facts.height < 1) throw unreadable(kind);
  if (facts.width * facts.height > MAX_PIXELS) throw new RejectedFile(`claims ${Math.round((facts.width * facts.height) / 1e6)} megapixels, more than ${MAX_PIXELS / 1e6}`);
  return facts;
}

/** A foreign file as one that our own decoder reads: HEIC as 8-bit PNG, raw as 16-bit TIFF of linear light in sRGB's primaries, by the camera's white balance. @throws RejectedFile */
export function developed(kind: Foreign, input: string | Buffer): Promise<Buffer> {
  return onDisk(input, async (path, scratch) => {
    const out = join(scratch, kind === 'raw' ? 'out.tiff' : 'out.png');
    try {
      // Without guessing at the brightest value: frames of one shot must stay comparable.
      if (kind === 'raw') await call('raw', 'dcraw_emu', ['-T', '-4', '-w', '-c', '0', '-o', '1', '-q', '3', '-Z', out, path]);
      else await call('heic', 'heif-convert', [path, out]);
      // It says that all went well even when nothing did.
      await stat(out);
    } catch (error) {
      throw error instanceof RejectedFile ? error : unreadable(kind);
    }
    return readFile(out);
  });
}
