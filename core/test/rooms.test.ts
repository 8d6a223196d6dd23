import { describe, expect, test } from 'vitest';
import { createPlane } from '../src/image/plane';
import { describeView, type ViewFeatures } from '../src/set/describeView';
import { matchViews } from '../src/set/matchViews';
import { roomOf, roomsOf, type RoomMember } from '../src/set/roomsOf';

const [W, H, FOCAL] = [480, 320, 0.7];

/** 0..1 for whole numbers, the same for the same. */
function hashed(...keys: number[]): number {
  let h = 2166136261;
  for (const key of keys) h = Math.imul(h ^ (key + 0x9e3779b9), 16777619) ^ (h >>> 13);
  return (h >>> 0) / 2 ** 32;
}

/** Brightness and colour of a place on a wall: boards and pictures of several sizes, each room its own. */
function wallAt(room: number, wall: number, u: number, v: number): readonly [number, number] {
  let [value, colour] = [0.5, 0];
  for (const [size, share] of [[1.1, 0.5], [0.45, 0.4], [0.17, 0.3]]) {
    const [i, j] = [Math.floor(u / size), Math.floor(v / size)];
    if (hashed(room, wall, i, j, size * 100) > share) continue;
    const [a, b] = [u / size - i, v / size - j];
    const edge = 0.1 + 0.25 * hashed(room, wall, i, j, 1);
    if (a < edge || b < edge || a > 1 - edge / 2 || b > 1 - edge) continue;
    value = 0.1 + 0.8 * hashed(room, wall, i, j, 2);
    colour = hashed(room, wall, i, j, 3) - 0.5;
  }
  return [value, colour];
}

/** What a level camera sees of a room of 5 x 6 m and 2.6 m: walls, floor and ceiling. */
function look(room: number, [cx, cz]: readonly [number, number], degrees: number): ViewFeatures {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  const [luma, red] = [createPlane(W, H), createPlane(W, H)];
  const rayAt = (x: number, y: number): [number, number, number] => {
    const [a, b] = [(x - (W - 1) / 2) / (FOCAL * W), (y - (H - 1) / 2) / (FOCAL * W)];
    const length = Math.hypot(a, b, 1);
    return [a / length, b / length, 1 / length];
  };
  for (let y = 0; y < H; y++) {
    for (let x = 0; x < W; x++) {
      const [a, b, d] = rayAt(x, y);
      const ray = [c * a + s * d, b, c * d - s * a];
      const far = [ray[0] > 0 ? (5 - cx) / ray[0] : -cx / ray[0], ray[1] > 0 ? 1.4 / ray[1] : -1.2 / ray[1], ray[2] > 0 ? (6 - cz) / ray[2] : -cz / ray[2]];
      const wall = far.indexOf(Math.min(...far));
      const at = [cx + ray[0] * far[wall], 1.2 + ray[1] * far[wall], cz + ray[2] * far[wall]];
      const [value, colour] = wallAt(room, 2 * wall + Number(ray[wall] > 0), wall === 0 ? at[2] : at[0], wall === 1 ? at[2] : at[1]);
      luma.data[y * W + x] = 255 * value;
      red.data[y * W + x] = colour;
    }
  }
  return describeView(luma, red, createPlane(W, H), rayAt);
}

describe('pictures of one room', () => {
  const first = look(1, [2.4, 0.6], 0);
  test.each([[[1.2, 0.8], 18], [[3.9, 0.5], -25], [[2.2, 1.4], 4]] as const)('are told from another place, %j turned by %i degrees, by things in common', (at, degrees) => {
    const other = look(1, at, degrees);
    expect(matchViews(first, other)).toBeGreaterThanOrEqual(14);
    expect(matchViews(other, first)).toBeGreaterThanOrEqual(14);
  });
  test('of another room, or of nothing, have few or none', () => {
    for (let room = 2; room < 5; room++) expect(matchViews(first, look(room, [2.2, 0.8], 6))).toBeLessThan(10);
    const plain = describeView(createPlane(W, H), createPlane(W, H), createPlane(W, H), () => [0, 0, 1]);
    expect(plain.looks.length).toBe(0);
    expect(matchViews(first, plain)).toBe(0);
  });
  test('do not agree where things look alike but lie elsewhere', () => {
    const rays = first.rays.slice();
    // The same looks, their places dealt anew.
    for (let k = 0, n = rays.length / 3; k < n; k++) for (let c = 0; c < 3; c++) rays[3 * k + c] = first.rays[3 * ((k * 97 + 31) % n) + c];
    expect(matchViews(first, { ...first, rays })).toBeLessThan(0.35 * matchViews(first, first));
  });
});

describe('rooms of shots', () => {
  const members = (...rows: readonly [label: string, shows?: Record<string, number>][]): RoomMember[] => rows.map(([label, shows = {}], k) => ({ id: 'abcdefgh'[k], label, shows }));
  const told = (list: RoomMember[]): (string | null)[] => [...roomsOf(list).values()].map((room) => room && `${room.name}${room.seen ? ' (seen)' : ''}`);
  test('are told by things in common, link by link; more of them are asked for between shots that were not taken in a row', () => {
    expect(told(members(['Shot 1'], ['Shot 2', { a: 20 }], ['Shot 3', { b: 11 }], ['Shot 4', { c: 3, a: 10 }], ['Shot 5'], ['Shot 6', { e: 11 }]))).toEqual(['room 1 (seen)', 'room 1 (seen)', 'room 1 (seen)', null, 'room 2 (seen)', 'room 2 (seen)']);
    expect(told(members(['Shot 1'], ['Shot 2'], ['Shot 3', { a: 12 }]))).toEqual(['room 1 (seen)', null, 'room 1 (seen)']);
  });
  test('a label is right whatever pictures show; shots without one join whom they share most with; rooms with names stay apart', () => {
    expect(told(members(['Kitchen'], ['Shot 2', { a: 14 }], ['Hall', { b: 30, a: 40 }], ['Kitchen 2']))).toEqual(['kitchen', 'hall (seen)', 'hall', 'kitchen']);
    expect(told(members(['Kitchen 1'], ['Attic', { a: 50 }]))).toEqual(['kitchen', 'attic']);
  });
  test('it does not matter which of two says what they have in common', () => {
    expect(told(members(['Shot 1', { b: 15 }], ['Shot 2']))).toEqual(told(members(['Shot 1'], ['Shot 2', { a: 15 }])));
    expect(roomOf('Shot 3')).toBeNull();
  });
});
