import { mapThroughMesh } from '@zaddle/core/geometry/mesh';
import { outputToReference } from '@zaddle/core/mix/outputToReference';
import { lensFactor } from '@zaddle/core/geometry/lens';
import type { Extent } from '@zaddle/core/geometry/composedMap';
import type { Pixels } from '@zaddle/core/image/plane';
import { framesOfPass, type Mix } from '@zaddle/core/mix/mix';
import type { PreparedMix } from '@zaddle/core/mix/prepareMix';
import { fetchPixels } from './fetchProxies';
import type { Region } from './messages';

/** Pixels, of the level, beyond the region that interpolation and lens error may ask for. */
const MARGIN = 8;

/** The box of a stored frame that a region of the output needs. */
function boxOf(mix: Mix, frame: string, region: Region): { x: number; y: number; w: number; h: number } {
  const margin = MARGIN * 2 ** region.level;
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
  const x = Math.max(0, Math.floor(Math.min(...xs)) - margin);
  const y = Math.max(0, Math.floor(Math.min(...ys)) - margin);
  return { x, y, w: Math.min(use.width, Math.ceil(Math.max(...xs)) + margin) - x, h: Math.min(use.height, Math.ceil(Math.max(...ys)) + margin) - y };
}

/** A box of a frame at a level, cut to the frame. Levels are as large as the server makes them: halves, rounded up. */
function boxAt({ x, y, w, h }: { x: number; y: number; w: number; h: number }, width: number, height: number, level: number): { box: { x: number; y: number; w: number; h: number }; whole: Extent } {
  const k = 2 ** level;
  const [levelWidth, levelHeight] = [Math.max(1, Math.ceil(width / k)), Math.max(1, Math.ceil(height / k))];
  const left = Math.min(levelWidth - 1, Math.floor(x / k));
  const top = Math.min(levelHeight - 1, Math.floor(y / k));
  const box = { x: left, y: top, w: Math.max(1, Math.min(levelWidth, Math.ceil((x + w) / k)) - left), h: Math.max(1, Math.min(levelHeight, Math.ceil((y + h) / k)) - top) };
  return { box, whole: { width: levelWidth, height: levelHeight, x: left, y: top } };
}

/** Pixels of all frames, at the region's level, that the passes of the shown pictures need for one region. */
export async function fetchDetail(shown: readonly PreparedMix[], region: Region): Promise<Map<string, { pixels: Pixels; whole: Extent }>> {
  // Maps of single passes count too: all passes of all pictures are looked at together.
  const mix: Mix = { ...shown[0].mix, passes: shown.flatMap((prepared) => prepared.mix.passes) };
  const ids = new Set(mix.passes.flatMap((pass) => framesOfPass(mix, pass)));
  const parts = new Map<string, { pixels: Pixels; whole: Extent }>();
  await Promise.all([...ids].map(async (id) => {
    const { width, height } = mix.frames[id];
    const { box, whole } = boxAt(boxOf(mix, id, region), width, height, region.level);
    parts.set(id, { pixels: await fetchPixels(`/api/frames/${id}/pixels?x=${box.x}&y=${box.y}&w=${box.w}&h=${box.h}&level=${region.level}`), whole });
  }));
  return parts;
}
