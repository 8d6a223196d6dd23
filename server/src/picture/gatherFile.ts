import { measureGrain } from '@zaddle/core/finish/measureGrain';
import { proxyStructure, pyramidBytes } from '@zaddle/core/align/structure';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import { frameStats, type FrameStats } from '@zaddle/core/read/frameStats';
import type { Pixels, Plane } from '@zaddle/core/image/plane';
import type { Tools } from '@zaddle/core/kernels/tools';
import { decodeFrame, readFacts } from './decodeFrame';
import { newTools } from './kernels';
import { makeProxy } from './makeProxy';

/** What gathering keeps of a frame: facts, a proxy to line up and look at, and a small picture to sort by. */
export interface GatheredFrame {
  readonly facts: FrameFacts;
  readonly proxy: Pixels;
  readonly structure: Plane;
  readonly stats: FrameStats;
}

let sketcher: Tools | null = null;

/** The small picture of a proxy that frames are sorted by. */
export function structureOf(proxy: Pixels): Plane {
  const bytes = pyramidBytes(proxy.width, proxy.height);
  if (!sketcher || sketcher.arena.buffer.byteLength < bytes) sketcher = newTools(bytes);
  return proxyStructure(sketcher, proxy);
}

/**
 * Reads one file of a card: its facts, one decode, and what follows from the pixels.
 * @throws RejectedFile with the reason for the person.
 */
export async function gatherFile(input: string | Buffer, id: string, name: string): Promise<GatheredFrame> {
  const facts = await readFacts(input, id, name);
  const pixels = await decodeFrame(input, facts.deep);
  const proxy = makeProxy(pixels);
  return { facts: { ...facts, grain: measureGrain(pixels) }, proxy, structure: structureOf(proxy), stats: frameStats(proxy) };
}
