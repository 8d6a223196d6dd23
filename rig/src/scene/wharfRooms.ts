import { matt, type Builder } from './builder';
import { bed, chair, clay, doorWall, flash, floorLamp, glow, leaf, LIME, mirror, oak, OAK, picture, shelf, shell, sofa, steel, table, tableLamp, white, windowWall } from './furniture';
import type { Layer, LightSource, Room } from './room';
import { boards, brick, cloth, painting, plain, plaster, rug, tiles, timber } from './textures';

/* The wharf side of the mill: rooms that make lining up and lighting hard. */

/** The old grain loft: long, with a doorway to a store room that has a window of its own. */
function grainLoft(): Room {
  const [w, d, h] = [4.2, 7.4, 2.6];
  const furnish = (b: Builder): Layer[] => {
    const walls = matt(plaster([0.72, 0.7, 0.64]));
    const far = matt(plaster([0.58, 0.64, 0.62]));
    shell(b, w, d + 3, h, matt(boards([0.33, 0.2, 0.1], 0.18), 0.04, 0.06), [walls, walls, walls], 6);
    doorWall(b, d, w, h, { x: 2.2, w: 0.95, h: 2.05 }, far);
    const day = windowWall(b, d + 3, w, h, { x: 2.1, z: 0.9, w: 1.2, h: 1.2 }, far, 2);
    const hatch: LightSource = { kind: 'panel', rect: { middle: [0.03, 0.15, 1.5], u: [0, 0.4, 0], v: [0, 0, 0.5] }, radiance: [6, 7, 8] };
    b.quad([0.9, 1.0, 0.006], [2.2, 0, 0], [0, 3.4, 0], matt(rug([0.4, 0.36, 0.3], [0.35, 0.12, 0.09], [0.12, 0.17, 0.2], 2.2, 3.4)));
    sofa(b, 0.85, 2.4, Math.PI / 2, matt(cloth([0.34, 0.22, 0.14])));
    table(b, [1.7, 2.2, 0], [0.7, 1.1, 0.4], matt(timber(OAK), 0.05, 0.04));
    shelf(b, 0.3, d, 1.5, 2.1, oak);
    table(b, [3.3, 4.4, 0], [0.75, 1.5, 0.76], matt(timber([0.5, 0.33, 0.18]), 0.05, 0.05));
    chair(b, 3.0, 5.0, -Math.PI / 2, oak);
    const standing = floorLamp(b, 0.5, 4.6, 1);
    const small = tableLamp(b, [3.7, 4.7, 0.76], 1);
    picture(b, [0, 3.4, 1.3], [0, 0.9, 0], 0.6, 12, [1, 0, 0], matt(plain([0.05, 0.05, 0.05])));
    b.quad([w - 0.012, 3.6, 1.3], [0, -0.7, 0], [0, 0, 0.9], matt(painting(21), 0.045, 0), true);
    table(b, [2.3, d + 1.6, 0], [1.2, 0.6, 0.75], oak);
    b.turned([2.7, d + 1.9, 0.75], [[0, 0], [0.07, 0], [0.1, 0.1], [0.04, 0.22]], clay);
    b.plant([3.6, d - 0.4, 0.25], 0.8, 24, leaf);
    b.turned([3.6, d - 0.4, 0], [[0, 0], [0.16, 0], [0.19, 0.3], [0.17, 0.3]], clay);
    return [
      { name: 'day', sources: [day, hatch], view: 6 },
      { name: 'lamps', sources: [standing, small], view: 0 },
      flash('flash-1', [0.5, 0.1, 2.1], [0.4, 0.8, 0.4], 330),
      flash('flash-2', [3.8, 3.6, 2.2], [-0.4, 0.7, 0.6], 330),
      flash('flash-3', [3.9, d + 0.9, 2.1], [-0.6, 0.6, 0.6], 230),
    ];
  };
  return { name: 'grain-loft', label: 'Grain loft', furnish, view: { from: [2.15, -0.5, 1.4], to: [2.2, 7.4, 1.1], fieldOfView: 72 } };
}

/** The wash house: a wide looking glass facing the camera, glazed tiles, a greenish tube, a side window behind the camera. */
function washHouse(): Room {
  const [w, d, h] = [3.2, 3.0, 2.45];
  const furnish = (b: Builder): Layer[] => {
    const wall = matt(tiles([0.62, 0.68, 0.66], 0.2, 0.1), 0.06, 0.02);
    const paint = matt(plaster([0.76, 0.74, 0.7]));
    shell(b, w, d, h, matt(tiles([0.2, 0.2, 0.21], 0.3, 0.3), 0.05, 0.04), [wall, paint, paint], 0);
    b.quad([0, d, 0], [w, 0, 0], [0, 0, h], wall);
    mirror(b, [0.9, d, 1.05], 1.9, 1.05, steel);
    b.box([0.7, d - 0.5, 0.62], [2.2, 0.5, 0.24], matt(timber([0.45, 0.28, 0.14]), 0.05, 0.05));
    for (const x of [1.3, 2.3]) b.turned([x, d - 0.26, 0.86], [[0, 0], [0.12, 0], [0.21, 0.1], [0.2, 0.1], [0.1, 0.02]], white);
    for (const x of [1.3, 2.3]) b.turned([x, d - 0.06, 0.86], [[0, 0], [0.02, 0], [0.02, 0.26], [0.05, 0.27]], steel);
    b.box([0.05, 0.7, 0], [0.75, 1.7, 0.56], white);
    b.cushion([0.42, 1.5, 0.6], [0.3, 0.25, 0.05], matt(cloth([0.2, 0.32, 0.36])), 0.4);
    b.box([2.75, 1.2, 0], [0.4, 0.5, 1.5], matt(timber([0.5, 0.34, 0.2]), 0.04, 0.06));
    b.box([2.8, 1.3, 1.5], [0.28, 0.3, 0.12], matt(cloth([0.55, 0.2, 0.12])));
    b.plant([0.35, d - 0.3, 0.86], 0.4, 18, leaf);
    b.box([0.25, d - 0.4, 0], [0.22, 0.22, 0.86], oak);
    b.quad([1.1, -0.55, 1.1], [1.0, 0, 0], [0, 0, 0.9], { ...matt(plain([0.9, 0.9, 0.9])), glow: { layer: 0, colour: [9, 10.5, 12] } });
    const day: LightSource = { kind: 'panel', rect: { middle: [1.6, -0.5, 1.55], u: [-0.5, 0, 0], v: [0, 0, 0.45] }, radiance: [9, 10.5, 12] };
    b.box([1.2, d - 0.1, 2.2], [1.3, 0.06, 0.06], glow(1, [7, 9.5, 6.5]));
    const tube: LightSource = { kind: 'panel', rect: { middle: [1.85, d - 0.14, 2.2], u: [0.65, 0, 0], v: [0, 0, 0.03] }, radiance: [26, 35, 24] };
    return [
      { name: 'day', sources: [day], view: 6 },
      { name: 'lamps', sources: [tube], view: 0 },
      flash('flash-1', [0.4, 0.0, 2.0], [0.3, 0.7, 0.6], 170),
      flash('flash-2', [2.8, 0.3, 2.0], [-0.4, 0.6, 0.7], 170),
      flash('flash-3', [1.6, -0.3, 1.9], [0, 0.5, 0.9], 170),
    ];
  };
  return { name: 'wash-house', label: 'Wash house', furnish, view: { from: [1.35, -0.4, 1.35], to: [1.75, 3.0, 1.2], fieldOfView: 78 } };
}

/** The boat hall: its creek side is nearly all glass, its walls are nearly bare. */
function boatHall(): Room {
  const [w, d, h] = [6.6, 5.4, 2.9];
  const furnish = (b: Builder): Layer[] => {
    const walls = matt(plaster([0.79, 0.78, 0.76]));
    shell(b, w, d, h, matt(boards([0.5, 0.42, 0.32], 0.2), 0.05, 0.05), [walls, walls, walls], 2);
    const day = windowWall(b, d, w, h, { x: 0.7, z: 0.12, w: 5.2, h: 2.35 }, walls, 5);
    sofa(b, 1.6, 2.2, Math.PI, matt(cloth([0.5, 0.5, 0.48])));
    table(b, [3.3, 2.9, 0], [1.9, 0.95, 0.74], matt(timber([0.35, 0.24, 0.15]), 0.05, 0.04));
    chair(b, 3.7, 2.7, Math.PI, oak);
    chair(b, 4.7, 2.72, Math.PI + 0.2, oak);
    chair(b, 4.2, 4.1, 0.1, oak);
    const standing = floorLamp(b, 0.5, 3.6, 1);
    b.turned([4.2, 3.35, 0.74], [[0, 0], [0.06, 0], [0.14, 0.07], [0.15, 0.1], [0.14, 0.1], [0.05, 0.02]], matt(plain([0.15, 0.32, 0.36]), 0.06, 0.04));
    b.plant([5.9, 4.6, 0.28], 1.0, 30, leaf);
    b.turned([5.9, 4.6, 0], [[0, 0], [0.18, 0], [0.21, 0.34], [0.19, 0.34]], clay);
    b.quad([0.6, 1.2, 0.006], [2.2, 0, 0], [0, 1.7, 0], matt(rug([0.55, 0.52, 0.46], [0.2, 0.24, 0.28], [0.5, 0.35, 0.16], 2.2, 1.7)));
    picture(b, [0, 1.9, 1.3], [0, 1.1, 0], 0.8, 31, [1, 0, 0], matt(plain([0.06, 0.06, 0.06])));
    return [
      { name: 'day', sources: [day], view: 6 },
      { name: 'lamps', sources: [standing], view: 0 },
      flash('flash-1', [0.5, -0.1, 2.2], [0.5, 0.7, 0.6], 420),
      flash('flash-2', [6.1, 0.0, 2.2], [-0.5, 0.7, 0.6], 420),
      flash('flash-3', [3.3, -0.3, 2.3], [0, 0.3, 1], 480),
    ];
  };
  return { name: 'boat-hall', label: 'Boat hall', furnish, view: { from: [3.1, -0.5, 1.45], to: [3.4, 5.4, 1.2], fieldOfView: 80 } };
}

/** The miller's bedroom: slatted wardrobe, brick chimney breast, small deep window. */
function millersBedroom(): Room {
  const [w, d, h] = [4.4, 4.2, 2.45];
  const furnish = (b: Builder): Layer[] => {
    const walls = matt(plaster([0.6, 0.66, 0.6]));
    shell(b, w, d, h, matt(boards([0.55, 0.4, 0.24], 0.12), 0.03, 0.08), [walls, walls, walls], 3);
    const day = windowWall(b, d, w, h, { x: 0.7, z: 0.95, w: 0.95, h: 1.1 }, matt(plaster(LIME)), 2);
    b.curtain([0.45, d - 0.1, 2.25], [0.32, 0, 0], 2.2, [0, -1, 0], 3, 0.05, matt(cloth([0.55, 0.32, 0.24])));
    b.curtain([1.6, d - 0.1, 2.25], [0.32, 0, 0], 2.2, [0, -1, 0], 3, 0.05, matt(cloth([0.55, 0.32, 0.24])));
    bed(b, 1.95, d - 2.15, matt(cloth([0.16, 0.26, 0.34])));
    b.box([2.1, d - 0.08, 0], [1.3, 0.08, h], matt(brick([0.5, 0.3, 0.22])));
    for (let k = 0; k < 22; k++) b.box([w - 0.55, 0.5 + k * 0.06, 0.1], [0.04, 0.035, 2.0], matt(timber([0.48, 0.32, 0.18]), 0.04, 0.06));
    b.box([w - 0.5, 0.45, 0.02], [0.5, 1.45, 2.16], matt(timber([0.3, 0.2, 0.12])));
    table(b, [3.62, d - 0.6, 0], [0.45, 0.45, 0.5], oak);
    const small = tableLamp(b, [3.84, d - 0.38, 0.5], 1);
    table(b, [0.1, 1.6, 0], [0.5, 1.1, 0.8], matt(timber([0.4, 0.25, 0.13]), 0.05, 0.05));
    b.turned([0.35, 2.3, 0.8], [[0, 0], [0.06, 0], [0.08, 0.12], [0.03, 0.25]], matt(plain([0.16, 0.28, 0.3]), 0.06, 0.04));
    picture(b, [0, 1.8, 1.25], [0, 0.7, 0], 0.5, 41, [1, 0, 0], oak);
    b.quad([1.2, 0.6, 0.006], [2.0, 0, 0], [0, 1.4, 0], matt(rug([0.5, 0.46, 0.4], [0.18, 0.2, 0.16], [0.5, 0.3, 0.2], 2.0, 1.4)));
    return [
      { name: 'day', sources: [day], view: 6 },
      { name: 'lamps', sources: [small], view: 0 },
      flash('flash-1', [0.5, -0.1, 2.0], [0.5, 0.7, 0.6], 260),
      flash('flash-2', [3.5, 0.1, 2.0], [-0.4, 0.7, 0.6], 260),
    ];
  };
  return { name: 'bedroom', label: 'Bedroom', furnish, view: { from: [2.0, -0.5, 1.4], to: [2.25, 4.2, 1.0], fieldOfView: 74 } };
}

export const WHARF_ROOMS: readonly Room[] = [grainLoft(), washHouse(), boatHall(), millersBedroom()];
