import { mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Layers } from '../trace/renderRoom';

/*
 * Each light is kept as a coarse picture and a detail picture, as in subband encoding of high dynamic range (Ward,
 * Simmons, "Subband encoding of high dynamic range imagery", 2004): 16-bit log values at 1/8 size, and an 8-bit
 * JPEG of the ratio to it, with fine steps where the ratio is near 1.
 */

const COARSE = 8;
/** Steps of the coarse values: the detail picture has what lies between. */
const COARSE_STEP = 64;
const LOG_LOW = -14;
const LOG_RANGE = 24;
/** Stops that the detail spans to either side, and its companding power. */
const DETAIL_RANGE = 7;
const DETAIL_POWER = 0.55;
const FLOOR = 2 ** LOG_LOW;

interface Index {
  readonly width: number;
  readonly height: number;
  readonly layers: readonly string[];
}

const toByte = (stops: number): number => {
  const t = Math.min(1, Math.abs(stops) / DETAIL_RANGE) ** DETAIL_POWER;
  return Math.round(127.5 + 127.5 * Math.sign(stops) * t);
};
const fromByte = (v: number): number => {
  const t = (v - 127.5) / 127.5;
  return Math.sign(t) * Math.abs(t) ** (1 / DETAIL_POWER) * DETAIL_RANGE;
};

/** Bilinear value of a coarse picture at a full-size pixel. */
function coarseAt(coarse: Float32Array, w: number, h: number, x: number, y: number, c: number): number {
  const u = Math.min(w - 1, Math.max(0, (x + 0.5) / COARSE - 0.5));
  const v = Math.min(h - 1, Math.max(0, (y + 0.5) / COARSE - 0.5));
  const ix = Math.min(w - 2, Math.floor(u));
  const iy = Math.min(h - 2, Math.floor(v));
  const p = (iy * w + ix) * 3 + c;
  const upper = coarse[p] + (u - ix) * (coarse[p + 3] - coarse[p]);
  const lower = coarse[p + w * 3] + (u - ix) * (coarse[p + w * 3 + 3] - coarse[p + w * 3]);
  return upper + (v - iy) * (lower - upper);
}

/** Mean log2 of blocks, quantised as it will be stored. */
function makeCoarse(layer: Float32Array, width: number, height: number): { stored: Uint16Array; w: number; h: number } {
  const w = Math.ceil(width / COARSE);
  const h = Math.ceil(height / COARSE);
  const stored = new Uint16Array(w * h * 3);
  for (let y = 0; y < h; y++) for (let x = 0; x < w; x++) for (let c = 0; c < 3; c++) {
    let sum = 0;
    let count = 0;
    for (let j = y * COARSE; j < Math.min(height, (y + 1) * COARSE); j++) for (let i = x * COARSE; i < Math.min(width, (x + 1) * COARSE); i++, count++) sum += Math.log2(Math.max(FLOOR, layer[(j * width + i) * 3 + c]));
    stored[(y * w + x) * 3 + c] = Math.min(65535, Math.round((((sum / count - LOG_LOW) / LOG_RANGE) * 65536) / COARSE_STEP) * COARSE_STEP);
  }
  return { stored, w, h };
}

const decodeCoarse = (stored: Uint16Array): Float32Array => Float32Array.from(stored, (v) => (v / 65535) * LOG_RANGE + LOG_LOW);

/** Writes all lights of a room into a folder. */
export async function writeLayers(folder: string, { width, height, layers }: Layers): Promise<void> {
  await rm(folder, { recursive: true, force: true });
  await mkdir(folder, { recursive: true });
  for (const [name, layer] of layers) {
    const { stored, w, h } = makeCoarse(layer, width, height);
    const coarse = decodeCoarse(stored);
    const detail = Buffer.alloc(width * height * 3);
    for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) for (let c = 0; c < 3; c++) {
      const i = (y * width + x) * 3 + c;
      detail[i] = toByte(Math.log2(Math.max(FLOOR, layer[i])) - coarseAt(coarse, w, h, x, y, c));
    }
    await sharp(stored, { raw: { width: w, height: h, channels: 3 } }).toColourspace('rgb16').png({ compressionLevel: 9 }).toFile(join(folder, `${name}.coarse.png`));
    await sharp(detail, { raw: { width, height, channels: 3 } }).jpeg({ quality: 92, chromaSubsampling: '4:4:4', mozjpeg: true }).toFile(join(folder, `${name}.detail.jpg`));
  }
  const index: Index = { width, height, layers: [...layers.keys()] };
  await writeFile(join(folder, 'layers.json'), JSON.stringify(index, null, 1));
}

/** Reads the lights of a room back as linear radiance. */
export async function readLayers(folder: string): Promise<Layers> {
  const { width, height, layers: names } = JSON.parse(await readFile(join(folder, 'layers.json'), 'utf8')) as Index;
  const layers = new Map<string, Float32Array>();
  for (const name of names) {
    const low = await sharp(join(folder, `${name}.coarse.png`)).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer({ resolveWithObject: true });
    const coarse = decodeCoarse(new Uint16Array(low.data.buffer, low.data.byteOffset, low.data.length / 2));
    const detail = await sharp(join(folder, `${name}.detail.jpg`)).raw().toBuffer();
    const table = Float32Array.from({ length: 256 }, (_, v) => fromByte(v));
    const layer = new Float32Array(width * height * 3);
    for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) for (let c = 0; c < 3; c++) {
      const i = (y * width + x) * 3 + c;
      const value = 2 ** (coarseAt(coarse, low.info.width, low.info.height, x, y, c) + table[detail[i]]);
      layer[i] = value <= FLOOR * 1.5 ? 0 : value;
    }
    layers.set(name, layer);
  }
  return { width, height, layers };
}
