import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { writeLayers } from './camera/layerStore';
import { ROOMS } from './scene/millRooms';
import { renderRoom } from './trace/renderRoom';

/** Where the rendered lights of the demo house are kept. */
export const DATA = fileURLToPath(new URL('../data', import.meta.url));

// Renders the rooms named on the command line (or all) anew: `node --import tsx rig/src/renderHouse.ts [ROOM] [SAMPLES]`.
const [only, samples] = process.argv.slice(2);
for (const room of ROOMS) {
  if (only && only !== 'all' && only !== room.name) continue;
  const rendered = await renderRoom(room, 1620, 1080, Number(samples ?? 16), 2);
  const own = room.base ? { ...rendered, layers: new Map([...rendered.layers].slice(-1)) } : rendered;
  await writeLayers(join(DATA, room.name), own, room.base);
  process.stderr.write(`${room.name} rendered\n`);
}
