import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import sharp from 'sharp';

const CARD = fileURLToPath(new URL('../../data/demo-visit', import.meta.url));
/** Pixels of the longer side: work goes fast, and many jobs are begun and ended. */
const SIDE = 480;

export interface CardFile {
  readonly name: string;
  readonly bytes: Buffer;
}

/** Frames of the demo visit, small ones, in the order they were taken. @param salt makes their content another one each time */
export async function smallFrames(from: number, count: number, salt: number): Promise<CardFile[]> {
  const names = (await readdir(CARD)).filter((name) => name.endsWith('.JPG')).sort();
  const chosen = Array.from({ length: count }, (_, k) => names[(from + k) % names.length]);
  return Promise.all([...new Set(chosen)].map(async (name) => {
    const small = await sharp(join(CARD, name)).resize(SIDE).keepExif().jpeg({ quality: 80 + (salt % 15), quantisationTable: salt % 8 }).toBuffer();
    // A comment of its own (JPEG marker FE), right behind the first marker, so that no two are one file.
    const words = Buffer.from(`visit ${salt}`);
    const comment = Buffer.concat([Buffer.from([0xff, 0xfe, 0, words.length + 2]), words]);
    return { name, bytes: Buffer.concat([small.subarray(0, 2), comment, small.subarray(2)]) };
  }));
}
