import { expect, test } from 'vitest';
import type { Area, Mix, OutlineArea, Pass, Point } from '@zaddle/document';
import { linearToSrgb } from '../src/colour/transfer';
import type { Findings } from '../src/found/findings';
import { mapPoint, type Homography } from '../src/geometry/homography';
import { NO_LENS } from '../src/geometry/lens';
import { createLight, type Pixels } from '../src/image/plane';
import type { GuideSet } from '../src/mix/guides';
import type { ShotFrame } from '../src/propose/lineUpShot';
import { sourcePass } from '../src/propose/newPass';
import { settlePanes } from '../src/propose/settlePanes';
import { FOUND, tools } from './evaluation';

/* A window of two panes by day and by flash, the flash frame moved a little; frames are twice as fine as their proxies. */

const [W, H] = [1200, 800];
const [PW, PH] = [600, 400];
const PANES: readonly (readonly Point[])[] = [[[301.3, 200.6], [540.8, 204.2], [538.4, 560.7], [299.2, 557.1]], [[560.4, 204.9], [800.2, 208.4], [797.6, 563.3], [557.9, 561.2]]];
const MOVED: Homography = [1, 0.0006, 2.7, -0.0006, 1, -1.9, 0, 0, 1];

const sideOf = ([px, py]: Point, [ax, ay]: Point, [bx, by]: Point): number => ((bx - ax) * (py - ay) - (by - ay) * (px - ax)) / Math.hypot(bx - ax, by - ay);
const inside = (at: Point): number => Math.max(...PANES.map((pane) => Math.min(...pane.map((a, k) => sideOf(at, a, pane[(k + 1) % 4])))));
/** A proxy of a frame in which panes and what is about them are as bright as said, edges spread by a lens. */
function proxy(toReference: (at: Point) => Point, within: number, about: number): Pixels {
  const data = new Uint8Array(PW * PH * 3);
  for (let y = 0; y < PH; y++) for (let x = 0; x < PW; x++) {
    let sum = 0;
    for (const [i, j] of [[0.5, 0.5], [-0.5, 0.5], [0.5, -0.5], [-0.5, -0.5]]) sum += 1 / (1 + Math.exp(-1.6 * inside(toReference([2 * x + 0.5 + i, 2 * y + 0.5 + j]))));
    data.fill(Math.round(255 * linearToSrgb(about + (sum / 4) * (within - about))), (y * PW + x) * 3, (y * PW + x) * 3 + 3);
  }
  return { width: PW, height: PH, data };
}
const back = ([x, y]: Point): Point => { const u = (x - 2.7 - 0.0006 * (y + 1.9)) / (1 + 0.0006 ** 2); return [u, y + 1.9 + 0.0006 * u]; };
const frame = (id: string, pixels: Pixels): ShotFrame => ({ facts: { id, width: W, height: H } as ShotFrame['facts'], proxy: pixels });
const frames = [frame('a', proxy((at) => at, 0.7, 0.08)), frame('b', proxy(back, 0.03, 0.45))];
const uses: Mix['frames'] = { a: { width: W, height: H, homography: [1, 0, 0, 0, 1, 0, 0, 0, 1], mesh: null, stops: 0, balance: [1, 1, 1] }, b: { width: W, height: H, homography: MOVED, mesh: null, stops: -2, balance: [1, 1, 1] } };
const mix: Mix = { reference: 'a', lens: NO_LENS, corrects: { distortion: true, fringes: true, falloff: true }, response: [], geometry: [1, 0, 0, 0, 1, 0, 0, 0, 1], width: W, height: H, frames: uses, merge: ['a'], passes: [] };
const guides = { width: 2, height: 2, merge: createLight(2, 2), frames: new Map(['a', 'b'].map((id) => [id, { light: { ...createLight(2, 2), g: new Float32Array(4).fill(0.7) } }])) } as unknown as GuideSet;
const settle = (passes: readonly Pass[]): Pass[] => settlePanes(tools, frames, { mix, guides, findings: FOUND as unknown as Findings }, passes);
const panesOff = (off: (k: number) => number): OutlineArea => ({ id: 'panes', kind: 'outline', join: 'add', inverted: false, softness: 0.0007, rings: PANES.map((pane) => pane.map(([x, y], k) => ({ at: [(x + off(k)) / W, (y - off(k + 1)) / W], before: null, after: null }))) });
const other: Area = { ...panesOff(() => 2), id: 'else' };
const pass = (mask: readonly Area[]): Pass => sourcePass('view', 'view', { kind: 'frame', frame: 'a' }, { name: 'View', why: '', mask });

test('panes settle on their edges in the pixels of proxies, whichever side is bright in a frame', () => {
  expect(mapPoint(MOVED, ...back([500, 300]))).toEqual([expect.closeTo(500, 6), expect.closeTo(300, 6)]);
  const [view] = settle([pass([panesOff((k) => (k % 2 ? 2.4 : -1.8)), other])]);
  const [panes, rest] = view.mask as OutlineArea[];
  expect(rest).toEqual(other);
  expect(panes).toMatchObject({ id: 'panes', softness: 0.0007 });
  panes.rings.forEach((ring, r) => ring.forEach(({ at: [x, y] }, k) => expect(Math.hypot(x * W - PANES[r][k][0], y * W - PANES[r][k][1])).toBeLessThan(0.3)));
});

test('what has no panes stays', () => {
  const passes = [pass([other]), pass([])];
  expect(settle(passes)).toEqual(passes);
});
