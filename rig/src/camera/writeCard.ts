import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Role } from '@zaddle/core/intake/frameFacts';
import { FRAME_HEIGHT, FRAME_WIDTH, KIT_LENS, referenceToFrame, simulateFrame, type Exposure } from './simulateFrame';
import type { Layers } from '../trace/renderRoom';

/** A frame to be taken, with what the card's truth says about it. */
export interface PlannedFrame extends Exposure {
  readonly file: string;
  readonly shot: string;
  /** The room, visitors and all, that the frame shows. */
  readonly room: string;
  readonly role: Role;
  readonly takenAt: Date;
  readonly bracketed: boolean;
  /** EXIF orientation under which the file is stored. */
  readonly orientation: 1 | 6;
}

const rational = (value: number): string => (value < 1 ? `1/${Math.round(1 / value)}` : `${Math.round(value * 100)}/100`);
const exifTime = (date: Date): string => date.toISOString().slice(0, 19).replace(/-/g, ':').replace('T', ' ');

async function encode(pixels: Uint8Array, frame: PlannedFrame): Promise<Buffer> {
  let picture = sharp(pixels, { raw: { width: FRAME_WIDTH, height: FRAME_HEIGHT, channels: 3 } });
  if (frame.orientation === 6) picture = sharp(await picture.rotate(270).raw().toBuffer(), { raw: { width: FRAME_HEIGHT, height: FRAME_WIDTH, channels: 3 } });
  return picture
    .withMetadata({ orientation: frame.orientation })
    .withExifMerge({
      IFD0: { Make: 'Rig', Model: 'Rig One', Software: 'Simulated camera' },
      IFD2: {
        ExposureTime: rational(frame.seconds), FNumber: `${frame.aperture * 10}/10`, ISOSpeedRatings: String(frame.iso), DateTimeOriginal: exifTime(frame.takenAt),
        SubSecTimeOriginal: String(Math.floor(frame.takenAt.getMilliseconds() / 10)).padStart(2, '0'), ExposureMode: frame.bracketed ? '2' : '1', WhiteBalance: '0', FocalLength: '19/1', LensModel: 'Rig 19 mm', ColorSpace: '1',
      },
    })
    .jpeg({ quality: 93, chromaSubsampling: '4:4:4' })
    .toBuffer();
}

/** Takes planned frames and writes them as a card folder; the truth about them goes to `truth.json` beside, if asked for. */
export async function writeCard(folder: string, frames: readonly PlannedFrame[], room: (name: string) => Promise<Layers>, truth: string | null): Promise<void> {
  await mkdir(folder, { recursive: true });
  for (const frame of frames) {
    const pixels = simulateFrame(await room(frame.room), frame, KIT_LENS);
    await writeFile(join(folder, frame.file), await encode(pixels, frame));
  }
  if (!truth) return;
  const manifest = {
    width: FRAME_WIDTH, height: FRAME_HEIGHT, lens: KIT_LENS,
    frames: frames.map((frame) => ({
      file: frame.file, shot: frame.shot, room: frame.room, role: frame.role, seconds: frame.seconds, aperture: frame.aperture, iso: frame.iso, steady: frame.steady, flashes: frame.flashes,
      referenceToFrame: referenceToFrame(frame), balance: frame.balance,
    })),
  };
  await writeFile(truth, JSON.stringify(manifest, null, 1));
}
