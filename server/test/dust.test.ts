import { afterAll, beforeAll, expect, test } from 'vitest';
import sharp from 'sharp';
import { fakeFrame, startRig, until, type Rig } from './harness';

let rig: Rig;
beforeAll(async () => {
  rig = await startRig();
  rig.startWorker();
});
afterAll(() => rig.stop());

/** A view with a plain wall in it, and a speck on the wall. @param speck where, pixels of 600 by 400 */
async function view(k: number, seed: number, speck: readonly [number, number] | null): Promise<Buffer> {
  const wall = `<svg width="600" height="400"><rect x="${120 + 40 * k}" y="${90 + 20 * k}" width="240" height="160" fill="rgb(${130 + 9 * k},150,145)"/>${speck ? `<circle cx="${speck[0]}" cy="${speck[1]}" r="2.6" fill="rgb(90,90,88)"/>` : ''}</svg>`;
  return sharp(await fakeFrame(seed, 0, 12 * k)).composite([{ input: Buffer.from(wall), left: 0, top: 0 }]).keepExif().jpeg({ quality: 97 }).toBuffer();
}

interface Told { shot: Record<string, unknown>; dust: [number, number, number][] }

test('dust is told where several shots of a visit have it at one place, nothing else is, and no shot tells of its specks', async () => {
  const shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Dust' })).body.id;
  const sensor = [300, 200] as const;
  for (const [k, seed] of [41, 52, 63].entries()) {
    await rig.upload(shoot, `D${k}.jpg`, await view(k, seed, sensor));
  }
  // A mark on one wall alone.
  await rig.upload(shoot, 'D3.jpg', await view(3, 74, [350, 220]));
  const { shots } = await until(() => rig.get<{ shots: { id: string; state: string }[] }>(`/api/shoots/${shoot}`), (s) => s.shots.length === 4 && s.shots.every(({ state }) => state === 'mixed'));
  const told = await Promise.all(shots.map(({ id }) => rig.get<Told>(`/api/shots/${id}`)));
  for (const { dust } of told.slice(0, 3)) {
    expect(dust).toHaveLength(1);
    expect(Math.abs(dust[0][0] * 600 - 300)).toBeLessThan(3);
    expect(Math.abs(dust[0][1] * 600 - 200)).toBeLessThan(3);
  }
  expect(told[3].dust).toEqual([]);
  expect(JSON.stringify([shots, told.map(({ shot }) => shot)])).not.toContain('specks');
});
