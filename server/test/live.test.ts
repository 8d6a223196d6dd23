import { appendFileSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { FrameEntity, ShootEntity } from '../src/data/entities';
import { StandingOrders } from '../src/api/standingOrders';
import { unattended } from '../src/commands/unattended';
import { watchFolder } from '../src/live/watchFolder';
import { fakeFrame, startRig, until, type Rig } from './harness';

/*
 * A watched folder, as a tethered camera fills it.
 */

let rig: Rig;
const work = mkdtempSync(join(tmpdir(), 'zaddle-live-'));
beforeAll(async () => {
  rig = await startRig();
});
afterAll(async () => {
  await rig.stop();
  rmSync(work, { recursive: true, force: true });
});

const names = async (): Promise<string[]> => (await rig.served.workshop.database.getRepository(FrameEntity).find({ order: { name: 'ASC' } })).map((f) => f.name);
const shoots = async (): Promise<unknown[]> => rig.served.workshop.database.getRepository(ShootEntity).findBy({ live: true });
/** Longer than the watcher needs for several looks. */
const aWhile = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 2500));

describe('a watched folder', () => {
  test('gives each file once, when it is complete; nothing in it is changed; links out of it are not followed', async () => {
    const folder = join(work, 'camera');
    const stop = watchFolder(rig.served.workshop, folder);
    // The camera makes its folder only when it begins.
    await aWhile();
    expect(await shoots()).toEqual([]);
    mkdirSync(join(folder, '100MEDIA'), { recursive: true });
    const [first, second] = [await fakeFrame(3, 0, 1), await fakeFrame(3, -2, 2)];
    writeFileSync(join(folder, '100MEDIA', 'one.jpg'), first);
    writeFileSync(join(work, 'private.jpg'), second);
    symlinkSync(join(work, 'private.jpg'), join(folder, 'link.jpg'));
    writeFileSync(join(folder, 'empty.jpg'), '');
    await until(names, (all) => all.includes('one.jpg'), 30);
    // A file that grows slowly is waited for.
    const slow = join(folder, '100MEDIA', 'two.jpg');
    for (let part = 0; part < 6; part++) {
      appendFileSync(slow, second.subarray((part * second.length) / 6, ((part + 1) * second.length) / 6));
      await new Promise((resolve) => setTimeout(resolve, 100));
      if (part < 5) expect(await names()).not.toContain('two.jpg');
    }
    await until(names, (all) => all.includes('two.jpg'), 30);
    await aWhile();
    expect(await names()).toEqual(['one.jpg', 'two.jpg']);
    expect(readFileSync(join(folder, '100MEDIA', 'one.jpg')).equals(first)).toBe(true);
    expect(await shoots()).toHaveLength(1);
    await stop();
  });
  test('is gone on with after a restart: the same shoot, no frame twice, nothing after it is stopped', async () => {
    const folder = join(work, 'camera');
    const stop = watchFolder(rig.served.workshop, folder);
    // The folder may be another machine's, whose clock is ahead.
    const [three, ahead] = [join(folder, 'three.jpg'), new Date(Date.now() + 5 * 3600_000)];
    writeFileSync(three, await fakeFrame(3, 2, 3));
    utimesSync(three, ahead, ahead);
    await until(names, (all) => all.includes('three.jpg'), 30);
    await stop();
    writeFileSync(join(folder, 'four.jpg'), await fakeFrame(3, 1, 4));
    await aWhile();
    expect(await names()).toEqual(['one.jpg', 'three.jpg', 'two.jpg']);
    expect(await shoots()).toHaveLength(1);
  });

  test('with nobody there: what comes begins with the method, and is delivered by the orders that were chosen', async () => {
    const { database } = rig.served.workshop;
    const kept = (await rig.post<{ id: string }>('/api/orders', { format: 'zaddle-order', version: 1, name: 'Harbour agent', file: 'jpeg', longerSide: 700, quality: 85, words: { title: '', creator: '', copyright: '' } })).body.id;
    await expect(unattended(database, { orders: ['no such'], method: null, folder: null })).rejects.toThrow(/There is no order no such\. There are: .*web.*Harbour agent/);
    await expect(unattended(database, { orders: [], method: 'no such', folder: null })).rejects.toThrow(/There is no method no such/);
    const then = await unattended(database, { orders: ['harbour AGENT', 'web'], method: 'plain-listing', folder: null });
    expect(then.orders).toEqual([kept, 'web']);
    const folder = join(work, 'evening');
    mkdirSync(folder);
    const stop = watchFolder(rig.served.workshop, folder, then);
    rig.startWorker();
    for (const [k, stops] of [0, -2, 2].entries()) writeFileSync(join(folder, `E${k}.jpg`), await fakeFrame(9, stops, 20 + k));
    await until(() => rig.get<{ name: string; shots: number; mixed: number }[]>('/api/shoots'), (all) => all.some(({ name, shots, mixed }) => name === 'Live: evening' && shots === 1 && mixed === 1), 240);
    // Found ready, and looked at again after no time at all: the server itself waits longer, and does nothing twice.
    const standing = new StandingOrders(rig.served.workshop, 0);
    for (let k = 0; k < 2; k++) await standing.look();
    const made = await until(() => rig.get<{ name: string; state: string; order: string }[]>('/api/deliveries'), (all) => all.length === 2 && all.every(({ state }) => state === 'done'), 240);
    expect(made.map(({ order }) => order).sort()).toEqual(['Harbour agent', 'web'].sort());
    const shoot = await database.getRepository(ShootEntity).findOneByOrFail({ name: 'Live: evening' });
    expect(shoot.method!.method.name).toBe('Plain listing');
    await stop();
  });
});
