import sharp from 'sharp';
import { expect, test } from 'vitest';
import { clientsRendering } from '../src/camera/clientsRendering';
import { House, roomOf } from '../src/camera/house';

const house = new House({ width: 300, height: 200 }, 2);

test('a client’s rendering shows the room from where the camera stands, every light as strong as it was drawn, without a camera’s faults', async () => {
  const room = roomOf('slip-hall');
  const pictures = await house.room('slip-hall');
  const { data, info } = await sharp(await clientsRendering(room, pictures)).raw().toBuffer({ resolveWithObject: true });
  expect([info.width, info.height, info.channels]).toEqual([300, 200, 3]);
  // Brighter light is never darker in it, pixel by pixel, as far as eight bits tell.
  const [left, top] = [(pictures.width - 300) >> 1, (pictures.height - 200) >> 1];
  const pairs = Array.from({ length: 300 * 200 }, (_, i) => {
    const at = ((top + Math.floor(i / 300)) * pictures.width + left + (i % 300)) * 3 + 1;
    return [Object.entries(room.drawn!).reduce((sum, [name, strength]) => sum + strength * pictures.layers.get(name)![at], 0), data[i * 3 + 1]] as const;
  }).sort((a, b) => a[0] - b[0]);
  for (let k = 1; k < pairs.length; k++) expect(pairs[k][1]).toBeGreaterThanOrEqual(pairs[k - 1][1]);
  expect(pairs[pairs.length >> 1][1]).toBeGreaterThan(100);
  expect(pairs[pairs.length >> 1][1]).toBeLessThan(150);
  expect(pairs[0][1]).toBeLessThan(40);
});

test('of a room that nobody drew there is none', async () => {
  await expect(clientsRendering(roomOf('office'), await house.room('office'))).rejects.toThrow('There is no rendering of the room office.');
});
