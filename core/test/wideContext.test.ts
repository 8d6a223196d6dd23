import { expect, test } from 'vitest';
import type { FrameUse, Mix, Pass } from '@zaddle/document';
import type { Found } from '../src/found/found';
import { NO_LENS } from '../src/geometry/lens';
import { GuideLevel } from '../src/graph/guideLevel';
import { placeGuideSources } from '../src/graph/placeGuideSources';
import { newWideContext } from '../src/graph/wideContext';
import { Heap } from '../src/graph/heap';
import { Keep } from '../src/graph/keep';
import { prepareMix } from '../src/graph/prepareMix';
import type { Pixels } from '../src/image/plane';
import { Arena } from '../src/kernels/arena';
import { testKernels } from './kernelMemory';

const [W, H] = [480, 320];
const picture = (k: number): Pixels => ({ width: W, height: H, data: Uint8Array.from({ length: W * H * 3 }, (_, i) => 30 + ((Math.floor(i / 3) % W) * (k + 1) + i * k) % 190) }) as Pixels;
const use: FrameUse = { width: W, height: H, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] };
const found: Found = { reference: 'a', edgeFound: () => null, share: () => null };
const base = (id: string, within: string | null = null) => ({ id, name: id, within, why: '', on: true, opacity: 1, mask: [], exposure: 0, balance: [1, 1, 1] }) as const;
const light = (id: string, frame: string, more: object = {}): Pass => ({ ...base(id), kind: 'light', source: { kind: 'frame', frame }, alignment: null, mode: 'normal', brightness: 1, colour: 1, ...more }) as Pass;
const tone = (more: object = {}): Pass => ({ ...base('t'), kind: 'adjust', contrast: 1, highlights: -1.5, shadows: 1, curve: [], tied: false, saturation: 1, ...more });
const bundle: Pass = { ...base('g'), kind: 'bundle', mode: 'normal', brightness: 1, colour: 1 };
const mixOf = (...passes: Pass[]): Mix => ({ reference: 'a', lens: { ...NO_LENS }, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: W, height: H, frames: { a: use, b: use }, merge: ['a'], passes });

test('broad tones and glow that were worked out for one light are never taken for another: tied or not, in a bundle or out of it', () => {
  const kernels = testKernels(96 << 20);
  const arena = new Arena(kernels.memory.buffer, 1024, 48 << 20);
  const mixes = [
    mixOf(light('u', 'a'), light('h', 'b', { opacity: 0.5 }), tone()),
    mixOf(light('u', 'a'), light('h', 'b', { opacity: 0.5 }), tone({ tied: true })),
    mixOf(light('u', 'a'), tone(), light('h', 'b', { within: 'g' }), bundle),
    mixOf(light('u', 'a'), tone({ within: 'g' }), light('h', 'b', { within: 'g' }), bundle),
    mixOf(light('u', 'a', { exposure: 2 }), tone({ glow: 0.8 })),
    mixOf(light('u', 'a', { exposure: 3 }), tone({ glow: 0.8 })),
    mixOf(light('u', 'a', { exposure: 3 }), tone({ glow: 0.3 })),
  ];
  const sources = placeGuideSources(kernels, arena, mixes[0], new Map([['a', picture(1)], ['b', picture(3)]]));
  const keep = new Keep(new Heap(48 << 20, 96 << 20), kernels.memory.buffer);
  const wide = newWideContext();
  const seen = (mix: Mix, shared: boolean): Float32Array => {
    keep.begin();
    const level = new GuideLevel(kernels, arena, sources, shared ? { keeper: keep, grid: 'guide', working: null } : null, shared ? wide : newWideContext());
    return level.picture(level.workOut(prepareMix(mix, found))).g;
  };
  const fresh = mixes.map((mix) => seen(mix, false));
  // One after the other and back, with all that was kept of the others.
  for (const k of [0, 1, 2, 3, 4, 5, 6, 5, 4, 3, 2, 1, 0]) expect(seen(mixes[k], true).reduce((worst, v, i) => Math.max(worst, Math.abs(v - fresh[k][i])), 0), `mix ${k}`).toBeLessThan(1e-5);
});
