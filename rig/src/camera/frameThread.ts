import { rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { frameSize, type FrameSize } from './house';
import { KIT_LENS, simulateFrame } from './simulateFrame';
import type { FrameTask, PlannedFrame } from './takeFrames';

const rational = (value: number): string => (value < 1 ? `1/${Math.round(1 / value)}` : `${Math.round(value * 100)}/100`);
const exifTime = (date: Date): string => date.toISOString().slice(0, 19).replace(/-/g, ':').replace('T', ' ');

async function encode(pixels: Uint8Array, frame: PlannedFrame, { width, height }: FrameSize, quality: number): Promise<Buffer> {
  let picture = sharp(pixels, { raw: { width, height, channels: 3 } });
  if (frame.orientation === 6) picture = sharp(await picture.rotate(270).raw().toBuffer(), { raw: { width: height, height: width, channels: 3 } });
  return picture
    .withMetadata({ orientation: frame.orientation })
    .withExifMerge({
      IFD0: { Make: 'Rig', Model: 'Rig One', Software: 'Simulated camera' },
      IFD2: {
        ExposureTime: rational(frame.seconds), FNumber: `${frame.aperture * 10}/10`, ISOSpeedRatings: String(frame.iso), DateTimeOriginal: exifTime(frame.takenAt),
        SubSecTimeOriginal: String(Math.floor(frame.takenAt.getMilliseconds() / 10)).padStart(2, '0'), ExposureMode: frame.bracketed ? '2' : '1', WhiteBalance: '0', FocalLength: '19/1', LensModel: 'Rig 19 mm', ColorSpace: '1',
      },
    })
    .jpeg(quality > 90 ? { quality, chromaSubsampling: '4:4:4' } : { quality, chromaSubsampling: '4:2:0', mozjpeg: true })
    .toBuffer();
}

export default async function take({ folder, frame, room, quality }: FrameTask): Promise<void> {
  const bytes = await encode(simulateFrame(room, frame, KIT_LENS), frame, frameSize(room), quality);
  // Under a hidden name first, as cameras do, so that nobody reads half a file.
  const hidden = join(folder, `.${frame.file}.part`);
  await writeFile(hidden, bytes);
  await rename(hidden, join(folder, frame.file));
}
