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

/** What was looked at last: a person who points at one surface mostly points at another next. */
let last: { readonly of: string; readonly findings: Findings } | null = null;

/** All that findings rest on. */
const restsOn = ({ mix: { reference, frames, merge, response, lens, corrects, framing }, proxies }: FindTask): string => JSON.stringify([reference, frames, merge, response, lens, corrects, framing, proxies]);

async function findingsOf({ mix, proxies }: FindTask): Promise<Findings> {
  const pixels = new Map<string, Pixels>();
  for (const [id, path] of proxies) pixels.set(id, unpackPixels(await readFile(path)));
  const { kernels, arena } = newTools(64_000_000);
  return new Findings(makeGuides(kernels, arena, mix, pixels), mix.frames, mix.reference, undefined, framingOf(mix).focal);
}

/** Makes the detections that a mix refers to, from its proxies. */
export default async function find(task: FindTask): Promise<Uint8Array> {
  const of = restsOn(task);
  const findings = last?.of === of ? last.findings : await findingsOf(task);
  last = { of, findings };
  return packFound(findings, task.wanted, findings.guides.width, findings.guides.height);
}
