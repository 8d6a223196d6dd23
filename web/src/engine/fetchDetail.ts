import { mapThroughMesh } from '@zaddle/core/geometry/mesh';
import { outputToReference } from '@zaddle/core/mix/outputToReference';
import { lensFactor } from '@zaddle/core/geometry/lens';
import type { Extent } from '@zaddle/core/geometry/composedMap';
import type { Pixels } from '@zaddle/core/image/plane';
import { framesOfPass, type Mix } from '@zaddle/core/mix/mix';
import type { PreparedMix } from '@zaddle/core/mix/prepareMix';
import { fetchPixels } from './fetchProxies';
import type { Region } from './messages';

/** Pixels beyond the region that interpolation and lens error may ask for. */
const MARGIN = 8;

/** The box of a stored frame that a region of the output needs. */
function boxOf(mix: Mix, frame: string, region: Region): { x: number; y: number; w: number; h: number } {
  const use = mix.frames[frame];
  const reference = mix.frames[mix.reference];
  // A pass may read the frame through a map of its own.
  const maps = [use.homography, ...mix.passes.flatMap((pass) => (pass.kind !== 'adjust' && pass.alignment && pass.source.kind !== 'merge' && pass.source.frame === frame ? [pass.alignment] : []))];
  const cx = (use.width - 1) / 2;
  const cy = (use.height - 1) / 2;
  const half = (use.width ** 2 + use.height ** 2) / 4;
  const xs: number[] = [];
  const ys: number[] = [];
  for (let i = 0; i <= 4; i++) {
    for (let j = 0; j <= 4; j++) {
      const at = outputToReference(mix, region.x + (region.width * i) / 4, region.y + (region.height * j) / 4);
      for (const map of maps) {
        const [u, v] = mapThroughMesh(map, map === use.homography ? use.mesh : null, reference.width, reference.height, ...at);
        const s = lensFactor(mix.lens, ((u - cx) ** 2 + (v - cy) ** 2) / half);
        xs.push(cx + (u - cx) * s);
        ys.push(cy + (v - cy) * s);
      }
    }
  }
  const x = Math.max(0, Math.floor(Math.min(...xs)) - MARGIN);
  const y = Math.max(0, Math.floor(Math.min(...ys)) - MARGIN);
  return { x, y, w: Math.min(use.width, Math.ceil(Math.max(...xs)) + MARGIN) - x, h: Math.min(use.height, Math.ceil(Math.max(...ys)) + MARGIN) - y };
}

/** Full-size pixels of all frames that the passes of the shown pictures need for one region. */
export async function fetchDetail(shown: readonly PreparedMix[], region: Region): Promise<Map<string, { pixels: Pixels; whole: Extent }>> {
  // Maps of single passes count too: all passes of all pictures are looked at together.
  const mix: Mix = { ...shown[0].mix, passes: shown.flatMap((prepared) => prepared.mix.passes) };
  const ids = new Set(mix.passes.flatMap((pass) => framesOfPass(mix, pass)));
  const parts = new Map<string, { pixels: Pixels; whole: Extent }>();
  await Promise.all([...ids].map(async (id) => {
    const { x, y, w, h } = boxOf(mix, id, region);
    const { width, height } = mix.frames[id];
    parts.set(id, { pixels: await fetchPixels(`/api/frames/${id}/pixels?x=${x}&y=${y}&w=${Math.max(1, w)}&h=${Math.max(1, h)}`), whole: { width, height, x, y } });
  }));
  return parts;
}
