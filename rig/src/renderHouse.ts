import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { writeLayers } from './camera/layerStore';
import { ROOMS } from './scene/house';
import { renderRoom } from './trace/renderRoom';

/** Where the rendered lights of the demo house are kept. */
const DATA = fileURLToPath(new URL('../data', import.meta.url));
/** Pixels on which light is traced, and samples of each. */
const GRID = { width: 810, height: 540 };
const SAMPLES = 16;

// Renders the rooms named on the command line (or all) anew: `node --import tsx rig/src/renderHouse.ts [ROOM ...]`.
const only = process.argv.slice(2);
for (const room of ROOMS) {
  if (only.length > 0 && !only.includes(room.name)) continue;
  const started = Date.now();
  const light = await renderRoom(room, GRID.width, GRID.height, SAMPLES, 2);
  // The last light, and what it shows in gloss.
  const own = room.base ? { ...light, layers: new Map([...light.layers].slice(-2)) } : light;
  await writeLayers(join(DATA, room.name), own);
  process.stderr.write(`${room.name} rendered in ${Math.round((Date.now() - started) / 1000)} s\n`);
}
