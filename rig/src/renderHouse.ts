import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { writeLayers } from './camera/layerStore';
import { evaluateRoom } from './detail/evaluateRoom';
import { ROOMS } from './scene/millRooms';
import { renderRoom } from './trace/renderRoom';

/** Where the rendered lights of the demo house are kept. */
const DATA = fileURLToPath(new URL('../data', import.meta.url));
/** Pixels on which light is traced, and of the pictures that are kept. */
const GRID = { width: 810, height: 540 };
const PICTURE = { width: 1620, height: 1080 };
const SAMPLES = 14;

// Renders the rooms named on the command line (or all) anew: `node --import tsx rig/src/renderHouse.ts [ROOM ...]`.
const only = process.argv.slice(2);
for (const room of ROOMS) {
  if (only.length > 0 && !only.includes(room.name)) continue;
  const started = Date.now();
  const light = await renderRoom(room, GRID.width, GRID.height, SAMPLES, 2);
  const rendered = await evaluateRoom(room, light, PICTURE.width, PICTURE.height);
  const own = room.base ? { ...rendered, layers: new Map([...rendered.layers].slice(-1)) } : rendered;
  await writeLayers(join(DATA, room.name), own, room.base);
  process.stderr.write(`${room.name} rendered in ${Math.round((Date.now() - started) / 1000)} s\n`);
}
