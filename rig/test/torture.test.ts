import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createServer, type AddressInfo, type Server } from 'node:net';
import { afterAll, afterEach, beforeEach, describe, expect, test } from 'vitest';
import { ask } from '../src/torture/ask';
import { checkDone } from '../src/torture/check';
import { Dice } from '../src/dice';
import { Ledger, noWrongs, type Wrongs } from '../src/torture/ledger';
import { markAt, PAINTED, placeOf, type Photographer } from '../src/torture/photographer';
import { Wire } from '../src/torture/wire';

const folder = mkdtempSync(join(tmpdir(), 'zaddle-torture-test-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const sha = (text: string): string => createHash('sha256').update(text).digest('hex');

describe('what a campaign looks for', () => {
  let [data, store, deliverTo, site] = ['', '', '', ''];
  let tells: Record<string, unknown> = {};
  let ledger = new Ledger();
  const put = (path: string, text: string): void => { mkdirSync(join(path, '..'), { recursive: true }); writeFileSync(path, text); };
  let round = 0;

  /** A server that has it all as it was acknowledged: a frame, two strokes, a delivery. */
  beforeEach(() => {
    const home = join(folder, String(round++));
    [data, store, deliverTo, site] = [join(home, 'data'), join(home, 'data', 'store'), join(home, 'delivered'), join(home, 'site')];
    ledger = new Ledger();
    ledger.frames.push({ shoot: 's', id: 'f', name: 'A.JPG', sha256: sha('frame') });
    ledger.strokes.push({ shoot: 's', mark: 7 }, { shoot: 's', mark: 1234 });
    ledger.deliveries.push('d');
    put(join(store, 'originals', sha('frame').slice(0, 2), sha('frame')), 'frame');
    for (const path of [join(store, 'delivery', 'd'), join(deliverTo, 'For s', 'a.jpg'), join(site, 'x')]) put(path, 'picture');
    tells = {
      '/api/shoots/s': { frames: [{ id: 'f', name: 'A.JPG', sha256: sha('frame'), state: 'gathered', why: '', shotId: 'k' }], shots: [{ id: 'k', state: 'mixed', label: 'Kitchen' }] },
      '/api/shots/k': { mix: mixOf([7, 1234]) },
      '/api/deliveries': [{ id: 'd', name: 'a.jpg', state: 'done', why: '', liesAt: 'For s/a.jpg', sending: 'sent', sendingWhy: '' }],
    };
  });
  const mixOf = (marks: readonly number[]): unknown => ({ document: { passes: [{ id: 'p', name: PAINTED, mask: [{ id: 'a', kind: 'brush', strokes: marks.map((mark) => ({ points: [placeOf(mark)] })) }] }] } });
  const look = async (times = 1): Promise<Wrongs> => {
    const wrongs = noWrongs();
    const person = { allShoots: ['s'], get: async (path: string) => tells[path] ?? null } as unknown as Photographer;
    await checkDone(person, ledger, { store, deliverTo }, data, ['store'], Array.from({ length: times }, () => ({ reference: 'd', name: 'a.jpg', bytes: 7, file: join(site, 'x'), times: 1 })), wrongs);
    return wrongs;
  };

  test('nothing is wrong where all is as it was acknowledged', async () => {
    expect(await look()).toEqual(noWrongs());
  });
  test('a frame that is not listed, one that is listed twice, one whose file is another or gone', async () => {
    const shoot = tells['/api/shoots/s'] as { frames: unknown[] };
    const [frame] = shoot.frames;
    shoot.frames = [];
    expect((await look()).lost).toHaveLength(1);
    shoot.frames = [frame, { ...(frame as object), id: 'g' }];
    expect((await look()).doubled).toHaveLength(1);
    shoot.frames = [frame];
    const file = join(store, 'originals', sha('frame').slice(0, 2), sha('frame'));
    writeFileSync(file, 'fram');
    expect((await look()).broken).toHaveLength(1);
    rmSync(file);
    expect((await look()).lost).toHaveLength(1);
  });
  test('a stroke that is gone, one that is there twice, one that was refused; one that was never answered may be there', async () => {
    tells['/api/shots/k'] = { mix: mixOf([1234]) };
    expect((await look()).lost).toHaveLength(1);
    tells['/api/shots/k'] = { mix: mixOf([7, 1234, 7]) };
    expect((await look()).doubled).toHaveLength(1);
    tells['/api/shots/k'] = { mix: mixOf([7, 1234, 9]) };
    expect((await look()).broken).toHaveLength(1);
    ledger.unanswered.add(9);
    expect(await look()).toEqual(noWrongs());
  });
  test('a picture that is not made, not sent, sent twice, cut off in its folder, or lies there and belongs to nothing', async () => {
    const [delivery] = tells['/api/deliveries'] as Record<string, unknown>[];
    tells['/api/deliveries'] = [{ ...delivery, state: 'running', liesAt: 'For s/a.jpg' }];
    expect((await look()).stuck).toHaveLength(1);
    tells['/api/deliveries'] = [{ ...delivery, sending: 'waiting' }];
    expect((await look()).stuck).toHaveLength(1);
    tells['/api/deliveries'] = [delivery];
    expect((await look(0)).lost).toHaveLength(1);
    expect((await look(2)).doubled).toHaveLength(1);
    writeFileSync(join(deliverTo, 'For s', 'a.jpg'), 'pict');
    expect((await look()).broken).toHaveLength(1);
    writeFileSync(join(deliverTo, 'For s', 'a.jpg'), 'picture');
    writeFileSync(join(deliverTo, 'For s', 'a.jpg.part-d'), 'pict');
    expect((await look()).broken).toHaveLength(1);
  });
  test('a shoot that was ordered ahead and of which a picture was not made by that', async () => {
    ledger.ahead.push('s');
    expect((await look()).lost).toHaveLength(1);
    (tells['/api/shoots/s'] as { standing: unknown }).standing = { batches: ['b'], fault: null };
    Object.assign((tells['/api/deliveries'] as object[])[0], { shotId: 'k', batchId: 'b' });
    expect(await look()).toEqual(noWrongs());
  });
  test('what was left half written, and what lies beside the store', async () => {
    put(join(store, 'incoming', 'half'), 'h');
    // What came just now may still be written.
    expect(await look()).toEqual(noWrongs());
    utimesSync(join(store, 'incoming', 'half'), new Date(0), new Date(0));
    put(join(data, 'core.1'), 'c');
    expect((await look()).broken).toHaveLength(2);
  });
});

describe('a wire', () => {
  let far: Server | null = null;
  afterEach(() => far?.close());
  test('carries what is asked, loses it while it is cut, and carries again once it is mended', async () => {
    far = createServer((socket) => socket.on('error', () => undefined).on('data', () => socket.end('HTTP/1.1 200 OK\r\nContent-Length: 2\r\n\r\nok')));
    await new Promise<void>((resolve) => far!.listen(0, '127.0.0.1', resolve));
    const wire = await Wire.open(() => (far!.address() as AddressInfo).port);
    expect((await ask(wire.port, 80, 'GET', '/')).body.toString()).toBe('ok');
    wire.cut();
    expect((await ask(wire.port, 80, 'GET', '/')).status).toBe(0);
    wire.mend();
    expect((await ask(wire.port, 80, 'GET', '/')).status).toBe(200);
    await wire.close();
  });
});

test('marks of strokes are known again by their places, and chance follows from its seed', () => {
  for (const mark of [0, 1, 999, 1000, 48_213]) expect(markAt(JSON.parse(JSON.stringify(placeOf(mark))) as [number, number])).toBe(mark);
  const rolled = (seed: number): number[] => { const dice = new Dice(seed); return Array.from({ length: 20 }, () => dice.between(2, 5)); };
  expect(rolled(3)).toEqual(rolled(3));
  expect(rolled(3)).not.toEqual(rolled(4));
  expect(Math.min(...rolled(9))).toBeGreaterThanOrEqual(2);
  expect(() => new Dice(1).pick([])).toThrow(RangeError);
});
