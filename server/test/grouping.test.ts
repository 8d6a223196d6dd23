import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { fakeFrame, startRig, until, type Rig } from './harness';

interface Shot { id: string; label: string; state: string; confidence: number; why: string; readings: { kind: string; text: string }[] }
interface Frame { id: string; name: string; state: string; shotId: string | null; marked: boolean; dropped: boolean }
interface Shoot { shots: Shot[]; frames: Frame[]; canUndo: boolean; canRedo: boolean }
type History = { canUndo: boolean; canRedo: boolean; detail?: string };

let rig: Rig;
let shoot: string;
const look = (): Promise<Shoot> => rig.get(`/api/shoots/${shoot}`);
const settled = (holds: (s: Shoot) => boolean = () => true): Promise<Shoot> => until(look, (s) => s.frames.every((f) => f.state !== 'waiting') && s.shots.length > 0 && s.shots.every((shot) => shot.state === 'mixed') && holds(s));
const command = (body: unknown) => rig.post<History>(`/api/shoots/${shoot}/grouping/commands`, body);
/** Names of the frames of each shot, in order. */
const shape = (s: Shoot): string[] => s.shots.map((shot) => s.frames.filter((f) => f.shotId === shot.id).map((f) => f.name.replace('.jpg', '')).sort().join(' '));
const idOf = (s: Shoot, name: string): string => s.frames.find((f) => f.name === `${name}.jpg`)!.id;

beforeAll(async () => {
  rig = await startRig();
  shoot = (await rig.post<{ id: string }>('/api/shoots', { name: 'Signal house' })).body.id;
  for (const [k, stops] of [0, -2, 2].entries()) await rig.upload(shoot, `A${k}.jpg`, await fakeFrame(1, stops, k * 2));
  for (const [k, stops] of [0, -2].entries()) await rig.upload(shoot, `B${k}.jpg`, await fakeFrame(2, stops, 20 + k * 2));
});
afterAll(() => rig.stop());

describe('gathering that is interrupted', () => {
  test('a killed worker in the middle: another goes on, nothing twice, nothing lost', async () => {
    const worker = rig.startWorker();
    await until(look, (s) => s.frames.some((f) => f.state === 'gathered'));
    worker.kill('SIGKILL');
    rig.startWorker();
    const s = await settled();
    expect(s.frames).toHaveLength(5);
    expect(shape(s)).toEqual(['A0 A1 A2', 'B0 B1']);
    expect(s.shots.every((shot) => shot.confidence > 0.5)).toBe(true);
    expect([s.canUndo, s.canRedo]).toEqual([false, false]);
  });
});

describe('regrouping by hand', () => {
  test('moves, splits, joins and drops; undo and redo; shots that did not change are not made anew', async () => {
    const before = await settled();
    const [a, b] = before.shots;
    const untouched = await rig.get<{ mix: unknown }>(`/api/shots/${b.id}`);
    expect((await command({ kind: 'split', before: idOf(before, 'A2') })).body.canUndo).toBe(true);
    const split = await settled((s) => s.shots.length === 3);
    expect(shape(split)).toEqual(['A0 A1', 'A2', 'B0 B1']);
    expect(split.shots.find((s) => s.id === a.id)!.why).toMatch(/by hand/);
    expect(await rig.get(`/api/shots/${b.id}`).then((x) => (x as { mix: unknown }).mix)).toEqual(untouched.mix);
    expect((await command({ kind: 'drop', frames: [idOf(before, 'A1')] })).status).toBe(200);
    const dropped = await settled((s) => s.frames.some((f) => f.dropped));
    expect(shape(dropped)).toEqual(['A0', 'A2', 'B0 B1']);
    expect((await rig.post<History>(`/api/shoots/${shoot}/grouping/undo`)).body).toEqual({ canUndo: true, canRedo: true });
    expect((await rig.post<History>(`/api/shoots/${shoot}/grouping/undo`)).body).toEqual({ canUndo: false, canRedo: true });
    expect(shape(await settled())).toEqual(['A0 A1 A2', 'B0 B1']);
    expect((await rig.post<History>(`/api/shoots/${shoot}/grouping/undo`)).status).toBe(409);
    await rig.post(`/api/shoots/${shoot}/grouping/redo`);
    expect(shape(await settled())).toEqual(['A0 A1', 'A2', 'B0 B1']);
    await command({ kind: 'join', shots: (await look()).shots.slice(0, 2).map((s) => s.id) });
    expect(shape(await settled())).toEqual(['A0 A1 A2', 'B0 B1']);
  });

  test('a mix that a person worked on is kept, says so, and can be started anew', async () => {
    const s = await settled();
    const shot = s.shots[1];
    const pass = (await rig.get<{ mix: { document: { passes: { id: string }[] } } }>(`/api/shots/${shot.id}`)).mix.document.passes[0].id;
    await rig.post(`/api/shots/${shot.id}/mix/commands`, { kind: 'changePass', id: pass, changes: { exposure: 1.25 } });
    await command({ kind: 'move', frames: [idOf(s, 'B1')], to: s.shots[0].id });
    const moved = await settled();
    expect(moved.shots.find((x) => x.id === shot.id)!.readings.map((r) => r.kind)).toContain('changed');
    expect((await rig.get<{ mix: { document: { passes: { exposure: number }[] } } }>(`/api/shots/${shot.id}`)).mix.document.passes[0].exposure).toBe(1.25);
    expect((await rig.post(`/api/shots/${shot.id}/mix/anew`)).status).toBe(202);
    const anew = await settled((x) => !x.shots.find((y) => y.id === shot.id)!.readings.some((r) => r.kind === 'changed'));
    expect((await rig.get<{ mix: { document: { passes: { exposure: number }[] } } }>(`/api/shots/${anew.shots[1].id}`)).mix.document.passes[0].exposure).not.toBe(1.25);
  });

  test('frames that come later fall in beside what was regrouped', async () => {
    await rig.upload(shoot, 'B2.jpg', await fakeFrame(2, 1, 26));
    await rig.upload(shoot, 'C0.jpg', await fakeFrame(3, 0, 50));
    const s = await settled((x) => x.frames.length === 7 && x.frames.every((f) => f.shotId !== null || f.dropped));
    expect(shape(s)).toEqual(['A0 A1 A2 B1', 'B0 B2', 'C0']);
  });

  test('marks are kept; what does not fit is refused in words', async () => {
    const s = await look();
    await fetch(`${rig.url}/api/shoots/${shoot}/marks`, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ frames: [idOf(s, 'A0')], marked: true }) });
    expect((await look()).frames.filter((f) => f.marked).map((f) => f.name)).toEqual(['A0.jpg']);
    for (const body of [{ kind: 'split', before: idOf(s, 'C0') }, { kind: 'join', shots: [s.shots[0].id, crypto.randomUUID()] }, { kind: 'drop', frames: [crypto.randomUUID()] }]) {
      const { status, body: problem } = await command(body);
      expect(status).toBe(409);
      expect(problem.detail!.length).toBeGreaterThan(10);
    }
    for (const body of [{ kind: 'blow' }, { kind: 'drop', frames: [] }, { kind: 'every', frames: [idOf(s, 'A0')], count: 0 }]) expect((await command(body)).status).toBe(400);
  });
});
