import { greyPyramid } from '@zaddle/core/align/structure';
import { lineUpPart } from '@zaddle/core/align/lineUpPart';
import { trackingBytes } from '@zaddle/core/align/trackCorners';
import { compose, rescale } from '@zaddle/core/geometry/homography';
import { prepareMix } from '@zaddle/core/graph/prepareMix';
import { Arena } from '@zaddle/core/kernels/arena';
import { createKernelMemory, loadKernels } from '@zaddle/core/kernels/loadKernels';
import type { Matrix3, MixDocument } from '@zaddle/document';
import type { Session } from './session';

/**
 * Lines up what the mask of a pass covers by itself.
 * @returns the pass's own alignment at full size, or null where the part has too little structure.
 */
export function alignPart(module: WebAssembly.Module, session: Session, mix: MixDocument, passId: string): { alignment: Matrix3; residualPx: number; windows: number } | null {
  const pass = mix.passes.find((p) => p.id === passId);
  if (!pass || !('source' in pass) || !('frame' in pass.source)) return null;
  const use = mix.frames[pass.source.frame];
  const home = mix.frames[mix.reference];
  const [frame, base] = [session.sources.proxy(pass.source.frame), session.sources.proxy(mix.reference)];
  const mask = session.guideLevel(mix).mask(prepareMix({ ...mix, passes: [{ ...pass, on: true, opacity: 1 }] }, session.found), 0);
  const [sx, sy] = [mask.width / base.width, mask.height / base.height];
  const within = (x: number, y: number): boolean => mask.data[Math.min(mask.height - 1, Math.floor(y * sy)) * mask.width + Math.min(mask.width - 1, Math.floor(x * sx))] > 0.5;
  const memory = createKernelMemory(trackingBytes(Math.max(base.width, frame.width), Math.max(base.height, frame.height)) + 4_000_000);
  const tools = { kernels: loadKernels(module, memory), arena: new Arena(memory.buffer) };
  const down = rescale(use.width, use.height, frame.width, frame.height);
  const start = compose(down, compose(pass.alignment ?? use.homography, rescale(base.width, base.height, home.width, home.height)));
  const found = lineUpPart(tools, greyPyramid(tools, base), greyPyramid(tools, frame), start, mix.lens, within);
  if (!found) return null;
  const up = rescale(frame.width, frame.height, use.width, use.height);
  return { alignment: compose(up, compose(found.homography, rescale(home.width, home.height, base.width, base.height))) as Matrix3, residualPx: (found.residual * use.width) / frame.width, windows: found.matches };
}
