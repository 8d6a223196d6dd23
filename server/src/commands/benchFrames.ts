import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';

// Writes the bench's frames: benchFrames.ts FOLDER WIDTH HEIGHT STOPS...

/** A made-up frame: furniture-like boxes with grain, at an exposure and a small shift, as JPEG. */
async function makeFrame(width: number, height: number, stops: number, shift: number): Promise<Buffer> {
  let state = 77;
  const next = (): number => (state = (state * 48271) % 2147483647) / 2147483647;
  const [w, h] = [width / 2, height / 2];
  const light = new Float32Array(w * h).fill(0.12);
  for (let k = 0; k < 900; k++) {
    const [x0, y0, bw, bh, v] = [Math.floor(next() * w) + shift, Math.floor(next() * h), 12 + Math.floor(next() * 240), 12 + Math.floor(next() * 200), 0.01 + next() ** 2 * 0.7];
    for (let y = y0; y < Math.min(h, y0 + bh); y++) light.fill(v, y * w + x0, y * w + Math.min(w, x0 + bw));
  }
  const data = Buffer.alloc(w * h * 3);
  for (let i = 0; i < w * h; i++) {
    const v = 255 * Math.min(1, light[i] * 2 ** stops + next() * 0.01) ** (1 / 2.2);
    data[i * 3] = v;
    data[i * 3 + 1] = v * 0.98;
    data[i * 3 + 2] = v * 0.95;
  }
  return sharp(data, { raw: { width: w, height: h, channels: 3 } }).resize(width, height, { kernel: 'cubic' }).jpeg({ quality: 92 }).toBuffer();
}

const [folder, width, height, ...stops] = process.argv.slice(2);
for (const [k, value] of stops.entries()) await writeFile(join(folder, `${k}.jpg`), await makeFrame(Number(width), Number(height), Number(value), k));
