import { readFile } from 'node:fs/promises';
import { Findings } from '@zaddle/core/found/findings';
import { packFound, type Wanted } from '@zaddle/core/found/storedFound';
import type { Pixels } from '@zaddle/core/image/plane';
import { framingOf } from '@zaddle/core/mix/frameMix';
import { makeGuides } from '@zaddle/core/mix/guides';
import type { MixDocument } from '@zaddle/document';
import { unpackPixels } from '../data/proxyFile';
import { newTools } from '../picture/kernels';

export interface FindTask {
  readonly mix: MixDocument;
  /** Files of the proxies of all lined-up frames: what is found rests on every one. */
  readonly proxies: readonly (readonly [string, string])[];
  readonly wanted: readonly Wanted[];
}

/** Makes the detections that a mix refers to, from its proxies. */
export default async function find({ mix, proxies, wanted }: FindTask): Promise<Uint8Array> {
  const pixels = new Map<string, Pixels>();
  for (const [id, path] of proxies) pixels.set(id, unpackPixels(await readFile(path)));
  const { kernels, arena } = newTools(64_000_000);
  const guides = makeGuides(kernels, arena, mix, pixels);
  return packFound(new Findings(guides, mix.frames, mix.reference, undefined, framingOf(mix).focal), wanted, guides.width, guides.height);
}
