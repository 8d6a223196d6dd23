import { execFile } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import sharp from 'sharp';
import type { FrameFacts } from '@zaddle/core/intake/frameFacts';
import type { Pixels } from '@zaddle/core/image/plane';
import { chooseReference, lineUpShot, viewShot } from '@zaddle/core/propose/lineUpShot';
import { addedLight } from '@zaddle/core/propose/addedLight';
import { decodeFrame } from '../picture/decodeFrame';
import { gatherFile } from '../picture/gatherFile';
import { newTools } from '../picture/kernels';
import { makeThumbnail } from '../picture/makeThumbnail';

const ROUNDS = 3;
const cpu = (): number => {
  const { user, system } = process.cpuUsage();
  return (user + system) / 1000;
};
const middle = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1];

/** Everything that gathering does with a frame's file, against its decode alone: medians over frames and rounds. */
export async function gatherRatio(paths: readonly string[]): Promise<Record<string, unknown>> {
  const decodes: number[] = [];
  const wholes: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    for (const path of paths) {
      let start = cpu();
      await decodeFrame(path);
      decodes.push(cpu() - start);
      start = cpu();
      const { proxy } = await gatherFile(path, path, path);
      await makeThumbnail(proxy);
      wholes.push(cpu() - start);
    }
  }
  return { frames: paths.length, decodeMs: Math.round(middle(decodes)), gatherMs: Math.round(middle(wholes)), ratioToDecode: middle(wholes) / middle(decodes), peakRssMiB: Math.round(process.resourceUsage().maxRSS / 1024) };
}

/** What a general-purpose library takes: ECC (Evangelidis, Psarakis 2008) for a homography on the same proxies; its CPU time alone. */
const ECC = `
import cv2, json, numpy as np, resource, sys
grey = [cv2.imread(p, cv2.IMREAD_GRAYSCALE) for p in sys.argv[1:]]
used = lambda: sum(resource.getrusage(resource.RUSAGE_SELF)[:2])
out = []
for frame in grey[1:]:
    start = used()
    try:
        cv2.findTransformECC(grey[0], frame, np.eye(3, dtype=np.float32), cv2.MOTION_HOMOGRAPHY, (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 50, 1e-4), None, 5)
    except cv2.error:
        pass
    out.append(1000 * (used() - start))
print(json.dumps(out))
`;

async function eccMilliseconds(folder: string, proxies: readonly Pixels[]): Promise<number[] | null> {
  const files = proxies.map((_, k) => join(folder, `${k}.png`));
  for (const [k, { width, height, data }] of proxies.entries()) await sharp(data as Uint8Array, { raw: { width, height, channels: 3 } }).png({ compressionLevel: 1 }).toFile(files[k]);
  await writeFile(join(folder, 'ecc.py'), ECC);
  // Debian's own Python: others on the path have no OpenCV.
  return promisify(execFile)('/usr/bin/python3', [join(folder, 'ecc.py'), ...files]).then(({ stdout }) => JSON.parse(stdout) as number[], () => null);
}

/** Lining up one frame against what a general-purpose library's ECC takes for it, both on proxies. */
export async function lineUpRatio(frames: readonly { facts: FrameFacts; proxy: Pixels }[]): Promise<Record<string, unknown>> {
  const times: number[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    const tools = newTools(64_000_000);
    const start = cpu();
    const views = viewShot(tools, frames);
    lineUpShot(tools, views, 'find', chooseReference(views, addedLight(views)));
    times.push((cpu() - start) / (frames.length - 1));
  }
  const folder = await mkdtemp(join(tmpdir(), 'zaddle-ecc-'));
  try {
    const ecc = await eccMilliseconds(folder, frames.map((f) => f.proxy));
    const own = middle(times);
    return ecc ? { msPerFrame: Math.round(own), eccMsPerFrame: Math.round(middle(ecc)), ratioToEcc: own / middle(ecc) } : { msPerFrame: Math.round(own), ratioToEcc: null, note: 'to compare, install the Debian package python3-opencv' };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
