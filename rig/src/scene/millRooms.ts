import { matt, type Builder } from './builder';
import { chair, clay, flash, floorLamp, glow, leaf, LIME, OAK, oak, picture, shelf, shell, sofa, steel, table, tableLamp, white, windowWall } from './furniture';
import type { Layer, LightSource, Room } from './room';
import { boards, brick, cloth, plain, plaster, rug, tiles, timber } from './textures';
import { visitedRooms } from './visitors';
import { WHARF_ROOMS } from './wharfRooms';

/*
 * The demo house: Saltpan Tide Mill, 3 Causeway Lane, Merrow Creek; let by Heron & Quay, agents. An old tide
 * mill turned into a home. Everything about it is made up.
 */

/** The grinding floor, now the sitting room: brick end wall, deep window over the creek, beams. */
function sittingRoom(): Room {
  const [w, d, h] = [6.2, 5.2, 2.75];
  const furnish = (b: Builder): Layer[] => {
    const walls = matt(plaster([0.74, 0.75, 0.71]));
    shell(b, w, d, h, matt(boards(OAK, 0.14), 0.04, 0.05), [walls, walls, walls], 4);
    const day = windowWall(b, d, w, h, { x: 1.75, z: 0.85, w: 1.9, h: 1.35 }, matt(brick([0.46, 0.24, 0.17])), 3);
    b.curtain([1.35, d - 0.1, 2.42], [0.42, 0, 0], 2.36, [0, -1, 0], 4, 0.05, matt(cloth([0.62, 0.6, 0.53])));
    b.curtain([3.65, d - 0.1, 2.42], [0.42, 0, 0], 2.36, [0, -1, 0], 4, 0.05, matt(cloth([0.62, 0.6, 0.53])));
    b.box([1.2, d - 0.12, 2.43], [3.0, 0.03, 0.03], steel);
    b.quad([1.3, 1.7, 0.006], [3.2, 0, 0], [0, 2.2, 0], matt(rug([0.5, 0.44, 0.35], [0.12, 0.16, 0.22], [0.45, 0.13, 0.09], 3.2, 2.2)));
    sofa(b, 0.95, 2.9, Math.PI / 2, matt(cloth([0.2, 0.27, 0.25])));
    table(b, [2.2, 2.35, 0], [1.15, 0.65, 0.42], matt(timber([0.5, 0.32, 0.17]), 0.05, 0.04));
    b.turned([2.75, 2.7, 0.42], [[0, 0], [0.05, 0], [0.11, 0.05], [0.13, 0.1], [0.125, 0.1], [0.04, 0.03]], matt(plain([0.1, 0.24, 0.3]), 0.06, 0.05));
    b.box([2.35, 2.5, 0.42], [0.22, 0.3, 0.03], matt(cloth([0.5, 0.12, 0.1])), 0.2);
    b.box([2.36, 2.52, 0.45], [0.19, 0.25, 0.025], white, 0.1);
    shelf(b, 4.6, d, 1.35, 1.85, oak);
    b.cushion([4.95, 2.0, 0.34], [0.42, 0.44, 0.16], matt(cloth([0.42, 0.24, 0.12])), 0.4, -0.5);
    b.cushion([5.32, 2.12, 0.7], [0.14, 0.4, 0.36], matt(cloth([0.42, 0.24, 0.12])), 0.4, -0.35);
    for (const [x, y] of [[4.7, 1.7], [4.75, 2.3], [5.2, 1.75], [5.25, 2.35]]) b.box([x, y, 0], [0.04, 0.04, 0.2], oak);
    const standing = floorLamp(b, 0.55, 4.5, 1);
    table(b, [5.55, 3.25, 0], [0.5, 0.5, 0.55], oak);
    const small = tableLamp(b, [5.8, 3.5, 0.55], 1);
    picture(b, [0, 2.2, 1.35], [0, 0.62, 0], 0.8, 2, [1, 0, 0], matt(plain([0.05, 0.05, 0.05])));
    picture(b, [0, 3.1, 1.35], [0, 0.62, 0], 0.8, 5, [1, 0, 0], matt(plain([0.05, 0.05, 0.05])));
    // A round-cornered looking glass on the right wall.
    b.quad([w - 0.02, 3.95, 1.05], [0, -1.0, 0], [0, 0, 1.05], { ...matt(plain([0.9, 0.9, 0.9])), gloss: 0.92 });
    for (const [y, z, sy, sz] of [[2.9, 1.0, 1.1, 0.05], [2.9, 2.1, 1.1, 0.05], [2.9, 1.0, 0.05, 1.15], [3.95, 1.0, 0.05, 1.15]]) b.box([w - 0.045, y, z], [0.04, sy, sz], oak);
    b.turned([4.25, 4.9, 0], [[0, 0], [0.16, 0], [0.19, 0.3], [0.17, 0.3], [0.16, 0.26], [0, 0.26]], clay);
    b.plant([4.25, 4.9, 0.25], 0.75, 26, leaf);
    b.turned([2.3, d + 0.12, 0.85], [[0, 0], [0.05, 0], [0.06, 0.1], [0.03, 0.2], [0.035, 0.24]], matt(plain([0.15, 0.3, 0.32]), 0.06, 0.03));
    return [
      { name: 'day', sources: [day], view: 6 },
      { name: 'lamps', sources: [standing, small], view: 0 },
      flash('flash-1', [3.7, -0.35, 2.1], [0, 0.5, 0.9], 420),
      flash('flash-2', [0.5, 0.2, 2.0], [0.6, 0.7, 0.35], 420),
      flash('flash-3', [5.8, 0.4, 2.0], [-0.6, 0.7, 0.35], 420),
      flash('flash-4', [5.2, 4.3, 2.2], [-0.5, -0.3, 0.8], 330),
    ];
  };
  return {
    name: 'sitting-room', label: 'Sitting room', furnish,
    view: { from: [3.75, -0.45, 1.38], to: [3.15, 5.2, 1.22], fieldOfView: 76 },
  };
}

/** The keeper's kitchen under the sluice: painted units, tiles, a small window, a table laid. */
function keepersKitchen(): Room {
  const [w, d, h] = [4.6, 4.3, 2.5];
  const furnish = (b: Builder): Layer[] => {
    const bulbs: LightSource[] = [];
    const walls = matt(plaster([0.78, 0.72, 0.6]));
    shell(b, w, d, h, matt(tiles([0.36, 0.17, 0.11], 0.2, 0.2), 0.04, 0.06), [walls, walls, walls], 3);
    const day = windowWall(b, d, w, h, { x: 1.55, z: 1.1, w: 1.3, h: 0.95 }, matt(plaster(LIME)), 2);
    const unit = matt(plain([0.16, 0.25, 0.27]), 0.04, 0.15);
    const top = matt(timber([0.46, 0.28, 0.13]), 0.05, 0.05);
    for (let k = 0; k < 6; k++) {
      b.box([0.1 + k * 0.73, d - 0.6, 0.08], [0.71, 0.6, 0.8], unit);
      b.box([0.35 + k * 0.73, d - 0.63, 0.74], [0.2, 0.02, 0.02], steel);
      b.box([0.13 + k * 0.73, d - 0.612, 0.13], [0.65, 0.012, 0.5], matt(plain([0.19, 0.29, 0.31]), 0.04, 0.15));
    }
    b.box([0, d - 0.64, 0.88], [w, 0.64, 0.04], top);
    b.quad([0, d - 0.012, 0.92], [1.5, 0, 0], [0, 0, 0.55], matt(tiles([0.74, 0.76, 0.72], 0.15, 0.075), 0.06, 0.02));
    b.quad([2.9, d - 0.012, 0.92], [1.7, 0, 0], [0, 0, 0.55], matt(tiles([0.74, 0.76, 0.72], 0.15, 0.075), 0.06, 0.02));
    for (const x of [0.2, 3.1]) {
      b.box([x, d - 0.24, 1.62], [1.2, 0.24, 0.035], oak);
      for (let k = 0; k < 6; k++) b.turned([x + 0.12 + k * 0.19, d - 0.12, 1.655], [[0, 0], [0.045, 0], [0.05, 0.05 + 0.03 * (k % 3)], [0.04, 0.12 + 0.03 * (k % 3)]], k % 2 ? clay : white);
    }
    table(b, [1.35, 1.35, 0], [1.75, 0.95, 0.74], matt(timber([0.52, 0.34, 0.18]), 0.045, 0.05));
    chair(b, 1.75, 1.15, 0.15 + Math.PI, oak);
    chair(b, 2.65, 1.1, -0.1 + Math.PI, oak);
    chair(b, 1.8, 2.6, 0.1, oak);
    chair(b, 2.7, 2.62, -0.12, oak);
    b.turned([2.2, 1.85, 0.74], [[0, 0], [0.06, 0], [0.15, 0.06], [0.17, 0.09], [0.16, 0.09], [0.05, 0.02]], matt(plain([0.72, 0.68, 0.6]), 0.06, 0.04));
    for (const [x, y] of [[2.14, 1.82], [2.24, 1.9], [2.22, 1.79]]) b.cushion([x, y, 0.83], [0.045, 0.045, 0.042], matt(plain([0.6, 0.26, 0.03]), 0.03, 0.2), 1);
    for (const x of [1.75, 2.7]) b.turned([x, 1.65, 0.741], [[0, 0.004], [0.1, 0.004], [0.13, 0.018], [0.128, 0.02], [0.1, 0.01]], white);
    b.turned([0.6, d - 0.3, 0.92], [[0, 0], [0.09, 0], [0.1, 0.1], [0.06, 0.19], [0.02, 0.2]], steel);
    b.turned([3.5, d - 0.3, 0.92], [[0, 0], [0.06, 0], [0.06, 0.22], [0.055, 0.22]], clay);
    b.plant([1.75, d + 0.1, 1.1], 0.3, 16, leaf);
    b.turned([1.75, d + 0.1, 1.1], [[0, 0], [0.06, 0], [0.07, 0.11], [0.06, 0.11]], clay);
    for (const x of [1.75, 2.75]) {
      b.box([x - 0.006, 1.84, 1.78], [0.012, 0.012, h - 1.78], matt(plain([0.03, 0.03, 0.03])));
      b.turned([x, 1.85, 1.62], [[0.19, 0], [0.15, 0.08], [0.05, 0.17], [0.02, 0.18]], { ...matt(plain([0.1, 0.12, 0.12]), 0.05, 0.1), shadowless: false });
      b.turned([x, 1.85, 1.61], [[0, 0], [0.03, 0.01], [0.04, 0.05], [0.02, 0.09]], glow(1, [30, 20, 11]));
      bulbs.push({ kind: 'bulb', centre: [x, 1.85, 1.65], radius: 0.04, power: [20, 13.4, 7.4] });
    }
    picture(b, [0, 1.6, 1.3], [0, 0.5, 0], 0.65, 9, [1, 0, 0], oak);
    b.box([w - 0.45, 0.9, 0], [0.45, 1.3, 2.0], unit);
    b.box([w - 0.47, 1.0, 0.1], [0.02, 0.52, 1.8], matt(plain([0.19, 0.29, 0.31]), 0.04, 0.15));
    b.box([w - 0.47, 1.57, 0.1], [0.02, 0.52, 1.8], matt(plain([0.19, 0.29, 0.31]), 0.04, 0.15));
    b.quad([0.9, 0.7, 0.005], [2.7, 0, 0], [0, 2.2, 0], matt(rug([0.28, 0.3, 0.3], [0.6, 0.55, 0.46], [0.35, 0.2, 0.12], 2.7, 2.2)));
    return [
      { name: 'day', sources: [day], view: 6 },
      { name: 'lamps', sources: bulbs, view: 0 },
      flash('flash-1', [0.4, -0.2, 2.0], [0.5, 0.8, 0.5], 300),
      flash('flash-2', [4.1, -0.2, 2.0], [-0.5, 0.8, 0.6], 300),
    ];
  };
  return {
    name: 'kitchen', label: 'Kitchen', furnish,
    view: { from: [2.05, -0.5, 1.42], to: [2.45, 4.3, 1.15], fieldOfView: 74 },
  };
}

/** The sitting room a step to the left and turned: a second composition of the same room. */
function sittingRoomAside(): Room {
  const room = sittingRoom();
  return { ...room, name: 'sitting-room-aside', furnish: (b) => room.furnish(b).slice(0, 4), view: { from: [3.35, -0.45, 1.36], to: [3.3, 5.2, 1.2], fieldOfView: 76 } };
}

const EMPTY_ROOMS: readonly Room[] = [sittingRoom(), keepersKitchen(), sittingRoomAside(), ...WHARF_ROOMS];

export const ROOMS: readonly Room[] = [...EMPTY_ROOMS, ...visitedRooms((name) => EMPTY_ROOMS.find((r) => r.name === name)!)];
