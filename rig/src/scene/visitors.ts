import { as, matt, type Builder } from './builder';
import { clay, steel } from './furniture';
import type { Layer, LightSource, Room } from './room';
import { washHouseLater } from './rooms/washHouse';
import { cloth, plain } from './textures';
import type { Vec } from './vector';

/*
 * What a visit brings into the rooms: the helper who holds a flash, a light stand with its cable, a strong light
 * outside that plays the sun. Each is a room of its own name; what it leaves as it was comes from the room it is made of.
 */

const jacket = as('person', matt(cloth([0.07, 0.09, 0.14])));
const trousers = as('person', matt(cloth([0.2, 0.17, 0.13])));
const skin = as('person', matt(plain([0.5, 0.31, 0.22])));
const hair = as('person', matt(plain([0.05, 0.03, 0.02])));
const shoes = as('person', matt(plain([0.03, 0.03, 0.03]), 0.04, 0.1));
const black = as('equipment', matt(plain([0.03, 0.03, 0.03]), 0.04, 0.1));
const pole = as('equipment', steel);

/** A person of 1.75 m at (x, y) with one arm up towards `hand`. */
function person(b: Builder, x: number, y: number, hand: Vec): void {
  for (const side of [-0.1, 0.1]) {
    b.cushion([x + side, y, 0.44], [0.085, 0.1, 0.44], trousers, 0.7);
    b.cushion([x + side, y + 0.05, 0.04], [0.06, 0.14, 0.045], shoes, 0.6);
  }
  b.cushion([x, y, 1.16], [0.22, 0.13, 0.33], jacket, 0.6);
  b.cushion([x, y, 1.63], [0.085, 0.1, 0.12], skin, 1);
  b.cushion([x, y - 0.02, 1.68], [0.09, 0.105, 0.085], hair, 1);
  b.cushion([x - 0.25, y, 1.1], [0.06, 0.07, 0.3], jacket, 0.7);
  // The raised arm, in three pieces from the shoulder to the hand.
  for (const t of [0.2, 0.5, 0.8]) b.cushion([x + 0.22 + (hand[0] - x - 0.22) * t, y + (hand[1] - y) * t, 1.4 + (hand[2] - 1.4) * t], [0.09, 0.08, 0.12], t > 0.7 ? skin : jacket, 0.8);
}

/** A flash in a softener at `at`, its front towards the camera: seen, it is glaring. */
function softener(b: Builder, at: Vec, layer: number): void {
  const [x, y, z] = at;
  b.box([x - 0.2, y + 0.02, z - 0.2], [0.4, 0.12, 0.4], black);
  b.quad([x - 0.19, y + 0.01, z - 0.19], [0.38, 0, 0], [0, 0, 0.38], { ...matt(plain([0.8, 0.8, 0.8])), glow: { layer, colour: [38, 39, 41] }, shadowless: true, what: 'equipment' });
}

/** A light stand on three legs with a cable to the wall. */
function stand(b: Builder, x: number, y: number, top: number, wall: Vec): void {
  b.turned([x, y, 0.35], [[0, 0], [0.016, 0], [0.016, top - 0.35], [0, top - 0.35]], pole);
  for (const a of [0.3, 2.4, 4.5]) for (let t = 0.05; t < 1; t += 0.1) b.box([x + Math.cos(a) * 0.4 * t - 0.025, y + Math.sin(a) * 0.4 * t - 0.012, 0.38 * (1 - t)], [0.05, 0.024, 0.05], black, a);
  for (let k = 0; k < 14; k++) {
    const t = k / 14;
    b.box([x + (wall[0] - x) * t, y + (wall[1] - y) * t + 0.06 * Math.sin(k), 0.006], [Math.abs(wall[0] - x) / 13, 0.02, 0.016], black);
  }
}

/** A room as it is without its flashes: light by day and by its lamps. */
const steady = (layers: readonly Layer[]): Layer[] => layers.filter((layer) => !layer.name.startsWith('flash'));

const hand = (name: string, centre: Vec, aim: Vec, power: number): Layer => {
  const l = Math.hypot(...aim);
  return { name, view: 0, sources: [{ kind: 'flash', centre, aim: [aim[0] / l, aim[1] / l, aim[2] / l], radius: 0.2, power: [power * 0.97, power, power * 1.06] }] };
};

/** The room with the helper at (x, y) who holds a flash at `head`. */
function withHelper(room: Room, x: number, y: number, head: Vec, aim: Vec, power: number, name = `${room.name}-helper`): Room {
  return {
    ...room, name,
    furnish: (b) => {
      const layers = steady(room.furnish(b));
      person(b, x, y, head);
      softener(b, head, layers.length);
      return [...layers, hand('flash-1', head, aim, power)];
    },
  };
}

/** The room with a stand left in it, a bucket beside it, and its first flash. */
function withStand(room: Room, x: number, y: number, wall: Vec): Room {
  return {
    ...room, name: `${room.name}-stand`,
    furnish: (b) => {
      const all = room.furnish(b);
      const layers = [...steady(all), all.find((layer) => layer.name === 'flash-1')!];
      stand(b, x, y, 1.9, wall);
      b.box([x - 0.17, y - 0.1, 1.75], [0.34, 0.2, 0.34], black);
      b.turned([x + 0.5, y - 0.15, 0], [[0, 0], [0.12, 0], [0.14, 0.26], [0.13, 0.26]], clay);
      return layers;
    },
  };
}

/** The light of a strong lamp outside alone; everything else comes from the room it is made of. */
function withSun(room: Room, centre: Vec, power: number): Room {
  const sun: LightSource = { kind: 'bulb', centre, radius: 0.09, power: [power, power * 0.84, power * 0.6] };
  return {
    ...room, name: `${room.name}-sun`, base: room.name,
    furnish: (b) => [...steady(room.furnish(b)).map((layer) => ({ ...layer, sources: [], view: 0 })), { name: 'sun', sources: [sun], view: 0 }],
  };
}

/** The rooms that visitors change. @param room by name. */
export const visitedRooms = (room: (name: string) => Room): Room[] => [
  withHelper(room('bedroom'), 0.95, 2.1, [1.3, 1.95, 1.85], [0.3, 0.5, 0.8], 300),
  withHelper(room('grain-loft'), 2.98, 8.0, [3.05, 7.95, 2.0], [-0.6, 0.6, 0.6], 260),
  withHelper(room('wash-house'), 2.3, 0.2, [2.62, 0.3, 1.9], [-0.3, 0.7, 0.6], 200),
  withHelper(washHouseLater, 0.95, 0.1, [0.62, 0.2, 1.9], [0.4, 0.7, 0.5], 200, 'wash-house-later'),
  withStand(room('sitting-room'), 3.2, 1.9, [6.1, 1.6, 0]),
  withStand(room('pilots-room'), 3.75, 2.5, [5.5, 2.3, 0]),
  withSun(room('bedroom'), [-3.3, 14.8, 8.2], 150_000),
  withSun(room('kitchen'), [6.5, 16, 6.5], 190_000),
  withSun(room('boat-hall'), [-4, 14.5, 7.5], 190_000),
];
