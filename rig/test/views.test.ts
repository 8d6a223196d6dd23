import { describe, expect, test } from 'vitest';
import { invert, mapPoint } from '@zaddle/core/geometry/homography';
import { createPlane, type Plane } from '@zaddle/core/image/plane';
import { AUTOMATIC, proposeMix } from '@zaddle/core/propose/proposeMix';
import { testTools } from '../../core/test/kernelMemory';
import { planDemo } from '../src/camera/demoVisit';
import { frameView, roomOf } from '../src/camera/house';
import { planShot } from '../src/camera/plans';
import { referenceToFrame } from '../src/camera/simulateFrame';
import type { PlannedFrame } from '../src/camera/takeFrames';
import { PathTracer } from '../src/trace/pathTracer';
import { lookRoom } from '../src/truth/lookRoom';
import { FRAME_HEIGHT, FRAME_WIDTH, room, take } from './taken';

/* The automatic start finds the view: pane by pane, and nothing that is none. */

const tools = testTools(96_000_000);
/** Pixels of a frame to one of the guide. */
const SCALE = 2;

/** Glass as it truly is on the guide of a frame, 0..1. */
function trueGlass(name: string, reference: PlannedFrame): Plane {
  const [width, height] = [FRAME_WIDTH / SCALE, FRAME_HEIGHT / SCALE];
  const share = lookRoom(new PathTracer(roomOf(name)), frameView(roomOf(name).view), width, height).things.get('glass')!;
  const back = invert(referenceToFrame(reference));
  const out = createPlane(width, height);
  for (let i = 0; i < out.data.length; i++) {
    const [x, y] = mapPoint(back, ((i % width) + 0.5) * SCALE - 0.5, (Math.floor(i / width) + 0.5) * SCALE - 0.5);
    const [u, v] = [Math.round((x + 0.5) / SCALE - 0.5), Math.round((y + 0.5) / SCALE - 0.5)];
    out.data[i] = u >= 0 && v >= 0 && u < width && v < height ? share[v * width + u] : 0;
  }
  return out;
}

/** How much of what is glass and of what is found are the same, and what is found beside it as a share of the picture. */
function judged(found: Plane, truth: Plane): { same: number; extra: number } {
  let [both, either, extra] = [0, 0, 0];
  for (let i = 0; i < found.data.length; i++) {
    const [a, b] = [found.data[i] > 0.5, truth.data[i] > 0.5];
    if (a && b) both++;
    if (a || b) either++;
    if (a && !b) extra++;
  }
  return { same: both / either, extra: extra / found.data.length };
}

const shot = (name: string, ambient: number[], pops: string[], seed: number) => async (): Promise<PlannedFrame[]> =>
  planShot({ room: name, shot: name, ambient, pops, shake: 2, turn: 0.0005, seed }, await room(name), new Date('2026-06-11T10:00:00Z'), 1);
const visit = (name: string) => async (): Promise<PlannedFrame[]> => (await planDemo(room, [name])).filter((frame) => frame.shot === name);

describe.each([
  ['sitting-room', 'four flashes', visit('sitting-room'), 0.88, 0.002],
  ['hoist-stair', 'a bright passage, clipped by day', visit('hoist-stair'), 0.88, 0.002],
  ['bedroom', 'a bracket alone, a lamp on the wall', shot('bedroom', [0, -2, 2], [], 42), 0.8, 0.003],
  ['office', 'no flash at all', visit('office'), 0.75, 0.006],
  ['sitting-room', 'one exposure and one flash', shot('sitting-room', [0], ['flash-2'], 41), 0.7, 0.004],
  ['bedroom', 'low texture, one flash', shot('bedroom', [0, -2, 2], ['flash-2'], 43), 0.75, 0.004],
])('the %s, %s', (name, _, plan, least, most) => {
  test('its view is found, and little else', async () => {
    const frames = await plan();
    await Promise.all([...new Set(frames.map((frame) => frame.room))].map(room));
    const { findings, mix } = proposeMix(tools, frames.map(take), AUTOMATIC, () => 0);
    const { same, extra } = judged(findings.pane(), trueGlass(name, frames.find((frame) => frame.file === mix.reference)!));
    expect(same).toBeGreaterThan(least);
    expect(extra).toBeLessThan(most);
    const at = mix.passes.findIndex((pass) => pass.kind === 'view');
    // Panes bound it, and what stands before them is taken away; where they do not, it is as it was found.
    const [first, ...rest] = mix.passes[at].mask;
    expect(first.kind === 'outline' || (first.kind === 'found' && first.what === 'glass')).toBe(true);
    for (const area of rest) expect(area).toMatchObject({ kind: 'found', what: 'before', join: 'subtract' });
    // Joinery is carried in under its edge, and follows its mask.
    expect(mix.passes[at - 1]).toMatchObject({ kind: 'fill', around: true, mask: [{ kind: 'same', join: 'add', pass: mix.passes[at].id }, { kind: 'same', join: 'subtract', pass: mix.passes[at].id }] });
  });
});
